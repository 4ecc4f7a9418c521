"""The link sheet, and the clicks on short links."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "link",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), sa.ForeignKey("workspace.id"), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("place", sa.Text(), nullable=False),
        sa.Column("cells", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("load_id", sa.BigInteger(), sa.ForeignKey("change.id"), nullable=False),
        sa.Column("opened_by", sa.BigInteger(), sa.ForeignKey("change.id"), nullable=False),
        sa.Column("closed_by", sa.BigInteger(), sa.ForeignKey("change.id"), nullable=True),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(
        "ix_link_open_key", "link", ["workspace_id", "key"], unique=True, postgresql_where=sa.text("closed_by IS NULL")
    )
    op.create_index("ix_link_opened_by", "link", ["opened_by"])
    op.create_index("ix_link_closed_by", "link", ["closed_by"])
    op.create_table(
        "short_click",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), sa.ForeignKey("workspace.id"), nullable=False),
        sa.Column("code", sa.Text(), nullable=False),
        sa.Column("clicked_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("target", sa.Text(), nullable=False),
        sa.Column("referrer", sa.Text(), nullable=False, server_default=""),
        sa.Column("agent", sa.Text(), nullable=False, server_default=""),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index("ix_short_click_code", "short_click", ["workspace_id", "code", "clicked_at"])


def downgrade() -> None:
    op.drop_table("short_click")
    op.drop_table("link")
