"""Lines of orders.

Revision ID: 0009
Revises: 0008
"""

from __future__ import annotations

import sqlalchemy as sa
from alembic import op

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "raw_order_lines",
        *(
            sa.Column(name, sa.Text(), server_default="", nullable=False)
            for name in ("conversion_id", "line_number", "product", "quantity", "total", "tax")
        ),
        sa.Column("load_no", sa.BigInteger(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), sa.ForeignKey("workspace.id"), nullable=False),
        sa.Column("extra", sa.Text(), server_default="", nullable=False),
        sa.PrimaryKeyConstraint("load_no", "line"),
    )


def downgrade() -> None:
    # Loads of tables that the older layout does not know go with them.
    gone = "WHERE subject = 'order_lines'"
    op.execute(f"DELETE FROM rejected_row WHERE load_no IN (SELECT load_no FROM change {gone})")
    op.execute(f"DELETE FROM change WHERE undoes IN (SELECT id FROM change {gone})")
    op.execute(f"DELETE FROM change {gone}")
    op.drop_table("raw_order_lines")
