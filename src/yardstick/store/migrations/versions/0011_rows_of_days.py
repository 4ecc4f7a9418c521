"""Several rows of spend may stand for one line: a week is seven days.

Revision ID: 0011
Revises: 0010
"""

from __future__ import annotations

from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_constraint("raw_spend_pkey", "raw_spend", type_="primary")
    op.create_primary_key("raw_spend_pkey", "raw_spend", ["load_no", "line", "day"])


def downgrade() -> None:
    # Loads with weeks or months cannot stand in the older layout.
    found = "SELECT load_no FROM raw_spend GROUP BY load_no, line HAVING count(*) > 1"
    op.execute(f"DELETE FROM change WHERE undoes IN (SELECT id FROM change WHERE load_no IN ({found}))")
    op.execute(f"DELETE FROM rejected_row WHERE load_no IN ({found})")
    op.execute(f"DELETE FROM change WHERE load_no IN ({found})")
    op.execute(f"DELETE FROM raw_spend WHERE load_no IN ({found})")
    op.drop_constraint("raw_spend_pkey", "raw_spend", type_="primary")
    op.create_primary_key("raw_spend_pkey", "raw_spend", ["load_no", "line"])
