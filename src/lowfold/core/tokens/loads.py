"""Loads as they are said: a figure, a range, or anything from nothing connected up to a figure.

A load's figure is rarely better than ±10 %, and often a limit (common practice): one figure alone
is taken with that around it, and what may be open is. A range is never cut to one of its ends.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from typing import Any, Final

from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.tokens.reading import quantity
from lowfold.core.values.quantities import AMPERE, FRACTION, OHM, Kind, read, write
from lowfold.core.values.ranges import WIDEST_RANGE

__all__ = ["AROUND", "LoadToken", "load", "load_text", "resistive_load"]

WIDEST: Final = 0.9  #: about a figure, a fraction
AROUND: Final = 0.1  #: about a single figure, a fraction (common practice)
MOST_OHMS: Final = 1e12
MOST_AMPS: Final = 1e3
ROUNDING: Final = 1e-9
#: Written figures that a range's ends are shown in.
FIGURES: Final = 6

_OPEN = r"(?:nothing|nothing connected|none|open|no load|unloaded|∞|infinite|infinity)"
_OR_OPEN = re.compile(
    rf"(?P<figure>.+?)\s*(?:,?\s*\bor\b|\bto\b|…|\.{{2,3}}|–|—|-)\s*{_OPEN}|"
    rf"{_OPEN}\s*(?:,?\s*\bor\b|\bto\b|…|\.{{2,3}}|–|—|-)\s*(?P<last>.+)",
    re.IGNORECASE,
)
_UP_TO = re.compile(
    r"(?:up to|at most|no more than|not more than|less than|max\.?|maximum|≤|<=|<)\s*"
    r"(?P<figure>.+)|"
    r"(?P<last>.+?)\s*(?:max\.?|maximum|at most|or less)",
    re.IGNORECASE,
)
_AT_LEAST = re.compile(
    r"(?:at least|no less than|not less than|more than|min\.?|minimum|≥|>=|>)\s*(?P<figure>.+)|"
    r"(?P<last>.+?)\s*(?:min\.?|minimum|at least|or more)",
    re.IGNORECASE,
)
_RANGE = re.compile(
    r"(?P<low>.*?[^\s…–—-])\s*(?:\bto\b|…|\.{2,3}|–|—|(?<![eE])-)\s*(?P<high>[0-9.,Rr].*)"
)
_AMPS = re.compile(r"(?:[aA]|[aA]mps?|[aA]mperes?|[0-9][aA][0-9]+)\s*$")


@dataclass(frozen=True, slots=True)
class LoadToken:
    """A load as stated: nominal in Ω or A, and between which ends it lies."""

    ohms: float | None
    amps: float | None
    low: float  #: Ω or A, as the load is
    high: float  #: inf Ω is nothing connected

    @property
    def open(self) -> bool:
        """Whether nothing at all may be connected."""
        return math.isinf(self.high) or (self.amps is not None and self.low == 0 < self.high)

    @property
    def exact(self) -> bool:
        return self.low == self.high

    @property
    def heaviest(self) -> tuple[float, float]:
        """Return what it draws at most, as S and A."""
        return (1 / self.low, 0.0) if self.ohms is not None else (0.0, self.high)

    @property
    def lightest(self) -> tuple[float, float]:
        """Return what it draws at least, as S and A."""
        return (1 / self.high, 0.0) if self.ohms is not None else (0.0, self.low)


def load(text: str) -> tuple[Any, str]:
    """Read a load at a tap: a resistance or a current, with its range.

    One figure (`47k`) has ±10 % about it; `47k ± 0 %`, `40k to 60k`, `47k or open`, `at least 1M`,
    `up to 50 mA`, `0 … 50 mA` say otherwise.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    DomainError, QuantityError
        Saying what would be right.
    """
    return _load(text, resistive=False)


def resistive_load(text: str) -> tuple[Any, str]:
    """Read what lies in parallel: a resistance, with its range, as `load` does.

    Parameters
    ----------
    text : str
        As typed.

    Raises
    ------
    DomainError, QuantityError
        Saying what would be right.
    """
    return _load(text, resistive=True)


def _load(text: str, *, resistive: bool) -> tuple[LoadToken, str]:
    plain = " ".join(text.replace("+/-", "±").split())
    for pattern, opened in ((_OR_OPEN, _or_open), (_UP_TO, _up_to), (_AT_LEAST, _or_open)):
        if found := pattern.fullmatch(plain):
            return opened((found["figure"] or found["last"]).strip(), resistive=resistive)
    nominal, _, around = plain.partition("±")
    if not around and (found := _RANGE.fullmatch(nominal)) is not None:
        return _range(found["low"], found["high"], resistive=resistive)
    return _about(nominal, around, resistive=resistive)


def _about(nominal: str, around: str, *, resistive: bool) -> tuple[LoadToken, str]:
    """Return one figure with what is said, or usual, around it."""
    tolerance = quantity(FRACTION, 0.0, WIDEST)(around)[0] if around.strip() else AROUND
    kind, value = _figure(nominal, resistive=resistive)
    ends = value * (1 - tolerance), value * (1 + tolerance)
    shown = write(value, kind, FIGURES, trim=True)
    if value:
        shown += f" ± {write(tolerance, FRACTION, 4, trim=True)}"
    return _token(kind, value, *ends), shown


def _range(low: str, high: str, *, resistive: bool) -> tuple[LoadToken, str]:
    """Return what lies between two figures; the first has the unit of the second."""
    kind, last = _figure(high, resistive=resistive)
    first = _figure(_with_unit(low, high), kind, resistive=resistive)[1]
    first, last = sorted((first, last))
    if kind is AMPERE and not first:
        return _up_to(write(last, AMPERE, 15, trim=True), resistive=resistive)
    middle = math.sqrt(first * last) if kind is OHM else (first + last) / 2
    shown = " … ".join(write(end, kind, FIGURES, trim=True) for end in (first, last))
    return _token(kind, min(max(middle, first), last), first, last), shown


def _with_unit(low: str, high: str) -> str:
    """Return a figure with the unit of another, where it has none of its own."""
    unit = re.sub(r"^[0-9.,\s]+(?:[eE][-+]?[0-9]+)?\s*", "", high)
    return f"{low} {unit}" if re.fullmatch(r"[0-9.,\s]+", low) and unit else low


def _or_open(figure: str, *, resistive: bool) -> tuple[LoadToken, str]:
    """Return a figure, the range of one, or nothing at all."""
    token, shown = _load(figure if _ranged(figure) else f"{figure} ± 0 %", resistive=resistive)
    shown = shown.removesuffix(" ± 0 %")
    if token.amps is not None:
        return LoadToken(None, token.amps, 0.0, token.high), f"up to {_most(token, AMPERE)}"
    return LoadToken(token.ohms, None, token.low, math.inf), f"{shown} or open"


def _up_to(figure: str, *, resistive: bool) -> tuple[LoadToken, str]:
    """Return a current of which the most is said."""
    kind, value = _figure(figure, resistive=resistive)
    if kind is OHM:
        shown = write(value, OHM, FIGURES, trim=True)
        msg = (
            f"the heaviest load is the least resistance: write at least {shown}, {shown} or open, "
            f"or a range like {shown} to {write(2 * value, OHM, 3, trim=True)}"
        )
        raise DomainError(msg)
    token = LoadToken(None, value, 0.0, value)
    return token, f"up to {_most(token, AMPERE)}"


def _most(token: LoadToken, kind: Kind) -> str:
    return write(token.high, kind, FIGURES, trim=True)


def _ranged(figure: str) -> bool:
    return "±" in figure or _RANGE.fullmatch(figure) is not None


def _token(kind: Kind, nominal: float, low: float, high: float) -> LoadToken:
    if kind is OHM:
        return LoadToken(nominal, None, low, high)
    return LoadToken(None, nominal, low, high)


def _figure(text: str, kind: Kind | None = None, *, resistive: bool) -> tuple[Kind, float]:
    """Read one figure of a load: its kind and its value."""
    if kind is AMPERE or (kind is None and not resistive and _AMPS.search(text.strip())):
        amps = read(text, AMPERE)
        if not 0 <= amps <= MOST_AMPS:
            msg = f"a load draws from 0 A to 1 kA, got {write(amps, AMPERE)}"
            raise DomainError(msg)
        return AMPERE, amps
    try:
        ohms = read(text, OHM)
    except LowfoldError as error:
        if resistive:
            raise
        msg = f"{error.message}; a load is a resistance (200k) or a current (20 µA)"
        raise DomainError(msg) from error
    if not WIDEST_RANGE[0] <= ohms <= MOST_OHMS:
        msg = f"a load lies between 1 mΩ and 1000 GΩ, got {write(ohms, OHM)}"
        raise DomainError(msg)
    return OHM, ohms


#: Figures in which a load is written so that it is read back as the same.
EXACT: Final = 12


def load_text(token: LoadToken) -> str:
    """Write a load as its token takes it, exactly: `47 kΩ ± 10 %`, `40 kΩ to 60 kΩ`.

    Parameters
    ----------
    token : LoadToken
        A load as stated.
    """
    kind = OHM if token.ohms is not None else AMPERE
    nominal = token.ohms if token.ohms is not None else token.amps or 0.0
    shown = write(nominal, kind, EXACT, trim=True)
    if not nominal:
        return shown
    below, above = 1 - token.low / nominal, token.high / nominal - 1
    low, high = (
        end if math.isfinite(end) else nominal**2 / token.low for end in (token.low, token.high)
    )
    shown_low, shown_high = (write(end, kind, EXACT, trim=True) for end in (low, high))
    if token.open and kind is AMPERE:
        around = f" ± {_share(above)} or open" if above > ROUNDING else ""
        return f"{shown}{around}" if around else f"up to {shown}"
    opened = " or open" if token.open else ""
    if (token.open or math.isclose(below, above, abs_tol=ROUNDING)) and _short(below):
        around = f" ± {_share(below)}" if below > ROUNDING or not token.open else ""
        return f"{shown}{around}{opened}"
    return f"{shown_low} to {shown_high}{opened}"


def _short(share: float) -> bool:
    """Whether a share is written in few figures, as somebody would say it, and is taken."""
    return share <= WIDEST and math.isclose(share, round(share, 4), abs_tol=ROUNDING)


def _share(value: float) -> str:
    return write(round(value, EXACT), FRACTION, EXACT, trim=True)
