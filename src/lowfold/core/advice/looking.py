"""Looking through everything that can be bought of the stated values for what passes.

Choices are looked at in the order of their worst corner where the search knows that order: the
first that fails on spread for certain leaves nothing behind it that could pass. Where the list ends
before that, what is said counts only what was looked at.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Final

from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import LowfoldError, TooLargeError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.divider import DividerBrief
from lowfold.core.needs.feedback import FeedbackBrief
from lowfold.core.needs.heat import too_hot
from lowfold.core.needs.ladder import LadderBrief
from lowfold.core.needs.resistance import ResistanceBrief
from lowfold.core.network.tree import Element, write_network
from lowfold.core.parts.pool import Pool
from lowfold.core.search.leg_tables import leg_pools
from lowfold.core.weighing.choice import Choice, Preference
from lowfold.core.weighing.gate import GateName

__all__ = ["Looked", "dear", "look_through", "weighed_together"]

#: Choices searched, more where the first ones neither pass nor settle it.
SEARCHED: Final = (24, 96, 500)
#: The same of ladders, whose list never settles it.
SEARCHED_OF_LADDERS: Final = (24, 96)
#: The same where each is dear to weigh.
SEARCHED_OF_DEAR: Final = (24,)
AT_ONCE: Final = 24  #: choices weighed together


@dataclass(frozen=True, slots=True)
class Looked:
    """What was found, and how far was looked for it."""

    best: Choice | None  #: one that passes, else one that does not fail
    words: str  #: how far was looked, where nothing passes
    all_of_them: bool  #: nothing that was not looked at can pass


def look_through(need: Brief, pool: Pool) -> Looked:
    """Return a choice of the stated values that passes, or how far was looked for one."""
    if isinstance(need, DividerBrief) and not need.parts.own and need.parts.ratio is None:
        return _divided(need, pool)
    looked = _Looking(need, pool)
    for preference in _orders(need):
        looked.through(preference)
        if looked.best is not None and looked.best.judged.verdict is Verdict.PASS:
            break
        if looked.settled:
            break
    words = ""
    if looked.best is None or looked.best.judged.verdict is not Verdict.PASS:
        words = looked.words()
    return Looked(looked.best, words, looked.settled)


def _divided(need: DividerBrief, pool: Pool) -> Looked:
    """Look through every pair of legs of the stated values, all judged by their closed form."""
    try:
        best = need.worth_weighing(pool, ())
        passing = [c for c in need.weigh(best) if c.judged.verdict is Verdict.PASS]
    except TooLargeError:
        return Looked(None, "", all_of_them=False)
    if passing:
        return Looked(passing[0], "", all_of_them=True)
    whole = need.per_leg == 1
    count = math.prod(len(p.ohms) for p in leg_pools(pool, need.upper_ohms, need.lower_ohms))
    words = f"All {count} pairs of these values looked through: none passes."
    nearly = [c for c in need.weigh(best) if c.judged.verdict is Verdict.MARGINAL]
    return Looked(nearly[0] if nearly else None, words if whole else "", all_of_them=whole)


def _orders(need: Brief) -> tuple[Preference, ...]:
    """Return the orders in which a need's choices are gone through, the telling one first."""
    if isinstance(need, DividerBrief | FeedbackBrief):
        return ("worst_case", "nearest")
    if isinstance(need, ResistanceBrief) and need.use is not None:
        return ("nearest", "cool")
    return ("nearest",)


def dear(need: Brief) -> bool:
    """Whether weighing one choice takes long: where a current may starve, programs tell the worst.

    A pair of legs has a closed form; more junctions, or parts that track, have none.

    Returns
    -------
    bool
        Whether so.
    """
    drawn = any(token.amps for _, token in need.conditions.loads)
    tapped, tracks = len(need.conditions.outputs) > 1, need.parts.ratio is not None
    return (drawn and (tapped or tracks)) or (tapped and tracks)


class _Looking:
    """Choices gone through so far."""

    def __init__(self, need: Brief, pool: Pool) -> None:
        self.need, self.pool = need, pool
        self.best: Choice | None = None
        self.settled = False
        self.searched, self.what = 0, ""
        self.seen: set[str] = set()

    def through(self, preference: Preference) -> None:
        """Go through one order until something passes, nothing more can, or the list ends."""
        done = 0
        counts = SEARCHED_OF_LADDERS if isinstance(self.need, LadderBrief) else SEARCHED
        for count in SEARCHED_OF_DEAR if dear(self.need) else counts:
            try:
                found = self.need.search(preference, self.pool, count)
            except LowfoldError:
                return  # too much to search
            self.searched, self.what = found.searched, found.what
            fresh = [n for n in found.networks[done:] if write_network(n) not in self.seen]
            done = len(found.networks)
            if self._looked_at(fresh, telling=self._is_telling(preference)):
                return
            if done < count:  # there are no more
                self.settled |= found.exact and preference in {"worst_case", "nearest"}
                return

    def _looked_at(self, networks: list[Element], *, telling: bool) -> bool:
        """Weigh some, without those too hot for certain; whether that is enough."""
        self.seen |= {write_network(n) for n in networks}
        hot = too_hot(self.need, networks)
        for start in range(0, len(networks), AT_ONCE):
            some = networks[start : start + AT_ONCE]
            cool = [n for n, too in zip(some, hot[start : start + AT_ONCE], strict=True) if not too]
            last = some[-1]
            for choice in weighed_together(self.need, cool):
                verdict = choice.judged.verdict
                if verdict is Verdict.PASS:
                    self.best = choice
                    return True
                if verdict is not Verdict.FAIL and self.best is None:
                    self.best = choice
            if telling and _fails(self.need, last, "spread"):
                self.settled = True
                return True
        return False

    def _is_telling(self, preference: Preference) -> bool:
        """Whether what comes later in an order can pass on spread no more once one fails.

        The worst corner of a search is that of its parts' stated half width: parts of their own, or
        of one array, are weighed otherwise. A resistance of parts that deviate alike lies at its
        worst corner as far off as it is off nominally and its half width more.
        """
        parts = self.need.parts
        if parts.own or parts.ratio is not None:
            return False
        if isinstance(self.need, DividerBrief | FeedbackBrief):
            return preference == "worst_case"
        plain = isinstance(self.need, ResistanceBrief) and preference == "nearest"
        return plain and not self.need.conditions.loads and not self.need.in_place_ohms  # type: ignore[attr-defined]

    def words(self) -> str:
        """Say how far was looked, none having passed."""
        if self.settled:
            return f"All {self.searched} {self.what} of these values looked through: none passes."
        count = len(self.seen)
        return f"Of {self.searched} {self.what} of these values {count} were weighed: none passes."


def _fails(need: Brief, network: Element, gate: GateName) -> bool:
    return any(
        g.name == gate and g.verdict is Verdict.FAIL
        for choice in weighed_together(need, [network])
        for g in choice.judged.gates
    )


def weighed_together(need: Brief, networks: list[Element]) -> list[Choice]:
    """Weigh networks together; what cannot be weighed is no choice.

    Parameters
    ----------
    networks : list of Element
        Each with the junctions that are asked about.
    """
    try:
        return need.weigh(networks) if networks else []
    except LowfoldError:
        if len(networks) == 1:
            return []
        return [choice for network in networks for choice in weighed_together(need, [network])]
