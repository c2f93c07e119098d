"""The need as one sentence of tokens: what each token takes, and the need they state together.

A brief is text as typed, token by token. Reading it never fails as a whole: every token says what
it understood or what is wrong, and the need exists once all of them are understood.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Final, Literal

from lowfold.core.box import half_width
from lowfold.core.check import Environment
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.preferred import DEFAULT_RANGE, WIDEST_RANGE, read_series
from lowfold.core.quantities import (
    AMPERE,
    CELSIUS,
    FRACTION,
    OHM,
    PPM_PER_KELVIN,
    VOLT,
    Kind,
    read,
    write,
)
from lowfold.core.ratings import Rating, read_rating
from lowfold.core.resistance_search import MOST_SERIES_PARTS

__all__ = [
    "BRIEFS",
    "BriefKind",
    "BriefReading",
    "DividerBrief",
    "LoadToken",
    "Parts",
    "ResistanceBrief",
    "TokenReading",
    "read_brief",
]

BriefKind = Literal["resistance", "divider"]
#: Reads a token: its value, whose type is the token's own, and how it is shown.
Reader = Callable[[str], tuple[Any, str]]

NOTHING: Final = ("", "none", "nothing", "no", "-", "—", "any", "no limit")


@dataclass(frozen=True, slots=True)
class LoadToken:
    """A load as stated: nominal in Ω or A, and the fraction it may deviate by."""

    ohms: float | None
    amps: float | None
    tolerance: float


@dataclass(frozen=True, slots=True)
class UseToken:
    """What drives a resistance: a voltage across it or a current through it."""

    volts: float | None
    amps: float | None


@dataclass(frozen=True, slots=True)
class Token:
    """One place in the sentence."""

    read: Reader
    default: str
    label: str  #: what it is called


@dataclass(frozen=True, slots=True)
class TokenReading:
    """What one token was understood as."""

    text: str
    label: str
    ok: bool
    shown: str  #: in standard notation; empty where not understood
    message: str  #: what is wrong and what would be right; empty where understood


@dataclass(frozen=True, slots=True, kw_only=True)
class Parts:
    """The parts a brief chooses from and what surrounds them."""

    series: tuple[str, ...]
    min_ohms: float
    max_ohms: float
    tolerance: float
    tcr_ppm: float
    rating: Rating
    stress: float
    environment: Environment

    @property
    def half_width(self) -> float:
        """Return each part's extreme-value half-width over the ambient range, a fraction."""
        return half_width(self.tolerance, self.tcr_ppm, self.environment.largest_dt, 0.0)


@dataclass(frozen=True, slots=True, kw_only=True)
class ResistanceBrief:
    """Make a resistance."""

    target_ohms: float
    within: float
    max_parts: int
    use: UseToken | None
    load: LoadToken | None
    parts: Parts


@dataclass(frozen=True, slots=True, kw_only=True)
class DividerBrief:
    """Make a voltage below the one at hand."""

    supply_volts: float
    supply_tolerance: float
    source_ohms: float
    target_volts: float
    within: float
    load: LoadToken | None
    max_amps: float | None
    parts: Parts


@dataclass(frozen=True, slots=True)
class BriefReading:
    tokens: Mapping[str, TokenReading]
    need: ResistanceBrief | DividerBrief | None


def _quantity(kind: Kind, low: float, high: float, *, open_low: bool = False) -> Reader:
    """Make a reader of `kind` from `low` to `high`, the low end excluded if `open_low`."""

    def reader(text: str) -> tuple[Any, str]:
        value = read(text, kind)
        if not (low < value if open_low else low <= value) or value > high:
            least = f"more than {write(low, kind, 3, trim=True)}" if open_low else ""
            least = least or f"at least {write(low, kind, 3, trim=True)}"
            msg = (
                f"{write(value, kind, 4, trim=True)} does not fit here: it must be {least} and "
                f"at most {write(high, kind, 3, trim=True)}"
            )
            raise DomainError(msg)
        return value, write(value, kind, 6, trim=True)

    return reader


def _optional(reader: Reader, nothing: str) -> Reader:
    def or_nothing(text: str) -> tuple[Any, str]:
        return (None, nothing) if text.strip().lower() in NOTHING else reader(text)

    return or_nothing


def _load(text: str, *, resistive: bool) -> tuple[Any, str]:
    nominal, _, around = text.replace("+/-", "±").partition("±")
    tolerance = _quantity(FRACTION, 0.0, 0.9)(around)[0] if around.strip() else 0.0
    amps = None
    if not resistive and re.search(r"[aA](mps?)?\s*$", nominal.strip()):
        amps = read(nominal, AMPERE)
        if not 0 <= amps <= 1e3:
            msg = f"a load draws from 0 A to 1 kA, got {write(amps, AMPERE)}"
            raise DomainError(msg)
        shown = write(amps, AMPERE, 6, trim=True)
        found = LoadToken(None, amps, tolerance)
    else:
        try:
            ohms = read(nominal, OHM)
        except LowfoldError as error:
            if resistive:
                raise
            msg = f"{error.message}; a load is a resistance (200k) or a current (20 µA)"
            raise DomainError(msg) from error
        if not WIDEST_RANGE[0] <= ohms <= 1e12:
            msg = f"a load lies between 1 mΩ and 1000 GΩ, got {write(ohms, OHM)}"
            raise DomainError(msg)
        shown = write(ohms, OHM, 6, trim=True)
        found = LoadToken(ohms, None, tolerance)
    return found, f"{shown} ± {write(tolerance, FRACTION, 4, trim=True)}" if tolerance else shown


def _use(text: str) -> tuple[Any, str]:
    if re.search(r"[aA](mps?)?\s*$", text.strip()):
        amps, shown = _quantity(AMPERE, 0.0, 1e3, open_low=True)(text)
        return UseToken(None, amps), shown
    try:
        volts, shown = _quantity(VOLT, 0.0, 1e5, open_low=True)(text)
    except LowfoldError as error:
        msg = (
            f"{error.message}; write the current through it (20 mA) or the voltage across it (5 V)"
        )
        raise DomainError(msg) from error
    return UseToken(volts, None), shown


def _series(text: str) -> tuple[Any, str]:
    names = read_series(text)
    return names, " + ".join(names)


def _rating(text: str) -> tuple[Any, str]:
    rating = read_rating(text)
    return rating, rating.name


def _count(text: str) -> tuple[Any, str]:
    word = text.strip().lower()
    names = {"one": "1", "two": "2", "three": "3", "four": "4"}
    word = names.get(word, word)
    if not re.fullmatch(r"[0-9]{1,3}", word) or not 1 <= int(word) <= MOST_SERIES_PARTS:
        msg = f"“{text.strip()}” is not how many parts: write 1 to {MOST_SERIES_PARTS}"
        raise DomainError(msg)
    return int(word), word


PARTS: Final[dict[str, Token]] = {
    "values": Token(_series, "E24", "series of values"),
    "min_ohm": Token(
        _quantity(OHM, *WIDEST_RANGE), write(DEFAULT_RANGE[0], OHM, 2, trim=True), "smallest part"
    ),
    "max_ohm": Token(
        _quantity(OHM, *WIDEST_RANGE), write(DEFAULT_RANGE[1], OHM, 2, trim=True), "largest part"
    ),
    "tolerance": Token(_quantity(FRACTION, 0.0, 0.5), "1 %", "tolerance of a part"),
    "tcr": Token(_quantity(PPM_PER_KELVIN, 0.0, 1e4), "100 ppm/K", "temperature coefficient"),
    "rating": Token(_rating, "0603", "size or power rating"),
    "stress": Token(
        _quantity(FRACTION, 0.0, 1.0, open_low=True), "50 %", "share of the rating that may be used"
    ),
    "low_c": Token(_quantity(CELSIUS, -273.0, 400.0), "-20 °C", "coldest ambient"),
    "high_c": Token(_quantity(CELSIUS, -273.0, 400.0), "60 °C", "hottest ambient"),
}
BRIEFS: Final[dict[BriefKind, dict[str, Token]]] = {
    "resistance": {
        "target_ohm": Token(_quantity(OHM, 1e-3, 1e9), "4.32 kΩ", "wanted resistance"),
        "within": Token(_quantity(FRACTION, 0.0, 1.0, open_low=True), "1 %", "accepted deviation"),
        "max_parts": Token(_count, "2", "number of parts"),
        "use": Token(
            _optional(_use, "nothing stated"), "none", "current through it or voltage across it"
        ),
        "load": Token(
            _optional(lambda text: _load(text, resistive=True), "nothing"),
            "none",
            "resistance in parallel with it",
        ),
        **PARTS,
    },
    "divider": {
        "supply_v": Token(_quantity(VOLT, 0.0, 1e5, open_low=True), "5 V", "supply voltage"),
        "supply_tolerance": Token(_quantity(FRACTION, 0.0, 0.9), "0 %", "tolerance of the supply"),
        "source_ohm": Token(_quantity(OHM, 0.0, 1e9), "0 Ω", "source resistance"),
        "target_v": Token(_quantity(VOLT, 0.0, 1e5, open_low=True), "3.3 V", "wanted voltage"),
        "within": Token(_quantity(FRACTION, 0.0, 1.0, open_low=True), "3 %", "accepted deviation"),
        "load": Token(
            _optional(lambda text: _load(text, resistive=False), "nothing"),
            "none",
            "load at the tap",
        ),
        "max_current_a": Token(
            _optional(_quantity(AMPERE, 0.0, 1e3, open_low=True), "any current"),
            "none",
            "largest supply current",
        ),
        **PARTS,
    },
}


def read_brief(kind: BriefKind, texts: Mapping[str, str]) -> BriefReading:
    """Read every token of a brief; a token that is not given has its default.

    Returns
    -------
    BriefReading
        With the need where every token is understood and they fit each other.
    """
    values: dict[str, Any] = {}
    readings: dict[str, TokenReading] = {}
    for name, token in BRIEFS[kind].items():
        text = texts.get(name, token.default)
        try:
            values[name], shown = token.read(text)
            readings[name] = TokenReading(text, token.label, True, shown, "")
        except LowfoldError as error:
            readings[name] = TokenReading(text, token.label, False, "", error.message)
    for name, message in _misfits(values):
        readings[name] = replace(readings[name], ok=False, shown="", message=message)
    if not all(r.ok for r in readings.values()):
        return BriefReading(readings, None)
    return BriefReading(readings, _need(kind, values))


def _misfits(values: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Return tokens that are fine alone but not together, with what would be right."""
    found = []

    def both(low: str, high: str) -> tuple[float, float] | None:
        a, b = values.get(low), values.get(high)
        return (a, b) if isinstance(a, float) and isinstance(b, float) else None

    if (pair := both("target_v", "supply_v")) and pair[0] >= pair[1]:
        shown = write(pair[1], VOLT, 4, trim=True)
        found.append(("target_v", f"a divider only lowers: write less than the supply's {shown}"))
    if (pair := both("min_ohm", "max_ohm")) and pair[0] > pair[1]:
        found.append(
            ("max_ohm", f"the largest part is below the smallest: write {pair[0]:g} Ω or more")
        )
    if (pair := both("low_c", "high_c")) and pair[0] > pair[1]:
        found.append(("high_c", f"the hottest is below the coldest: write {pair[0]:g} °C or more"))
    tolerance, tcr = values.get("tolerance"), values.get("tcr")
    if (
        (pair := both("low_c", "high_c"))
        and isinstance(tolerance, float)
        and isinstance(tcr, float)
    ):
        place = Environment(low_c=min(pair), high_c=max(pair))
        if half_width(tolerance, tcr, place.largest_dt, 0.0) >= 1:
            found.append(("tcr", "tolerance and temperature together exceed 100 % of the value"))
    return found


def _need(kind: BriefKind, v: Mapping[str, Any]) -> ResistanceBrief | DividerBrief:
    parts = Parts(
        series=v["values"],
        min_ohms=v["min_ohm"],
        max_ohms=v["max_ohm"],
        tolerance=v["tolerance"],
        tcr_ppm=v["tcr"],
        rating=v["rating"],
        stress=v["stress"],
        environment=Environment(low_c=v["low_c"], high_c=v["high_c"]),
    )
    if kind == "resistance":
        return ResistanceBrief(
            target_ohms=v["target_ohm"],
            within=v["within"],
            max_parts=v["max_parts"],
            use=v["use"],
            load=v["load"],
            parts=parts,
        )
    return DividerBrief(
        supply_volts=v["supply_v"],
        supply_tolerance=v["supply_tolerance"],
        source_ohms=v["source_ohm"],
        target_volts=v["target_v"],
        within=v["within"],
        load=v["load"],
        max_amps=v["max_current_a"],
        parts=parts,
    )
