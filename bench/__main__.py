"""Time each search against a plain baseline, in one run on one machine: `make bench`."""

from __future__ import annotations

import time
import tracemalloc
from collections.abc import Callable
from functools import partial

import numpy as np
import numpy.typing as npt

from lowfold.core.box import Box, Supply
from lowfold.core.circuit import build_circuit
from lowfold.core.combine import Pool, table
from lowfold.core.divider import DividerNeed
from lowfold.core.divider_search import search_divider
from lowfold.core.notation import read_network
from lowfold.core.preferred import series_values
from lowfold.core.resistance_search import ResistanceNeed, search_resistance
from lowfold.core.solve import solve
from lowfold.core.spread import output_spread

SERIES = ("E24", "E96", "E192")
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
        compare(f"{series}, divider", partial(search_divider, legs), partial(plain_divider, ohms))
    circuit = build_circuit(read_network("1k + @OUT + (2k2 || (470 + 680))"))
    box = Box(circuit, Supply(9.0, 0.05), (), (0.01,) * 4)
    node = circuit.node("OUT")
    compare(
        "worst corner of four parts",
        lambda: output_spread(box, node),
        lambda: [solve(circuit, 9.0) for _ in range(32)],
    )


def fresh(pool: Pool) -> None:
    """Build the table of pairs anew."""
    table.cache_clear()
    table(pool, 2)


main()
