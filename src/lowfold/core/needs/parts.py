"""The parts a need is met from: their values, what they are sold under, and what surrounds them."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache
from typing import Any, Final

from lowfold.core.box import half_width
from lowfold.core.check import Environment, PartLimits
from lowfold.core.combine import PLENTY, Pool
from lowfold.core.errors import DomainError
from lowfold.core.needs.tokens import Token, quantity
from lowfold.core.preferred import DEFAULT_RANGE, WIDEST_RANGE, read_series, series_values
from lowfold.core.quantities import CELSIUS, FRACTION, OHM, PPM_PER_KELVIN, write
from lowfold.core.ratings import Rating, read_rating

__all__ = ["DRAWER", "PARTS", "DrawerLine", "Parts", "both", "part_misfits", "parts_of_values"]

#: What the token for values says where the user's own stock is meant.
DRAWER: Final = "drawer"


@dataclass(frozen=True, slots=True)
class DrawerLine:
    """So many parts of one value in the user's own drawer."""

    ohms: float
    count: int | None  #: None is plenty
    tolerance: float  #: fraction
    family: str


@dataclass(frozen=True, slots=True, kw_only=True)
class Parts:
    """The parts a need chooses from and what surrounds them."""

    series: tuple[str, ...]  #: empty where the drawer is meant
    min_ohms: float
    max_ohms: float
    tolerance: float
    tcr_ppm: float
    rating: Rating
    stress: float
    environment: Environment

    @property
    def half_width(self) -> float:
        """Return each part's extreme-value half-width over the ambient range, a fraction."""
        return half_width(self.tolerance, self.tcr_ppm, self.environment.largest_dt, 0.0)

    @property
    def limits(self) -> PartLimits:
        """Return what each part is sold under."""
        return PartLimits(
            tolerance=self.tolerance,
            tcr_ppm=self.tcr_ppm,
            rated_watts=self.rating.watts,
            limiting_volts=self.rating.limiting_volts,
        )

    def pool(self, drawer: tuple[DrawerLine, ...]) -> Pool:
        """Return the values to choose from: the series, or what the drawer has.

        From the drawer only parts at least as tight as the stated tolerance count, so that what
        is said of the worst corner holds.
        """
        if self.series:
            return _series_pool(self.series, self.min_ohms, self.max_ohms)
        counts: dict[float, int] = {}
        for line in drawer:
            tight = line.tolerance <= self.tolerance * (1 + 1e-12)
            if tight and self.min_ohms <= line.ohms <= self.max_ohms:
                more = PLENTY if line.count is None else line.count
                counts[line.ohms] = min(counts.get(line.ohms, 0) + more, PLENTY)
        return Pool.stock(counts)


@lru_cache(maxsize=32)
def _series_pool(series: tuple[str, ...], low: float, high: float) -> Pool:
    return Pool.plenty(series_values(series, low, high))


def _values(text: str) -> tuple[Any, str]:
    if text.strip().lower().removeprefix("the ").removeprefix("my ") == DRAWER:
        return (), "the drawer"
    try:
        names = read_series(text)
    except DomainError as error:
        msg = f"{error.message}; or write drawer for your own stock"
        raise DomainError(msg) from error
    return names, " + ".join(names)


def _rating(text: str) -> tuple[Any, str]:
    rating = read_rating(text)
    return rating, rating.name


_LEAST, _MOST = (write(end, OHM, 2, trim=True) for end in DEFAULT_RANGE)
PARTS: Final[dict[str, Token]] = {
    "values": Token(_values, "E24", "series of values, or drawer"),
    "min_ohm": Token(quantity(OHM, *WIDEST_RANGE), _LEAST, "smallest part", _LEAST),
    "max_ohm": Token(quantity(OHM, *WIDEST_RANGE), _MOST, "largest part", _MOST),
    "tolerance": Token(quantity(FRACTION, 0.0, 0.5), "1 %", "tolerance of a part"),
    "tcr": Token(quantity(PPM_PER_KELVIN, 0.0, 1e4), "100 ppm/K", "temperature coefficient"),
    "rating": Token(_rating, "0603", "size or power rating"),
    "stress": Token(
        quantity(FRACTION, 0.0, 1.0, open_low=True), "50 %", "share of the rating that may be used"
    ),
    "low_c": Token(quantity(CELSIUS, -273.0, 400.0), "-20 °C", "coldest ambient"),
    "high_c": Token(quantity(CELSIUS, -273.0, 400.0), "60 °C", "hottest ambient"),
}


def both(values: Mapping[str, Any], low: str, high: str) -> tuple[float, float] | None:
    """Return two figures where both were understood."""
    a, b = values.get(low), values.get(high)
    return (a, b) if isinstance(a, float) and isinstance(b, float) else None


def part_misfits(values: Mapping[str, Any]) -> list[tuple[str, str]]:
    """Return tokens about parts that are fine alone but not together, with what would be right."""
    found = []
    if (pair := both(values, "min_ohm", "max_ohm")) and pair[0] > pair[1]:
        least = write(pair[0], OHM, 4, trim=True)
        found.append(("max_ohm", f"the largest part is below the smallest: write {least} or more"))
    temperatures = both(values, "low_c", "high_c")
    if temperatures and temperatures[0] > temperatures[1]:
        found.append(
            ("high_c", f"the hottest is below the coldest: write {temperatures[0]:g} °C or more")
        )
    tolerance, tcr = values.get("tolerance"), values.get("tcr")
    if temperatures and isinstance(tolerance, float) and isinstance(tcr, float):
        place = Environment(low_c=min(temperatures), high_c=max(temperatures))
        if half_width(tolerance, tcr, place.largest_dt, 0.0) >= 1:
            found.append(("tcr", "tolerance and temperature together exceed 100 % of the value"))
    return found


def parts_of_values(v: Mapping[str, Any]) -> Parts:
    """Return the parts that understood tokens state."""
    return Parts(
        series=v["values"],
        min_ohms=v["min_ohm"],
        max_ohms=v["max_ohm"],
        tolerance=v["tolerance"],
        tcr_ppm=v["tcr"],
        rating=v["rating"],
        stress=v["stress"],
        environment=Environment(low_c=v["low_c"], high_c=v["high_c"]),
    )
