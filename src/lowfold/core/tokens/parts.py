"""The parts a need is met from: their values, what they are sold under, and what surrounds them."""

from __future__ import annotations

import re
from collections.abc import Mapping
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Final

from lowfold.core.errors import DomainError
from lowfold.core.network.circuit import Circuit
from lowfold.core.parts.families import Family, read_family
from lowfold.core.parts.limits import Environment, PartLimits, half_width
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.parts.ratings import derated_watts
from lowfold.core.parts.stock import DRAWER, DrawerLine
from lowfold.core.tokens.reading import NOTHING, Reader, Token, TokenReading, optional, quantity
from lowfold.core.tolerance.box import Tracking
from lowfold.core.values.preferred import read_series, series_values
from lowfold.core.values.quantities import CELSIUS, FRACTION, OHM, PPM_PER_KELVIN, Kind, read, write
from lowfold.core.values.ranges import DEFAULT_RANGE, WIDEST_RANGE

__all__ = [
    "PARTS",
    "OwnLimits",
    "Parts",
    "both",
    "family_figures",
    "family_tokens",
    "part_misfits",
    "parts_of_values",
    "pool_of",
]

#: What a token says where the family named beside it has the figure.
OF_FAMILY: Final = ("family", "the family", "its family", "as family")


@dataclass(frozen=True, slots=True)
class OwnLimits:
    """What one part is sold under where it differs from the others; None is as the others."""

    ref: str
    tolerance: float | None
    tcr_ppm: float | None
    family: Family | None

    @property
    def words(self) -> str:
        """Write it as the token takes it: `R2 0.1 % 25 ppm/K 0805`."""
        found = [self.ref]
        if self.tolerance is not None:
            found.append(write(self.tolerance, FRACTION, 4, trim=True))
        if self.tcr_ppm is not None:
            found.append(write(self.tcr_ppm, PPM_PER_KELVIN, 4, trim=True))
        if self.family is not None:
            found.append(self.family.name)
        return " ".join(found)


@dataclass(frozen=True, slots=True, kw_only=True)
class Parts:
    """The parts a need chooses from and what surrounds them."""

    series: tuple[str, ...]  #: empty where the drawer is meant
    min_ohms: float
    max_ohms: float
    tolerance: float
    tcr_ppm: float
    drift: float
    family: Family
    stress: float
    environment: Environment
    own: tuple[OwnLimits, ...] = ()
    rated: bool = True  #: False where no family is stated, so that power is not judged
    ratio: float | None = None  #: how far parts of one array or reel may differ; None is freely
    listed: tuple[tuple[float, int], ...] = ()  #: loose values, Ω, and how many there are of each

    @property
    def half_width(self) -> float:
        """Return each part's extreme-value half-width over the ambient range, a fraction."""
        return half_width(self.tolerance, self.tcr_ppm, self.environment.largest_dt, self.drift)

    @property
    def limits(self) -> PartLimits:
        """Return what each part is sold under."""
        family = self.family if self.rated else None
        return _limits(family, self.tolerance, self.tcr_ppm, self.drift)

    @property
    def derated_watts(self) -> float:
        """Return the family's rating at the hottest ambient, W."""
        limits = self.family.limits
        return derated_watts(
            self.family.rated_watts,
            self.environment.high_c,
            limits.full_power_c,
            limits.zero_power_c,
        )

    @property
    def tracking(self) -> Tracking | None:
        """Return how parts of one need track each other."""
        return None if self.ratio is None else Tracking(self.ratio)

    def limits_of(self, circuit: Circuit) -> dict[str, PartLimits]:
        """Return what those parts of `circuit` are sold under that are not as the others."""
        if not self.own:
            return {}
        refs = {b.ref.casefold(): b.ref for b in circuit.branches}
        found = {}
        for own in self.own:
            if own.ref.casefold() in refs:
                limits = self.limits
                if own.family is not None:
                    limits = replace(
                        own.family.limits,
                        tolerance=limits.tolerance,
                        tcr_ppm=limits.tcr_ppm,
                        drift=limits.drift,
                    )
                if own.tolerance is not None:
                    limits = replace(limits, tolerance=own.tolerance)
                if own.tcr_ppm is not None:
                    limits = replace(limits, tcr_ppm=own.tcr_ppm)
                found[refs[own.ref.casefold()]] = limits
        return found

    def half_widths(self, circuit: Circuit) -> tuple[float, ...]:
        """Return the extreme-value half-width of every branch, fractions."""
        own, others = self.limits_of(circuit), self.limits
        place = self.environment
        if not own:
            return (self.half_width,) * len(circuit.branches)
        limits = (own.get(b.ref, others) for b in circuit.branches)
        return tuple(half_width(p.tolerance, p.tcr_ppm, place.largest_dt, p.drift) for p in limits)

    def pool(self, drawer: tuple[DrawerLine, ...]) -> Pool:
        """Return the values to choose from: the series, or what the drawer has.

        From the drawer only parts at least as tight as the stated tolerance count, so that what
        is said of the worst corner holds.
        """
        if self.listed:
            return Pool.stock(dict(self.listed))
        return pool_of(self.series, (self.min_ohms, self.max_ohms), self.tolerance, drawer)


def pool_of(
    series: tuple[str, ...],
    ends: tuple[float, float],
    tolerance: float,
    drawer: tuple[DrawerLine, ...],
) -> Pool:
    """Return the values of a series between two ends, or what a drawer has there of it.

    Parameters
    ----------
    series : tuple of str
        Empty for the drawer.
    ends : (float, float)
        Smallest and largest part, Ω.
    tolerance : float
        Of the drawer only parts at least as tight count, a fraction.
    drawer : tuple of DrawerLine
        The user's own stock.
    """
    if series:
        return _series_pool(series, *ends)
    counts: dict[float, int] = {}
    for line in drawer:
        tight = line.tolerance <= tolerance * (1 + 1e-12)
        if tight and ends[0] <= line.ohms <= ends[1]:
            more = PLENTY if line.count is None else line.count
            counts[line.ohms] = min(counts.get(line.ohms, 0) + more, PLENTY)
    return Pool.stock(counts)


@lru_cache(maxsize=64)
def _limits(family: Family | None, tolerance: float, tcr_ppm: float, drift: float) -> PartLimits:
    stated = family.limits if family is not None else PartLimits()
    return replace(stated, tolerance=tolerance, tcr_ppm=tcr_ppm, drift=drift)


@lru_cache(maxsize=32)
def _series_pool(series: tuple[str, ...], low: float, high: float) -> Pool:
    return Pool.plenty(series_values(series, low, high))


def _values(text: str) -> tuple[Any, str]:
    if text.strip().lower().removeprefix("the ").removeprefix("my ") == DRAWER:
        return (), "the drawer"
    if loose := _loose(text):
        return loose, ", ".join(
            (f"{count} × " if count < PLENTY else "") + write(ohms, OHM, 6, trim=True)
            for ohms, count in loose.counts
        )
    try:
        names = read_series(text)
    except DomainError as error:
        msg = f"{error.message}; or write drawer for your own stock, or values: 30, 40"
        raise DomainError(msg) from error
    return names, " + ".join(names)


@dataclass(frozen=True, slots=True)
class Loose:
    """Values that were listed one by one."""

    counts: tuple[tuple[float, int], ...]  #: Ω, rising, and how many there are; `PLENTY`


_COUNTED = re.compile(r"(?P<count>[0-9]{1,4})\s*(?:×|x|\*|pcs?|pieces)\s*(?:of\s+)?(?P<ohms>.+)")
_BETWEEN = re.compile(r"\s*(?:;|,\s+|\band\b|\bor\b|&|/)\s*")
MOST_LOOSE: Final = 60  #: values in a list


def _loose(text: str) -> Loose | None:
    """Read values listed one by one, `30, 40` or `3x 100, 220`; None for what is no list.

    Where one says how many there are, one that does not is there once; else all are plenty.
    """
    pieces = [piece for piece in _BETWEEN.split(" ".join(text.split())) if piece]
    if not pieces or not re.match(r"[0-9.]|[rR][0-9]", pieces[0]):
        return None
    if any(re.fullmatch(r"[0-9]+,[0-9]+", piece) for piece in pieces):
        shown = re.sub(r",(?=[0-9])", "; ", text.strip()[:40])
        msg = f"“{text.strip()[:40]}” may be one figure or two: write {shown}, or a decimal point"
        raise DomainError(msg)
    if len(pieces) > MOST_LOOSE:
        msg = f"{len(pieces)} values are listed; at most {MOST_LOOSE} are: put them in the drawer"
        raise DomainError(msg)
    counted = [_COUNTED.fullmatch(piece) for piece in pieces]
    usual = 1 if any(counted) else PLENTY
    found: dict[float, int] = {}
    for piece, count in zip(pieces, counted, strict=True):
        ohms = quantity(OHM, *WIDEST_RANGE)(count["ohms"] if count else piece)[0]
        more = int(count["count"]) if count else usual
        if not more:
            msg = f"“{piece}” is none: leave it out"
            raise DomainError(msg)
        found[ohms] = min(found.get(ohms, 0) + more, PLENTY)
    return Loose(tuple(sorted(found.items())))


def _stress(text: str) -> tuple[Any, str]:
    """Read how much of the derated rating may be used; both schools have a word for theirs."""
    word = text.strip().lower()
    share = {"half": "50 %", "all": "100 %", "full": "100 %", "in full": "100 %"}.get(word, text)
    return quantity(FRACTION, 0.0, 1.0, open_low=True)(share)


def _of_family(kind: Kind, high: float) -> Reader:
    """Make a reader of a figure that may be left to the family: None."""
    stated = quantity(kind, 0.0, high)

    def reader(text: str) -> tuple[Any, str]:
        if text.strip().lower() in OF_FAMILY:
            return None, "the family's"
        return stated(text)

    return reader


def _family(families: tuple[Family, ...]) -> Reader:
    def reader(text: str) -> tuple[Any, str]:
        family = read_family(text, families)
        return family, family.name

    return reader


def _own(families: tuple[Family, ...]) -> Reader:
    """Make a reader of what single parts are sold under: `R2 0.1 % 25 ppm/K; R1 0805`."""

    def reader(text: str) -> tuple[Any, str]:
        if text.strip().lower() in NOTHING:
            return (), "none"
        found: dict[str, OwnLimits] = {}
        for piece in re.split(r"[;,]", text):
            own = _one_own(piece.strip(), families)
            if own.ref.casefold() in found:
                msg = f"{own.ref} is given twice: write all of it behind one name"
                raise DomainError(msg)
            found[own.ref.casefold()] = own
        return tuple(found.values()), "; ".join(o.words for o in found.values())

    return reader


def _one_own(piece: str, families: tuple[Family, ...]) -> OwnLimits:
    split = re.fullmatch(r"([A-Za-z]+[0-9]+)\s*[:=]?\s+(.+)", piece)
    if split is None:
        msg = f"“{piece}” names no part and what it is: write R2 0.1 %, or R2 0.1 % 25 ppm/K 0805"
        raise DomainError(msg)
    ref, rest = split[1].upper(), split[2]
    tolerance = tcr = family = None
    if around := re.search(r"(?:(?:±|\+/-)\s*)?([0-9][0-9.,]*)\s*%", rest):
        tolerance = quantity(FRACTION, 0.0, 0.5)(f"{around[1]} %")[0]
        rest = rest.replace(around[0], " ")
    if per_kelvin := re.search(r"([0-9][0-9.,]*)\s*ppm(?:\s*/\s*[KC])?", rest):
        tcr = read(f"{per_kelvin[1]} ppm/K", PPM_PER_KELVIN)
        rest = rest.replace(per_kelvin[0], " ")
    if rest.strip():
        family = read_family(" ".join(rest.split()), families)
    return OwnLimits(ref, tolerance, tcr, family)


def family_tokens(families: tuple[Family, ...]) -> dict[str, Token]:
    """Return the tokens that name families, typical ones and the user's own.

    Parameters
    ----------
    families : tuple[Family, ...]
        The user's own, beside the typical ones.
    """
    return {
        "rating": Token(_family(families), "0603", "size, power or family"),
        "own": Token(_own(families), "none", "parts of their own", "none"),
    }


_LEAST, _MOST = (write(end, OHM, 2, trim=True) for end in DEFAULT_RANGE)
PARTS: Final[dict[str, Token]] = {
    "values": Token(_values, "E24", "series of values, or drawer"),
    "min_ohm": Token(quantity(OHM, *WIDEST_RANGE), _LEAST, "smallest part", _LEAST),
    "max_ohm": Token(quantity(OHM, *WIDEST_RANGE), _MOST, "largest part", _MOST),
    "tolerance": Token(_of_family(FRACTION, 0.5), "1 %", "tolerance of a part"),
    "tcr": Token(_of_family(PPM_PER_KELVIN, 1e4), "100 ppm/K", "temperature coefficient"),
    "drift": Token(_of_family(FRACTION, 0.5), "0 %", "drift over its life", "0 %"),
    "tracking": Token(
        optional(quantity(FRACTION, 0.0, 0.5), "freely"),
        "none",
        "how far parts of one array differ",
        "none",
    ),
    "stress": Token(_stress, "50 %", "share of the rating that may be used"),
    "low_c": Token(quantity(CELSIUS, -273.0, 400.0), "-20 °C", "coldest ambient"),
    "high_c": Token(quantity(CELSIUS, -273.0, 400.0), "60 °C", "hottest ambient"),
    **family_tokens(()),
}


def family_figures(
    values: Mapping[str, Any], readings: Mapping[str, TokenReading]
) -> dict[str, TokenReading]:
    """Return the readings of figures left to the family, with what the family has there.

    Parameters
    ----------
    values : Mapping[str, Any]
        Values read, by token.
    readings : Mapping[str, TokenReading]
        What was understood, by token.
    """
    family = values.get("rating")
    if not isinstance(family, Family):
        return {}
    figures = {
        "tolerance": write(family.tolerance, FRACTION, 4, trim=True),
        "tcr": write(family.tcr_ppm, PPM_PER_KELVIN, 4, trim=True),
        "drift": write(family.drift, FRACTION, 4, trim=True),
    }
    return {
        name: replace(readings[name], shown=f"{shown}, as {family.name}")
        for name, shown in figures.items()
        if readings[name].ok and values.get(name) is None
    }


def both(values: Mapping[str, Any], low: str, high: str) -> tuple[float, float] | None:
    """Return two figures where both were understood.

    Parameters
    ----------
    values : Mapping[str, Any]
        Values read, by token.
    low : str
        Name of the token that should be less.
    high : str
        Name of the other.
    """
    a, b = values.get(low), values.get(high)
    return (a, b) if isinstance(a, float) and isinstance(b, float) else None


def part_misfits(values: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Return tokens about parts that are fine alone but not together, with what would be right.

    Parameters
    ----------
    values : Mapping[str, Any]
        Values read, by token.
    """
    found = []
    if (pair := both(values, "min_ohm", "max_ohm")) and pair[0] > pair[1]:
        least = write(pair[0], OHM, 4, trim=True)
        found.append(("max_ohm", f"the largest part is below the smallest: write {least} or more"))
    temperatures = both(values, "low_c", "high_c")
    if temperatures and temperatures[0] > temperatures[1]:
        found.append(
            ("high_c", f"the hottest is below the coldest: write {temperatures[0]:g} °C or more")
        )
    if temperatures and {"tolerance", "tcr", "drift", "rating"} <= values.keys():
        tolerance, tcr, drift = _budget(values)
        place = Environment(low_c=min(temperatures), high_c=max(temperatures))
        too_far = "tolerance, temperature and drift together exceed 100 % of the value"
        if half_width(tolerance, tcr, place.largest_dt, drift) >= 1:
            found.append(("tcr", too_far))
        for own in values.get("own", ()):
            single = tolerance if own.tolerance is None else own.tolerance
            coefficient = tcr if own.tcr_ppm is None else own.tcr_ppm
            if half_width(single, coefficient, place.largest_dt, drift) >= 1:
                found.append(("own", f"{own.ref}: {too_far}"))
    return found


def _budget(v: Mapping[str, Any]) -> tuple[float, float, float]:
    """Return tolerance, coefficient and drift, those left to the family taken from it."""
    family: Family = v["rating"]
    own = (family.tolerance, family.tcr_ppm, family.drift)
    stated = (v["tolerance"], v["tcr"], v["drift"])
    tolerance, tcr, drift = (s if s is not None else f for s, f in zip(stated, own, strict=True))
    return tolerance, tcr, drift


def parts_of_values(v: Mapping[str, Any]) -> Parts:
    """Return the parts that understood tokens state.

    Parameters
    ----------
    v : Mapping[str, Any]
        Values read, by token.
    """
    tolerance, tcr, drift = _budget(v)
    return Parts(
        series=() if isinstance(v["values"], Loose) else v["values"],
        listed=v["values"].counts if isinstance(v["values"], Loose) else (),
        min_ohms=v["min_ohm"],
        max_ohms=v["max_ohm"],
        tolerance=tolerance,
        tcr_ppm=tcr,
        drift=drift,
        family=v["rating"],
        stress=v["stress"],
        own=v["own"],
        ratio=v["tracking"],
        environment=Environment(low_c=v["low_c"], high_c=v["high_c"]),
    )
