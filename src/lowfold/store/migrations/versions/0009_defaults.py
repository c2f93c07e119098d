"""What is accepted where a need does not say: kept ones go on with what it was until now.

A new resistance accepted 1 % of 1 % parts, and a new feedback pair 3 %, under which no choice
passed; both now accept what a sound choice keeps.
"""

from alembic import op

revision = "0009"
down_revision = "0008"

WAS = {"resistance": "1 %", "feedback": "3 %"}


def upgrade() -> None:
    for kind, within in WAS.items():
        op.execute(
            f"UPDATE design SET brief = json_set(brief, '$.within', '{within}') "  # noqa: S608
            f"WHERE kind = '{kind}' AND json_extract(brief, '$.within') IS NULL"
        )
        op.execute(
            f"UPDATE revision SET fields = json_set(fields, '$.brief.within', '{within}') "  # noqa: S608
            f"WHERE json_extract(fields, '$.kind') = '{kind}' "
            "AND json_extract(fields, '$.brief.within') IS NULL"
        )


def downgrade() -> None:
    """Leave what is said: it is what it was."""
