"""A piece of advice, and the case it is about: what is tried, and how it then stands."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Final, Literal

from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import LowfoldError
from lowfold.core.needs.brief import Brief
from lowfold.core.needs.kinds import BriefKind, read_brief, weigh
from lowfold.core.needs.network import read_stated
from lowfold.core.network.tree import Element, write_network
from lowfold.core.parts.stock import DrawerLine, Stock
from lowfold.core.weighing.choice import Judged
from lowfold.core.weighing.gate import GateName

__all__ = ["Advice", "AdviceKind", "Case", "cost_of", "first_of", "holds"]

#: Tokens that are about every part, one that is in place already among them.
OF_ALL_PARTS: Final = frozenset(("tolerance", "tcr", "drift", "tracking", "rating", "own"))
AdviceKind = Literal[
    "tolerance",
    "array",
    "choice",
    "parts",
    "series",
    "rating",
    "split",
    "stress",
    "together",
    "bought",
]


@dataclass(frozen=True, slots=True)
class Advice:
    """One way to a network that passes, with what it brings when followed."""

    kind: AdviceKind
    words: str
    judged: Judged  #: what it brings, weighed against the changed brief
    notation: str  #: of the choice to be made; empty where the brief itself states the network
    changes: Mapping[str, str] = field(default_factory=dict)  #: tokens to their new text
    cost: float | None = None  #: against others, where more than its kind tells it

    @property
    def verdict(self) -> Verdict | None:
        return self.judged.verdict


@dataclass(frozen=True, slots=True)
class Case:
    """What advice is about: a brief as typed and a network that does not pass."""

    texts: Mapping[str, str]
    judged: Judged
    network: Element | None  #: None for a netlist, which no part is replaced in
    stock: Stock
    need: Brief | None  #: None where the brief states a network of its own
    kind: BriefKind | None

    def weighed(self, changes: Mapping[str, str], network: Element | None) -> Judged | None:
        """Weigh a network against the changed brief; None where that says nothing."""
        texts = {**self.texts, **changes}
        try:
            if self.kind is None:
                if network is not None and network is not self.network:
                    texts["network"] = write_network(network)
                stated = read_stated(texts, self.stock.families)[1]
                return stated.weighed() if stated is not None else None
            need = read_brief(self.kind, texts, self.stock.families).need
            chosen = network or self.network
            return weigh(need, chosen).judged if need is not None and chosen is not None else None
        except LowfoldError:
            return None  # what cannot be weighed is no advice

    def tried(
        self,
        kind: AdviceKind,
        words: str,
        changes: Mapping[str, str] | None = None,
        network: Element | None = None,
    ) -> Advice | None:
        """Return the advice if it makes the network stand better than it does and not fail."""
        if not self._leaves_in_place(changes or {}, network):
            return None
        judged = self.weighed(changes or {}, network)
        before, now = self.judged.verdict, judged.verdict if judged is not None else None
        order = list(Verdict)
        if judged is None or now is None or before is None:
            return None
        if order.index(now) >= order.index(before):
            return None
        made, notation = dict(changes or {}), ""
        chosen = network or self.network
        if self.kind is not None and chosen is not None:
            notation = write_network(chosen)
        elif network is not None:
            made["network"] = write_network(network)
        return Advice(kind, words, judged, notation, made)

    def _leaves_in_place(self, changes: Mapping[str, str], network: Element | None) -> bool:
        """Whether what is on the board already stays as it is: its value, its kind and its size."""
        if self.need is None or not self.need.in_place:
            return True
        bought = network is None or self.need.leaves_in_place(network)
        return bought and not OF_ALL_PARTS & changes.keys()

    @property
    def lines(self) -> tuple[DrawerLine, ...]:
        """Return the drawer where the brief chooses from it."""
        return () if self.judged.parts.series else self.stock.lines

    def lines_of(self, need: Brief) -> tuple[DrawerLine, ...]:
        """Return the drawer where a changed brief chooses from it."""
        return () if need.parts.series else self.stock.lines

    def fails(self, name: GateName) -> bool:
        return any(
            g.name == name and g.verdict in {Verdict.FAIL, Verdict.MARGINAL}
            for g in self.judged.gates
        )


#: What each kind of advice costs against the others, least first (common practice).
COSTS: Final[dict[AdviceKind, float]] = {
    "choice": 0, "parts": 1, "series": 2, "rating": 4, "split": 5, "array": 8, "stress": 8.5,
    "bought": 9, "together": 9.5,
}  # fmt: skip
#: What parts of a tolerance cost, loosest first; beyond them the tightest.
GRADES: Final = ((0.01, 2.5), (0.005, 3.0), (0.001, 6.0))
TIGHTEST: Final = 7.5
#: A lower coefficient is a tighter part's.
PRECISE_PPM: Final = 25.0
#: From here on a leaded part is a power part.
POWER_WATTS, LEADED = 1.0, 7.0


def cost_of(advice: Advice) -> float:
    """Return where a piece of advice stands in the order of its cost (common practice)."""
    if advice.cost is not None:
        return advice.cost
    parts, circuit = advice.judged.parts, advice.judged.circuit
    limits = [parts.limits, *parts.limits_of(circuit).values()]
    if advice.kind == "rating":
        watts = max(p.rated_watts or 0.0 for p in limits)
        leaded = any(p.limiting_volts is None for p in limits) or watts > POWER_WATTS
        return LEADED if leaded else COSTS["rating"]
    if advice.kind not in {"tolerance", "together"}:
        return COSTS[advice.kind]
    tightest = min(p.tolerance for p in limits) * (1 + 1e-9)
    grade = next((cost for of, cost in GRADES if tightest >= of), TIGHTEST)
    if min(abs(p.tcr_ppm) for p in limits) < PRECISE_PPM * (1 - 1e-9):
        grade = max(grade, TIGHTEST)
    return grade + (COSTS["together"] if advice.kind == "together" else 0.0)


def first_of(
    case: Case, kind: AdviceKind, options: Iterable[tuple[str, dict[str, str]]]
) -> list[Advice]:
    """Return the first of some changes that passes, else the first that helps, in a list.

    Parameters
    ----------
    kind : AdviceKind
        Kind of advice.
    options : Iterable[tuple[str, dict[str, str]]]
        Changes that are tried, with their words.
    """
    helps: list[Advice] = []
    for words, changes in options:
        advice = case.tried(kind, words, changes)
        if advice is not None and advice.verdict is Verdict.PASS:
            return [advice]
        if advice is not None and not helps:
            helps = [advice]
    return helps


def holds(case: Case, changes: Mapping[str, str], network: Element | None, gate: GateName) -> bool:
    """Whether one gate does not fail once the brief is changed.

    Parameters
    ----------
    changes : Mapping[str, str]
        Tokens to their new text.
    network : Element | None
        The network as a tree, or a netlist.
    gate : GateName
        Name of the gate that is to hold.

    Returns
    -------
    bool
        Whether the gate does not fail then.
    """
    judged = case.weighed(changes, network)
    gates = judged.gates if judged is not None else ()
    return any(g.name == gate and g.verdict is not Verdict.FAIL for g in gates)
