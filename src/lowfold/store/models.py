"""Tables."""

from __future__ import annotations

from typing import Any

from sqlalchemy import JSON, CheckConstraint, Index, LargeBinary, MetaData, Text, UniqueConstraint
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

from lowfold.core.bench.data_sheet import read_meter
from lowfold.core.bench.models import MeterModel
from lowfold.core.parts.families import Family

__all__ = [
    "Base",
    "DesignRow",
    "DrawerRow",
    "EvidenceRow",
    "FamilyRow",
    "InstrumentRow",
    "MeterRow",
    "PracticeRow",
    "PriorRow",
    "RecordRow",
    "RevisionRow",
]


class Base(DeclarativeBase):
    metadata = MetaData(
        naming_convention={
            "ix": "ix_%(column_0_label)s",
            "uq": "uq_%(table_name)s_%(column_0_name)s",
            "ck": "ck_%(table_name)s_%(constraint_name)s",
            "fk": "fk_%(table_name)s_%(column_0_name)s_%(referred_table_name)s",
            "pk": "pk_%(table_name)s",
        }
    )


class DesignRow(Base):
    """One sheet: a need as typed, the choice made for it and why."""

    __tablename__ = "design"
    __table_args__ = (
        CheckConstraint("revision > 0", name="revision_positive"),
        # The list in its orders, without those put aside
        Index("ix_design_changed", "deleted", "updated", "id"),
        Index("ix_design_begun", "deleted", "created", "id"),
        {"sqlite_autoincrement": True},  # an id is never given to another design
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    kind: Mapped[str] = mapped_column(Text)
    brief: Mapped[dict[str, Any]] = mapped_column(JSON)
    prefer: Mapped[str] = mapped_column(Text, default="nearest")
    choice: Mapped[str | None] = mapped_column(Text, default=None)
    why: Mapped[str] = mapped_column(Text, default="")
    tags: Mapped[list[str]] = mapped_column(JSON, default=list, server_default="[]")
    standing: Mapped[dict[str, Any] | None] = mapped_column(JSON, default=None)
    standing_of: Mapped[str | None] = mapped_column(Text, default=None)  # see api/standings.py
    verdict: Mapped[str | None] = mapped_column(Text, default=None)  # the standing's, to be asked
    revision: Mapped[int] = mapped_column(default=1)
    created: Mapped[str] = mapped_column(Text)  # ISO 8601, UTC
    updated: Mapped[str] = mapped_column(Text, index=True)
    deleted: Mapped[str | None] = mapped_column(Text, default=None)  # when


class DrawerRow(Base):
    """So many parts of one value, tolerance and family in the user's drawer."""

    __tablename__ = "drawer"
    __table_args__ = (
        CheckConstraint("ohms > 0", name="ohms_positive"),
        CheckConstraint("count IS NULL OR count >= 0", name="count_not_negative"),
        CheckConstraint("tolerance_ppm >= 0", name="tolerance_not_negative"),
        UniqueConstraint("ohms", "tolerance_ppm", "family"),
        {"sqlite_autoincrement": True},
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    ohms: Mapped[float]  # the float nearest to the decimal written, so equality is exact
    count: Mapped[int | None]  # NULL is plenty
    tolerance_ppm: Mapped[int]
    family: Mapped[str] = mapped_column(Text)


class FamilyRow(Base):
    """A part family of the user's own, in place of the typical one of its name or beside them."""

    __tablename__ = "family"
    __table_args__ = (
        CheckConstraint("rated_watts > 0", name="rated_watts_positive"),
        CheckConstraint("full_power_c < zero_power_c", name="corners_rise"),
    )

    key: Mapped[str] = mapped_column(Text, primary_key=True)  # the name in lower case
    name: Mapped[str] = mapped_column(Text)
    tolerance: Mapped[float]
    tcr_ppm: Mapped[float]
    drift: Mapped[float]
    rated_watts: Mapped[float]
    limiting_volts: Mapped[float | None]  # NULL where only √(P·R) limits
    full_power_c: Mapped[float]
    zero_power_c: Mapped[float]

    def to_core(self) -> Family:
        return Family(
            name=self.name,
            tolerance=self.tolerance,
            tcr_ppm=self.tcr_ppm,
            drift=self.drift,
            rated_watts=self.rated_watts,
            limiting_volts=self.limiting_volts,
            full_power_c=self.full_power_c,
            zero_power_c=self.zero_power_c,
        )


class MeterRow(Base):
    """A meter of the user's own, as its data sheet describes it."""

    __tablename__ = "meter"

    key: Mapped[str] = mapped_column(Text, primary_key=True)  # the name in lower case
    name: Mapped[str] = mapped_column(Text)
    sheet: Mapped[dict[str, Any]] = mapped_column(JSON)  # in the words of a data sheet

    def to_core(self) -> MeterModel:
        words = {k: v for k, v in self.sheet.items() if k != "of_full"}
        return read_meter(self.name, words, of_full=self.sheet["of_full"])


class InstrumentRow(Base):
    """A meter that is read over a wire: where it is, and which meter it is."""

    __tablename__ = "instrument"

    resource: Mapped[str] = mapped_column(Text, primary_key=True)  # VISA resource name
    name: Mapped[str] = mapped_column(Text)
    meter: Mapped[str] = mapped_column(Text)


class PriorRow(Base):
    """How often a kind of fault is met, where the user says otherwise than the start values."""

    __tablename__ = "prior"

    kind: Mapped[str] = mapped_column(Text, primary_key=True)
    weight: Mapped[float]


class RecordRow(Base):
    """One entry of a design's record; none is ever changed or removed.

    It has no foreign key: what was recorded outlives the design's row.
    """

    __tablename__ = "record"
    __table_args__ = ({"sqlite_autoincrement": True},)

    id: Mapped[int] = mapped_column(primary_key=True)
    design_id: Mapped[int] = mapped_column(index=True)
    at: Mapped[str] = mapped_column(Text)  # ISO 8601, UTC
    kind: Mapped[str] = mapped_column(Text)
    text: Mapped[str] = mapped_column(Text)
    facts: Mapped[dict[str, Any]] = mapped_column(
        JSON
    )  # point, value, unit, meter, what it corrects


class RevisionRow(Base):
    """A design as it stood; folded where the next one only went on typing the same."""

    __tablename__ = "revision"

    design_id: Mapped[int] = mapped_column(primary_key=True)
    revision: Mapped[int] = mapped_column(primary_key=True)
    at: Mapped[str] = mapped_column(Text)  # ISO 8601, UTC
    folded: Mapped[bool]
    fields: Mapped[dict[str, Any]] = mapped_column(JSON)  # as the design's columns


class EvidenceRow(Base):
    """A photograph, encoded anew by us; none is ever changed."""

    __tablename__ = "evidence"
    __table_args__ = ({"sqlite_autoincrement": True},)

    id: Mapped[int] = mapped_column(primary_key=True)
    design_id: Mapped[int] = mapped_column(index=True)
    at: Mapped[str] = mapped_column(Text)  # ISO 8601, UTC
    sha256: Mapped[str] = mapped_column(Text)  # of `image`
    media: Mapped[str] = mapped_column(Text)
    width: Mapped[int]
    height: Mapped[int]
    size: Mapped[int]  # of `image`, bytes
    image: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    thumbnail: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)


class PracticeRow(Base):
    """A question that was put, what was measured of it, and how it was answered."""

    __tablename__ = "practice"
    __table_args__ = (
        Index("ix_practice_answered", "drill", "answered"),
        {"sqlite_autoincrement": True},
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    drill: Mapped[str] = mapped_column(Text)
    level: Mapped[int]
    seed: Mapped[int]
    network: Mapped[str | None] = mapped_column(Text)  # one's own
    posed: Mapped[str] = mapped_column(Text)  # ISO 8601, UTC
    facts: Mapped[dict[str, Any]] = mapped_column(JSON)  # of the question, the hidden ones too
    readings: Mapped[list[dict[str, Any]]] = mapped_column(JSON, default=list)
    answered: Mapped[str | None] = mapped_column(Text)  # ISO 8601, UTC
    given: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    right: Mapped[bool | None]
    off: Mapped[float | None]


class OnceRow(Base):
    """A write that carried its client's key, and what was answered; kept for a day."""

    __tablename__ = "once"

    key: Mapped[str] = mapped_column(Text, primary_key=True)
    asked: Mapped[str] = mapped_column(Text)  # method and address
    at: Mapped[str] = mapped_column(Text, index=True)  # ISO 8601, UTC
    status: Mapped[int | None]  # none: it was kept, and the server ended before it answered
    headers: Mapped[dict[str, str] | None] = mapped_column(JSON)
    body: Mapped[bytes | None] = mapped_column(LargeBinary)


class IdentityRow(Base):
    """The one row that tells this database from every other."""

    __tablename__ = "identity"

    id: Mapped[str] = mapped_column(Text, primary_key=True)
