"""The bench: own meters, instruments to be read, and the record of each design."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"


def upgrade() -> None:
    op.create_table(
        "meter",
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("sheet", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("key", name=op.f("pk_meter")),
    )
    op.create_table(
        "instrument",
        sa.Column("resource", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("meter", sa.Text(), nullable=False),
        sa.PrimaryKeyConstraint("resource", name=op.f("pk_instrument")),
    )
    op.create_table(
        "record",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("design_id", sa.Integer(), nullable=False),
        sa.Column("at", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("text", sa.Text(), nullable=False),
        sa.Column("facts", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_record")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_record_design_id"), "record", ["design_id"])


def downgrade() -> None:
    op.drop_table("record")
    op.drop_table("instrument")
    op.drop_table("meter")
