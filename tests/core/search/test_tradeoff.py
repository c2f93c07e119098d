"""The choices that nothing beats in error and current, against every pair of legs."""

import itertools
import random

import pytest

from lowfold.core.network.tree import Chain, Part, Tap, chain, resistance
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.search.combine import table
from lowfold.core.search.divider import DividerNeed, loaded_output
from lowfold.core.search.tradeoff import unbeaten_dividers
from lowfold.core.values.preferred import series_values

VALUES = [1e3, 2.2e3, 3.3e3, 4.7e3, 10e3, 22e3, 47e3, 100e3]


def plain_front(need: DividerNeed) -> list[tuple[float, float]]:
    """(|error|, current) that no other pair beats in both, by comparing all with all."""
    sizes = [table(need.pool, n) for n in range(1, need.max_per_leg + 1)]
    legs = [float(r) for t in sizes for r in t.ohms]
    every = []
    for up, down in itertools.product(legs, repeat=2):
        out = loaded_output(
            up + need.source_ohms, down, need.supply_volts, 0.0,
            1 / need.load_ohms if need.load_ohms else 0.0, 0.0,
        )  # fmt: skip
        error = abs(out / need.target_volts - 1)
        amps = (need.supply_volts - out) / (up + need.source_ohms)
        if error <= (need.within or 0.1) and (need.max_amps is None or amps <= need.max_amps):
            every.append((error, amps))
    return sorted(
        {
            (round(e, 12), round(a, 15))
            for e, a in every
            if not any(
                (f < e - 1e-11 and b <= a * (1 + 1e-12)) or (f <= e + 1e-11 and b < a * (1 - 1e-11))
                for f, b in every
            )
        }
    )


@pytest.mark.parametrize("seed", range(25))
def test_the_front_is_what_nothing_beats(seed: int) -> None:
    rng = random.Random(seed)
    per_leg = rng.choice([1, 1, 2])
    values = sorted(rng.sample(VALUES, 3 if per_leg == 2 else 8))
    need = DividerNeed(
        supply_volts=12.0,
        target_volts=round(rng.uniform(0.5, 11.0), 2),
        pool=Pool.stock(dict.fromkeys(values, PLENTY)),
        max_per_leg=per_leg,
        load_ohms=rng.choice([None, 50e3]),
        source_ohms=rng.choice([0.0, 500.0]),
        within=rng.choice([0.05, 0.3, None]),
        max_amps=rng.choice([None, 1e-3]),
    )
    found = unbeaten_dividers(need)
    amps = [u.amps for u in found]
    assert amps == sorted(amps)
    expected = plain_front(need)
    got = sorted((abs(u.error), u.amps) for u in found)
    assert [e for e, _ in got] == pytest.approx([e for e, _ in expected], abs=1e-9)
    assert [a for _, a in got] == pytest.approx([a for _, a in expected], rel=1e-6)


def test_each_is_what_it_says_and_pieces_leave_nothing_out() -> None:
    need = DividerNeed(
        supply_volts=14.4,
        target_volts=3.1,
        pool=Pool.plenty(series_values(["E48"], 1e3, 1e6)),
        within=0.02,
    )
    found = unbeaten_dividers(need)
    for one in found:
        assert isinstance(one.network, Chain)
        place = one.network.items.index(Tap("OUT"))
        up, down = (
            resistance(chain(part))
            for part in (one.network.items[:place], one.network.items[place + 1 :])
        )
        assert one.error == pytest.approx(14.4 * down / (up + down) / 3.1 - 1, abs=1e-12)
        assert one.amps == pytest.approx(14.4 / (up + down))
        assert isinstance(one.network.items[0], Part)
    expected = plain_front(need)
    assert sorted(abs(u.error) for u in found) == pytest.approx([e for e, _ in expected], abs=1e-9)
