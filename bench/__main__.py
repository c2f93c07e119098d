"""Time each search against a plain baseline, in one run on one machine: `make bench`."""

from __future__ import annotations

import time
import tracemalloc
from collections.abc import Callable
from functools import partial

import numpy as np
import numpy.typing as npt

from lowfold.core.network.circuit import build_circuit
from lowfold.core.network.notation import read_netlist, read_network
from lowfold.core.parts.pool import Pool
from lowfold.core.search.assemblies import nearest_assemblies
from lowfold.core.search.combine import table
from lowfold.core.search.contexts import Drive
from lowfold.core.search.divider import DividerNeed
from lowfold.core.search.divider_search import search_divider
from lowfold.core.search.feedback import FeedbackNeed
from lowfold.core.search.feedback_search import search_feedback
from lowfold.core.search.ladder import LadderNeed, TapNeed
from lowfold.core.search.ladder_search import search_ladder
from lowfold.core.search.resistance_search import ResistanceNeed, search_resistance
from lowfold.core.search.tradeoff import unbeaten_dividers
from lowfold.core.solving.solution import solve
from lowfold.core.tolerance.box import Box, Supply, Tracking
from lowfold.core.tolerance.loadline import load_line
from lowfold.core.tolerance.sampling import sampled
from lowfold.core.tolerance.scatter import scatter
from lowfold.core.tolerance.spread import output_spread
from lowfold.core.values.preferred import series_values

SERIES = ("E24", "E96", "E192")
SAMPLES = 1_000_000
TARGET_OHMS, TARGET_VOLTS, SUPPLY_VOLTS = 4321.0, 3.0, 14.4


def best_of(work: Callable[[], object], times: int = 7) -> float:
    """Return the shortest of several runs, s."""
    spent = []
    for _ in range(times):
        start = time.perf_counter()
        work()
        spent.append(time.perf_counter() - start)
    return min(spent)


def peak_of(work: Callable[[], object]) -> float:
    """Return the most memory held during one run, MB."""
    tracemalloc.start()
    work()
    peak = tracemalloc.get_traced_memory()[1]
    tracemalloc.stop()
    return peak / 1e6


def plain_pairs(ohms: npt.NDArray[np.float64]) -> float:
    """Every pair in series and in parallel, by one NumPy grid."""
    total = ohms[:, None] + ohms[None, :]
    beside = ohms[:, None] * ohms[None, :] / total
    return float(min(np.abs(total - TARGET_OHMS).min(), np.abs(beside - TARGET_OHMS).min()))


def plain_four(ohms: npt.NDArray[np.float64]) -> float:
    """Every two pairs, by one NumPy bisection per pair: half the arrangements of four parts."""
    left, right = np.triu_indices(len(ohms))
    total = ohms[left] + ohms[right]
    pairs = np.sort(np.concatenate((total, ohms[left] * ohms[right] / total)))
    best = np.inf
    for values, wanted in ((pairs, TARGET_OHMS), (1 / pairs[::-1], 1 / TARGET_OHMS)):
        at = np.clip(np.searchsorted(values, wanted - values), 1, len(values) - 1)
        for near in (at, at - 1):
            best = min(best, float(np.abs((values + values[near]) / wanted - 1).min()))
    return best


def plain_divider(ohms: npt.NDArray[np.float64]) -> float:
    """Every pair of legs, by one NumPy grid."""
    output = SUPPLY_VOLTS * ohms[None, :] / (ohms[:, None] + ohms[None, :])
    return float(np.abs(output - TARGET_VOLTS).min())


def plain_ladder(ohms: npt.NDArray[np.float64]) -> float:
    """Every ladder of three parts, one NumPy grid for each top part."""
    best = np.inf
    for top in ohms:
        total = top + ohms[:, None] + ohms[None, :]
        high = np.abs(SUPPLY_VOLTS * (total - top) / total / 9.0 - 1)
        low = np.abs(SUPPLY_VOLTS * ohms[None, :] / total / TARGET_VOLTS - 1)
        best = min(best, float(np.maximum(high, low).min()))
    return best


def plain_front(ohms: npt.NDArray[np.float64]) -> int:
    """Sort every pair of legs by current and keep what is nearer than all before."""
    total = ohms[:, None] + ohms[None, :]
    off = np.abs(SUPPLY_VOLTS * ohms[None, :] / total - TARGET_VOLTS).ravel()
    order = np.argsort(-total.ravel(), kind="stable")
    return int((np.diff(np.minimum.accumulate(off[order])) < 0).sum())


def compare(name: str, ours: Callable[[], object], plain: Callable[[], object]) -> None:
    """Print one line: both times, their ratio, our peak memory."""
    mine, theirs = best_of(ours), best_of(plain)
    print(
        f"{name:<34} {mine * 1e3:9.2f} ms {theirs * 1e3:9.2f} ms {mine / theirs:8.2f} × "
        f"{peak_of(ours):9.1f} MB"
    )


def main() -> None:
    """Print one line per search."""
    print(f"{'':<34} {'lowfold':>12} {'baseline':>12} {'ratio':>10} {'peak':>12}")
    for series in SERIES:
        ohms = series_values([series])
        pool = Pool.plenty(ohms)
        need = ResistanceNeed(target_ohms=TARGET_OHMS, pool=pool)
        four = ResistanceNeed(target_ohms=TARGET_OHMS, pool=pool, max_parts=4)
        legs = DividerNeed(supply_volts=SUPPLY_VOLTS, target_volts=TARGET_VOLTS, pool=pool)
        pairs = partial(plain_pairs, ohms)
        compare(f"{series}, tables of pairs, first time", partial(fresh, pool), pairs)
        compare(f"{series}, two parts, tables at hand", partial(search_resistance, need), pairs)
        compare(
            f"{series}, four parts, tables at hand",
            partial(search_resistance, four),
            partial(plain_four, ohms),
        )
        few = Pool.stock({float(v): 3 for v in series_values(["E12"], 10.0, 1e5)[::3][:20]})
        cool = Drive(0.05, volts=12.0)
        compare(
            f"{series}, four parts kept cool",
            partial(nearest_assemblies, pool, 4, TARGET_OHMS, 20, drive=cool),
            partial(plain_four, ohms),
        )
        compare(f"{series}, divider", partial(search_divider, legs), partial(plain_divider, ohms))
        pair = FeedbackNeed(reference_volts=0.8, target_volts=TARGET_VOLTS, pool=pool)
        compare(
            f"{series}, feedback pair", partial(search_feedback, pair), partial(plain_divider, ohms)
        )
        compare(
            f"{series}, accuracy against current",
            partial(unbeaten_dividers, legs),
            partial(plain_front, ohms),
        )
        if len(ohms) < 1000:
            twice = DividerNeed(
                supply_volts=SUPPLY_VOLTS, target_volts=TARGET_VOLTS, pool=pool, max_per_leg=2
            )
            compare(
                f"{series}, divider, two parts a leg",
                partial(search_divider, twice),
                partial(plain_divider, ohms),
            )
        if len(ohms) < 200:
            taps = tuple(TapNeed(target_volts=v) for v in (9.0, TARGET_VOLTS))
            ladder = LadderNeed(supply_volts=SUPPLY_VOLTS, taps=taps, pool=pool)
            compare(
                f"{series}, ladder of two taps",
                partial(search_ladder, ladder),
                partial(plain_ladder, ohms),
            )
    six = ResistanceNeed(target_ohms=TARGET_OHMS, pool=few, max_parts=6)
    compare(
        "20 values, six parts",
        partial(search_resistance, six),
        partial(plain_four, np.array(few.ohms)),
    )
    circuit = build_circuit(read_network("1k + @OUT + (2k2 || (470 + 680))"))
    box = Box(circuit, Supply(9.0, 0.05), (), (0.01,) * 4)
    node = circuit.node("OUT")
    compare(
        "worst corner of four parts",
        lambda: output_spread(box, node),
        lambda: [solve(circuit, 9.0) for _ in range(32)],
    )
    rungs = [f"R{k} {'in' if k % 3 else '0'} n{k} 20k\nQ{k} n{k} n{k + 1} 10k" for k in range(13)]
    mesh = build_circuit(read_netlist("\n".join([*rungs, "T n0 0 20k", "E n13 0 20k"])))
    many = Box(mesh, Supply(5.0, 0.05), (), (0.01,) * len(mesh.branches))
    compare(
        "worst corner of a ladder of 28",
        lambda: output_spread(many, mesh.node("n13")),
        lambda: [solve(mesh, 5.0) for _ in range(32)],
    )
    two = build_circuit(read_network("10k + @OUT + 4k7"))
    drawn = Box(two, Supply(12.0, 0.05), (), (0.01,) * 2)
    compare(
        "a million samples of a divider",
        lambda: sampled(drawn, [two.node("OUT")], SAMPLES, "uniform", 1),
        drawing_alone,
    )
    window = (3.8, 3.9)
    compare(
        "the same, summed up",
        lambda: scatter(sampled(drawn, [two.node("OUT")], SAMPLES, "uniform", 1)[0], window),
        drawing_alone,
    )
    tracking = Box(two, Supply(12.0, 0.05), (), (0.01,) * 2, Tracking(0.001))
    compare(
        "load line of a tracking pair",
        lambda: load_line(tracking, two.node("OUT")),
        lambda: [solve(two, 12.0) for _ in range(32)],
    )


def drawing_alone() -> object:
    """Draw the random numbers of a million samples of two parts and a supply."""
    rng = np.random.default_rng(1)
    return [rng.uniform(-1.0, 1.0, SAMPLES) for _ in range(3)]


def fresh(pool: Pool) -> None:
    """Build the table of pairs anew."""
    table.cache_clear()
    table(pool, 2)


main()
