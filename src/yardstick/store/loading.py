"""Loading a file: every row is read once, and goes in one pass to the database and to a part on disk.

A load only adds rows; which rows stand is worked out (`formats.rows.keyed`), so that any load can be undone, in any
order, and what is left is just what the others alone would give. The workspace is locked for the moment of the commit
alone.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from contextlib import contextmanager
from typing import Any

from sqlalchemy import Connection, insert, select, text

from yardstick.core.base.notes import Rejected
from yardstick.core.base.schema import SCHEMA
from yardstick.formats.files.raw import Header, TableFile
from yardstick.formats.rows.columns import TypedBatch
from yardstick.formats.rows.intake import Counts, Intake, Progress, ingest
from yardstick.formats.rows.keyed import Keys, detail_columns_of

from .database import copying
from .models import RAW, Change, RejectedRow, Workspace
from .parts import Parts
from .prepared_rows import PreparedRows, copied_text
from .steps import reach
from .undone import REDO, STEPS_BACK, UNDO, latest_steps, undone


class Stopped(Exception):
    """The person asked to stop; nothing of the file is kept."""


def lock(connection: Connection, workspace: int) -> None:
    """Let changes of a workspace happen one after the other, so that their ids tell their order.

    Rejected rows of a file that is being kept refer to the workspace; an edit does not wait for them (NO KEY UPDATE).
    """
    row = select(Workspace.id).where(Workspace.id == workspace).with_for_update(key_share=True)
    connection.execute(row).one()


def next_load(connection: Connection) -> int:
    """A number for a load that begins."""
    return int(connection.execute(text("SELECT nextval('load_number')")).scalar_one())


def load_file(
    connection: Connection, workspace: int, file: TableFile, zone: str, load: int, parts: Parts, progress: Progress
) -> Intake:
    """Take a file into the database, in the transaction of `connection`, and into a part on disk.

    The caller ends it with `record_load`, or rolls back; a part whose load never came to be is swept away.

    Raises
    ------
    Stopped
        If `progress` says so.
    """
    table = file.header.table
    writer = parts.writer(load, table, file.header.file, zone)
    rejected: list[Rejected] = []
    try:
        with _copy(connection, workspace, load, table) as put:

            def each(batch: TypedBatch, keys: Keys) -> None:
                if len(batch):
                    put(copied_text(table, batch))
                writer.add(batch, keys)
                reach("load batch")
                rejected.extend(batch.rejected)

            out = ingest(file, zone, progress, each)
        keep_rejected(connection, workspace, load, rejected)
        writer.finish(out.zone_matters)
        reach("part named")
    except BaseException:
        writer.give_up()
        raise
    return out


def record_load(
    connection: Connection,
    workspace: int,
    load: int,
    batch_number: int,
    header: Header,
    counts: Counts,
    zone: str = "",
    reading: str = "",
) -> int:
    """Put a load on record as a change, under the workspace's lock; returns the change's id.

    Parameters
    ----------
    load, batch_number : its number, and that of the files it was given with
    header, counts : of the file
    zone : of its times without offset, where that is not the workspace's
    reading : the source by which it was read, as settings have it
    """
    lock(connection, workspace)
    return int(
        connection.execute(
            insert(Change)
            .values(
                workspace_id=workspace,
                kind="load",
                subject=header.table,
                file=header.file,
                detail_columns=detail_columns_of(header),
                source=header.source,
                zone=zone,
                reading=reading,
                load_no=load,
                batch_number=batch_number,
                rows_read=counts.read,
                rows_new=counts.new,
                rows_replaced=counts.replaced,
                rows_unchanged=counts.unchanged,
                rows_repeated=counts.repeated,
                rows_rejected=counts.rejected,
                lines=counts.lines,
                lines_header=counts.header,
                lines_skipped=counts.skipped,
            )
            .returning(Change.id)
        ).scalar_one()
    )


def load_prepared(
    connection: Connection, workspace: int, prepared: PreparedRows, load: int, parts: Parts, progress: Progress
) -> Intake:
    """Take the rows of a file that were read before into the database, as `load_file` does, without reading it again.

    Raises
    ------
    FileNotFoundError
        If they are gone or damaged; nothing was done.
    Stopped
        If `progress` says so.
    """
    out, done = prepared.intake(), 0
    size = prepared.size
    with _copy(connection, workspace, load, prepared.header.table) as put:
        for piece in prepared.copied():
            put(piece)
            done += len(piece)
            reach("load batch")
            progress(out.counts.read * done // size, done)
    keep_rejected(connection, workspace, load, list(prepared.rejected()))
    prepared.adopted(parts, load)
    reach("part named")
    return out


@contextmanager
def _copy(connection: Connection, workspace: int, load: int, table: str) -> Iterator[Callable[[Any], None]]:
    """A way to put rows, as `copied_text` writes them, into the raw rows by one COPY."""
    # What is the same in every row is said once.
    for name, number in (("workspace_id", workspace), ("load_no", load)):
        connection.execute(
            text("SELECT set_config(:name, :number, true)"), {"name": f"yardstick.{name}", "number": str(number)}
        )
    names = ", ".join(f'"{c.name}"' for c in SCHEMA[table])
    query = f"COPY {RAW[table].__tablename__} (line, extra, {names}) FROM STDIN (FORMAT csv, NULL '\\N')"
    with copying(connection, query) as copy:
        yield copy.write


def keep_rejected(connection: Connection, workspace: int, load: int, rejected: list[Rejected]) -> None:
    """Store the rejected rows of a load, so that nothing of it is lost."""
    rows = [
        {
            "workspace_id": workspace,
            "load_no": load,
            "file": r.file,
            "line": r.line,
            "column": r.column,
            "value": r.value,
            "reason": r.reason,
            "digest": r.digest,
        }
        for r in rejected
    ]
    for begin in range(0, len(rows), 10_000):
        connection.execute(insert(RejectedRow), rows[begin : begin + 10_000])


class CannotUndo(ValueError):
    """An undo or redo that is not possible; the text says why and what to do first."""


def undo(connection: Connection, workspace: int, change: int) -> int:
    """Undo a change, in the transaction of `connection`. Returns the id of the new change.

    Rows of a load simply stand no more. Settings and links are states, each made on the one before it: of these the
    latest goes first.

    Raises
    ------
    CannotUndo
        If there is no such change, it is undone already, or a later one stands on it.
    """
    lock(connection, workspace)
    found = connection.execute(
        select(Change).where(Change.id == change, Change.workspace_id == workspace, Change.kind.not_in(STEPS_BACK))
    ).one_or_none()
    if found is None:
        raise CannotUndo("there is nothing to undo: reload the list")
    if change in set(connection.scalars(undone(workspace))):
        raise CannotUndo(f"{found.file} is undone already")
    state = _STATES.get(found.subject)
    if state is not None:
        later = connection.execute(_standing_after(workspace, change, found.subject)).scalars().first()
        if later is not None:
            raise CannotUndo(f"{later} came into {found.subject} after {found.file}: undo that first")
    step = latest_steps(connection, workspace).get(change, change)
    undoing = connection.execute(
        insert(Change)
        .values(workspace_id=workspace, kind=UNDO, subject=found.subject, file=found.file, undoes=step)
        .returning(Change.id)
    ).scalar_one()
    if state is not None:
        _bring_back(connection, workspace, change, int(undoing), *state)
    return int(undoing)


def redo(connection: Connection, workspace: int, load: int) -> int:
    """Have the rows of a load that was undone stand again, as if it never had been. Returns the id of the new change.

    Raises
    ------
    CannotUndo
        If there is no such load of rows, or it stands.
    """
    lock(connection, workspace)
    found = connection.execute(
        select(Change).where(Change.id == load, Change.workspace_id == workspace, Change.load_no.is_not(None))
    ).one_or_none()
    if found is None:
        raise CannotUndo("there is no load to bring back: reload the list")
    if load not in set(connection.scalars(undone(workspace))):
        raise CannotUndo(f"{found.file} is not undone")
    step = latest_steps(connection, workspace)[load]
    again = insert(Change).values(
        workspace_id=workspace, kind=REDO, subject=found.subject, file=found.file, undoes=step
    )
    return int(connection.execute(again.returning(Change.id)).scalar_one())


_STATES = {"settings": ("settings_version", "toml"), "links": ("link", "key, place, cells")}
"""Subjects that are states, with their table and columns."""


def _standing_after(workspace: int, change: int, subject: str) -> Any:
    return (
        select(Change.file)
        .where(
            Change.workspace_id == workspace,
            Change.kind.not_in(STEPS_BACK),
            Change.subject == subject,
            Change.id > change,
            Change.id.not_in(undone(workspace)),
        )
        .order_by(Change.id.desc())
    )


def _bring_back(connection: Connection, workspace: int, change: int, undoing: int, table: str, columns: str) -> None:
    bound = {"w": workspace, "load": change, "u": undoing}
    # By where the rows came from: some may have been brought back by the undoing of a later change.
    connection.execute(
        text(f"UPDATE {table} SET closed_by = :u WHERE workspace_id = :w AND load_id = :load AND closed_by IS NULL"),
        bound,
    )
    connection.execute(
        text(
            f"INSERT INTO {table} (workspace_id, opened_by, {columns}, load_id) "
            f"SELECT workspace_id, :u, {columns}, load_id FROM {table} WHERE workspace_id = :w AND closed_by = :load"
        ),
        bound,
    )
