"""The first layout."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "workspace",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("name", sa.Text(), nullable=False),
        sa.Column("created_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("name"),
    )
    op.create_table(
        "change",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("kind", sa.Text(), nullable=False),
        sa.Column("subject", sa.Text(), nullable=False),
        sa.Column("file", sa.Text(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.Column("undoes", sa.BigInteger(), nullable=True),
        sa.Column("rows_read", sa.Integer(), nullable=False),
        sa.Column("rows_new", sa.Integer(), nullable=False),
        sa.Column("rows_replaced", sa.Integer(), nullable=False),
        sa.Column("rows_unchanged", sa.Integer(), nullable=False),
        sa.Column("rows_rejected", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(
            ["undoes"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("undoes"),
    )
    op.create_index(op.f("ix_change_workspace_id"), "change", ["workspace_id"], unique=False)
    op.create_table(
        "job",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("state", sa.Text(), nullable=False),
        sa.Column("doing", sa.Text(), nullable=False),
        sa.Column("rows_done", sa.Integer(), nullable=False),
        sa.Column("rows_total", sa.Integer(), nullable=False),
        sa.Column("message", sa.Text(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_job_workspace_id"), "job", ["workspace_id"], unique=False)
    op.create_table(
        "data_state",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("change_id", sa.BigInteger(), nullable=False),
        sa.Column("fingerprint", sa.Text(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), server_default=sa.text("now()"), nullable=False),
        sa.ForeignKeyConstraint(
            ["change_id"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
        sa.UniqueConstraint("workspace_id", "change_id"),
    )
    op.create_index(op.f("ix_data_state_fingerprint"), "data_state", ["fingerprint"], unique=False)
    op.create_table(
        "raw_conversions",
        sa.Column("conversion_id", sa.Text(), server_default="", nullable=False),
        sa.Column("occurred_at", sa.Text(), server_default="", nullable=False),
        sa.Column("goal", sa.Text(), server_default="", nullable=False),
        sa.Column("visitor_id", sa.Text(), server_default="", nullable=False),
        sa.Column("email", sa.Text(), server_default="", nullable=False),
        sa.Column("phone", sa.Text(), server_default="", nullable=False),
        sa.Column("lead_id", sa.Text(), server_default="", nullable=False),
        sa.Column("click_id", sa.Text(), server_default="", nullable=False),
        sa.Column("code", sa.Text(), server_default="", nullable=False),
        sa.Column("total", sa.Text(), server_default="", nullable=False),
        sa.Column("tax", sa.Text(), server_default="", nullable=False),
        sa.Column("shipping", sa.Text(), server_default="", nullable=False),
        sa.Column("refunded", sa.Text(), server_default="", nullable=False),
        sa.Column("currency", sa.Text(), server_default="", nullable=False),
        sa.Column("product", sa.Text(), server_default="", nullable=False),
        sa.Column("status", sa.Text(), server_default="", nullable=False),
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("load_id", sa.BigInteger(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("opened_by", sa.BigInteger(), nullable=False),
        sa.Column("closed_by", sa.BigInteger(), nullable=True),
        sa.Column("extra", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.ForeignKeyConstraint(
            ["closed_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["load_id"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["opened_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_raw_conversions_closed_by"), "raw_conversions", ["closed_by"], unique=False)
    op.create_index(
        "ix_raw_conversions_open_key",
        "raw_conversions",
        ["workspace_id", "key"],
        unique=False,
        postgresql_where=sa.text("closed_by IS NULL"),
    )
    op.create_index(op.f("ix_raw_conversions_opened_by"), "raw_conversions", ["opened_by"], unique=False)
    op.create_index("ix_raw_conversions_origin", "raw_conversions", ["workspace_id", "load_id", "line"], unique=False)
    op.create_table(
        "raw_leads",
        sa.Column("lead_id", sa.Text(), server_default="", nullable=False),
        sa.Column("occurred_at", sa.Text(), server_default="", nullable=False),
        sa.Column("visitor_id", sa.Text(), server_default="", nullable=False),
        sa.Column("email", sa.Text(), server_default="", nullable=False),
        sa.Column("phone", sa.Text(), server_default="", nullable=False),
        sa.Column("click_id", sa.Text(), server_default="", nullable=False),
        sa.Column("form", sa.Text(), server_default="", nullable=False),
        sa.Column("first_seen_at", sa.Text(), server_default="", nullable=False),
        sa.Column("first_source", sa.Text(), server_default="", nullable=False),
        sa.Column("first_medium", sa.Text(), server_default="", nullable=False),
        sa.Column("first_campaign", sa.Text(), server_default="", nullable=False),
        sa.Column("first_term", sa.Text(), server_default="", nullable=False),
        sa.Column("first_content", sa.Text(), server_default="", nullable=False),
        sa.Column("first_id", sa.Text(), server_default="", nullable=False),
        sa.Column("last_source", sa.Text(), server_default="", nullable=False),
        sa.Column("last_medium", sa.Text(), server_default="", nullable=False),
        sa.Column("last_campaign", sa.Text(), server_default="", nullable=False),
        sa.Column("last_term", sa.Text(), server_default="", nullable=False),
        sa.Column("last_content", sa.Text(), server_default="", nullable=False),
        sa.Column("last_id", sa.Text(), server_default="", nullable=False),
        sa.Column("code", sa.Text(), server_default="", nullable=False),
        sa.Column("self_reported", sa.Text(), server_default="", nullable=False),
        sa.Column("stage", sa.Text(), server_default="", nullable=False),
        sa.Column("status", sa.Text(), server_default="", nullable=False),
        sa.Column("owner", sa.Text(), server_default="", nullable=False),
        sa.Column("updated_at", sa.Text(), server_default="", nullable=False),
        sa.Column("consent", sa.Text(), server_default="", nullable=False),
        sa.Column("is_good", sa.Text(), server_default="", nullable=False),
        sa.Column("is_test", sa.Text(), server_default="", nullable=False),
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("load_id", sa.BigInteger(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("opened_by", sa.BigInteger(), nullable=False),
        sa.Column("closed_by", sa.BigInteger(), nullable=True),
        sa.Column("extra", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.ForeignKeyConstraint(
            ["closed_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["load_id"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["opened_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_raw_leads_closed_by"), "raw_leads", ["closed_by"], unique=False)
    op.create_index(
        "ix_raw_leads_open_key",
        "raw_leads",
        ["workspace_id", "key"],
        unique=False,
        postgresql_where=sa.text("closed_by IS NULL"),
    )
    op.create_index(op.f("ix_raw_leads_opened_by"), "raw_leads", ["opened_by"], unique=False)
    op.create_index("ix_raw_leads_origin", "raw_leads", ["workspace_id", "load_id", "line"], unique=False)
    op.create_table(
        "raw_rates",
        sa.Column("day", sa.Text(), server_default="", nullable=False),
        sa.Column("base", sa.Text(), server_default="", nullable=False),
        sa.Column("quote", sa.Text(), server_default="", nullable=False),
        sa.Column("rate", sa.Text(), server_default="", nullable=False),
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("load_id", sa.BigInteger(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("opened_by", sa.BigInteger(), nullable=False),
        sa.Column("closed_by", sa.BigInteger(), nullable=True),
        sa.Column("extra", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.ForeignKeyConstraint(
            ["closed_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["load_id"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["opened_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_raw_rates_closed_by"), "raw_rates", ["closed_by"], unique=False)
    op.create_index(
        "ix_raw_rates_open_key",
        "raw_rates",
        ["workspace_id", "key"],
        unique=False,
        postgresql_where=sa.text("closed_by IS NULL"),
    )
    op.create_index(op.f("ix_raw_rates_opened_by"), "raw_rates", ["opened_by"], unique=False)
    op.create_index("ix_raw_rates_origin", "raw_rates", ["workspace_id", "load_id", "line"], unique=False)
    op.create_table(
        "raw_spend",
        sa.Column("day", sa.Text(), server_default="", nullable=False),
        sa.Column("platform", sa.Text(), server_default="", nullable=False),
        sa.Column("account", sa.Text(), server_default="", nullable=False),
        sa.Column("campaign_id", sa.Text(), server_default="", nullable=False),
        sa.Column("campaign", sa.Text(), server_default="", nullable=False),
        sa.Column("ad_group", sa.Text(), server_default="", nullable=False),
        sa.Column("ad", sa.Text(), server_default="", nullable=False),
        sa.Column("keyword", sa.Text(), server_default="", nullable=False),
        sa.Column("placement", sa.Text(), server_default="", nullable=False),
        sa.Column("impressions", sa.Text(), server_default="", nullable=False),
        sa.Column("clicks", sa.Text(), server_default="", nullable=False),
        sa.Column("cost", sa.Text(), server_default="", nullable=False),
        sa.Column("click_price", sa.Text(), server_default="", nullable=False),
        sa.Column("currency", sa.Text(), server_default="", nullable=False),
        sa.Column("claimed_conversions", sa.Text(), server_default="", nullable=False),
        sa.Column("claimed_value", sa.Text(), server_default="", nullable=False),
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("load_id", sa.BigInteger(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("opened_by", sa.BigInteger(), nullable=False),
        sa.Column("closed_by", sa.BigInteger(), nullable=True),
        sa.Column("extra", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.ForeignKeyConstraint(
            ["closed_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["load_id"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["opened_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_raw_spend_closed_by"), "raw_spend", ["closed_by"], unique=False)
    op.create_index(
        "ix_raw_spend_open_key",
        "raw_spend",
        ["workspace_id", "key"],
        unique=False,
        postgresql_where=sa.text("closed_by IS NULL"),
    )
    op.create_index(op.f("ix_raw_spend_opened_by"), "raw_spend", ["opened_by"], unique=False)
    op.create_index("ix_raw_spend_origin", "raw_spend", ["workspace_id", "load_id", "line"], unique=False)
    op.create_table(
        "raw_visits",
        sa.Column("visit_id", sa.Text(), server_default="", nullable=False),
        sa.Column("occurred_at", sa.Text(), server_default="", nullable=False),
        sa.Column("visitor_id", sa.Text(), server_default="", nullable=False),
        sa.Column("url", sa.Text(), server_default="", nullable=False),
        sa.Column("referrer", sa.Text(), server_default="", nullable=False),
        sa.Column("kind", sa.Text(), server_default="", nullable=False),
        sa.Column("email", sa.Text(), server_default="", nullable=False),
        sa.Column("click_id", sa.Text(), server_default="", nullable=False),
        sa.Column("device", sa.Text(), server_default="", nullable=False),
        sa.Column("is_test", sa.Text(), server_default="", nullable=False),
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("key", sa.Text(), nullable=False),
        sa.Column("digest", sa.Text(), nullable=False),
        sa.Column("load_id", sa.BigInteger(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("opened_by", sa.BigInteger(), nullable=False),
        sa.Column("closed_by", sa.BigInteger(), nullable=True),
        sa.Column("extra", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.ForeignKeyConstraint(
            ["closed_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["load_id"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["opened_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_raw_visits_closed_by"), "raw_visits", ["closed_by"], unique=False)
    op.create_index(
        "ix_raw_visits_open_key",
        "raw_visits",
        ["workspace_id", "key"],
        unique=False,
        postgresql_where=sa.text("closed_by IS NULL"),
    )
    op.create_index(op.f("ix_raw_visits_opened_by"), "raw_visits", ["opened_by"], unique=False)
    op.create_index("ix_raw_visits_origin", "raw_visits", ["workspace_id", "load_id", "line"], unique=False)
    op.create_table(
        "rejected_row",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("change_id", sa.BigInteger(), nullable=False),
        sa.Column("file", sa.Text(), nullable=False),
        sa.Column("line", sa.Integer(), nullable=False),
        sa.Column("column", sa.Text(), nullable=False),
        sa.Column("value", sa.Text(), nullable=False),
        sa.Column("reason", sa.Text(), nullable=False),
        sa.ForeignKeyConstraint(
            ["change_id"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_rejected_row_change_id"), "rejected_row", ["change_id"], unique=False)
    op.create_table(
        "settings_version",
        sa.Column("id", sa.BigInteger(), sa.Identity(always=False), nullable=False),
        sa.Column("workspace_id", sa.BigInteger(), nullable=False),
        sa.Column("toml", sa.Text(), nullable=False),
        sa.Column("load_id", sa.BigInteger(), nullable=False),
        sa.Column("opened_by", sa.BigInteger(), nullable=False),
        sa.Column("closed_by", sa.BigInteger(), nullable=True),
        sa.ForeignKeyConstraint(
            ["closed_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["load_id"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["opened_by"],
            ["change.id"],
        ),
        sa.ForeignKeyConstraint(
            ["workspace_id"],
            ["workspace.id"],
        ),
        sa.PrimaryKeyConstraint("id"),
    )
    op.create_index(op.f("ix_settings_version_workspace_id"), "settings_version", ["workspace_id"], unique=False)


def downgrade() -> None:
    op.drop_index(op.f("ix_settings_version_workspace_id"), table_name="settings_version")
    op.drop_table("settings_version")
    op.drop_index(op.f("ix_rejected_row_change_id"), table_name="rejected_row")
    op.drop_table("rejected_row")
    op.drop_index("ix_raw_visits_origin", table_name="raw_visits")
    op.drop_index(op.f("ix_raw_visits_opened_by"), table_name="raw_visits")
    op.drop_index("ix_raw_visits_open_key", table_name="raw_visits", postgresql_where=sa.text("closed_by IS NULL"))
    op.drop_index(op.f("ix_raw_visits_closed_by"), table_name="raw_visits")
    op.drop_table("raw_visits")
    op.drop_index("ix_raw_spend_origin", table_name="raw_spend")
    op.drop_index(op.f("ix_raw_spend_opened_by"), table_name="raw_spend")
    op.drop_index("ix_raw_spend_open_key", table_name="raw_spend", postgresql_where=sa.text("closed_by IS NULL"))
    op.drop_index(op.f("ix_raw_spend_closed_by"), table_name="raw_spend")
    op.drop_table("raw_spend")
    op.drop_index("ix_raw_rates_origin", table_name="raw_rates")
    op.drop_index(op.f("ix_raw_rates_opened_by"), table_name="raw_rates")
    op.drop_index("ix_raw_rates_open_key", table_name="raw_rates", postgresql_where=sa.text("closed_by IS NULL"))
    op.drop_index(op.f("ix_raw_rates_closed_by"), table_name="raw_rates")
    op.drop_table("raw_rates")
    op.drop_index("ix_raw_leads_origin", table_name="raw_leads")
    op.drop_index(op.f("ix_raw_leads_opened_by"), table_name="raw_leads")
    op.drop_index("ix_raw_leads_open_key", table_name="raw_leads", postgresql_where=sa.text("closed_by IS NULL"))
    op.drop_index(op.f("ix_raw_leads_closed_by"), table_name="raw_leads")
    op.drop_table("raw_leads")
    op.drop_index("ix_raw_conversions_origin", table_name="raw_conversions")
    op.drop_index(op.f("ix_raw_conversions_opened_by"), table_name="raw_conversions")
    op.drop_index(
        "ix_raw_conversions_open_key", table_name="raw_conversions", postgresql_where=sa.text("closed_by IS NULL")
    )
    op.drop_index(op.f("ix_raw_conversions_closed_by"), table_name="raw_conversions")
    op.drop_table("raw_conversions")
    op.drop_index(op.f("ix_data_state_fingerprint"), table_name="data_state")
    op.drop_table("data_state")
    op.drop_index(op.f("ix_job_workspace_id"), table_name="job")
    op.drop_table("job")
    op.drop_index(op.f("ix_change_workspace_id"), table_name="change")
    op.drop_table("change")
    op.drop_table("workspace")
