"""Figures said with what lies about them: supplies over a range, and windows in any unit.

A text such as `9 to 16 V`, `48 V ± 10 %` or `12 V +10/-20 %` says a figure and its tolerance; what
is between two ends is stated by its middle. A window in volts or ohms, or with another width on
each side, becomes a fraction about its middle, which is what is wanted then.
"""

from __future__ import annotations

import re
from dataclasses import dataclass, replace
from typing import Any, Final

from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.tokens.reading import Also, Reader, TokenReading, quantity
from lowfold.core.values.quantities import FRACTION, Kind, read, write

__all__ = ["Window", "resolve", "spread", "window"]

_NUMBER = r"[-−+]?[0-9][0-9 .,]*(?:[eE][-+]?[0-9]+)?"
#: Of `9 to 16 V` the first end has the unit of the second.
_RANGE = re.compile(
    r"(?:between\s+(?P<from>.*?[0-9].*?)\s*\band\b|"
    r"(?:from\s+)?(?P<low>.*?[0-9].*?)\s*(?:\bto\b|…|\.\.\.?|–|—|(?<![eE])-))"
    r"\s*(?P<high>-?[0-9.].*)"
)
_AROUND = re.compile(r"(?P<nominal>.*[^\s/])\s*(?:±|\+\s*/\s*[-−])\s*(?P<width>[0-9.].*)")
_SIDES = re.compile(
    r"(?P<nominal>.*?)\s*(?:"
    r"\+\s*(?P<more>[0-9.,]+)\s*(?P<unit>[^0-9\s/+−-]*)\s*/?\s*[-−]\s*(?P<less>[0-9.,]+)"
    r"|[-−]\s*(?P<less2>[0-9.,]+)\s*(?P<unit2>[^0-9\s/+−-]*)\s*/?\s*\+\s*(?P<more2>[0-9.,]+))"
    r"\s*(?P<last>[^0-9\s]*)\s*"
)
FIGURES: Final = 12  #: in which the middle of two ends is stated
LONGEST: Final = 80  #: characters of a figure with what lies about it


@dataclass(frozen=True, slots=True)
class Window:
    """How far a figure may lie below and above what is wanted, in a unit of its own."""

    below: float
    above: float
    kind: Kind

    def ends(self, wanted: float) -> tuple[float, float]:
        """Return the two ends about a wanted figure."""
        if self.kind is FRACTION:
            return wanted * (1 - self.below), wanted * (1 + self.above)
        return wanted - self.below, wanted + self.above


def _plain(text: str) -> str:
    return " ".join(text.replace("−", "-").split())


def _round(value: float) -> float:
    return float(f"{value:.{FIGURES}g}")


def _sides(text: str, kind: Kind) -> tuple[str, Window] | None:
    """Return a figure and what is said to either side of it: `12 V +10/-20 %`."""
    found = _SIDES.fullmatch(text)
    if found is None:
        return None
    more, less = found["more"] or found["more2"], found["less"] or found["less2"]
    unit = found["last"] or found["unit"] or found["unit2"]
    if not unit:
        return None
    own = FRACTION if unit == "%" else kind
    above, below = (read(f"{side} {unit}", own) for side in (more, less))
    return found["nominal"], Window(below, above, own)


def spread(kind: Kind, low: float, high: float, also: str, *, open_low: bool = False) -> Reader:
    """Make a reader of a figure that may say its own tolerance, which another token has.

    Parameters
    ----------
    low, high : float
        Ends of what is taken, in the base unit.
    also : str
        Name of the token of its tolerance.
    open_low : bool
        Whether the lower end itself is refused.
    """
    plain = quantity(kind, low, high, open_low=open_low)

    def between(first: float, last: float, text: str) -> tuple[Any, str]:
        first, last = sorted((first, last))
        middle = _round((first + last) / 2)
        if first <= 0 <= last:
            msg = f"“{text.strip()[:40]}” lies on both sides of 0: write one figure, such as 12 V"
            raise DomainError(msg)
        half = (last - first) / 2 / abs(middle)
        ends = " … ".join(write(end, kind, 6, trim=True) for end in (first, last))
        return Also(middle, {also: (half, write(half, FRACTION, 4, trim=True))}), ends

    def reader(text: str) -> tuple[Any, str]:
        said = _plain(text)
        if len(said) > LONGEST:
            return plain(said)
        if sides := _sides(said, kind):
            return between(*sides[1].ends(plain(sides[0])[0]), text)
        if around := _AROUND.fullmatch(said):
            return _about(*plain(around["nominal"]), around["width"], kind, also)
        ends = _two_ends(said, kind)
        if ends is not None:
            for end in ends:
                plain(write(end, kind, 15, trim=True))
            return between(*ends, text)
        return plain(said)

    return reader


def _about(value: float, shown: str, width: str, kind: Kind, also: str) -> tuple[Also, str]:
    """Return a figure with as much to either side, a share of it or in its own unit."""
    own = FRACTION if width.endswith("%") else kind
    half = read(width, own) / (1 if own is FRACTION or not value else abs(value))
    if not 0 <= half < 1:
        msg = f"± {width} about {shown} is too wide: it leaves nothing below"
        raise DomainError(msg)
    written = write(half, FRACTION, 4, trim=True)
    return Also(value, {also: (half, written)}), f"{shown} ± {written}"


def _two_ends(text: str, kind: Kind) -> tuple[float, float] | None:
    """Return the ends of a range, the first with the unit of the second where it has none."""
    found = _RANGE.fullmatch(text)
    if found is None:
        return None
    low, high = (found["low"] or found["from"]).strip(), found["high"].strip()
    if re.fullmatch(_NUMBER, low):
        low = f"{low} {re.sub(rf'^{_NUMBER}', '', high).strip()}"
    try:
        return read(low, kind), read(high, kind)
    except LowfoldError:
        return None


def window(kind: Kind) -> Reader:
    """Make a reader of an accepted deviation: a fraction, or a `Window` where it is said otherwise.

    Notes
    -----
    `3 %`, `50 mV`, `± 2 Ω`, `+5/-0 %`, `+50/-20 mV`.
    """
    share = quantity(FRACTION, 0.0, 1.0, open_low=True)

    def reader(text: str) -> tuple[Any, str]:
        said = re.sub(r"^(?:±|\+\s*/\s*-|\+-)\s*", "", _plain(text))
        if len(said) > LONGEST:
            return share(said)
        if (sides := _sides(said, kind)) and not sides[0]:
            width = sides[1]
            if width.below + width.above <= 0:
                msg = f"“{text.strip()[:30]}” leaves nothing: write a window, such as +5/-0 %"
                raise DomainError(msg)
            more, less = (
                write(x, width.kind, 4, trim=True) if x else f"0 {width.kind.unit}"
                for x in (width.above, width.below)
            )
            return width, f"+ {more} / − {less}"
        try:
            return share(said)
        except LowfoldError as error:
            try:
                value = read(said, kind)
            except LowfoldError:
                raise error from None
            if re.fullmatch(_NUMBER, said) or not value > 0:
                raise
            return Window(value, value, kind), f"± {write(value, kind, 4, trim=True)}"

    return reader


def resolve(
    values: dict[str, Any], readings: dict[str, TokenReading], target: str, kind: Kind
) -> None:
    """Turn a window said otherwise than as a fraction into one about its middle, in place.

    Parameters
    ----------
    values : dict
        Values read, by token.
    readings : dict
        What was understood, by token.
    target : str
        Name of the token of what is wanted.
    """
    width, wanted = values.get("within"), values.get(target)
    if not isinstance(width, Window):
        return
    if not isinstance(wanted, float):
        values.pop("within")
        return
    low, high = width.ends(wanted)
    if not 0 < low < high:
        message = "this is wider than what is wanted itself: write less"
        readings["within"] = replace(readings["within"], ok=False, shown="", message=message)
        values.pop("within")
        return
    middle = _round((low + high) / 2)
    values["within"] = (high - low) / 2 / middle
    if width.below != width.above:
        values[target] = middle
    written = write(values["within"], FRACTION, 3, trim=True)
    shown = readings["within"].shown
    about = f", ± {written} about {write(middle, kind, 6, trim=True)}"
    readings["within"] = replace(readings["within"], shown=shown + about)
