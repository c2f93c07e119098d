"""Practice: questions that were put, and how they were answered."""

import sqlalchemy as sa
from alembic import op

revision = "0008"
down_revision = "0007"


def upgrade() -> None:
    op.create_table(
        "practice",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("drill", sa.Text(), nullable=False),
        sa.Column("level", sa.Integer(), nullable=False),
        sa.Column("seed", sa.Integer(), nullable=False),
        sa.Column("network", sa.Text(), nullable=True),
        sa.Column("posed", sa.Text(), nullable=False),
        sa.Column("facts", sa.JSON(), nullable=False),
        sa.Column("readings", sa.JSON(), nullable=False),
        sa.Column("answered", sa.Text(), nullable=True),
        sa.Column("given", sa.JSON(), nullable=True),
        sa.Column("right", sa.Boolean(), nullable=True),
        sa.Column("off", sa.Float(), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_practice")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_practice_answered"), "practice", ["drill", "answered"])


def downgrade() -> None:
    op.drop_table("practice")
