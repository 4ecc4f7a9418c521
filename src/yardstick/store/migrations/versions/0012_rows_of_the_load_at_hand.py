"""Raw rows are of the workspace and load that their transaction says, so that a COPY need not repeat them a row.

The load is checked against the workspace where it is put on record; a check of every row cost as much as the COPY.

Revision ID: 0012
Revises: 0011
"""

from __future__ import annotations

from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

TABLES = (
    *("visits", "leads", "conversions", "spend", "other_costs", "refunds"),
    *("statuses", "deal_contacts", "order_lines", "rates", "invoices", "ads"),
)


def upgrade() -> None:
    for table in TABLES:
        raw = f"raw_{table}"
        op.execute(f"ALTER TABLE {raw} DROP CONSTRAINT IF EXISTS {raw}_workspace_id_fkey")
        for column, kind in (("workspace_id", "integer"), ("load_no", "bigint")):
            op.execute(
                f"ALTER TABLE {raw} ALTER COLUMN {column} SET DEFAULT current_setting('yardstick.{column}')::{kind}"
            )


def downgrade() -> None:
    for table in TABLES:
        raw = f"raw_{table}"
        op.execute(f"ALTER TABLE {raw} ALTER COLUMN workspace_id DROP DEFAULT, ALTER COLUMN load_no DROP DEFAULT")
        op.create_foreign_key(f"{raw}_workspace_id_fkey", raw, "workspace", ["workspace_id"], ["id"])
