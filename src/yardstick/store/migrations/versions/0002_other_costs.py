"""Costs that no platform reports."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None

TABLE = "raw_other_costs"


def upgrade() -> None:
    texts = [
        sa.Column(name, sa.Text(), server_default="", nullable=False)
        for name in ("from", "to", "campaign", "kind", "cost", "currency")
    ]
    op.create_table(
        TABLE,
        *texts,
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), sa.ForeignKey("workspace.id"), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("load_id", sa.BigInteger(), sa.ForeignKey("change.id"), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("opened_by", sa.BigInteger(), sa.ForeignKey("change.id"), nullable=False),
        sa.Column("closed_by", sa.BigInteger(), sa.ForeignKey("change.id"), nullable=True),
        sa.Column("extra", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    for name in ("opened_by", "closed_by"):
        op.create_index(f"ix_{TABLE}_{name}", TABLE, [name])
    op.create_index(f"ix_{TABLE}_origin", TABLE, ["workspace_id", "load_id", "line"])
    op.create_index(
        f"ix_{TABLE}_open_key", TABLE, ["workspace_id", "key"], postgresql_where=sa.text("closed_by IS NULL")
    )


def downgrade() -> None:
    op.drop_table(TABLE)
