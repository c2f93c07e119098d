"""The lake buoy's designs: a moored buoy with a data logger, invented for the demo."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any, Final

from sqlalchemy.orm import Session

from lowfold.api.designs import DesignFields
from lowfold.api.standings import stamp, stand
from lowfold.core.parts.stock import DrawerLine, Stock
from lowfold.core.values.preferred import series_values
from lowfold.demo.practice import practise
from lowfold.demo.record import live_in
from lowfold.store.designs import list_designs
from lowfold.store.drawer import replace_lines
from lowfold.store.handover import take_in

__all__ = ["DESIGNS", "DRAWER", "load_demo"]

#: What the buoy's workshop has left of a kit of film parts: a few of each, more of the usual ones.
DRAWER: Final = tuple(
    DrawerLine(float(ohms), 4 + (7 * place) % 13, 0.01, "1/4 W film")
    for place, ohms in enumerate(series_values(["E12"], 10.0, 1e6))
)

#: Oldest first, so that the battery sense, stored last, heads the list.
DESIGNS: Final[tuple[dict[str, Any], ...]] = (
    {
        "name": "Charger dummy load",
        "kind": "resistance",
        "brief": {
            "target_ohm": "8 Ω",
            "within": "5 %",
            "max_parts": "2",
            "use": "1.5 A",
            "load": "none",
            "values": "E12",
            "min_ohm": "1 Ω",
            "max_ohm": "1 kΩ",
            "tolerance": "1 %",
            "tcr": "100 ppm/K",
            "rating": "5 W",
            "stress": "50 %",
            "low_c": "0 °C",
            "high_c": "40 °C",
        },
        "prefer": "cool",
        "choice": "(R1=8R2 + R2=8R2 + R3=8R2) || (R4=8R2 + R5=8R2 + R6=8R2) "
        "|| (R7=8R2 + R8=8R2 + R9=8R2)",
        "why": "Bench only: takes what the solar charger gives; nine 5 W parts share 18 W evenly.",
    },
    {
        "name": "Old probe board",
        "tags": ["probe", "mended"],
        "kind": "network",
        "brief": {
            "network": "R1=4k7 + @A + (R2=15k || S1 || (R3=2k7 + @B + R4=3k9))",
            "supply_v": "12 V",
            "source_ohm": "0 Ω",
            "loads": "B 10 MΩ",
            "closed": "none",
        },
        "why": "The temperature probe's network, off the last buoy's board; S1 is its test link.",
    },
    {
        "name": "Radio supply feedback",
        "kind": "feedback",
        "brief": {
            "target_v": "3.6 V",
            "within": "3 %",
            "reference_v": "0.8 V",
            "reference_tolerance": "1 %",
            "pin_a": "50 nA",
            "max_current_a": "50 µA",
            "min_current_a": "5 µA",
            "values": "E96",
            "tolerance": "1 %",
            "tcr": "50 ppm/K",
            "rating": "0402",
            "low_c": "-20 °C",
            "high_c": "60 °C",
        },
        "prefer": "worst_case",
    },
    {
        "name": "Level switch thresholds",
        "kind": "ladder",
        "brief": {
            "supply_v": "5 V",
            "supply_tolerance": "1 %",
            "tap1_v": "3.2 V",
            "tap1_load": "10 MΩ",
            "tap2_v": "1.4 V",
            "tap2_load": "10 MΩ",
            "within": "4 %",
            "max_current_a": "100 µA",
            "values": "E24",
            "tolerance": "1 %",
            "tcr": "100 ppm/K",
            "rating": "0603",
            "low_c": "-20 °C",
            "high_c": "60 °C",
        },
    },
    {
        "name": "Wake-line pull-down",
        "kind": "resistance",
        "brief": {
            "target_ohm": "470 Ω",
            "within": "5 %",
            "max_parts": "1",
            "use": "12 V",
            "load": "none",
            "values": "E24",
            "tolerance": "1 %",
            "tcr": "100 ppm/K",
            "rating": "0603",
            "stress": "50 %",
            "low_c": "-20 °C",
            "high_c": "60 °C",
        },
        "choice": "R1=470",
        "why": "Chosen by somebody else, from the last buoy. Twelve volts sit on it all winter.",
    },
    {
        "name": "Solar sense",
        "tags": ["logger"],
        "kind": "divider",
        "brief": {
            "supply_v": "21.6 V",
            "supply_tolerance": "2 %",
            "target_v": "2.5 V",
            "within": "4 %",
            "load": "none",
            "max_current_a": "250 µA",
            "values": "E96",
            "tolerance": "0.5 %",
            "tcr": "50 ppm/K",
            "rating": "0603",
            "low_c": "-20 °C",
            "high_c": "70 °C",
        },
    },
    {
        "name": "Loop receiver",
        "tags": ["logger", "built"],
        "kind": "resistance",
        "brief": {
            "target_ohm": "250 Ω",
            "within": "1.5 %",
            "max_parts": "2",
            "use": "20 mA",
            "load": "1 MΩ",
            "values": "drawer",
            "tolerance": "1 %",
            "tcr": "50 ppm/K",
            "rating": "1/4 W",
            "stress": "50 %",
            "low_c": "-10 °C",
            "high_c": "45 °C",
        },
        "choice": "R1=150 + R2=100",
        "why": "From the drawer of E12 film parts; the level gauge's loop must read to 1.5 %.",
    },
    {
        "name": "Battery sense",
        "tags": ["logger"],
        "kind": "divider",
        "brief": {
            "supply_v": "14.4 V",
            "supply_tolerance": "0 %",
            "source_ohm": "0 Ω",
            "target_v": "3.00 V",
            "within": "4 %",
            "load": "1 MΩ",
            "feeds_v": "3.3 V",
            "max_current_a": "80 µA",
            "values": "E24",
            "min_ohm": "1 kΩ",
            "max_ohm": "1 MΩ",
            "tolerance": "1 %",
            "tcr": "100 ppm/K",
            "rating": "0603",
            "stress": "50 %",
            "low_c": "-20 °C",
            "high_c": "60 °C",
        },
        "choice": "R1=200k + @OUT + R2=56k",
        "why": "14.4 V is a full battery; the logger's input stands 3.3 V and leaks under 3 µA.",
    },
)


#: How some of them came to be what they are: each state by what differs from the last one.
HISTORY: Final[dict[str, tuple[dict[str, Any], ...]]] = {
    "Battery sense": (
        {"brief": {"within": "5 %"}, "choice": None, "why": ""},
        {"choice": "R1=430k + @OUT + R2=120k", "why": "A first try."},
    ),
    "Loop receiver": ({"brief": {"within": "5 %"}, "choice": None, "why": ""},),
}
BEGUN_DAYS: Final = 15  #: ago; a day passes from state to state


def _states(columns: dict[str, Any]) -> list[tuple[int, str, dict[str, Any]]]:
    """Return what a design has been, the last being what it is."""
    found = []
    for k, other in enumerate((*HISTORY.get(columns["name"], ()), {})):
        fields = {**columns, **other, "brief": {**columns["brief"], **other.get("brief", {})}}
        day = datetime.now(UTC) - timedelta(days=BEGUN_DAYS - k)
        found.append((k + 1, f"{day:%Y-%m-%d}T09:{10 + k}:00.000+00:00", fields))
    return found


def load_demo(session: Session) -> None:
    """Keep the demo designs, drawer and practice where there is no design yet."""
    if list_designs(session):
        return
    replace_lines(session, DRAWER)
    stock = Stock(DRAWER)
    for fields in DESIGNS:
        columns = {"tags": [], **DesignFields(**fields).columns()}
        kind, brief, prefer, choice = (columns[n] for n in ("kind", "brief", "prefer", "choice"))
        found = stand(kind, brief, prefer, choice, stock)
        standing = {
            "standing": found,
            "standing_of": stamp(kind, brief, prefer, choice, stock),
            "verdict": found["verdict"],
        }
        states = _states(columns)
        row = take_in(session, {**columns, **standing}, len(states), states, [], [])
        live_in(session, row)
    practise(session)
    session.commit()
