"""What records are now: rows about their status and their refunds, and the name of a lead.

Revision ID: 0007
Revises: 0006
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

TABLES = {
    "raw_refunds": ("refund_id", "conversion_id", "occurred_at", "amount", "currency"),
    "raw_statuses": ("record_id", "occurred_at", "status", "stage", "owner", "pipeline", "value"),
}


def upgrade() -> None:
    op.add_column("raw_leads", sa.Column("name", sa.Text(), server_default="", nullable=False))
    for table, columns in TABLES.items():
        op.create_table(
            table,
            *(sa.Column(name, sa.Text(), server_default="", nullable=False) for name in columns),
            sa.Column("load_no", sa.BigInteger(), nullable=False),
            sa.Column("line", sa.Integer(), nullable=False),
            sa.Column("workspace_id", sa.BigInteger(), sa.ForeignKey("workspace.id"), nullable=False),
            sa.Column("extra", sa.Text(), server_default="", nullable=False),
            sa.PrimaryKeyConstraint("load_no", "line"),
        )


def downgrade() -> None:
    # Loads of tables that the older layout does not know go with them.
    gone = "WHERE subject IN ('refunds', 'statuses')"
    op.execute(f"DELETE FROM rejected_row WHERE load_no IN (SELECT load_no FROM change {gone})")
    op.execute(f"DELETE FROM change WHERE undoes IN (SELECT id FROM change {gone})")
    op.execute(f"DELETE FROM change {gone}")
    for table in TABLES:
        op.drop_table(table)
    op.drop_column("raw_leads", "name")
