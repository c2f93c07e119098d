"""The drawer."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"


def upgrade() -> None:
    op.create_table(
        "drawer",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("ohms", sa.Float(), nullable=False),
        sa.Column("count", sa.Integer(), nullable=True),
        sa.Column("tolerance_ppm", sa.Integer(), nullable=False),
        sa.Column("family", sa.Text(), nullable=False),
        sa.CheckConstraint("ohms > 0", name=op.f("ck_drawer_ohms_positive")),
        sa.CheckConstraint(
            "count IS NULL OR count >= 0", name=op.f("ck_drawer_count_not_negative")
        ),
        sa.CheckConstraint("tolerance_ppm >= 0", name=op.f("ck_drawer_tolerance_not_negative")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_drawer")),
        sa.UniqueConstraint("ohms", "tolerance_ppm", "family", name=op.f("uq_drawer_ohms")),
        sqlite_autoincrement=True,
    )


def downgrade() -> None:
    op.drop_table("drawer")
