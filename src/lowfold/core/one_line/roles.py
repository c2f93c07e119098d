"""The role of each figure in a need said in one line.

A figure gets it from the word before it, from one behind it that speaks of it, from `±` behind
another figure, or from its unit alone. What no word gives a role is marked, and so is a word that
nobody knows with all that stands together with it.
"""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from lowfold.core.errors import LowfoldError
from lowfold.core.one_line.forms import with_forms
from lowfold.core.one_line.loads import with_load_ranges
from lowfold.core.one_line.words import Cue, Lexeme
from lowfold.core.tokens.reading import Also
from lowfold.core.tokens.windows import spread
from lowfold.core.values.quantities import (
    AMPERE,
    CELSIUS,
    FRACTION,
    OHM,
    PPM_PER_KELVIN,
    VOLT,
    WATT,
    Kind,
    read,
)

__all__ = ["VOLTS", "Roles", "Said", "Unread", "give_roles", "volts_of"]

#: The role that a word before a figure gives it, by the unit of the figure.
ROLES: Final[dict[tuple[Kind, Cue], str]] = {
    (VOLT, "to"): "target", (VOLT, "from"): "supply", (VOLT, "reference"): "reference",
    (VOLT, "stands"): "stands", (VOLT, "use"): "use", (VOLT, "low"): "low",
    (OHM, "load"): "load", (OHM, "beside"): "load", (OHM, "source"): "source",
    (OHM, "place"): "place", (OHM, "seen"): "seen", (OHM, "to"): "ohms",
    (AMPERE, "max"): "max", (AMPERE, "min"): "min", (AMPERE, "load"): "load",
    (AMPERE, "pin"): "pin", (AMPERE, "use"): "use",
    (FRACTION, "within"): "within", (FRACTION, "max"): "within", (FRACTION, "stress"): "stress",
    (FRACTION, "tracking"): "tracking", (FRACTION, "drift"): "drift",
    (FRACTION, "tolerance"): "tolerance", (VOLT, "around"): "both",
    (VOLT, "within"): "within", (OHM, "within"): "within", (CELSIUS, "between"): "celsius",
    (VOLT, "pin"): "target",  # a bias of 2.5 V
}  # fmt: skip
#: Words that also stand before figures they say nothing of: from −20 to 60 °C, on 1 %.
LOOSE: Final[tuple[Cue, ...]] = ("to", "from")
#: The role of a figure that no word gives one.
PLAIN: Final[dict[Kind, str]] = {
    VOLT: "volts", OHM: "ohms", AMPERE: "amps", FRACTION: "tolerance", CELSIUS: "celsius",
    PPM_PER_KELVIN: "tcr", WATT: "rating",
}  # fmt: skip
FURTHEST: Final = 4  #: pieces between how many and of what: two 1 % E24 0603 resistors
VOLTS: Final = frozenset({"volts", "target", "supply"})
#: What stands between two figures, by their unit.
ENDS: Final[dict[Kind, tuple[str, str]]] = {OHM: ("min_ohm", "max_ohm"), AMPERE: ("min", "max")}


@dataclass(frozen=True, slots=True)
class Unread:
    start: int
    end: int
    text: str
    message: str
    instead: tuple[str, ...] = ()  #: spellings that would be read, each another meaning


@dataclass
class Said:
    """A figure with its role."""

    role: str
    lexeme: Lexeme
    around: Lexeme | None = None  #: what stands behind ±
    load: Said | None = None  #: of a tap
    why: str = ""  #: it has no place, where more is known of that than its role
    instead: tuple[str, ...] = ()  #: what it may have been meant as, to be put in its place

    @property
    def text(self) -> str:
        return self.lexeme.text


#: Words that speak of the figure before them: what they make of which roles.
BEHIND: Final[dict[str, tuple[frozenset[str], str]]] = {
    word: (frozenset(roles.split("|")), role)
    for words, roles, role in (
        ("reference|ref|vref|vfb|referenz|référence", "volts|supply", "reference"),
        ("out|output|vout", "volts", "target"),
        ("in|vin", "volts", "supply"),
        ("supply|input|rail", "volts", "supply"),
        ("in place", "ohms|load", "place"),
        ("load", "ohms|amps", "load"),
        ("source|source resistance", "ohms", "source"),
        ("max source|maximum source|max source resistance|max source impedance", "ohms", "seen"),
        ("max|maximum|at most|or less", "amps", "max"),
        ("min|minimum|at least|or more", "amps", "min"),
        ("pin|pin current|bias|bias current", "amps", "pin"),
        ("accuracy|precision|overall|in all", "tolerance", "within"),
    )
    for word in words.split("|")
}


class Roles:
    """Hears the pieces of a need from left to right, and gives each figure its role."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.said: list[Said] = []
        self.unread: list[Unread] = []
        self.feedback = False
        self.drawer: Lexeme | None = None
        self._cue: Lexeme | None = None  #: the word before the next figure
        self._again: Cue | None = None  #: what the last figure's word was, behind “and”
        self._last: Cue | None = None
        self._unit: Kind | None = None  #: of the last figure
        self._apart = False  #: a comma or an “and” since the last figure

    def hear(self, piece: Lexeme, following: Sequence[Lexeme]) -> None:
        """Take the next piece, knowing what is still to come."""
        if piece.role:
            self._own_role(piece)
        elif piece.sides:
            self._around(piece)
        elif piece.series or piece.size:
            self.said.append(Said("values" if piece.series else "rating", piece))
            self._cue = None
        elif piece.cue is not None:
            self._word(piece, following)
        elif piece.kinds or piece.bare:
            self._figure(piece, following)
        elif _THOUSANDS.search(piece.text):
            shown = _THOUSANDS.sub(r"\1\2", piece.text)
            why = f"“{piece.text[:30]}” could be two figures: write a point, or {shown[:30]}"
            self._unknown(piece, why, (_THOUSANDS.sub(r"\1.\2", piece.text), shown))
        elif piece.ratio:
            why = f"“{piece.text}” does not say of what: write both figures, 14.4 V to 3 V"
            self._unknown(piece, why, _proportions(piece.text))
        else:
            self._unknown(piece, piece.why or f"“{piece.text[:30]}” is not understood here")

    def _own_role(self, piece: Lexeme) -> None:
        """Take what says its own role; a word before it says nothing more."""
        self.said.append(Said(piece.role, piece))
        self._cue, self._again, self._apart = None, None, False

    def _around(self, piece: Lexeme) -> None:
        """Hang what stands about a figure on the last one that may have it."""
        last, cue = self.said[-1] if self.said else None, self._cue
        self._cue, self._again, self._apart = None, None, False
        if cue is not None and cue.cue == "within":
            self.said.append(Said("within", piece))
        elif last is None or last.around is not None or not _may_vary(last):
            self.refuse(piece, "± of what: write it behind the supply or what is wanted")
        else:
            last.around = piece

    def _unknown(self, piece: Lexeme, message: str, instead: Sequence[str] = ()) -> None:
        """Mark what nobody knows; an “and” before it does not go on with what comes behind it."""
        self.refuse(piece, message, instead)
        self._again, self._apart = None, False

    def refuse(self, piece: Lexeme, message: str, instead: Sequence[str] = ()) -> None:
        """Mark a piece as not understood; `instead` are spellings that would be, where known."""
        there = self.text[piece.start : piece.end]
        self.unread.append(Unread(piece.start, piece.end, there, message, tuple(instead)))

    def _word(self, piece: Lexeme, following: Sequence[Lexeme]) -> None:
        cue, last = piece.cue, self.said[-1] if self.said else None
        roles, role = BEHIND.get(piece.text.casefold(), (frozenset(), ""))
        behind = last is not None and last.role in roles and not self._apart
        if last is not None and behind and not _speaks_onward(role, last, following):
            last.role, self._cue = role, None
            self._loads(last)
        elif cue == "max" and self._cue is not None and self._cue.cue == "seen":
            pass  # output resistance below 10k
        elif cue == "and" or (cue == "to" and self._last == "between"):
            self._again, self._apart = self._last, True
        elif cue == "always":
            self.said.append(Said("stiff", replace(piece, text="any")))
        elif cue == "drawer":
            self.drawer, self._cue = piece, None
        elif cue == "feedback":
            self.feedback = True
        elif cue not in {"filler", "parts"} and not (cue == "from" and piece.text == "supply"):
            self._cue = piece

    def _figure(self, piece: Lexeme, following: Sequence[Lexeme]) -> None:
        before, again, last = self._cue, self._again, self.said[-1] if self.said else None
        cue, joined = before.cue if before else None, self._apart
        self._cue, self._again, self._apart = None, None, False
        self._last = cue or again
        if piece.bare and self._is_count(piece, following):
            self.said.append(Said("count", piece))
        elif piece.bare and not self._is_resistance(piece, following):
            why = f"“{piece.text}” has no unit: write what it is, {piece.text} V"
            self.refuse(piece, why, (f"{piece.text} V", f"{piece.text} Ω"))
        elif cue == "around" and (last is not None or VOLT not in piece.kinds):
            self._around_by(last, piece)
        else:
            self._placed(piece, before, again, joined=joined)

    def _around_by(self, last: Said | None, piece: Lexeme) -> None:
        """Hang a figure behind ± on the one before it: a share of it, or in its own unit."""
        own = (
            last is not None and bool(last.lexeme.kinds) and piece.kinds[0] is last.lexeme.kinds[0]
        )
        if last is None or last.around is not None or not (FRACTION in piece.kinds or own):
            self.refuse(piece, "± of what: write it behind the supply or what is wanted")
        else:
            last.around = piece

    def _placed(
        self, piece: Lexeme, before: Lexeme | None, again: Cue | None, *, joined: bool
    ) -> None:
        """Give a figure the role that the word before it says, or that its unit has alone."""
        kind = OHM if piece.bare else piece.kinds[0]
        again = again if kind is self._unit else None  # and 1.4 V goes on, and 80 µA does not
        self._unit = kind
        roles = [s.role for s in self.said]
        if again == "from" and "supply" in roles:
            again = None  # there is one supply: what follows it is made of it
        role = self._role(kind, before.cue if before else None, again)
        below = piece.text.startswith(("-", "−"))
        if below and (role == "volts" or (role == "supply" and "supply" in roles)):
            role = "low"  # below 0 V lies neither a supply here nor an output
        if role == "volts" and not joined and sum(s.role in VOLTS for s in self.said) > 1:
            why = "one voltage more: write “and” before another tap, or what this one is"
            self.refuse(piece, why)
            return
        if role == "both" and before is not None:  # ±12 V: a supply as far below 0 V as above
            sign = replace(before, text=f"−{piece.text}")
            self.said += [Said("low", sign), Said("supply", piece)]
            return
        if role is None:
            word = before.text if before else ""
            self.refuse(piece, f"“{word}” does not stand before {kind.name} in a need")
            return
        if role == "supply" and "volts" in roles and "target" in roles[roles.index("volts") :]:
            supply = self.said[roles.index("volts")].text
            self.refuse(piece, f"the supply is said already: {supply}")
            return
        one = Said(role, piece)
        self._loads(one)
        self.said.append(one)

    def _loads(self, one: Said) -> None:
        """Hang a load on the tap that was said last."""
        taps = [s for s in self.said if s.role in {"target", "volts"}]
        if one.role == "load" and taps and taps[-1].load is None:
            taps[-1].load = one

    def _role(self, kind: Kind, cue: Cue | None, again: Cue | None) -> str | None:
        """Return what a figure is; None where the word before it is none of its kind."""
        if kind in ENDS and "between" in (cue, again):
            low, high = ENDS[kind]
            return high if any(s.role == low for s in self.said) else low
        if kind is VOLT and cue == "load" and not any(s.role == "target" for s in self.said):
            return "target"  # 12 V into 3 V
        found = ROLES.get((kind, cue or again)) if cue or again else None  # type: ignore[arg-type]
        loose = cue is None or (cue in LOOSE and kind is not VOLT)
        return PLAIN[kind] if found is None and loose else found

    def _is_count(self, said: Lexeme, following: Sequence[Lexeme]) -> bool:
        """Whether a number says how many: two parts, three 1 % resistors, two E12."""
        word = said.text.isalpha()
        for piece in following:
            if piece.cue == "parts":
                return True
            if word and piece.series:
                return True
            if not (piece.series or piece.size or FRACTION in piece.kinds):
                return False
        return False

    def _is_resistance(self, piece: Lexeme, following: Sequence[Lexeme]) -> bool:
        """Whether a number without a unit is the resistance that is wanted: 4700 1 %.

        A word nobody knows behind it may be its unit, and of 12 to 3.3 both are something else.
        """
        signed = piece.text.startswith(("-", "−", "+"))
        unit = bool(following) and not following[0].known
        more = len(following) > 1 and following[0].cue == "to" and following[1].bare
        alone = not self.said and not any(u.text[0].isdigit() for u in self.unread)
        return OHM in piece.kinds and alone and not (signed or unit or more)


def _proportions(text: str) -> tuple[str, ...]:
    """Return what a proportion of two bare numbers may have been meant as."""
    first, last = (side.strip() for side in re.split("[:/]", text, maxsplit=1))
    return (
        (f"{first} V to {last} V", f"divided by {first}")
        if last == "1"
        else (f"{first} V to {last} V",)
    )


def _may_vary(said: Said) -> bool:
    return said.role in VOLTS or said.role in {"ohms", "reference", "load"}


def _speaks_onward(role: str, said: Said, following: Sequence[Lexeme]) -> bool:
    """Whether a word between two voltages speaks of the second rather: of the lower reference."""
    if not following or following[0].kinds[:1] != (VOLT,) or following[0].bare:
        return False
    if role == "reference":
        return volts_of(following[0].text) < volts_of(said.text)
    return role in {"target", "supply"}


def volts_of(text: str) -> float:
    """Return a voltage as said, of a range its middle, V.

    Parameters
    ----------
    text : str
        As typed: `14.4 V`, or `11 to 14.4 V`.
    """
    value, _ = spread(VOLT, -1e5, 1e5, "around")(text)
    found: float = value.value if isinstance(value, Also) else value
    return found


def give_roles(text: str, pieces: Sequence[Lexeme]) -> Roles:
    """Return the figures of a need, each with its role.

    Parameters
    ----------
    text : str
        As typed.
    pieces : sequence of Lexeme
        It, cut into figures, names and words.
    """
    found = Roles(text)
    told = with_forms(text, _with_units(with_load_ranges(text, pieces)))
    for place, piece in enumerate(told, start=1):
        found.hear(piece, told[place : place + FURTHEST])
    return found


#: What may be thousands as well as a decimal comma.
_THOUSANDS: Final = re.compile(r"([0-9]),([0-9]{3})(?![0-9])")
_NUMBER_BEFORE: Final = re.compile(r"[-−+0-9.,\s]+")


def _with_units(pieces: Sequence[Lexeme]) -> list[Lexeme]:
    """Return the pieces, bare numbers that lead on to one with a unit having that unit."""
    found = list(pieces)
    for place in reversed(range(len(found))):
        piece, after = found[place], place + 1
        if not piece.bare or not piece.kinds:
            continue
        while after < len(found) and found[after].cue in {"to", "and", "from"}:
            after += 1
        if after == place + 1 or after >= len(found):
            continue
        other = found[after]
        unit = "" if other.bare else _NUMBER_BEFORE.sub("", other.text, count=1)
        if re.match("[vV][0-9]", unit):
            unit = "V"  # of 3V3
        text = f"{piece.text} {unit}"
        if unit and unit != "%" and _readable(text, other.kinds):
            found[place] = replace(piece, text=text, kinds=other.kinds, bare=False)
    return found


def _readable(text: str, kinds: Sequence[Kind]) -> bool:
    """Whether a figure can be read as the first of some kinds."""
    try:
        read(text, kinds[0])
    except (IndexError, LowfoldError):
        return False
    return True
