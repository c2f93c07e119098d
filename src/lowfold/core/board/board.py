"""The needs of a whole board: each line read as a need, a choice made for it and judged.

The choice is the one a careful designer takes of a need's list; where none passes, the one that
stands best. What fails is listed first, and a line that is not understood is no line lost.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from typing import Final

from lowfold.core.board.sharing import cost_words, options_of
from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.kinds import KINDS, choices_for, read_brief
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import number_parts
from lowfold.core.one_line.reading import OneLine, read_one_line
from lowfold.core.parts.stock import Stock
from lowfold.core.search.sharing import Option, share_values
from lowfold.core.sheet.standing import governing_words
from lowfold.core.weighing.choice import Choice

__all__ = ["MOST_LINES", "MOST_SHARING", "BoardLine", "Said", "choose_all", "share_board"]

MOST_LINES: Final = 400
MOST_SHARING: Final = 20  #: lines among which values are shared
OPTIONS: Final = 60  #: of each, the nearest
SECONDS: Final = 12.0  #: for each of the two programs that share


@dataclass(frozen=True, slots=True)
class Said:
    """One need as written."""

    line: int  #: as an editor counts, from 1
    name: str
    text: str


@dataclass(frozen=True, slots=True)
class BoardLine:
    """One need with the choice made for it."""

    said: Said
    read: OneLine | None  #: None where the line is too long to be read
    need: Brief | None  #: None where it is not understood whole
    choice: Choice | None
    words: str  #: how it stands, or why there is no choice
    cost: str = ""  #: what it gives up where values are shared

    @property
    def verdict(self) -> Verdict | None:
        return self.choice.judged.verdict if self.choice else None

    @property
    def rank(self) -> int:
        """Return how much it wants attention: 0 for what is not understood or fails."""
        if self.choice is None or self.verdict is Verdict.FAIL:
            return 0
        return 1 if self.verdict is Verdict.MARGINAL else 2


def choose_all(
    said: Sequence[Said],
    stock: Stock,
    progress: Callable[[float, str], None] | None = None,
) -> list[BoardLine]:
    """Read every line, choose and judge; what fails or is not understood comes first.

    Parameters
    ----------
    said : sequence of Said
        At most `MOST_LINES`.
    stock : Stock
        Drawer and families of the user.
    progress : callable, optional
        Told after each line how far it is.

    Raises
    ------
    TooLargeError
        For more lines than are taken.
    """
    if len(said) > MOST_LINES:
        msg = f"{len(said)} needs are more than the {MOST_LINES} of one board: split it"
        raise TooLargeError(msg, field="text")
    found = []
    for place, one in enumerate(said, start=1):
        found.append(_chosen(one, stock))
        if progress is not None:
            progress(place / len(said), f"{place} of {len(said)} needs")
    return in_order(found)


def in_order(lines: Sequence[BoardLine]) -> list[BoardLine]:
    """Return lines with what wants attention first, else as they were written.

    Parameters
    ----------
    lines : sequence of BoardLine
    """
    return sorted(lines, key=lambda line: (line.rank, line.said.line))


def _chosen(said: Said, stock: Stock) -> BoardLine:
    """Read one line and choose; it says itself what is wrong with it."""
    try:
        read = read_one_line(said.text, stock.families)
    except LowfoldError as error:
        return BoardLine(said, None, None, None, error.message)
    need, trouble = _need_of(read, stock)
    if need is None:
        return BoardLine(said, read, None, None, trouble)
    try:
        choices = choices_for(need, "nearest", () if need.parts.series else stock.lines)
    except LowfoldError as error:
        return BoardLine(said, read, need, None, error.message)
    careful = choices.careful
    choice = careful.choice if careful else next(iter(choices.rows), None)
    words = governing_words(choice.judged.gates) if choice else choices.found.reason or "no choice"
    return BoardLine(said, read, need, choice, words)


def _need_of(read: OneLine, stock: Stock) -> tuple[Brief | None, str]:
    """Return the need that a line says, or what is wrong with it."""
    if read.unread:
        return None, f"not understood: {read.unread[0].message}"
    if read.kind == "network":
        return None, "a network as it stands is no need: open it as a design of its own"
    if read.need is None:
        return None, "nothing here says what is wanted, such as 4k53, or 14.4 V to 3 V"
    reading = read_brief(read.need, read.tokens, stock.families)
    wrong = next((t for t in reading.tokens.values() if not t.ok), None)
    return reading.need, f"{wrong.label}: {wrong.message}" if wrong else ""


def share_board(
    lines: Sequence[BoardLine],
    stock: Stock,
    progress: Callable[[float, str], None] | None = None,
) -> tuple[list[BoardLine], bool]:
    """Return lines with choices that pass and use few different values, and whether the fewest.

    The fewest are those of the `OPTIONS` nearest of each, where the program ends in time. Lines
    without a choice, and those of which no choice passes, stay as they are.

    Parameters
    ----------
    lines : sequence of BoardLine
    stock : Stock
        Drawer and families of the user.
    progress : callable, optional
        Told how far it is.

    Raises
    ------
    TooLargeError
        For more than `MOST_SHARING` lines that take part, or where no way is met in time.
    """
    every = [(k, line.need) for k, line in enumerate(lines) if line.need and line.choice]
    if len(every) > MOST_SHARING:
        msg = (
            f"{len(every)} needs are more than the {MOST_SHARING} among which values are shared: "
            "share them in parts"
        )
        raise TooLargeError(msg, field="share")
    taking: list[tuple[int, dict[str, Choice], list[Option]]] = []
    for place, (k, need) in enumerate(every, start=1):
        options = options_of(need, () if need.parts.series else stock.lines)[0][:OPTIONS]
        networks = [number_parts(read_network(option.notation)) for option in options]
        weighed = dict(zip((o.notation for o in options), need.weigh(networks), strict=True))
        good = [o for o in options if weighed[o.notation].judged.verdict is not Verdict.FAIL]
        if good:
            taking.append((k, weighed, good))
        if progress is not None:
            progress(0.7 * place / len(every), f"choices of {place} of {len(every)} needs")
    made = list(lines)
    if not taking:
        return made, True
    if progress is not None:
        progress(0.7, f"fewest values that pass, {2 * SECONDS:g} s at most")
    shared = share_values([good for _, _, good in taking], SECONDS)
    for (k, weighed, _), option in zip(taking, shared.chosen, strict=True):
        made[k] = _sharing(made[k], weighed[option.notation])
    return in_order(made), shared.proven


def _sharing(line: BoardLine, choice: Choice) -> BoardLine:
    """Return a line with the choice that shares its values, and what that costs."""
    assert line.choice is not None  # only lines with a choice take part
    assert line.read is not None
    assert line.read.need is not None
    cost = cost_words(line.choice, choice, KINDS[line.read.need].unit)
    return replace(line, choice=choice, words=governing_words(choice.judged.gates), cost=cost)
