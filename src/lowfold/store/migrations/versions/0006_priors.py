"""How often the user meets each kind of fault."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"


def upgrade() -> None:
    op.create_table(
        "prior",
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("weight", sa.Float(), nullable=False),
        sa.PrimaryKeyConstraint("kind", name=op.f("pk_prior")),
    )


def downgrade() -> None:
    op.drop_table("prior")
