"""Who made each change, whose each short code is, and a number of its own for every click."""

import sqlalchemy as sa
from alembic import op

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None

WHO = "coalesce(current_setting('yardstick.user', true), '')"


def upgrade() -> None:
    op.add_column("change", sa.Column("made_by", sa.Text(), nullable=False, server_default=sa.text(WHO)))
    op.create_table(
        "short_code",
        sa.Column("code", sa.Text(), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), sa.ForeignKey("workspace.id"), nullable=False),
        sa.PrimaryKeyConstraint("code"),
    )
    # Of two workspaces that used one code the first keeps it.
    op.execute(
        "INSERT INTO short_code (code, workspace_id) "
        "SELECT DISTINCT ON (cells->>'short') cells->>'short', workspace_id FROM link "
        "WHERE closed_by IS NULL AND cells->>'short' <> '' ORDER BY cells->>'short', id"
    )
    op.add_column("short_click", sa.Column("uid", sa.Text(), nullable=True))
    op.create_unique_constraint("uq_short_click_uid", "short_click", ["uid"])


def downgrade() -> None:
    op.drop_constraint("uq_short_click_uid", "short_click")
    op.drop_column("short_click", "uid")
    op.drop_table("short_code")
    op.drop_column("change", "made_by")
