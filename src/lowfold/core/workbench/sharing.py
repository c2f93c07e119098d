"""The options that several stated needs have, for sharing values among them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Final

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.choice import Choice, Preference
from lowfold.core.needs.kinds import weigh
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import Part, number_parts, parts_of, write_network
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.sharing import Option, Sharing, share_values
from lowfold.core.workbench.heat import too_hot

__all__ = ["MOST_OPTIONS", "options_of", "share_passing"]

MOST_OPTIONS: Final = 500  #: of one need, the nearest
AT_A_TIME: Final = 10  #: options weighed beside a chosen one that fails


def options_of(brief: Brief, drawer: tuple[DrawerLine, ...]) -> tuple[list[Option], bool]:
    """Return the choices within the accepted error, and whether these are all there are.

    Those whose parts take too much already with nominal values fail for certain and are left out,
    unless all do.

    Parameters
    ----------
    brief : Brief
        The need as understood.
    drawer : tuple[DrawerLine, ...]
        The user's own stock, where the brief chooses from it.

    Raises
    ------
    LowfoldError
        Where the need cannot be searched.
    """
    prefer: Preference = "fewest" if isinstance(brief, ResistanceBrief) else "nearest"
    found = brief.search(prefer, brief.parts.pool(drawer), MOST_OPTIONS)
    options: list[Option] = []
    hot: list[Option] = []
    beyond = False
    heat = too_hot(brief, found.networks)
    for network, error, is_hot in zip(found.networks, found.errors, heat, strict=True):
        share = abs(error) / brief.within
        if share > 1:
            beyond = True
        else:
            values = frozenset(p.ohms for p in parts_of(network) if isinstance(p, Part))
            option = Option(write_network(network), values, share)
            (hot if is_hot else options).append(option)
    return options or hot, beyond or len(found.networks) < MOST_OPTIONS


def share_passing(
    briefs: Sequence[Brief],
    options: Sequence[Sequence[Option]],
    progress: Callable[[int], None] | None = None,
) -> tuple[Sharing, list[Choice]]:
    """Choose one option for each need that passes all its gates, with as few values as possible.

    What is chosen is weighed; what fails is dropped and the choice made anew, so that the result is
    the best of all options that pass, though not all of them were weighed. A need of which none
    passes takes what fails, and its choice says so.

    Parameters
    ----------
    progress : callable, optional
        Told how many options were weighed.
    briefs : Sequence[Brief]
        The needs as understood.
    options : Sequence[Sequence[Option]]
        What each need may be met by.

    Raises
    ------
    DomainError
        Naming the first need without an option.
    """
    left = [list(of_need) for of_need in options]
    weighed: dict[tuple[int, str], Choice] = {}
    hopeless: set[int] = set()

    def passes(need: int, option: Option) -> bool:
        key = (need, option.notation)
        if key not in weighed:
            weighed[key] = weigh(briefs[need], number_parts(read_network(option.notation)))
            if progress is not None:
                progress(len(weighed))
        return need in hopeless or weighed[key].judged.verdict is not Verdict.FAIL

    while True:
        found = share_values(left)
        failing = [k for k, option in enumerate(found.chosen) if not passes(k, option)]
        if not failing:
            return found, [weighed[k, option.notation] for k, option in enumerate(found.chosen)]
        for need in failing:
            unknown = (o for o in left[need] if (need, o.notation) not in weighed)
            for option, _ in zip(unknown, range(AT_A_TIME), strict=False):
                passes(need, option)
            left[need] = [
                o for o in left[need] if (need, o.notation) not in weighed or passes(need, o)
            ]
            if not left[need]:
                hopeless.add(need)
                left[need] = list(options[need])
