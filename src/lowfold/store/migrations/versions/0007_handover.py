"""The record and the hand-over: revisions, evidence, tags, designs put aside, words to be found."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"

TOGETHER = 16  # entries of a record in one row of the index
ORDERS = (("changed", "updated"), ("begun", "created"))


def upgrade() -> None:
    op.add_column("design", sa.Column("tags", sa.JSON(), nullable=False, server_default="[]"))
    op.add_column("design", sa.Column("deleted", sa.Text(), nullable=True))
    op.add_column("design", sa.Column("verdict", sa.Text(), nullable=True))
    for name, column in ORDERS:
        op.create_index(op.f(f"ix_design_{name}"), "design", ["deleted", column, "id"])
    op.create_table(
        "revision",
        sa.Column("design_id", sa.Integer(), nullable=False),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("at", sa.Text(), nullable=False),
        sa.Column("folded", sa.Boolean(), nullable=False),
        sa.Column("fields", sa.JSON(), nullable=False),
        sa.PrimaryKeyConstraint("design_id", "revision", name=op.f("pk_revision")),
    )
    op.create_table(
        "evidence",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("design_id", sa.Integer(), nullable=False),
        sa.Column("at", sa.Text(), nullable=False),
        sa.Column("sha256", sa.Text(), nullable=False),
        sa.Column("media", sa.Text(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.Column("size", sa.Integer(), nullable=False),
        sa.Column("image", sa.LargeBinary(), nullable=False),
        sa.Column("thumbnail", sa.LargeBinary(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_evidence")),
        sqlite_autoincrement=True,
    )
    op.create_index(op.f("ix_evidence_design_id"), "evidence", ["design_id"])
    op.execute(
        "CREATE VIRTUAL TABLE words USING fts5(text, tokenize='unicode61 remove_diacritics 2', "
        "prefix='2 3')"
    )
    _note_what_there_is()


def _note_what_there_is() -> None:
    """Make today's state of every design its first revision worth having, and its words found."""
    connection = op.get_bind()
    design = sa.table(
        "design",
        *(sa.column(n) for n in ("id", "name", "kind", "prefer", "choice", "why", "standing")),
        sa.column("brief", sa.JSON()),
        *(sa.column(n) for n in ("revision", "updated")),
    )
    noted = sa.table(
        "revision",
        *(sa.column(n) for n in ("design_id", "revision", "at", "folded")),
        sa.column("fields", sa.JSON()),
    )
    for row in connection.execute(sa.select(design)).all():
        kept = ("name", "kind", "brief", "prefer", "choice", "why")
        fields = {n: getattr(row, n) for n in kept} | {"tags": []}
        connection.execute(
            noted.insert().values(
                design_id=row.id, revision=row.revision, at=row.updated, folded=False, fields=fields
            )
        )
        brief = [str(v) for v in (row.brief or {}).values()]
        said = " ".join([row.name, row.kind, *brief, row.choice or "", row.why])
        _found(connection, row.id << 20, said)
        # A standing not worked out yet was kept as the JSON null, too
        standing = json.loads(row.standing or "null")
        if isinstance(standing, dict):
            verdict = standing.get("verdict")
            connection.execute(
                sa.text("UPDATE design SET verdict = :v WHERE id = :i"), {"v": verdict, "i": row.id}
            )
    entries = connection.execute(
        sa.text("SELECT design_id, text FROM record ORDER BY design_id, id")
    ).all()
    together: dict[int, list[str]] = {}
    for design_id, said in entries:
        together.setdefault(design_id, []).append(said)
    for design_id, all_said in together.items():
        for group, start in enumerate(range(0, len(all_said), TOGETHER)):
            said = " ".join(all_said[start : start + TOGETHER])
            _found(connection, (design_id << 20) + 1 + group, said)


def _found(connection: sa.Connection, place: int, said: str) -> None:
    connection.execute(
        sa.text("INSERT INTO words (rowid, text) VALUES (:p, :t)"), {"p": place, "t": said}
    )


def downgrade() -> None:
    op.drop_table("words")
    op.drop_table("evidence")
    op.drop_table("revision")
    for name, _ in ORDERS:
        op.drop_index(op.f(f"ix_design_{name}"), "design")
    for column in ("verdict", "deleted", "tags"):
        op.drop_column("design", column)
