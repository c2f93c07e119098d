"""Read a need said in one line: which kind it is, and what each of its tokens says.

What no word gave a role has the one of the first or the next of its unit; a role that the kind of
need has no place for is told. Nothing is guessed.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Final, Literal

from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.core.needs.kinds import KINDS, BriefKind, read_brief
from lowfold.core.needs.network import NETWORK_TOKENS, read_stated
from lowfold.core.network.point_names import point_at
from lowfold.core.one_line.forms import reading_of
from lowfold.core.one_line.roles import VOLTS, Roles, Said, Unread, give_roles, volts_of
from lowfold.core.one_line.words import LONGEST, Lexeme, lexemes
from lowfold.core.parts.families import Family, families_with_typical
from lowfold.core.tokens.reading import Token, TokenReading
from lowfold.core.values.quantities import CELSIUS, FRACTION, read

__all__ = ["LineKind", "OneLine", "ReadThere", "TextKind", "Understood", "Unread", "read_one_line"]

#: What one line is read as.
LineKind = BriefKind | Literal["network"]
#: The same of several lines.
TextKind = LineKind | Literal["board"]

#: What roles are called in each kind of need; of taps, the number is put in.
TOKENS: Final[dict[LineKind, dict[str, str]]] = {
    "resistance": {
        "target": "target_ohm", "within": "within", "use": "use", "load": "load",
        "place": "in_place_ohm", "count": "max_parts",
    },
    "divider": {
        "supply": "supply_v", "supply around": "supply_tolerance", "source": "source_ohm",
        "low": "low_v", "target": "target_v", "ratio": "ratio", "within": "within", "load": "load",
        "stands": "feeds_v", "stiff": "stiff",
        "max": "max_current_a", "min": "min_current_a", "seen": "max_output_ohm",
        "count": "per_leg", "upper leg": "upper_ohm", "lower leg": "lower_ohm",
    },
    "feedback": {
        "reference": "reference_v", "reference around": "reference_tolerance",
        "target": "target_v", "within": "within", "pin": "pin_a", "stands": "feeds_v",
        "max": "max_current_a", "min": "min_current_a", "seen": "max_output_ohm",
        "count": "per_leg", "upper leg": "upper_ohm", "lower leg": "lower_ohm",
    },
    "ladder": {
        "supply": "supply_v", "supply around": "supply_tolerance", "source": "source_ohm",
        "low": "low_v", "within": "within", "stands": "feeds_v", "stiff": "stiff",
        "max": "max_current_a",
        "min": "min_current_a",
    },
    "network": {
        "network": "network", "supply": "supply_v", "supply around": "supply_tolerance",
        "source": "source_ohm", "low": "low_v", "stands": "feeds_v", "stiff": "stiff",
    },
}  # fmt: skip

COMMON: Final = (
    "values", "tolerance", "tcr", "drift", "tracking", "stress", "rating", "min_ohm", "max_ohm",
    "low_c", "high_c",
)  # fmt: skip
KIND_WORDS: Final = {
    "resistance": "a resistance", "divider": "a divider", "feedback": "a feedback pair",
    "ladder": "several taps", "network": "a network",
}  # fmt: skip
#: Why a figure without a word that says what it is has no place.
UNSAID: Final = {
    "unsaid amps": "say at most or at least before a current, or into for a load",
    "unsaid ohms": "say what it is: into 200k, behind 50 Ω, seen as 10k, or between 1k and 1M",
    "second resistance": "a second resistance: say beside, in place, or between 1k and 1M",
    "celsius": "one temperature alone: write the coldest and the hottest, −20 to 60 °C",
    "no ends": "a share of what lies between which ends: write what is wanted in volts",
    "no low end": "below 0 V: say where the string's other end lies, such as low end −12 V",
    "no reference": "say which is the reference, such as 0.8 V reference to 3.3 V",
}


#: What it may have been meant as: a word before it that would say so.
MEANT: Final = {
    "unsaid amps": ("at most {}", "at least {}", "into {}"),
    "unsaid ohms": ("into {}", "with {} lower", "with {} upper", "behind {}", "seen as {}"),
    "second resistance": ("beside {}", "{} in place"),
    "no reference": ("{} reference",),
}
#: The same for a kind of need that has no place for all of them.
LACKING: Final[dict[str, tuple[LineKind, ...]]] = {
    "with": ("ladder", "network"), "into": ("feedback", "network"), "behind": ("feedback",),
    "seen": ("ladder", "network"), "at": ("resistance", "network"),
}  # fmt: skip
#: What is wanted is a voltage or a share of the supply, not both.
ONE_OF_TWO: Final = {"target_v": "ratio", "ratio": "target_v"}
TWO_MEANINGS: Final = (
    "a reference made from {0} is a divider, {0} to it; a regulator's pair is a reference to {0}: "
    "say which"
)


@dataclass(frozen=True, slots=True)
class Understood:
    start: int
    end: int
    token: str


@dataclass(frozen=True, slots=True)
class ReadThere:
    """A reading of a network: its point by the names a request has, and the figure as typed."""

    point: Mapping[str, str]
    text: str


@dataclass(frozen=True, slots=True)
class OneLine:
    """What was understood of a need, and what was not."""

    kind: TextKind | None  #: None where nothing says what is wanted
    tokens: dict[str, str]
    understood: tuple[Understood, ...]
    unread: tuple[Unread, ...]
    readings: tuple[ReadThere, ...] = ()

    @property
    def need(self) -> BriefKind | None:
        """Return the kind of need it is; None where it is none, such as a network as it stands."""
        return None if self.kind in {"network", "board"} else self.kind  # type: ignore[return-value]


def read_one_line(text: str, families: tuple[Family, ...] = ()) -> OneLine:
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
    heard = give_roles(text, lexemes(text, names))
    kind = _kind_of(heard)
    if kind is None:
        return _no_need(heard)
    _named(heard, kind)
    return _checked(_put(heard, kind), families)


def _kind_of(heard: Roles) -> LineKind | None:
    """Return which kind of need it is, by what is said of volts and ohms."""
    roles = [s.role for s in heard.said]
    if "network" in roles:
        return "network"
    volts = [role for role in roles if role in VOLTS]
    if "reference" in roles or (heard.feedback and volts):
        return "feedback"
    if "ratio" in roles and len(volts) < 3:
        return "divider"
    if len(volts) >= 2:
        return "divider" if len(volts) == 2 else "ladder"
    if "ohms" in roles:
        return "resistance"
    return "divider" if "target" in roles or "supply" in roles else None


def _no_need(heard: Roles) -> OneLine:
    """Return that nothing says what is wanted."""
    lead = "say what is wanted, such as 4k53, or 14.4 V to 3 V"
    for one in heard.said:
        heard.refuse(one.lexeme, f"“{one.text}” alone says no need: {lead}")
        if one.around is not None:
            heard.refuse(one.around, f"± of what: {lead}")
    if heard.drawer is not None:
        heard.refuse(heard.drawer, "say what is wanted of the drawer, such as 250 Ω")
    return _ordered(None, {}, [], heard.unread)


def _named(heard: Roles, kind: LineKind) -> None:
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
    if kind == "divider":
        _below_zero(heard.said)
    ends = [s for s in heard.said if s.role == "celsius"]
    if len(ends) == 2:
        low, high = sorted(ends, key=lambda s: read(s.text, CELSIUS))
        low.role, high.role = "low_c", "high_c"


def _as_supply(said: Sequence[Said]) -> None:
    """Take the first voltage as the supply where none is said, the others as wanted."""
    plain = [s for s in said if s.role == "volts"]
    if plain and not any(s.role == "supply" for s in said):
        plain.pop(0).role = "supply"
    for one in plain:
        one.role = "target"


def _as_reference(said: Sequence[Said]) -> None:
    """Take the least voltage as the reference where none is said, the others as wanted."""
    made_from = [s for s in said if s.role == "supply"]
    if made_from and any(s.role == "reference" for s in said):
        for one in made_from:
            one.role, one.why = "made from", TWO_MEANINGS.format(one.text)
    plain = [s for s in said if s.role in {"volts", "supply"}]
    wanted = [s for s in said if s.role == "target"]
    if plain and len(plain) + len(wanted) > 1 and not any(s.role == "reference" for s in said):
        least = min(plain, key=lambda s: volts_of(s.text))
        below = all(volts_of(least.text) < volts_of(s.text) for s in wanted)
        least.role = "reference" if below else "no reference"
        plain.remove(least)
    for one in plain:
        one.role = "target"


def _below_zero(said: list[Said]) -> None:
    """Give an output below 0 V its ends: the rail that is said is the low one, 0 V the other."""
    volts = [s for s in said if s.role in {"low", "supply", "target"}]
    if any(s.role == "ratio" for s in said) and not any(s.role == "supply" for s in said):
        for one in (s for s in volts if s.role == "low"):
            one.role = "no ends"
        return
    below = sorted((s for s in volts if volts_of(s.text) < 0), key=lambda s: volts_of(s.text))
    if len(below) == 2 == len(volts):
        rail, wanted = below
        rail.role, wanted.role = "low", "target"
        there = replace(rail.lexeme, start=rail.lexeme.end, text="0 V")  # said by nobody
        said.append(Said("supply", there))
    elif not any(s.role == "low" for s in volts):
        for one in (s for s in below if s.role == "target"):
            one.role = "no low end"


def _number_taps(said: Sequence[Said]) -> None:
    """Give the taps their numbers from the highest down, each with its load."""
    taps = [s for s in said if s.role == "target"]
    for number, tap in enumerate(sorted(taps, key=lambda s: -volts_of(s.text)), start=1):
        tap.role = f"tap{number}_v"
        if tap.load is not None:
            tap.load.role = f"tap{number}_load"


def _tokens_of(kind: LineKind) -> Mapping[str, Token]:
    return NETWORK_TOKENS if kind == "network" else KINDS[kind].tokens


def _token_of(kind: LineKind, role: str) -> str | None:
    """Return the token of a role in a kind of need; None where it has none."""
    if role in COMMON and role in _tokens_of(kind):
        return role
    if role.startswith("tap"):
        return role if role in _tokens_of(kind) else None
    return TOKENS[kind].get(role)


def _put(heard: Roles, kind: LineKind) -> OneLine:
    """Put what was said into the tokens of its kind."""
    tokens: dict[str, str] = {}
    understood: list[Understood] = []

    def put(
        token: str | None, lexeme: Lexeme, said: str, why: str, instead: Sequence[str] = ()
    ) -> None:
        if token is None:
            heard.refuse(lexeme, why, instead)
        elif token in tokens and not (lexeme.series and tokens[token].startswith("E")):
            heard.refuse(lexeme, f"this is said already: {tokens[token]}")
        elif (other := ONE_OF_TWO.get(token, "")) in tokens:
            heard.refuse(lexeme, f"{tokens[other]} is wanted already: say one of the two")
        else:
            tokens[token] = f"{tokens[token]} + {said}" if token in tokens else said
            understood.append(Understood(lexeme.start, lexeme.end, token))

    readings = [s for s in heard.said if s.role == "reading"]
    understood += [Understood(s.lexeme.start, s.lexeme.end, s.role) for s in readings]
    for one in (s for s in heard.said if s.role != "reading"):
        token, around = _token_of(kind, one.role), one.around
        why = one.why or UNSAID.get(one.role, f"{KIND_WORDS[kind]} has no place for this")
        own = TOKENS[kind].get(f"{one.role} around")
        joined = around is not None and (one.role.endswith("load") or (own and not _shared(around)))
        instead = [way.format(one.text) for way in MEANT.get(one.role, ())]
        instead = [way for way in instead if _has_place(way, kind)]
        put(token, one.lexeme, _with(one) if joined else one.text, why, instead)
        if around is None:
            continue
        if joined and token in tokens:
            understood.append(Understood(around.start, around.end, str(token)))
            continue
        wanted = one.role == "target" or one.role.startswith("tap")
        why = "± is taken behind a supply, a load, or what is wanted"
        put(("within" if wanted else own) if token in tokens else None, around, around.text, why)
    if heard.drawer is not None and "values" in tokens:
        heard.refuse(heard.drawer, f"a series or the drawer: {tokens['values']} is said already")
    elif heard.drawer is not None:
        why = f"{KIND_WORDS[kind]} has no place for this"
        put(_token_of(kind, "values"), heard.drawer, "drawer", why)
    told = tuple(_read_there(one.text) for one in readings)
    return replace(_ordered(kind, tokens, understood, heard.unread), readings=told)


def _read_there(said: str) -> ReadThere:
    """Return a reading with its point."""
    where, figure = reading_of(said)
    return ReadThere(point_at(where), figure)


def _has_place(way: str, kind: LineKind) -> bool:
    """Whether a kind of need has a place for what a word says."""
    return kind not in LACKING.get(way.split(maxsplit=1)[0], ())


def _shared(around: Lexeme) -> bool:
    """Whether what stands about a figure is one share of it to either side."""
    return FRACTION in around.kinds and not around.sides


def _with(said: Said) -> str:
    """Return a figure with what stands about it, as one token takes both."""
    assert said.around is not None  # asked only where something does
    return f"{said.text} {'' if said.around.sides else '± '}{said.around.text}"


def _checked(read: OneLine, families: tuple[Family, ...]) -> OneLine:
    """Take out what its token cannot be read as, and say why."""
    kind, tokens = read.kind, dict(read.tokens)
    understood, unread = list(read.understood), list(read.unread)
    assert kind is not None  # nothing was put into tokens without one
    assert kind != "board"  # that is several lines
    for name, said in read.tokens.items():
        alone = _alone(kind, {name: said}, families)[name]
        # What is understood, and does not fit the rest, the sheet says where all of it stands
        if alone.ok or not _cannot_be(kind, name, said):
            continue
        for place in [u for u in understood if u.token == name]:
            there = said if place.end - place.start == len(said) else said[:60]
            unread.append(Unread(place.start, place.end, there, alone.message))
        understood = [u for u in understood if u.token != name]
        del tokens[name]
    found = _ordered(kind, tokens, understood, unread)
    return replace(found, readings=read.readings)


def _alone(
    kind: LineKind, texts: Mapping[str, str], families: tuple[Family, ...]
) -> Mapping[str, TokenReading]:
    """Return what tokens are understood as where nothing else is said."""
    if kind == "network":
        return read_stated(texts, families)[0]
    return read_brief(kind, texts, families).tokens


def _cannot_be(kind: LineKind, name: str, said: str) -> bool:
    """Whether a token's own reader refuses what was said."""
    try:
        _tokens_of(kind)[name].read(said)
    except LowfoldError:
        return True
    return False


def _ordered(
    kind: LineKind | None,
    tokens: dict[str, str],
    understood: Sequence[Understood],
    unread: Sequence[Unread],
) -> OneLine:
    return OneLine(
        kind,
        tokens,
        tuple(sorted(understood, key=lambda u: u.start)),
        tuple(sorted(unread, key=lambda u: u.start)),
    )
