"""A point wherever a request holds one: where and what is measured."""

from __future__ import annotations

from typing import Annotated, Literal, Self, cast

from pydantic import Field, model_validator

from lowfold.api.fields import Ask
from lowfold.views.point import Named

__all__ = ["PointAsk"]

Name = Annotated[str, Field(min_length=1, max_length=80)]


class PointAsk(Ask):
    """Where and what is measured."""

    kind: Literal["voltage", "current", "resistance"]
    at: Name | None = Field(None, description="A junction")
    against: Name | None = Field(None, description="The other lead's; 0 unless said")
    across: Name | None = Field(None, description="A part's own two ends, the first one positive")
    through: Name | None = Field(None, description="A part, or `supply`")
    part: Name | None = Field(None, description="Lifted out")
    range_full: Annotated[float, Field(gt=0, le=1e12)] | None = Field(
        None, description="The range to be read on; not given, the smallest that holds it"
    )

    @model_validator(mode="after")
    def _of_its_kind(self) -> Self:
        wanted = {
            "voltage": [{"at"}, {"at", "against"}, {"across"}],
            "current": [{"through"}],
            "resistance": [{"part"}, {"at"}, {"at", "against"}],
        }[self.kind]
        names = ("at", "against", "across", "through", "part")
        given = {name for name in names if getattr(self, name) is not None}
        if given not in wanted:
            ways = " or ".join(" and ".join(sorted(way, reverse=True)) for way in wanted)
            msg = f"a {self.kind} is told by {ways}; given: {', '.join(sorted(given)) or 'none'}"
            raise ValueError(msg)
        return self

    @property
    def named(self) -> Named:
        """Return the point by its names alone."""
        given = self.model_dump(include=set(Named.__annotations__), exclude_none=True)
        return cast("Named", given)
