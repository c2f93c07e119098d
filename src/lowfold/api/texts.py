"""What any JSON body may hold, and what of a brief is text."""

from __future__ import annotations

from typing import Annotated, Any, Final

from pydantic import AfterValidator, Field, JsonValue

from lowfold.core.errors import DomainError
from lowfold.core.tokens.names import not_known, texts_of, unknown_tokens
from lowfold.core.values.names import CONTROL

__all__ = [
    "DEEPEST",
    "AskedBrief",
    "BriefTexts",
    "known_texts",
    "refuse_unknown",
    "uncontrolled",
    "unfit",
]

BriefTexts = dict[str, JsonValue]

MOST_BRIEF: Final = 60_000  #: characters of all its texts together


def _of_a_size(brief: BriefTexts) -> BriefTexts:
    size = sum(len(name) + len(str(value)) for name, value in brief.items())
    if size > MOST_BRIEF:
        msg = f"a brief has {MOST_BRIEF} characters at most, this one has {size}"
        raise ValueError(msg)
    return brief


#: A brief as it is asked about: a token for each of its names, bounded in size.
AskedBrief = Annotated[BriefTexts, Field(max_length=60), AfterValidator(_of_a_size)]

DEEPEST: Final = 32  #: objects and lists inside each other; no request of ours needs ten


def unfit(value: Any) -> str:
    """Say why a JSON value cannot be kept and served again; empty where it can.

    A lone surrogate is half a character: JSON lets it in as an escape, and no text can be written
    with it.
    """
    waiting: list[tuple[Any, int]] = [(value, 0)]
    while waiting:
        item, depth = waiting.pop()
        if depth > DEEPEST:
            return f"this is nested deeper than {DEEPEST} levels"
        if isinstance(item, str):
            if not item.isascii() and not _whole(item):
                return "a text holds half a character (a lone surrogate), which cannot be kept"
        elif isinstance(item, dict):
            waiting += [(key, depth + 1) for key in item]
            waiting += [(inner, depth + 1) for inner in item.values()]
        elif isinstance(item, list):
            waiting += [(inner, depth + 1) for inner in item]
    return ""


def uncontrolled(value: Any) -> str:
    """Say where a JSON value holds a control character in a text; empty where it does not.

    Asked of what comes in now: what a file hands over was written under the rules of its time.
    """
    waiting: list[Any] = [value]
    while waiting:
        item = waiting.pop()
        if isinstance(item, str):
            found = CONTROL.search(item)
            if found:
                return f"a text holds a control character (U+{ord(found[0]):04X}): leave it out"
        elif isinstance(item, dict):
            waiting += [*item, *item.values()]
        elif isinstance(item, list):
            waiting += item
    return ""


def _whole(text: str) -> bool:
    try:
        text.encode()
    except UnicodeEncodeError:
        return False
    return True


def known_texts(kind: str, brief: BriefTexts) -> dict[str, str]:
    """Return the tokens of a brief that somebody asks about, as text.

    Raises
    ------
    DomainError
        Naming a token that this kind of need does not have.
    """
    refuse_unknown(kind, brief)
    return texts_of(brief)


def refuse_unknown(kind: str, brief: BriefTexts) -> None:
    """Refuse a brief with names that are no token of its kind, like unknown fields.

    Raises
    ------
    DomainError
        Naming the first, and which token may have been meant.
    """
    for name in unknown_tokens(kind, brief):
        raise DomainError(not_known(kind, name), field=f"brief.{name[:40]}")
