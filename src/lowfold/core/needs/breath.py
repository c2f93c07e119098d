"""Read a need said in one breath: which kind it is, and what each of its tokens says.

Every figure gets a role from the word before it, from `±` behind another figure, or from being the
first or the next of its unit; a role that the kind of need has no place for is told, and so is what
no word gives a role. Nothing is guessed.
"""

from __future__ import annotations

import math
import re
from collections.abc import Sequence
from dataclasses import dataclass, replace
from typing import Final

from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.core.needs.breath_words import LONGEST, Cue, Lexeme, lexemes
from lowfold.core.needs.kinds import KINDS, BriefKind, read_brief
from lowfold.core.parts.families import Family, families_with_typical
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
    write,
)

__all__ = ["Breath", "Understood", "Unread", "read_breath"]

#: What roles are called in each kind of need; of taps, the number is put in.
TOKENS: Final[dict[BriefKind, dict[str, str]]] = {
    "resistance": {
        "target": "target_ohm", "within": "within", "use": "use", "load": "load",
        "place": "in_place_ohm", "count": "max_parts",
    },
    "divider": {
        "supply": "supply_v", "supply around": "supply_tolerance", "source": "source_ohm",
        "low": "low_v", "target": "target_v", "within": "within", "load": "load",
        "stands": "feeds_v",
        "max": "max_current_a", "min": "min_current_a", "seen": "max_output_ohm",
        "count": "per_leg",
    },
    "feedback": {
        "reference": "reference_v", "reference around": "reference_tolerance",
        "target": "target_v", "within": "within", "pin": "pin_a", "stands": "feeds_v",
        "max": "max_current_a", "min": "min_current_a", "seen": "max_output_ohm",
        "count": "per_leg",
    },
    "ladder": {
        "supply": "supply_v", "supply around": "supply_tolerance", "source": "source_ohm",
        "low": "low_v", "within": "within", "stands": "feeds_v", "max": "max_current_a",
        "min": "min_current_a",
    },
}  # fmt: skip
COMMON: Final = (
    "values", "tolerance", "tcr", "drift", "tracking", "stress", "rating", "min_ohm", "max_ohm",
    "low_c", "high_c",
)  # fmt: skip
KIND_WORDS: Final = {
    "resistance": "a resistance", "divider": "a divider", "feedback": "a feedback pair",
    "ladder": "several taps",
}  # fmt: skip
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
}  # fmt: skip
#: Words that also stand before figures they say nothing of: from −20 to 60 °C, on 1 %.
LOOSE: Final[tuple[Cue, ...]] = ("to", "from")
#: Why a figure without a word that says what it is has no place.
UNSAID: Final = {
    "unsaid amps": "say at most or at least before a current, or into for a load",
    "unsaid ohms": "say what it is: into 200k, behind 50 Ω, seen as 10k, or between 1k and 1M",
    "second resistance": "a second resistance: say beside, in place, or between 1k and 1M",
    "celsius": "one temperature alone: write the coldest and the hottest, −20 to 60 °C",
    "no reference": "say which is the reference, such as 0.8 V reference to 3.3 V",
}
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
class Understood:
    start: int
    end: int
    token: str


@dataclass(frozen=True, slots=True)
class Unread:
    start: int
    end: int
    text: str
    message: str


@dataclass(frozen=True, slots=True)
class Breath:
    """What was understood of a need, and what was not."""

    kind: BriefKind | None  #: None where nothing says what is wanted
    tokens: dict[str, str]
    understood: tuple[Understood, ...]
    unread: tuple[Unread, ...]


@dataclass
class _Said:
    """A figure with its role."""

    role: str
    lexeme: Lexeme
    around: Lexeme | None = None  #: what stands behind ±
    load: _Said | None = None  #: of a tap
    why: str = ""  #: it has no place, where more is known of that than its role

    @property
    def text(self) -> str:
        return self.lexeme.text


#: Words that speak of the figure before them: what they make of which roles.
BEHIND: Final[dict[str, tuple[frozenset[str], str]]] = {
    word: (frozenset(roles.split("|")), role)
    for words, roles, role in (
        ("reference|ref|vref", "volts|supply", "reference"),
        ("supply|input|rail", "volts", "supply"),
        ("in place", "ohms|load", "place"),
        ("load", "ohms|amps", "load"),
        ("source|source resistance", "ohms", "source"),
        ("max|maximum|at most|or less", "amps", "max"),
        ("min|minimum|at least|or more", "amps", "min"),
        ("pin|pin current|bias|bias current", "amps", "pin"),
        ("accuracy|precision|overall|in all", "tolerance", "within"),
    )
    for word in words.split("|")
}


class _Listener:
    """Hears the pieces of a need from left to right, and gives each figure its role."""

    def __init__(self, text: str) -> None:
        self.text = text
        self.said: list[_Said] = []
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
        if piece.series or piece.size:
            self.said.append(_Said("values" if piece.series else "rating", piece))
            self._cue = None
        elif piece.cue is not None:
            self._word(piece, following)
        elif piece.kinds or piece.bare:
            self._figure(piece, following)
        elif piece.ratio:
            why = f"“{piece.text}” does not say of what: write both figures, 14.4 V to 3 V"
            self._unknown(piece, why)
        else:
            self._unknown(piece, f"“{piece.text[:30]}” is not understood here")

    def _unknown(self, piece: Lexeme, message: str) -> None:
        """Mark what nobody knows; an “and” before it does not go on with what comes behind it."""
        self.refuse(piece, message)
        self._again, self._apart = None, False

    def refuse(self, piece: Lexeme, message: str) -> None:
        """Mark a piece as not understood."""
        there = self.text[piece.start : piece.end]
        self.unread.append(Unread(piece.start, piece.end, there, message))

    def _word(self, piece: Lexeme, following: Sequence[Lexeme]) -> None:
        cue, last = piece.cue, self.said[-1] if self.said else None
        roles, role = BEHIND.get(piece.text.casefold(), (frozenset(), ""))
        behind = last is not None and last.role in roles and not self._apart
        if last is not None and behind and not (role == "reference" and _less(following, last)):
            last.role, self._cue = role, None
            self._loads(last)
        elif cue == "max" and self._cue is not None and self._cue.cue == "seen":
            pass  # output resistance below 10k
        elif cue == "and" or (cue == "to" and self._last == "between"):
            self._again, self._apart = self._last, True
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
        if piece.bare and self._is_count(following):
            self.said.append(_Said("count", piece))
        elif piece.bare and not self._is_resistance(piece, following):
            self.refuse(piece, f"“{piece.text}” has no unit: write what it is, {piece.text} V")
        elif cue == "around" and (last is not None or VOLT not in piece.kinds):
            if last is None or last.around is not None or FRACTION not in piece.kinds:
                self.refuse(piece, "± of what: write it behind the supply or what is wanted")
            else:
                last.around = piece
        else:
            self._placed(piece, before, again, joined=joined)

    def _placed(
        self, piece: Lexeme, before: Lexeme | None, again: Cue | None, *, joined: bool
    ) -> None:
        """Give a figure the role that the word before it says, or that its unit has alone."""
        kind = OHM if piece.bare else piece.kinds[0]
        again = again if kind is self._unit else None  # and 1.4 V goes on, and 80 µA does not
        self._unit = kind
        role = self._role(kind, before.cue if before else None, again)
        if role == "volts" and piece.text.startswith(("-", "−")):
            role = "low"  # below 0 V lies neither a supply here nor an output
        if role == "volts" and not joined and sum(s.role in VOLTS for s in self.said) > 1:
            why = "one voltage more: write “and” before another tap, or what this one is"
            self.refuse(piece, why)
            return
        if role == "both" and before is not None:  # ±12 V: a supply as far below 0 V as above
            sign = replace(before, text=f"−{piece.text}")
            self.said += [_Said("low", sign), _Said("supply", piece)]
            return
        if role is None:
            word = before.text if before else ""
            self.refuse(piece, f"“{word}” does not stand before {kind.name} in a need")
            return
        roles = [s.role for s in self.said]
        if role == "supply" and "volts" in roles and "target" in roles[roles.index("volts") :]:
            supply = self.said[roles.index("volts")].text
            self.refuse(piece, f"the supply is said already: {supply}")
            return
        one = _Said(role, piece)
        self._loads(one)
        self.said.append(one)

    def _loads(self, one: _Said) -> None:
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

    def _is_count(self, following: Sequence[Lexeme]) -> bool:
        """Whether a number says how many: two parts, three 1 % resistors."""
        for piece in following:
            if piece.cue == "parts":
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


def _less(following: Sequence[Lexeme], said: _Said) -> bool:
    """Whether a lower voltage comes next, which is the likelier reference of the two."""
    if not following or VOLT not in following[0].kinds or following[0].bare:
        return False
    return read(following[0].text, VOLT) < read(said.text, VOLT)


def read_breath(text: str, families: tuple[Family, ...] = ()) -> Breath:
    """Read a need.

    Parameters
    ----------
    text : str
        As typed.
    families : tuple of Family
        The user's own part families.

    Raises
    ------
    TooLargeError
        For a text of more than `LONGEST` characters.
    """
    if len(text) > LONGEST:
        msg = f"{len(text)} characters: a need is said in {LONGEST}"
        raise TooLargeError(msg, field="text")
    names = [family.name for family in families_with_typical(families)]
    pieces = _with_units(lexemes(text, names))
    heard = _Listener(text)
    for place, piece in enumerate(pieces, start=1):
        heard.hear(piece, pieces[place : place + FURTHEST])
    _range_of_supply(heard.said)
    kind = _kind_of(heard)
    if kind is None:
        return _no_need(heard)
    _named(heard, kind)
    return _checked(_put(heard, kind), families)


_NUMBER_BEFORE: Final = re.compile(r"[-−+0-9.,\s]+")


def _with_units(pieces: list[Lexeme]) -> list[Lexeme]:
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
        unit = _NUMBER_BEFORE.sub("", other.text, count=1)
        if other.kinds and not other.bare and unit and unit != "%":
            text = f"{piece.text} {unit}"
            found[place] = replace(piece, text=text, kinds=other.kinds, bare=False)
    return found


def _range_of_supply(said: Sequence[_Said]) -> None:
    """Take 11 to 14.4 V to 3 V as a supply of which the ends are said, and not as taps."""
    volts = [s for s in said if s.role in VOLTS]
    if len(volts) < 3 or [s.role for s in volts[:2]] != ["volts", "target"]:
        return
    low, high, *wanted = (read(s.text, VOLT) for s in volts)
    if low < high and max(wanted) < low:
        middle, half = (low + high) / 2, (high - low) / (low + high)
        written = (
            f"{write(middle, VOLT, 6, trim=True)} ± {write(_up(half), FRACTION, 6, trim=True)}"
        )
        for one in volts[:2]:
            one.role = "range"
            one.why = f"a supply from one voltage to another is written by its middle: {written}"


def _up(half: float) -> float:
    """Return a half width with three digits that is no smaller."""
    step = 10.0 ** (math.floor(math.log10(half)) - 2)
    return math.ceil(half / step - 1e-9) * step


def _kind_of(heard: _Listener) -> BriefKind | None:
    """Return which kind of need it is, by what is said of volts and ohms."""
    roles = [s.role for s in heard.said]
    volts = [role for role in roles if role in VOLTS]
    if "reference" in roles or (heard.feedback and volts):
        return "feedback"
    count = len(volts) + ("range" in roles)
    if count >= 2:
        return "divider" if count == 2 else "ladder"
    if "ohms" in roles:
        return "resistance"
    return "divider" if "target" in roles or "supply" in roles else None


def _no_need(heard: _Listener) -> Breath:
    """Return that nothing says what is wanted."""
    lead = "say what is wanted, such as 4k53, or 14.4 V to 3 V"
    for one in heard.said:
        heard.refuse(one.lexeme, f"“{one.text}” alone says no need: {lead}")
        if one.around is not None:
            heard.refuse(one.around, f"± of what: {lead}")
    if heard.drawer is not None:
        heard.refuse(heard.drawer, "say what is wanted of the drawer, such as 250 Ω")
    return _ordered(None, {}, [], heard.unread)


def _named(heard: _Listener, kind: BriefKind) -> None:
    """Give what a word gave no role the one it has in this kind of need."""
    if kind == "feedback":
        _as_reference(heard.said)
    elif kind != "resistance":
        _as_supply(heard.said)
    targets = 0
    for one in heard.said:
        if one.role == "amps":
            one.role = {"feedback": "pin", "resistance": "use"}.get(kind, "unsaid amps")
        elif one.role == "ohms":
            targets += 1
            one.role = "target" if targets == 1 else "second resistance"
            one.role = one.role if kind == "resistance" else "unsaid ohms"
        elif one.role in VOLTS and kind == "resistance":
            one.role = "use"
    if kind == "ladder":
        _number_taps(heard.said)
    ends = [s for s in heard.said if s.role == "celsius"]
    if len(ends) == 2:
        low, high = sorted(ends, key=lambda s: read(s.text, CELSIUS))
        low.role, high.role = "low_c", "high_c"


def _as_supply(said: Sequence[_Said]) -> None:
    """Take the first voltage as the supply where none is said, the others as wanted."""
    plain = [s for s in said if s.role == "volts"]
    if plain and not any(s.role == "supply" for s in said):
        plain.pop(0).role = "supply"
    for one in plain:
        one.role = "target"


def _as_reference(said: Sequence[_Said]) -> None:
    """Take the least voltage as the reference where none is said, the others as wanted."""
    plain = [s for s in said if s.role in {"volts", "supply"}]
    wanted = [s for s in said if s.role == "target"]
    if plain and len(plain) + len(wanted) > 1 and not any(s.role == "reference" for s in said):
        least = min(plain, key=lambda s: read(s.text, VOLT))
        below = all(read(least.text, VOLT) < read(s.text, VOLT) for s in wanted)
        least.role = "reference" if below else "no reference"
        plain.remove(least)
    for one in plain:
        one.role = "target"


def _number_taps(said: Sequence[_Said]) -> None:
    """Give the taps their numbers from the highest down, each with its load."""
    taps = [s for s in said if s.role == "target"]
    for number, tap in enumerate(sorted(taps, key=lambda s: -read(s.text, VOLT)), start=1):
        tap.role = f"tap{number}_v"
        if tap.load is not None:
            tap.load.role = f"tap{number}_load"


def _token_of(kind: BriefKind, role: str) -> str | None:
    """Return the token of a role in a kind of need; None where it has none."""
    if role in COMMON:
        return role
    if role.startswith("tap"):
        return role if role in KINDS[kind].tokens else None
    return TOKENS[kind].get(role)


def _put(heard: _Listener, kind: BriefKind) -> Breath:
    """Put what was said into the tokens of its kind."""
    tokens: dict[str, str] = {}
    understood: list[Understood] = []

    def put(token: str | None, lexeme: Lexeme, said: str, why: str) -> None:
        if token is None:
            heard.refuse(lexeme, why)
        elif token in tokens and token != "values":  # noqa: S105  # a place in a sentence
            heard.refuse(lexeme, f"this is said already: {tokens[token]}")
        else:
            tokens[token] = f"{tokens[token]} + {said}" if token in tokens else said
            understood.append(Understood(lexeme.start, lexeme.end, token))

    for one in heard.said:
        token, around = _token_of(kind, one.role), one.around
        why = one.why or UNSAID.get(one.role, f"{KIND_WORDS[kind]} has no place for this")
        loaded = around is not None and one.role.endswith("load")
        put(token, one.lexeme, f"{one.text} ± {around.text}" if loaded else one.text, why)  # type: ignore[union-attr]
        if around is None:
            continue
        if loaded and token in tokens:
            understood.append(Understood(around.start, around.end, str(token)))
            continue
        wanted = one.role == "target" or one.role.startswith("tap")
        beside = "within" if wanted else TOKENS[kind].get(f"{one.role} around")
        why = "± is taken behind a supply, a load, or what is wanted"
        put(beside if token in tokens else None, around, around.text, why)
    if heard.drawer is not None and "values" in tokens:
        heard.refuse(heard.drawer, f"a series or the drawer: {tokens['values']} is said already")
    elif heard.drawer is not None:
        put("values", heard.drawer, "drawer", "")
    return _ordered(kind, tokens, understood, heard.unread)


def _checked(breath: Breath, families: tuple[Family, ...]) -> Breath:
    """Take out what its token cannot be read as, and say why."""
    kind, tokens = breath.kind, dict(breath.tokens)
    understood, unread = list(breath.understood), list(breath.unread)
    assert kind is not None  # nothing was put into tokens without one
    for name, said in breath.tokens.items():
        alone = read_brief(kind, {name: said}, families).tokens[name]
        # What is understood, and does not fit the rest, the sheet says where all of it stands
        if alone.ok or not _cannot_be(kind, name, said):
            continue
        for place in [u for u in understood if u.token == name]:
            there = said if place.end - place.start == len(said) else said[:60]
            unread.append(Unread(place.start, place.end, there, alone.message))
        understood = [u for u in understood if u.token != name]
        del tokens[name]
    return _ordered(kind, tokens, understood, unread)


def _cannot_be(kind: BriefKind, name: str, said: str) -> bool:
    """Whether a token's own reader refuses what was said."""
    try:
        KINDS[kind].tokens[name].read(said)
    except LowfoldError:
        return True
    return False


def _ordered(
    kind: BriefKind | None,
    tokens: dict[str, str],
    understood: Sequence[Understood],
    unread: Sequence[Unread],
) -> Breath:
    return Breath(
        kind,
        tokens,
        tuple(sorted(understood, key=lambda u: u.start)),
        tuple(sorted(unread, key=lambda u: u.start)),
    )
