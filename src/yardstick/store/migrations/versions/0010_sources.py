"""Sources on loads; invoices, ads, and the columns that tables got.

Revision ID: 0010
Revises: 0009
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

TABLES = {
    "invoices": "platform account month amount currency",
    "ads": "platform account campaign campaign_id ad_group ad level pattern address state spend",
}
ADDED = {"leads": ("consent_at", "consent_base"), "other_costs": ("quantity", "price")}


def upgrade() -> None:
    for name in ("source", "zone", "reading"):
        op.add_column("change", sa.Column(name, sa.Text(), nullable=False, server_default=""))
    for table, columns in ADDED.items():
        for column in columns:
            op.add_column(f"raw_{table}", sa.Column(column, sa.Text(), nullable=False, server_default=""))
    for table, named in TABLES.items():
        op.create_table(
            f"raw_{table}",
            *(sa.Column(name, sa.Text(), server_default="", nullable=False) for name in named.split(" ")),
            sa.Column("load_no", sa.BigInteger(), nullable=False),
            sa.Column("line", sa.Integer(), nullable=False),
            sa.Column("workspace_id", sa.BigInteger(), sa.ForeignKey("workspace.id"), nullable=False),
            sa.Column("extra", sa.Text(), server_default="", nullable=False),
            sa.PrimaryKeyConstraint("load_no", "line"),
        )


def downgrade() -> None:
    # Loads of tables that the older layout does not know go with them.
    for table in TABLES:
        gone = f"WHERE subject = '{table}'"
        op.execute(f"DELETE FROM rejected_row WHERE load_no IN (SELECT load_no FROM change {gone})")
        op.execute(f"DELETE FROM change WHERE undoes IN (SELECT id FROM change {gone})")
        op.execute(f"DELETE FROM change {gone}")
        op.drop_table(f"raw_{table}")
    for table, columns in ADDED.items():
        for column in columns:
            op.drop_column(f"raw_{table}", column)
    for name in ("source", "zone", "reading"):
        op.drop_column("change", name)
