"""The tables of the database. Every one carries its workspace; rows are closed by a change, never overwritten."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import BigInteger, DateTime, ForeignKey, Identity, Index, Text, UniqueConstraint, func, text
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column

from yardstick.core.base.schema import SCHEMA


class Base(DeclarativeBase):
    """All models."""


class Workspace(Base):
    """One body of data with its own settings."""

    __tablename__ = "workspace"

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    name: Mapped[str] = mapped_column(Text, unique=True)
    created_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


WHO = text("coalesce(current_setting('yardstick.user', true), '')")
"""Who makes a change; `database.begin` says it to the database for the length of a transaction."""


class Change(Base):
    """One thing that changed what the workspace says: a file loaded, settings set, or either of them undone.

    Ids only grow, and are given under the workspace's lock when everything else is done, so the rows after change `c`
    are those of every load up to `c` that no change up to `c` undoes. `load_no` names a load's rows from its beginning;
    files given together have one number in `batch_number`.
    """

    __tablename__ = "change"

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"), index=True)
    kind: Mapped[str] = mapped_column(Text)
    subject: Mapped[str] = mapped_column(Text)
    file: Mapped[str] = mapped_column(Text)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    made_by: Mapped[str] = mapped_column(Text, server_default=WHO)
    undoes: Mapped[int | None] = mapped_column(ForeignKey("change.id"), unique=True)
    load_no: Mapped[int | None] = mapped_column(BigInteger)
    batch_number: Mapped[int | None] = mapped_column("together", BigInteger, key="batch_number")
    detail_columns: Mapped[str] = mapped_column("finer", Text, key="detail_columns", server_default="")
    source: Mapped[str] = mapped_column(Text, server_default="")
    zone: Mapped[str] = mapped_column(Text, server_default="")
    reading: Mapped[str] = mapped_column(Text, server_default="")
    rows_read: Mapped[int] = mapped_column(BigInteger, default=0)
    rows_new: Mapped[int] = mapped_column(BigInteger, default=0)
    rows_replaced: Mapped[int] = mapped_column(BigInteger, default=0)
    rows_unchanged: Mapped[int] = mapped_column(BigInteger, default=0)
    rows_repeated: Mapped[int] = mapped_column(BigInteger, default=0)
    rows_rejected: Mapped[int] = mapped_column(BigInteger, default=0)
    lines: Mapped[int] = mapped_column(BigInteger, default=0)
    lines_header: Mapped[int] = mapped_column(BigInteger, default=0)
    lines_skipped: Mapped[int] = mapped_column(BigInteger, default=0)


class RejectedRow(Base):
    """A row of a loaded file that could not be accepted, with its reason."""

    __tablename__ = "rejected_row"

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"))
    load_no: Mapped[int] = mapped_column(BigInteger, index=True)
    file: Mapped[str] = mapped_column(Text)
    line: Mapped[int]
    column: Mapped[str] = mapped_column(Text)
    value: Mapped[str] = mapped_column(Text)
    reason: Mapped[str] = mapped_column(Text)
    digest: Mapped[str] = mapped_column(Text, server_default="")


class SettingsVersion(Base):
    """The workspace's settings as TOML, from one change to another."""

    __tablename__ = "settings_version"

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"), index=True)
    toml: Mapped[str] = mapped_column(Text)
    load_id: Mapped[int] = mapped_column(ForeignKey("change.id"))
    opened_by: Mapped[int] = mapped_column(ForeignKey("change.id"))
    closed_by: Mapped[int | None] = mapped_column(ForeignKey("change.id"))


class DataState(Base):
    """Which change a data fingerprint was taken after, so that the state behind it can be rebuilt."""

    __tablename__ = "data_state"
    __table_args__ = (UniqueConstraint("workspace_id", "change_id"),)

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"))
    change_id: Mapped[int] = mapped_column(ForeignKey("change.id"))
    fingerprint: Mapped[str] = mapped_column(Text, index=True)
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class Job(Base):
    """Long work: how far it is, and how it ended."""

    __tablename__ = "job"

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"), index=True)
    state: Mapped[str] = mapped_column(Text)
    doing: Mapped[str] = mapped_column(Text, default="")
    rows_done: Mapped[int] = mapped_column(BigInteger, default=0)
    rows_total: Mapped[int] = mapped_column(BigInteger, default=0)
    message: Mapped[str] = mapped_column(Text, default="")
    made_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())


class SharedRules(Base):
    """A version of the channel rules that workspaces share, and the workspace that shared it. The latest stands."""

    __tablename__ = "shared_rules"

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"))
    records: Mapped[list[dict[str, Any]]] = mapped_column(JSONB)
    shared_at: Mapped[datetime] = mapped_column(DateTime(timezone=True), server_default=func.now())
    withdrawn_at: Mapped[datetime | None] = mapped_column(DateTime(timezone=True))


class LinkRow(Base):
    """A row of the link sheet, from one change to another. `place` sorts the rows, in code point order."""

    __tablename__ = "link"
    __table_args__ = (
        Index("ix_link_open_key", "workspace_id", "key", unique=True, postgresql_where=text("closed_by IS NULL")),
    )

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"))
    key: Mapped[str] = mapped_column(Text)
    place: Mapped[str] = mapped_column(Text)
    cells: Mapped[dict[str, str]] = mapped_column(JSONB)
    load_id: Mapped[int] = mapped_column(ForeignKey("change.id"))
    opened_by: Mapped[int] = mapped_column(ForeignKey("change.id"), index=True)
    closed_by: Mapped[int | None] = mapped_column(ForeignKey("change.id"), index=True)


class ShortClick(Base):
    """A click on a short link, on record before the visitor is sent on."""

    __tablename__ = "short_click"
    __table_args__ = (Index("ix_short_click_code", "workspace_id", "code", "clicked_at"),)

    id: Mapped[int] = mapped_column(BigInteger, Identity(), primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"))
    code: Mapped[str] = mapped_column(Text)
    clicked_at: Mapped[datetime] = mapped_column(DateTime(timezone=True))
    target: Mapped[str] = mapped_column(Text)
    referrer: Mapped[str] = mapped_column(Text, server_default="")
    agent: Mapped[str] = mapped_column(Text, server_default="")
    uid: Mapped[str | None] = mapped_column(Text, unique=True)


class ShortCode(Base):
    """The workspace of the instance that a short code belongs to, for good: it may stand in print."""

    __tablename__ = "short_code"

    code: Mapped[str] = mapped_column(Text, primary_key=True)
    workspace_id: Mapped[int] = mapped_column(ForeignKey("workspace.id"))


_OF_LOAD = text("current_setting('yardstick.load_no')::bigint")
_OF_WORKSPACE = text("current_setting('yardstick.workspace_id')::integer")


class RawRow:
    """What the rows of every loaded table carry besides their own columns, kept as text just as they came.

    A row stands by the load that gave it and the line it began on, and is never touched again: which rows stand is
    worked out from the loads that stand. Its load and workspace are those that its transaction says (`loading`), and
    the load is held to the workspace where it is put on record. `extra` are the filled columns that the table does not
    know, as a JSON object.
    """

    load_no: Mapped[int] = mapped_column(BigInteger, primary_key=True, server_default=_OF_LOAD)
    line: Mapped[int] = mapped_column(primary_key=True)
    workspace_id: Mapped[int] = mapped_column(server_default=_OF_WORKSPACE)
    extra: Mapped[str] = mapped_column(Text, server_default="")


def _raw_model(table: str) -> type[Base]:
    columns: dict[str, Any] = {"__tablename__": f"raw_{table}"}
    for column in SCHEMA[table]:
        # Of spend several rows may stand for one line, each a day of it.
        key = (table, column.name) == ("spend", "day")
        columns[f"c_{column.name}"] = mapped_column(
            column.name, Text, nullable=False, server_default="", primary_key=key
        )
    return type(f"Raw{table.title()}", (RawRow, Base), columns)


RAW = {table: _raw_model(table) for table in SCHEMA}
"""The model of each loaded table."""


def order_of_rows(table: str) -> str:
    """By what the rows of a load are in order."""
    return "line, day" if table == "spend" else "line"
