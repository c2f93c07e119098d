"""The options that several stated needs have, for sharing values among them."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Final

from lowfold.core.checking.verdict import Verdict
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.heat import too_hot
from lowfold.core.needs.kinds import weigh
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.notation import read_network
from lowfold.core.network.tree import Part, number_parts, parts_of, write_network
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.sharing import Option, share_values
from lowfold.core.sheet.beside import set_beside
from lowfold.core.values.quantities import OHM, Kind, write
from lowfold.core.weighing.choice import Choice, Preference

__all__ = ["MOST_OPTIONS", "Shared", "cost_words", "options_of", "share_passing"]

MOST_OPTIONS: Final = 500  #: of one need, the nearest
#: What sharing is about, so that it is no cost of it; what a gate uses follows from the others.
COUNTED: Final = ("parts", "different values", "series", "value uses", "spread uses")
MOST_SAID: Final = 3
FAR: Final = 10.0  #: times the resistance in all, which is worth a word whatever else is as good
AT_A_TIME: Final = 10  #: options weighed beside a chosen one that fails


def options_of(brief: Brief, drawer: tuple[DrawerLine, ...]) -> tuple[list[Option], bool]:
    """Return the choices within the accepted error, and whether these are all there are.

    Those whose parts take too much already with nominal values fail for certain and are left out,
    unless all do.

    Parameters
    ----------
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


@dataclass(frozen=True, slots=True)
class Shared:
    """What sharing brings."""

    #: Of each need, what it takes, weighed; None where none of its options passes.
    chosen: tuple[tuple[Option, Choice] | None, ...]

    @property
    def values(self) -> tuple[float, ...]:
        """Return the different values of all chosen options, rising, Ω."""
        return tuple(sorted(frozenset().union(*(c[0].values for c in self.chosen if c))))


def share_passing(
    briefs: Sequence[Brief],
    options: Sequence[Sequence[Option]],
    progress: Callable[[int], None] | None = None,
) -> Shared:
    """Choose one option for each need that passes all its gates, with as few values as possible.

    What is chosen is weighed; what fails is dropped and the choice made anew, so that the result is
    the best of all options that pass, though not all of them were weighed. A need of which none
    passes takes part no more.

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
    kept = list(range(len(options)))

    def passes(need: int, option: Option) -> bool:
        key = (need, option.notation)
        if key not in weighed:
            weighed[key] = weigh(briefs[need], number_parts(read_network(option.notation)))
            if progress is not None:
                progress(len(weighed))
        return weighed[key].judged.verdict is not Verdict.FAIL

    while kept:
        found = dict(zip(kept, share_values([left[k] for k in kept]).chosen, strict=True))
        failing = [k for k, option in found.items() if not passes(k, option)]
        if not failing:
            taken = {k: (option, weighed[k, option.notation]) for k, option in found.items()}
            return Shared(tuple(taken.get(k) for k in range(len(options))))
        for need in failing:
            unknown = (o for o in left[need] if (need, o.notation) not in weighed)
            for option, _ in zip(unknown, range(AT_A_TIME), strict=False):
                passes(need, option)
            left[need] = [
                o for o in left[need] if (need, o.notation) not in weighed or passes(need, o)
            ]
            if not left[need]:
                kept.remove(need)
    return Shared((None,) * len(options))


def cost_words(own: Choice, shared: Choice, unit: Kind) -> str:
    """Say what a need gives up by taking a shared choice in place of its own.

    Parameters
    ----------
    own : Choice
        The one that is made, or the first of its list.
    shared : Choice
        The one that shares its values.
    unit : Kind
        Of what is wanted.
    """
    if own.network == shared.network:
        return "its own choice"
    lines = set_beside(own, shared, unit).lines
    worse = [d for d in lines if d.better == "one" and d.what not in COUNTED]
    said = [f"{d.what} {d.two} instead of {d.one}" for d in worse[:MOST_SAID]]
    mine, theirs = (
        math.fsum(p.ohms for p in parts_of(c.network) if isinstance(p, Part)) for c in (own, shared)
    )
    if not said and max(mine, theirs) >= FAR * min(mine, theirs):
        both = (write(ohms, OHM, 3, trim=True) for ohms in (theirs, mine))
        said.append("parts of {} in all instead of {}".format(*both))
    return "; ".join(said) or "costs it nothing"
