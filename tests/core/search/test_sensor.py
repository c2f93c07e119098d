"""A sensor in one leg: against every value tried by hand, and the rules of common practice."""

import math
from dataclasses import replace
from fractions import Fraction

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from lowfold.core.errors import DomainError, TooLargeError
from lowfold.core.network.tree import write_network
from lowfold.core.parts.pool import Pool
from lowfold.core.search.sensor import Position, SensorNeed, leg_of, rule_ohms, search_sensor
from lowfold.core.values.preferred import series_values

E24 = Pool.plenty(series_values(["E24"], 10.0, 1e6))
BOTH: tuple[Position, ...] = ("lower", "upper")


def outputs(need: SensorNeed, ohms: float, position: str) -> list[Fraction]:
    """Return the tap's voltage at each point, by the divider rule in fractions."""
    found = []
    for sensor in need.sensor_ohms:
        upper, lower = (ohms, sensor) if position == "lower" else (sensor, ohms)
        below = Fraction(lower)
        if need.load_ohms:
            below = 1 / (1 / below + 1 / Fraction(need.load_ohms))
        found.append(Fraction(need.supply_volts) * below / (Fraction(upper) + below))
    return found


def bent(volts: list[Fraction]) -> float:
    swing = volts[-1] - volts[0]
    if abs(swing) <= 1e-12 * max(map(abs, volts)):
        return math.inf
    last = len(volts) - 1
    away = [abs(v - volts[0] - swing * k / last) for k, v in enumerate(volts)]
    return float(max(away) / abs(swing))


def watts(need: SensorNeed, volts: list[Fraction], position: str) -> float:
    across = [v if position == "lower" else Fraction(need.supply_volts) - v for v in volts]
    return float(max(v * v / Fraction(r) for v, r in zip(across, need.sensor_ohms, strict=True)))


def best(need: SensorNeed) -> float | None:
    """Return the best figure of merit of all, each tried."""
    merits = []
    for position in need.positions:
        for ohms in need.pool.ohms:
            volts = outputs(need, ohms, position)
            if need.window and not all(need.window[0] <= v <= need.window[1] for v in volts):
                continue
            limit = need.max_sensor_watts
            if limit is not None and watts(need, volts, position) > limit:
                continue
            merit = bent(volts) if need.aim == "linear" else -float(abs(volts[-1] - volts[0]))
            merits.append(merit)
    finite = [m for m in merits if math.isfinite(m)]
    return min(finite, default=None)


OHMS = st.floats(10, 1e6)


@example([10.0, 10.0, 10.000000000000002], "linear", None, None, BOTH)
@given(
    st.lists(OHMS, min_size=2, max_size=9),
    st.sampled_from(["swing", "linear", "window"]),
    st.one_of(st.none(), st.floats(1e2, 1e7)),
    st.one_of(st.none(), st.floats(1e-6, 1e-1)),
    st.sampled_from([BOTH, ("lower",), ("upper",)]),
)
def test_no_value_is_better_than_the_first(
    sensor: list[float],
    aim: str,
    load: float | None,
    limit: float | None,
    positions: tuple[Position, ...],
) -> None:
    need = SensorNeed(
        supply_volts=3.3, sensor_ohms=tuple(sensor), positions=positions,
        pool=Pool.plenty(series_values(["E6"], 100.0, 1e5)), aim=aim,  # type: ignore[arg-type]
        window=(0.5, 2.5) if aim == "window" else None, load_ohms=load, max_sensor_watts=limit,
    )  # fmt: skip
    found, wanted = search_sensor(need), best(need)
    if wanted is None:
        assert not found.legs
        assert found.reason
        return
    first = found.legs[0]
    merit = first.nonlinearity if aim == "linear" else -first.swing
    assert merit == pytest.approx(wanted, rel=1e-6, abs=1e-9)
    volts = outputs(need, first.ohms, first.position)
    assert first.outputs == pytest.approx([float(v) for v in volts], rel=1e-9)
    assert first.sensor_watts == pytest.approx(watts(need, volts, first.position), rel=1e-9)
    for share, ends in ((0.99, None), (1.01, None)):
        at = outputs(need, first.ohms * share, first.position)
        assert ends is None
        for low, v, high in zip(first.lowest, at, first.highest, strict=True):
            assert low - 1e-9 <= v <= high + 1e-9


@given(
    st.lists(OHMS, min_size=2, max_size=5),
    st.floats(1e3, 1e6),
    st.sampled_from([(0.9, 1.1), (0.5, math.inf), (1.0, 1.0)]),
    st.sampled_from(BOTH),
)
def test_the_ends_are_those_of_the_resistor_and_of_the_load(
    sensor: list[float], load: float, reach: tuple[float, float], position: Position
) -> None:
    ends = (load * reach[0], load * reach[1])
    need = SensorNeed(
        supply_volts=3.3, sensor_ohms=tuple(sensor), positions=(position,), pool=E24, aim="swing",
        load_ohms=load, load_ends=ends, tolerance=0.05,
    )  # fmt: skip
    first = search_sensor(need).legs[0]
    corners = [
        outputs(
            replace(need, load_ohms=None if math.isinf(end) else end), first.ohms * share, position
        )
        for end in ends
        for share in (0.95, 1.05)
    ]
    for k, (low, high) in enumerate(zip(first.lowest, first.highest, strict=True)):
        at = [float(c[k]) for c in corners]
        assert [low, high] == pytest.approx([min(at), max(at)])


def test_the_widest_swing_lies_at_the_geometric_mean_of_the_ends() -> None:
    # Common practice: 27 kΩ to 5.1 kΩ, √(27·5.1) = 11.73 kΩ; of E24 12 kΩ is nearest
    need = SensorNeed(
        supply_volts=3.3, sensor_ohms=(27e3, 5.1e3), positions=("lower",), pool=E24, aim="swing"
    )
    assert rule_ohms("swing", need.sensor_ohms) == pytest.approx(11734.6, rel=1e-5)
    first = search_sensor(need).legs[0]
    assert first.ohms == 12e3
    # By hand: 3.3·(27/39 − 5.1/17.1) V
    assert first.swing == pytest.approx(3.3 * (27 / 39 - 5.1 / 17.1))
    assert write_network(first.network) == "R1=12k + @OUT + RS1=27k"


def test_the_straight_line_lies_at_the_three_point_rule() -> None:
    # Common practice: (Rm(Rl + Rh) − 2RlRh)/(Rl + Rh − 2Rm) puts the middle on the line
    sensor = (32.65e3, 10e3, 3.6e3)
    rule = rule_ohms("linear", sensor)
    assert rule is not None
    at_the_rule = Pool.plenty([rule])
    need = SensorNeed(
        supply_volts=5.0, sensor_ohms=sensor, positions=BOTH, pool=at_the_rule, aim="linear"
    )
    assert search_sensor(need).legs[0].nonlinearity == pytest.approx(0.0, abs=1e-9)
    of_e24 = SensorNeed(
        supply_volts=5.0, sensor_ohms=sensor, positions=("lower",), pool=E24, aim="linear"
    )
    first = search_sensor(of_e24).legs[0]
    assert abs(math.log(first.ohms / rule)) < 0.05
    assert rule_ohms("linear", (1e3, 2e3, 3e3)) is None  # straight already
    assert rule_ohms("linear", (1e3, 2e3)) is None


def test_inside_the_window_the_widest_comes_first() -> None:
    need = SensorNeed(
        supply_volts=5.0, sensor_ohms=(1e3, 2e3, 4e3), positions=BOTH, pool=E24, aim="window",
        window=(1.0, 3.0),
    )  # fmt: skip
    legs = search_sensor(need).legs
    assert all(1.0 <= v <= 3.0 for leg in legs for v in leg.outputs)
    assert [leg.swing for leg in legs] == sorted((leg.swing for leg in legs), reverse=True)
    narrow = SensorNeed(
        supply_volts=5.0, sensor_ohms=(1e3, 4e3), positions=BOTH, pool=E24, aim="window",
        window=(2.4, 2.6),
    )  # fmt: skip
    found = search_sensor(narrow)
    assert found.reason is None or found.reason.startswith("no value keeps every output inside")


REFUSED = [
    ({"sensor_ohms": (1e3,)}, "a sensor has 2 to 9 points"),
    ({"supply_volts": 0.0}, "the supply is above 0 V"),
    ({"window": (1.0, 2.0)}, "a window is given with the aim window"),
    ({"aim": "window", "window": (2.0, 1.0)}, "the window goes up"),
    ({"limit": 501}, "at most 500 are listed"),
]


@pytest.mark.parametrize(("changed", "told"), REFUSED)
def test_what_is_no_need_is_refused(changed: dict[str, object], told: str) -> None:
    stated = {
        "supply_volts": 5.0, "sensor_ohms": (1e3, 2e3), "positions": BOTH, "pool": E24,
        "aim": "swing",
    }  # fmt: skip
    with pytest.raises((DomainError, TooLargeError), match=told):
        SensorNeed(**{**stated, **changed})  # type: ignore[arg-type]


def test_a_sensor_that_does_not_change_has_no_line() -> None:
    need = SensorNeed(
        supply_volts=5.0, sensor_ohms=(1e3, 1e3), positions=("lower",), pool=E24, aim="linear"
    )
    assert (
        search_sensor(need).reason == "no value gives a swing at all: the sensor's ends are alike"
    )


@pytest.mark.parametrize(("at", "bent"), [(None, 0.25 / 5.5), ((0.0, 10.0, 40.0), 1.125 / 5.5)])
def test_a_line_goes_by_where_the_points_lie(at: tuple[float, ...] | None, bent: float) -> None:
    # By hand: 10 V over 10 kΩ and 30, 10, 2.5 kΩ is 7.5, 5 and 2 V; the line at the second point
    # is half way, 4.75 V, or a quarter of it, 6.125 V
    need = SensorNeed(
        supply_volts=10.0, sensor_ohms=(30e3, 10e3, 2.5e3), positions=("lower",),
        pool=Pool.plenty([10e3]), aim="linear", at=at,
    )  # fmt: skip
    leg = leg_of(need, 10e3, "lower")
    assert leg == search_sensor(need).legs[0]
    assert leg.outputs == pytest.approx((7.5, 5.0, 2.0))
    assert leg.nonlinearity == pytest.approx(bent)


def test_of_two_that_swing_alike_the_cooler_comes_first() -> None:
    # By hand: 1 kΩ and 4 kΩ lie alike about √(1·4) = 2 kΩ, and both swing 5·(4/5 − 1/2) = 1.5 V; at
    # its worst the sensor takes 5²·1k/(1k + 1k)² = 6.25 mW under 1 kΩ, 5²·4k/(4k + 4k)² = 1.56 mW
    # under 4 kΩ
    need = SensorNeed(
        supply_volts=5.0, sensor_ohms=(4e3, 1e3), positions=("lower",),
        pool=Pool.plenty([1e3, 4e3]), aim="swing",
    )  # fmt: skip
    legs = search_sensor(need).legs
    assert [leg.swing for leg in legs] == pytest.approx([1.5, 1.5])
    assert [leg.ohms for leg in legs] == [4e3, 1e3]
    assert [leg.sensor_watts for leg in legs] == pytest.approx([1.5625e-3, 6.25e-3])
