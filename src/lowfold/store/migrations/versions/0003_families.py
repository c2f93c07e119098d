"""Part families of the user's own."""

import sqlalchemy as sa
from alembic import op

revision = "0003"
down_revision = "0002"


def upgrade() -> None:
    op.create_table(
        "family",
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("tolerance", sa.Float(), nullable=False),
        sa.Column("tcr_ppm", sa.Float(), nullable=False),
        sa.Column("drift", sa.Float(), nullable=False),
        sa.Column("rated_watts", sa.Float(), nullable=False),
        sa.Column("limiting_volts", sa.Float(), nullable=True),
        sa.Column("full_power_c", sa.Float(), nullable=False),
        sa.Column("zero_power_c", sa.Float(), nullable=False),
        sa.CheckConstraint("rated_watts > 0", name=op.f("ck_family_rated_watts_positive")),
        sa.CheckConstraint("full_power_c < zero_power_c", name=op.f("ck_family_corners_rise")),
        sa.PrimaryKeyConstraint("key", name=op.f("pk_family")),
    )


def downgrade() -> None:
    op.drop_table("family")
