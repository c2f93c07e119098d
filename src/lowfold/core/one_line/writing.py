"""The other way: a need as one line, which reads back to the same tokens."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any, Final

from lowfold.core.errors import LowfoldError
from lowfold.core.needs.kinds import KINDS
from lowfold.core.needs.network import NETWORK_TOKENS
from lowfold.core.one_line.reading import LineKind, read_one_line
from lowfold.core.one_line.words import LONGEST
from lowfold.core.parts.families import Family
from lowfold.core.tokens.reading import Token, read_tokens

__all__ = ["Written", "write_one_line"]

#: How each token is said behind what is wanted, in the order in which one says it.
PHRASES: Final = {
    "low_v": "low end {}",
    "source_ohm": "behind {}",
    "within": "within {}",
    "load": "into {}",
    "stiff": "stiff {}",
    "feeds_v": "which stands {}",
    "use": "carrying {}",
    "in_place_ohm": "completing {}",
    "upper_ohm": "with {} upper",
    "lower_ohm": "with {} lower",
    "pin_a": "pin {}",
    "min_current_a": "at least {}",
    "max_current_a": "at most {}",
    "max_output_ohm": "seen as {}",
    "max_parts": "{} parts",
    "per_leg": "{} parts in a leg",
    "tolerance": "tolerance {}",
    "tcr": "{}",
    "drift": "drift {}",
    "tracking": "tracking {}",
    "stress": "stress {}",
    "rating": "{}",
    "values": "{}",
}
#: What is fitted to the rest where nobody says it (`tokens/unsaid.py`), so that it is always said;
#: what is wanted, and of what, is no matter of a default either.
FITTED: Final = frozenset((
    "within", "min_ohm", "max_ohm", "supply_v", "target_v", "target_ohm", "reference_v",
    "tap1_v", "tap2_v", "tap3_v", "tap4_v", "network",
))  # fmt: skip
BARE: Final = re.compile(r"[0-9.,]+")
#: Two that are said together, each beside the other's default where it is not said.
BETWEEN: Final = (("min_ohm", "max_ohm", "between {} and {}"), ("low_c", "high_c", "{} to {}"))
#: The same where a kind of need says it in another way.
WAYS: Final[dict[str, dict[str, str]]] = {"resistance": {"load": "beside {}"}}


@dataclass(frozen=True, slots=True)
class Written:
    """A need as one line."""

    line: str
    left_out: tuple[str, ...]  #: tokens that one line has no words for


def write_one_line(
    kind: LineKind, texts: Mapping[str, str], families: tuple[Family, ...] = ()
) -> Written:
    """Write a need as one line that reads back to the same.

    What is said that way is read back before it is returned; a token that does not come back as it
    was is left out, and told.

    Parameters
    ----------
    kind : str
        Of need; not a sensor or a board, which are no one line.
    texts : mapping
        Token to text as typed; those that say nothing are not written.
    families : tuple of Family
        The user's own part families.
    """
    every = NETWORK_TOKENS if kind == "network" else KINDS[kind].tokens
    said = {
        name: _spelt(every[name], text) if name != "network" else text
        for name, text in texts.items()
        if name in every and _says(name, every[name], text)
    }
    kept, left_out = "", []
    held: dict[str, str] = {}
    for names, phrase in _phrases(kind, said, every):
        line = f"{kept}, {phrase}" if kept else phrase
        more = held | {name: said[name] for name in names if name in said}
        if _reads_back(kind, more, line, every, families):
            kept, held = line, more
        else:
            left_out += [name for name in names if name in said]
    told = {name for names, _ in _phrases(kind, said, every) for name in names}
    return Written(kept, (*left_out, *(name for name in said if name not in told)))


def _says(name: str, token: Token, text: str) -> bool:
    """Whether a token's text says anything that is not so anyway."""
    usual = token.absent if name in FITTED else token.default
    return bool(text.strip()) and (usual is None or not _same(token, text, usual))


def _spelt(token: Token, text: str) -> str:
    """Return a token's text as typed, a bare number with its unit."""
    if BARE.fullmatch(text.strip()):
        try:
            return token.read(text)[1]
        except LowfoldError:
            return text.strip()
    return " ".join(text.split())


def _same(token: Token, one: str, other: str) -> bool:
    if one == other:
        return True
    try:
        values: list[Any] = [token.read(text)[0] for text in (one, other)]
    except LowfoldError:
        return False
    return bool(values[0] == values[1])


def _reads_back(
    kind: LineKind,
    said: Mapping[str, str],
    line: str,
    every: Mapping[str, Token],
    families: tuple[Family, ...],
) -> bool:
    """Whether a line is read as the same tokens, each with the same value."""
    if len(line) > LONGEST:
        return False
    back = read_one_line(line, families)
    if back.kind != kind or back.unread:
        return False
    meant, heard = (read_tokens(every, texts)[0] for texts in (said, back.tokens))
    return meant == heard


def _phrases(
    kind: LineKind, said: Mapping[str, str], every: Mapping[str, Token]
) -> Iterator[tuple[tuple[str, ...], str]]:
    """Yield what is said together: the tokens of it, and its words."""
    yield _wanted(kind, said)
    for name, phrase in PHRASES.items():
        if name in said:
            words = WAYS.get(kind, {}).get(name, phrase)
            always = name == "stiff" and said[name] == "any"
            shown = "always there" if always else words.format(_value(name, said[name]))
            yield (name,), shown
    for low, high, phrase in BETWEEN:
        if low in said or high in said:
            ends = (said.get(name, every[name].default) for name in (low, high))
            yield (low, high), phrase.format(*ends)


def _value(name: str, text: str) -> str:
    """Return a token's text as a line says it: loose values are from somewhere."""
    loose = name == "values" and not text.upper().startswith("E") and text.casefold() != "drawer"
    return f"from {text}" if loose else text


def _wanted(kind: LineKind, said: Mapping[str, str]) -> tuple[tuple[str, ...], str]:
    """Return what is wanted, and of what: its tokens, and its words."""
    supply = _around(said, "supply_v", "supply_tolerance")
    supplies = ("supply_v", "supply_tolerance")
    if kind == "resistance":
        return ("target_ohm",), said.get("target_ohm", "")
    if kind == "feedback":
        reference = _around(said, "reference_v", "reference_tolerance")
        of_both = ("reference_v", "reference_tolerance", "target_v")
        return of_both, _joined(" to ", f"{reference} reference", said.get("target_v", ""))
    if kind == "network":
        return ("network", *supplies), _joined(" on ", said.get("network", ""), supply)
    if kind == "ladder":
        numbers = [number for number in range(1, 5) if f"tap{number}_v" in said]
        names = tuple(name for n in numbers for name in (f"tap{n}_v", f"tap{n}_load"))
        taps = " and ".join(_tap(said, number) for number in numbers)
        return (*supplies, *names), _joined(" to ", supply, taps)
    if "target_v" in said:
        return (*supplies, "target_v"), _joined(" to ", supply, said["target_v"])
    return (*supplies, "ratio"), _joined(" of ", said.get("ratio", ""), supply)


def _joined(word: str, *parts: str) -> str:
    return word.join(part for part in parts if part)


def _tap(said: Mapping[str, str], number: int) -> str:
    load = said.get(f"tap{number}_load")
    return said[f"tap{number}_v"] + (f" into {load}" if load else "")


def _around(said: Mapping[str, str], name: str, around: str) -> str:
    figure = said.get(name, "")
    return f"{figure} ± {said[around]}" if figure and around in said else figure
