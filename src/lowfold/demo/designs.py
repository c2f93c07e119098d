"""The lake buoy's designs: a moored buoy with a data logger, invented for the demo."""

from __future__ import annotations

from typing import Any, Final

from sqlalchemy.orm import Session

from lowfold.api.designs import DesignFields
from lowfold.store.designs import add_design, list_designs

__all__ = ["DESIGNS", "load_demo"]

#: Oldest first, so that the battery sense, stored last, heads the list.
DESIGNS: Final[tuple[dict[str, Any], ...]] = (
    {
        "name": "Charger dummy load",
        "kind": "resistance",
        "brief": {
            "target_ohm": "8 Ω",
            "within": "5 %",
            "max_parts": "2",
            "use": "0.9 A",
            "load": "none",
            "values": "E12",
            "min_ohm": "1 Ω",
            "max_ohm": "1 kΩ",
            "tolerance": "1 %",
            "tcr": "100 ppm/K",
            "rating": "5 W",
            "stress": "100 %",
            "low_c": "0 °C",
            "high_c": "40 °C",
        },
        "choice": "R1=3R9 + R2=3R9",
        "why": "Bench only: takes the solar charger's current; two 5 W parts share it evenly.",
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
        "kind": "resistance",
        "brief": {
            "target_ohm": "250 Ω",
            "within": "1.5 %",
            "max_parts": "2",
            "use": "20 mA",
            "load": "1 MΩ",
            "values": "E12",
            "min_ohm": "1 Ω",
            "max_ohm": "10 MΩ",
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
        "kind": "divider",
        "brief": {
            "supply_v": "14.4 V",
            "supply_tolerance": "0 %",
            "source_ohm": "0 Ω",
            "target_v": "3.00 V",
            "within": "3 %",
            "load": "1 MΩ",
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


def load_demo(session: Session) -> None:
    """Keep the demo designs where there is no design yet."""
    if list_designs(session):
        return
    for fields in DESIGNS:
        add_design(session, DesignFields(**fields).columns())
