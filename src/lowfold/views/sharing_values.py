"""Values shared among designs: worked out, and how each then stands."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress

from lowfold.core.board.sharing import cost_words, options_of, share_passing
from lowfold.core.errors import DomainError, LowfoldError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.kinds import KINDS, choices_for, read_brief, weigh
from lowfold.core.network.notation import Netlist, read_text
from lowfold.core.network.tree import Part, parts_of
from lowfold.core.parts.stock import Stock
from lowfold.core.search.sharing import Option
from lowfold.core.sheet.sheet import series_parallel
from lowfold.core.sheet.standing import governing_words
from lowfold.core.values.quantities import OHM, write
from lowfold.core.weighing.choice import Choice
from lowfold.views.sharing import LeftOut, SharedAnswer, SharedChoice, SharingNeed

__all__ = ["shared_answer"]


def shared_answer(
    needs: Sequence[SharingNeed], stock: Stock, progress: Callable[[float, str], None]
) -> SharedAnswer:
    """Find every design's options, then share values among them.

    Parameters
    ----------
    progress : callable
        Told how far it is, 0 to 1, and with what.

    Raises
    ------
    DomainError
        For a need that is not understood, or that nothing meets.
    """
    every, briefs, complete = [], [], True
    for place, need in enumerate(needs):
        progress(0.8 * place / len(needs), f"choices of “{need.name}”")
        brief = read_brief(need.kind, need.texts, stock.families).need
        if brief is None:
            msg = f"the need of “{need.name}” is not understood: open it and see what it says"
            raise DomainError(msg)
        options, all_of_them = options_of(brief, stock.lines)
        if not options:
            msg = f"“{need.name}” has no choice within its accepted deviation"
            raise DomainError(msg)
        every.append(options)
        briefs.append(brief)
        complete &= all_of_them
    count = sum(map(len, every))
    found = share_passing(
        briefs,
        every,
        lambda done: progress(0.8 + 0.2 * done / count, "fewest values that pass"),
    )
    made = [_values(n.choice) for n, taken in zip(needs, found.chosen, strict=True) if taken]
    before = len(set().union(*(m for m in made if m))) if made and all(made) else None
    every_need = list(zip(needs, briefs, found.chosen, strict=True))
    return SharedAnswer(
        choices=[
            _shared_choice(need, brief, *taken, stock) for need, brief, taken in every_need if taken
        ],
        left_out=[
            LeftOut(id=n.id, name=n.name, words="none of its choices passes its own gates")
            for n, _, taken in every_need
            if taken is None
        ],
        values=[write(v, OHM, 6, trim=True) for v in found.values],
        before=before,
        complete=complete,
    )


def _shared_choice(
    need: SharingNeed, brief: Brief, option: Option, choice: Choice, stock: Stock
) -> SharedChoice:
    lines = () if brief.parts.series else stock.lines
    rows = choices_for(brief, "nearest", lines).rows
    own = rows[0] if rows else choice
    if need.choice:
        with suppress(LowfoldError):  # one that fits the brief no more is nothing to compare with
            own = weigh(brief, series_parallel(need.choice))
    return SharedChoice(
        id=need.id,
        name=need.name,
        revision=need.revision,
        notation=option.notation,
        share=option.share,
        verdict=choice.judged.verdict,
        words=governing_words(choice.judged.gates),
        cost=cost_words(own, choice, KINDS[need.kind].unit),
    )


def _values(choice: str | None) -> set[float]:
    network = read_text(choice) if choice else None
    if network is None or isinstance(network, Netlist):
        return set()
    return {p.ohms for p in parts_of(network) if isinstance(p, Part)}
