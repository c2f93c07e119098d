"""The values a search may choose from: series and range, or a stock."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from lowfold.api.fields import Ask, Ohms
from lowfold.core.parts.pool import PLENTY, Pool
from lowfold.core.parts.stock import DrawerLine
from lowfold.core.values.preferred import series_values
from lowfold.core.values.ranges import DEFAULT_RANGE

__all__ = ["StockLine", "Values", "shared_pool"]


class StockLine(Ask):
    """One value in the drawer."""

    ohm: Ohms
    count: Annotated[int, Field(ge=0, le=1_000_000, strict=True)] | None = Field(
        None, description="How many there are; not given means plenty"
    )


class Values(Ask):
    """Series with a range, or a stock; series given together are united."""

    series: list[str] | None = Field(
        None,
        min_length=1,
        max_length=7,
        examples=[["E24"]],
        description="E3, E6 … E192 (IEC 60063)",
    )
    min_ohm: Ohms = Field(DEFAULT_RANGE[0], description="Smallest part, itself included")
    max_ohm: Ohms = Field(DEFAULT_RANGE[1], description="Largest part, itself included")
    stock: list[StockLine] | None = Field(None, max_length=5000)

    drawer: Literal[True] | None = Field(
        None, description="The user's own drawer, what lies in the range"
    )

    @model_validator(mode="after")
    def _one_source(self) -> Self:
        if [self.series, self.stock, self.drawer].count(None) != 2:
            msg = (
                "give either series (for instance [“E24”]), or stock (a list of {ohm, count}), "
                "or drawer: true"
            )
            raise ValueError(msg)
        return self

    def to_core(self, drawer: Iterable[DrawerLine] = ()) -> Pool:
        if self.drawer:
            lines = [
                StockLine(ohm=line.ohms, count=line.count)
                for line in drawer
                if self.min_ohm <= line.ohms <= self.max_ohm
            ]
            return Values(stock=lines).to_core()
        if self.stock is None:
            return shared_pool(tuple(self.series or ()), self.min_ohm, self.max_ohm)
        counts: dict[float, int] = {}
        for line in self.stock:
            more = PLENTY if line.count is None else line.count
            counts[line.ohm] = min(counts.get(line.ohm, 0) + more, PLENTY)
        return Pool.stock(counts)


def shared_pool(series: tuple[str, ...], low: float, high: float) -> Pool:
    """Return the pool of a union of series, from `low` to `high` Ω."""
    return Pool.plenty(series_values([name.strip().upper() for name in series], low, high))
