"""A sensor's brief read, and how resistors beside it stand, against figures worked by hand."""

import itertools

import pytest

from lowfold.core.checking.verdict import Verdict
from lowfold.core.errors import LowfoldError
from lowfold.core.needs.sensor import (
    SENSOR_TOKENS,
    SensorBrief,
    SensorGate,
    as_network,
    gates_of_leg,
    leg_chosen,
    read_sensor,
    verdict_of,
)
from lowfold.core.network.tree import write_network
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.search.sensor import SensorLeg, search_sensor


def brief_of(**texts: str) -> SensorBrief:
    readings, brief = read_sensor(texts)
    assert brief is not None, [r.message for r in readings.values() if not r.ok]
    return brief


def best(brief: SensorBrief) -> tuple[SensorLeg, dict[str, SensorGate]]:
    leg = search_sensor(brief.need(1)).legs[0]
    return leg, {g.name: g for g in gates_of_leg(brief, leg)}


POINTS = [
    ("0 °C 27k, 20 °C 11k2, 40 °C 5k1", [(27e3, "0 °C"), (11.2e3, "20 °C"), (5.1e3, "40 °C")]),
    ("dark 1M; bright 2k2", [(1e6, "dark"), (2.2e3, "bright")]),
    ("27k, 11k2", [(27e3, ""), (11.2e3, "")]),
    ("27k,11k2,5k1", [(27e3, ""), (11.2e3, ""), (5.1e3, "")]),
    ("100,200,300", [(100.0, ""), (200.0, ""), (300.0, "")]),
    ("11,2k,5,1k", [(11.2e3, ""), (5.1e3, "")]),
    ("0 °C 27k, 20 °C 11,2k, 40 °C 5,1 kΩ", [(27e3, "0 °C"), (11.2e3, "20 °C"), (5.1e3, "40 °C")]),
    ("0 °C 27,0 kΩ; 40 °C 5,1 kΩ", [(27e3, "0 °C"), (5.1e3, "40 °C")]),
    ("0 °C: 27 kΩ, 40 °C: 5.1 kΩ", [(27e3, "0 °C"), (5.1e3, "40 °C")]),
    ("−10 °C = 350, 10 °C = 352", [(350.0, "−10 °C"), (352.0, "10 °C")]),
]


@pytest.mark.parametrize(("text", "expected"), POINTS)
def test_points_are_what_they_stand_for_and_a_resistance(
    text: str, expected: list[tuple[float, str]]
) -> None:
    assert [(p.ohms, p.label) for p in brief_of(sensor=text).points] == expected


REFUSED = [
    ("sensor", "27k", "1 point: a sensor has 2 to 9, like 0 °C 27k, 40 °C 5k1"),
    ("sensor", "0 °C warm, 40 °C 5k1",
     "“0 °C warm” is no point: write what it stands for and its resistance, like 20 °C 11k2"),
    ("position", "middle", "“middle” is no leg: write either leg or lower leg or upper leg"),
    ("aim", "most", "“most” is no aim: write widest swing or straight line or window"),
    ("window", "0.3 V", "“0.3 V” is no window: write its ends, like 0.3 V to 2.9 V"),
    ("window", "3 V to 1 V", "a window goes up: 3 V is not below 1 V"),
]  # fmt: skip


@pytest.mark.parametrize(("token", "text", "message"), REFUSED)
def test_what_is_no_brief_is_told_in_words(token: str, text: str, message: str) -> None:
    readings, brief = read_sensor({token: text})
    assert brief is None
    assert readings[token].message == message


def test_a_window_that_is_aimed_at_has_to_be_stated() -> None:
    readings, brief = read_sensor({"aim": "window"})
    assert brief is None
    assert readings["window"].message == (
        "the aim is a window: write its ends, like 0.3 V to 2.9 V"
    )


def test_every_default_is_understood_and_its_best_is_near_the_geometric_mean() -> None:
    brief = brief_of()
    assert set(SENSOR_TOKENS) >= {"supply_v", "sensor", "aim", "window"}
    leg, gates = best(brief)
    # Common practice: √(27 kΩ · 5.1 kΩ) = 11.73 kΩ; of E24 the nearest is 12 kΩ
    assert leg.ohms == 12e3
    # By hand: 3.3 V · 27/39 − 3.3 V · 5.1/17.1
    assert gates["window"].figure == pytest.approx(3.3 * (27 / 39 - 5.1 / 17.1))
    assert gates["window"].verdict is None
    # The sensor takes most where it equals the resistor: at 11.2 kΩ of the three points
    assert gates["sensor"].figure == pytest.approx((3.3 / 23.2e3) ** 2 * 11.2e3)
    # By hand: most at 40 °C, where the resistor, larger than the sensor, takes most at its low end
    low = 12e3 * 0.99
    assert gates["power"].figure == pytest.approx((3.3 / (low + 5.1e3)) ** 2 * low, rel=1e-9)
    assert gates["power"].verdict is Verdict.PASS
    assert verdict_of(tuple(gates.values())) is Verdict.PASS


def test_a_window_is_judged_at_the_resistors_worst() -> None:
    leg, gates = best(brief_of(window="0.9 V to 2.4 V", values="E24", tolerance="5 %"))
    low = 3.3 * 5.1 / (5.1 + 12 * 1.05)
    high = 3.3 * 27 / (27 + 12 * 0.95)
    assert min(leg.lowest) == pytest.approx(low)
    assert max(leg.highest) == pytest.approx(high)
    used = max(abs(low - 1.65), abs(high - 1.65)) / 0.75
    assert gates["window"].used == pytest.approx(used)
    assert gates["window"].verdict is Verdict.MARGINAL
    assert "furthest out at 40 °C" in gates["window"].note
    tight = best(brief_of(window="1.2 V to 2.2 V"))[1]
    assert tight["window"].verdict is Verdict.FAIL


def test_straightness_load_and_heating_are_judged_where_they_are_stated() -> None:
    leg, gates = best(brief_of(aim="straight line", bend="0.4 %", load="100k", sensor_w="200 µW"))
    assert gates["bend"].used == pytest.approx(leg.nonlinearity / 0.004)
    assert leg.sensor_watts <= 200e-6  # only such are searched
    assert gates["sensor"].verdict in {Verdict.PASS, Verdict.MARGINAL}
    # By hand at the first point: the tap sees R1 ∥ 27 kΩ, and 100 kΩ beside it
    at_first = leg.ohms * 27e3 / (leg.ohms + 27e3)
    assert gates["load"].figure == pytest.approx(at_first / (at_first + 100e3))


@pytest.mark.parametrize("position", ["lower leg", "upper leg"])
@pytest.mark.parametrize("load", ["none", "4k7"])
def test_the_resistors_worst_power_is_that_of_a_dense_row_of_values(
    position: str, load: str
) -> None:
    brief = brief_of(position=position, load=load, tolerance="20 %", aim="straight line")
    leg, gates = best(brief)
    met = 0.0
    for point in brief.points:
        # A load of which no tolerance is stated is taken as ± 10 %
        for k, share in itertools.product(range(201), (0.9, 1.0, 1.1)):
            r = leg.ohms * (0.8 + 0.002 * k)
            siemens = 1 / (4.7e3 * share) if load != "none" else 0.0
            if position == "lower leg":
                below = 1 / (1 / point.ohms + siemens)
                watts = (3.3 / (r + below)) ** 2 * r
            else:
                below = 1 / (1 / r + siemens)
                watts = (3.3 * below / (point.ohms + below)) ** 2 / r
            met = max(met, watts)
    assert met == pytest.approx(gates["power"].figure, rel=1e-4)
    assert met <= gates["power"].figure * (1 + 1e-12)


def test_the_drawer_gives_what_is_tight_enough() -> None:
    drawer = (DrawerLine(10e3, 4, 0.01, "film"), DrawerLine(12e3, None, 0.05, "film"))
    _, brief = read_sensor({"values": "drawer"}, drawer)
    assert brief is not None
    assert brief.pool.ohms == (10e3,)


@pytest.mark.parametrize(
    ("text", "at"),
    [
        ("0 °C 27k, 10 °C 18k, 40 °C 5k1", (0.0, 10.0, 40.0)),
        ("−5,5 °C 30k; 20 °C 11k2; 40 °C 5k1", (-5.5, 20.0, 40.0)),
        ("100 lx 1k, 10 lx 5k, 1 lx 20k", (100.0, 10.0, 1.0)),
        ("0 °C 27k, 40 °C 5k1, 20 °C 11k2", None),  # not one way
        ("dark 1M; bright 2k2", None),
        ("0 °C 27k, 10 K 18k, 40 °C 5k1", None),
        ("27k, 11k2, 5k1", None),
    ],
)
def test_points_lie_where_their_figures_say(text: str, at: tuple[float, ...] | None) -> None:
    assert brief_of(sensor=text).at == at


def test_a_choice_is_the_leg_it_writes_and_the_network_of_it() -> None:
    brief = brief_of(load="100k")
    for leg in search_sensor(brief.need(6)).legs:
        written = write_network(leg.network)
        assert leg_chosen(brief, written) == leg
        assert as_network(brief, leg)["network"] == written
        assert as_network(brief, leg)["loads"].startswith("OUT 100 kΩ")
    for wrong in ("R1=1k || RS1=2k", "R1=1k + R2=2k", "RS1=2k", "R1=1k + @OUT + (RS1=2k || R2=3k)"):
        with pytest.raises(LowfoldError):
            leg_chosen(brief, wrong)
