"""What a design's standing was worked out from."""

import sqlalchemy as sa
from alembic import op

revision = "0004"
down_revision = "0003"


def upgrade() -> None:
    op.add_column("design", sa.Column("standing_of", sa.Text(), nullable=True))


def downgrade() -> None:
    op.drop_column("design", "standing_of")
