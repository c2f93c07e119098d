"""Designs."""

import sqlalchemy as sa
from alembic import op

revision = "0001"
down_revision = None


def upgrade() -> None:
    op.create_table(
        "design",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("brief", sa.JSON(), nullable=False),
        sa.Column("prefer", sa.Text(), nullable=False),
        sa.Column("choice", sa.Text(), nullable=True),
        sa.Column("why", sa.Text(), nullable=False),
        sa.Column("standing", sa.JSON(), nullable=True),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("created", sa.Text(), nullable=False),
        sa.Column("updated", sa.Text(), nullable=False),
        sa.CheckConstraint("revision > 0", name=op.f("ck_design_revision_positive")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_design")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_design_updated"), "design", ["updated"])


def downgrade() -> None:
    op.drop_table("design")
