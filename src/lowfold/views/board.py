"""The needs of a whole board, chosen and judged, as they are seen."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from lowfold.core.board.board import BoardLine, Said, choose_all, share_board
from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.kinds import KINDS, BriefKind
from lowfold.core.parts.stock import Stock
from lowfold.core.values.quantities import AMPERE, OHM, VOLT, write, write_percent
from lowfold.views.need import UnreadAnswer, unread_answer
from lowfold.views.view import view

__all__ = ["BoardAnswer", "BoardRow", "board_chosen"]

Progress = Callable[[float, str], None]


@view
class BoardRow:
    line: int  #: Of the text, from 1
    name: str
    text: str
    kind: BriefKind | None
    tokens: dict[str, str]
    unread: list[UnreadAnswer]
    choice: str  #: In the notation; empty where there is none
    values: list[str]  #: As read in a list
    gives: str
    off: str
    lowest: str
    highest: str
    draws: str
    series: str
    verdict: Verdict | None
    words: str  #: How it stands, or what is wrong with the line
    cost: str  #: What it gives up where values are shared

    @property
    def cells(self) -> list[str]:
        """Return it as a line of a table."""
        stands = self.verdict.value if self.verdict else "no choice"
        return [
            self.name, self.text, stands, self.words, self.choice, ", ".join(self.values),
            self.gives, self.off, self.lowest, self.highest, self.draws, self.series, self.cost,
        ]  # fmt: skip


@view
class BoardAnswer:
    """The result of the job."""

    rows: list[BoardRow]  #: What is not understood or fails comes first
    values: list[str]  #: The different values to buy
    #: Whether no fewer would do, of the nearest choices of each; null if not shared
    fewest: bool | None
    failing: int
    marginal: int
    passing: int
    csv: str = ""  #: The same as a table, to be kept


def _row(line: BoardLine) -> BoardRow:
    read, choice = line.read, line.choice
    kind = read.need if read else None
    mark = choice.governing if choice else None
    unit = KINDS[kind].unit if kind else VOLT
    digits = 4 if unit is VOLT else 5
    return BoardRow(
        line=line.said.line,
        name=line.said.name,
        text=line.said.text,
        kind=kind,
        tokens=read.tokens if read else {},
        unread=[unread_answer(u) for u in (read.unread if read else ())],
        choice=choice.notation if choice else "",
        values=list(choice.lines) if choice else [],
        gives=write(mark.nominal, unit, digits) if mark else "",
        off=f"{write_percent(mark.error, 3)} %" if mark else "",
        lowest=write(mark.lowest, unit, digits) if mark else "",
        highest=write(mark.highest, unit, digits) if mark else "",
        draws=write(choice.amps, AMPERE, 3) if choice and choice.amps is not None else "",
        series=choice.series if choice else "",
        verdict=line.verdict,
        words=line.words,
        cost=line.cost,
    )


def board_chosen(
    said: Sequence[Said], stock: Stock, progress: Progress, *, share: bool
) -> BoardAnswer:
    """Choose for every need of a board.

    Parameters
    ----------
    said : sequence of Said
    progress : callable
        Told how far it is, 0 to 1, and with what.
    share : bool
        Out of as few different values as possible.
    """
    most = 0.5 if share else 1.0
    lines = choose_all(said, stock, lambda part, words: progress(most * part, words))
    fewest = None
    if share:
        lines, fewest = share_board(
            lines, stock, lambda part, words: progress(0.5 + part / 2, words)
        )
    rows = [_row(line) for line in lines]
    values = sorted({v for line in lines if line.choice for v in line.choice.values})
    ranks = [line.rank for line in lines]
    return BoardAnswer(
        rows=rows,
        values=[write(v, OHM, 6, trim=True) for v in values],
        fewest=fewest,
        failing=ranks.count(0),
        marginal=ranks.count(1),
        passing=ranks.count(2),
    )
