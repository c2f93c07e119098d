"""Tables."""

from __future__ import annotations

from typing import Any

from sqlalchemy import JSON, CheckConstraint, MetaData, Text
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

__all__ = ["Base", "DesignRow"]


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
        {"sqlite_autoincrement": True},  # an id is never given to another design
    )

    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(Text)
    kind: Mapped[str] = mapped_column(Text)
    brief: Mapped[dict[str, Any]] = mapped_column(JSON)
    prefer: Mapped[str] = mapped_column(Text, default="nearest")
    choice: Mapped[str | None] = mapped_column(Text, default=None)
    why: Mapped[str] = mapped_column(Text, default="")
    standing: Mapped[dict[str, Any] | None] = mapped_column(JSON, default=None)
    revision: Mapped[int] = mapped_column(default=1)
    created: Mapped[str] = mapped_column(Text)  # ISO 8601, UTC
    updated: Mapped[str] = mapped_column(Text, index=True)
