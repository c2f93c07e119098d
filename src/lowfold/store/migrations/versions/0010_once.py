"""Writes that carry their client's key: one sent again is answered, and not done again.

And an id of the database, so that a page keeps what it holds for the one it was typed for.
"""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"


def upgrade() -> None:
    op.create_table(
        "once",
        sa.Column("key", sa.Text, primary_key=True),
        sa.Column("asked", sa.Text, nullable=False),
        sa.Column("at", sa.Text, nullable=False, index=True),
        sa.Column("status", sa.Integer, nullable=True),
        sa.Column("headers", sa.JSON, nullable=True),
        sa.Column("body", sa.LargeBinary, nullable=True),
    )

    op.create_table("identity", sa.Column("id", sa.Text, primary_key=True))
    op.execute("INSERT INTO identity (id) VALUES (lower(hex(randomblob(16))))")


def downgrade() -> None:
    op.drop_table("once")
    op.drop_table("identity")
