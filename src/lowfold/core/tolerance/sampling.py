"""How an output scatters when every part is drawn at random: Monte Carlo (JCGM 101:2008).

Parts and supply are drawn over their half-widths, uniformly or normally (3σ = half-width, truncated
there); loads are nominal. The circuit is reduced once, junction by junction (star–mesh), on whole
columns of samples at a time.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from typing import Final, Literal

import numpy as np
import numpy.typing as npt

from lowfold.core.errors import DomainError, TooLargeError, TopologyError
from lowfold.core.network.circuit import GROUND, SUPPLY
from lowfold.core.solving.nets import nets_of
from lowfold.core.solving.nodes import potentials
from lowfold.core.solving.star_mesh import StarMesh
from lowfold.core.tolerance.box import Box

__all__ = [
    "MOST_SAMPLES",
    "Distribution",
    "sampled",
    "sampled_legs",
]

FloatArray = npt.NDArray[np.float64]
Distribution = Literal["uniform", "normal"]

MOST_SAMPLES: Final = 2_000_000
AT_ONCE: Final = 65_536  #: samples in one column, so that columns stay in the processor's cache
AT_A_TIME: Final = 4  #: batches; NumPy lets threads run side by side
MOST_FIGURES: Final = 10_000_000  #: samples times what is asked of each
MOST_UPDATES: Final = 600_000_000  #: samples times conductances changed; some three seconds
EMF = -1  #: the ideal end of a supply with resistance inside


def sampled(
    box: Box,
    nodes: list[int | None],
    samples: int,
    distribution: Distribution,
    seed: int,
    *,
    most: int = MOST_SAMPLES,
    progress: Callable[[float], None] | None = None,
) -> list[FloatArray]:
    """Return samples of each asked figure, (samples,) each: a node's V, or the total Ω for None.

    The same seed gives the same samples. `progress` is told the share that is drawn.

    Parameters
    ----------
    nodes : list[int | None]
        Junctions asked for; None for the resistance.
    samples : int
        How many are drawn.
    distribution : Distribution
        How each value lies in its range.
    seed : int
        The same seed draws the same samples.
    most : int
        Samples that may be drawn at most.
    progress : Callable[[float], None] | None
        Told the share done, 0 to 1.

    Raises
    ------
    TooLargeError, DomainError, TopologyError
        For too many samples, none, or a figure that nothing conducts to.
    """
    _check_count(samples, most)
    _check_work(box, nodes, samples, most)
    found = [np.empty(samples) for _ in nodes]

    asked = sorted({node for node in nodes if node is not None})

    def fill(some: slice, draw: _Draw) -> None:
        volts = draw.volts(asked)
        for column, node in zip(found, nodes, strict=True):
            column[some] = draw.total() if node is None else volts[node]

    _in_batches(box, samples, distribution, seed, fill, progress)
    return found


def sampled_legs(
    box: Box,
    node: int,
    samples: int,
    distribution: Distribution,
    seed: int,
    *,
    most: int = MOST_SAMPLES,
    progress: Callable[[float], None] | None = None,
) -> tuple[FloatArray, FloatArray, FloatArray]:
    """Return samples of both legs of a pair tapped at `node`, Ω, and of its supply, V.

    The node must be the only way between the legs.

    Parameters
    ----------
    node : int
        Index of the junction.
    samples : int
        How many are drawn.
    distribution : Distribution
        How each value lies in its range.
    seed : int
        The same seed draws the same samples.
    most : int
        Samples that may be drawn at most.
    progress : Callable[[float], None] | None
        Told the share done, 0 to 1.

    Raises
    ------
    TooLargeError, DomainError
        For too many samples, or none.
    """
    _check_count(samples, most)
    upper, lower, volts = (np.empty(samples) for _ in range(3))

    def fill(some: slice, draw: _Draw) -> None:
        upper[some], lower[some] = draw.legs(node)
        volts[some] = draw.emf

    _in_batches(box, samples, distribution, seed, fill, progress)
    return upper, lower, volts


def _check_count(samples: int, most: int) -> None:
    if samples > most:
        msg = f"{samples} samples are more than the {most} drawn at most"
        raise TooLargeError(msg, field="samples")
    if samples < 1:
        msg = "at least one sample is drawn"
        raise DomainError(msg, field="samples")


def _check_work(box: Box, nodes: Sequence[int | None], samples: int, most: int) -> None:
    """Refuse what would take too long, or too much memory, before anything is drawn."""
    share = most // MOST_SAMPLES or 1  # a run of its own, with progress, may take longer
    if samples * len(nodes) > MOST_FIGURES * share:
        msg = (
            f"{samples} samples of {len(nodes)} figures are more than the {MOST_FIGURES * share} "
            f"figures drawn at most: {MOST_FIGURES * share // len(nodes)} samples would fit"
        )
        raise TooLargeError(msg, field="samples")
    ties = [(b.a, b.b) for b in box.circuit.branches]
    ties += [(x.at, GROUND) for x in box.nominal_loads if x.ohms is not None]
    given = set(box.circuit.ends)
    updates = _updates(ties, given, {n for n in nodes if n is not None} - given)
    if samples * updates > MOST_UPDATES * share:
        msg = (
            f"{samples} samples of a network as meshed as this are too many: about "
            f"{MOST_UPDATES * share // updates} would fit"
        )
        raise TooLargeError(msg, field="samples")


def _updates(ties: Sequence[tuple[int, int]], given: set[int], asked: set[int]) -> int:
    """Return how many conductances change on the way to every figure, as `StarMesh` takes it."""
    near = StarMesh((a, b, 1.0) for a, b in ties)
    count = len(ties) + near.reduce_to(given | asked)
    for node in asked:
        count += 3 + near.copied().reduce_to({*given, node})
    return count


def _in_batches(
    box: Box,
    samples: int,
    distribution: Distribution,
    seed: int,
    fill: Callable[[slice, _Draw], None],
    progress: Callable[[float], None] | None,
) -> None:
    """Draw so many samples batch by batch, several at a time.

    Every batch has random numbers of its own, so the answer depends on the seed alone and not on
    which batch is done first.
    """

    def batch(start: int) -> None:
        size = min(AT_ONCE, samples - start)
        rng = np.random.default_rng([seed, start // AT_ONCE])
        fill(slice(start, start + size), _Draw(box, rng, size, distribution))

    starts = range(0, samples, AT_ONCE)
    with ThreadPoolExecutor(AT_A_TIME) as pool:
        for done, _ in enumerate(pool.map(batch, starts), start=1):
            if progress is not None:
                progress(done / len(starts))


class _Draw:
    """One batch of drawn circuits."""

    def __init__(
        self, box: Box, rng: np.random.Generator, size: int, distribution: Distribution
    ) -> None:
        self.box, self.size = box, size
        self.siemens: list[FloatArray | float] = []
        shared: FloatArray | float = 1.0
        if box.common:
            shared = 1 + box.common * _unit(rng, size, distribution)
        for branch, half, tracks in zip(box.circuit.branches, box.own, box.tracked, strict=True):
            ohms = branch.ohms * shared if tracks else branch.ohms
            if half:
                ohms = ohms * (1 + half * _unit(rng, size, distribution))
            self.siemens.append(1 / ohms)
        supply, spread = box.supply.volts, box.supply.tolerance
        moved = 1 + spread * _unit(rng, size, distribution) if spread else 1.0
        self.emf: FloatArray | float = supply * moved

    def total(self) -> FloatArray:
        """Return the resistance between the supply's ends, resistive loads connected, Ω."""
        low = self.box.circuit.low  # a dead supply has both its low ends at 0 V

        def dead(node: int) -> int:
            return GROUND if node == low else node

        mesh = StarMesh((dead(a), dead(b), s) for a, b, s in self._ties())
        mesh.reduce_to({SUPPLY, GROUND})
        siemens = mesh.tie(SUPPLY, GROUND)
        if siemens is None:
            msg = "nothing conducts between the supply's ends, so there is no resistance to judge"
            raise TopologyError(msg, field="resistance")
        return np.broadcast_to(1 / siemens, (self.size,))

    def legs(self, node: int) -> tuple[FloatArray, FloatArray]:
        """Return the resistances above and below a tap between the supply's ends, Ω."""
        mesh = StarMesh(self._ties())
        mesh.reduce_to({SUPPLY, GROUND, node})
        upper, lower = mesh.tie(SUPPLY, node), mesh.tie(node, GROUND)
        assert upper is not None  # a pair has both legs
        assert lower is not None
        above, below = (np.broadcast_to(np.asarray(1 / s), (self.size,)) for s in (upper, lower))
        return above, below

    def volts(self, nodes: Sequence[int]) -> dict[int, FloatArray]:
        """Return the voltages of nodes, V; where a current load starves, by the general solver."""
        fed = {x.at for x in self.box.nominal_loads if x.amps}
        top = EMF if self.box.supply.source_ohms else SUPPLY
        mesh = StarMesh(self._ties(inner=True))
        for load in self.box.nominal_loads:
            if load.amps:
                mesh.entering[load.at] = mesh.entering.get(load.at, 0.0) - load.amps
        mesh.reduce_to({top, GROUND, self.box.circuit.low, *nodes, *fed})
        linear = {node: self._linear(mesh, node, top) for node in {*nodes, *fed}}
        starved = np.zeros(self.size, dtype=np.bool_)
        for at in fed:
            starved |= linear[at] < 0
        if starved.any():
            rows = np.flatnonzero(starved)
            for node, volts in self._clipped(nodes, rows).items():
                linear[node] = linear[node].copy()
                linear[node][rows] = volts
        return linear

    def _linear(self, reduced: StarMesh, node: int, top: int) -> FloatArray:
        """Return the voltage of a node of a mesh that is reduced to those asked for, V."""
        given: dict[int, FloatArray | float] = {
            self.box.circuit.low: self.box.supply.low_volts,
            GROUND: 0.0,
            top: self.emf,
        }
        if node in given:
            return np.broadcast_to(np.asarray(given[node]), (self.size,))
        mesh = reduced.copied()
        mesh.reduce_to({*given, node})
        ties = [(tie, v) for n, v in given.items() if (tie := mesh.tie(node, n)) is not None]
        if not ties:
            msg = "nothing connects this junction to the supply, so it has no voltage"
            raise TopologyError(msg, field="outputs")
        driven: FloatArray | float = sum(tie * v for tie, v in ties)
        volts = (driven + mesh.entering.get(node, 0.0)) / sum(tie for tie, _ in ties)
        return np.broadcast_to(np.asarray(volts), (self.size,))

    def _ties(self, *, inner: bool = False) -> Iterator[tuple[int, int, FloatArray | float]]:
        for branch, siemens in zip(self.box.circuit.branches, self.siemens, strict=True):
            yield branch.a, branch.b, siemens
        for load in self.box.nominal_loads:
            if load.ohms is not None:
                yield load.at, GROUND, 1 / load.ohms
        if inner and self.box.supply.source_ohms:
            yield EMF, SUPPLY, 1 / self.box.supply.source_ohms

    def _clipped(self, nodes: Sequence[int], rows: npt.NDArray[np.intp]) -> dict[int, FloatArray]:
        supply, loads = self.box.supply, self.box.nominal_loads
        columns = [np.broadcast_to(s, (self.size,))[rows] for s in self.siemens]
        siemens = np.stack(columns, axis=1)
        emf = np.broadcast_to(self.emf, (self.size,))[rows].copy()
        nets = nets_of(
            self.box.circuit, siemens, emf, supply.source_ohms, loads, low_v=supply.low_volts
        )
        gaps, _ = potentials(nets)
        return {node: gaps[:, node, GROUND] for node in nodes}


def _unit(rng: np.random.Generator, size: int, distribution: Distribution) -> FloatArray:
    """Draw from −1 to 1: uniformly, or normally with σ = 1/3, drawn again where beyond."""
    if distribution == "uniform":
        return rng.uniform(-1.0, 1.0, size)
    drawn = rng.standard_normal(size) / 3
    beyond = np.flatnonzero(np.abs(drawn) > 1)
    while len(beyond):
        drawn[beyond] = rng.standard_normal(len(beyond)) / 3
        beyond = beyond[np.abs(drawn[beyond]) > 1]
    return drawn
