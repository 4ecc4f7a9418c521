"""A workspace out of the database as a package, and into it."""

from __future__ import annotations

import csv
import io
import json
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from datetime import UTC
from typing import IO, Any
from zipfile import ZIP_DEFLATED, ZipFile

from sqlalchemy import Connection, insert, select, update

from yardstick.core.base.schema import SCHEMA
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.packages import (
    AT_ONCE,
    CLICK_COLUMNS,
    CLICKS,
    DESCRIPTOR,
    HISTORY,
    HISTORY_COLUMNS,
    LINK_COLUMNS,
    LINKS,
    REJECTED,
    REJECTED_COLUMNS,
    SETTINGS,
    Package,
    PackedLoad,
    descriptor,
    is_digest,
    names_of,
)
from yardstick.formats.rows.intake import Progress

from .database import copying
from .links import KeptLink
from .loading import load_file, next_load, record_load
from .models import RAW, Change, RejectedRow, ShortClick, order_of_rows
from .packed_links import CheckRows, read_clicks, read_links
from .parts import Parts
from .plans import keep_settings
from .states import LoadThere


def write_package(
    connection: Connection, workspace: int, name: str, data: str, loads: Sequence[LoadThere], settings: str,
    links: Sequence[KeptLink], target: IO[bytes],
) -> None:  # fmt: skip
    """Write all that stands of a workspace into one file.

    Parameters
    ----------
    connection : where it is
    workspace, name : whose
    data : fingerprint of its rows
    loads : that stand, in the order in which they count
    settings : as TOML
    links : rows of the link sheet
    target : the file; it need not be one in which one can go back
    """
    facts = {row.load_no: row for row in connection.execute(select(Change).where(Change.workspace_id == workspace))}
    packed = [_packed(load, facts[load.load]) for load in loads]
    with ZipFile(target, "w", ZIP_DEFLATED) as archive:
        for load in packed:
            with _table(archive, load.path, names_of(load.table)) as out:
                columns = ", ".join(f'"{c.name}"' for c in SCHEMA[load.table])
                query = (
                    f"COPY (SELECT line, {columns}, extra FROM {RAW[load.table].__tablename__} "
                    f"WHERE load_no = {int(load.number)} "
                    f"ORDER BY {order_of_rows(load.table)}) TO STDOUT (FORMAT csv, FORCE_QUOTE *)"
                )
                with copying(connection, query) as copy:
                    for block in copy:
                        out.write(block)
        numbers = [load.number for load in packed]
        rejected = connection.execute(
            select(RejectedRow).where(RejectedRow.workspace_id == workspace, RejectedRow.load_no.in_(numbers))
            .order_by(RejectedRow.load_no, RejectedRow.line, RejectedRow.id)
        )  # fmt: skip
        _rows(archive, REJECTED, REJECTED_COLUMNS, (
            (r.load_no, r.file, r.line, r.column, r.value, r.reason, r.digest) for r in rejected
        ))  # fmt: skip
        _rows(archive, LINKS, LINK_COLUMNS, ((r.key, r.place, json.dumps(r.cells, ensure_ascii=False)) for r in links))
        clicks = connection.execution_options(yield_per=AT_ONCE).execute(
            select(ShortClick).where(ShortClick.workspace_id == workspace).order_by(ShortClick.id)
        )
        _rows(archive, CLICKS, CLICK_COLUMNS, (
            (c.code, c.clicked_at.astimezone(UTC).isoformat(), c.target, c.referrer, c.agent) for c in clicks
        ))  # fmt: skip
        changes = connection.execute(select(Change).where(Change.workspace_id == workspace).order_by(Change.id))
        _rows(archive, HISTORY, HISTORY_COLUMNS, (
            (c.id, c.kind, c.subject, c.file, c.made_at.isoformat(), c.made_by, c.undoes or "") for c in changes
        ))  # fmt: skip
        archive.writestr(SETTINGS, settings)
        sizes = {info.filename: info.file_size for info in archive.infolist()}
        archive.writestr(DESCRIPTOR, descriptor(name, data, packed, sizes))


def _packed(load: LoadThere, change: Any) -> PackedLoad:
    return PackedLoad(
        path=f"rows/{load.load}-{load.table}.csv",
        number=load.load,
        together=load.batch_number,
        table=load.table,
        file=load.file,
        source=load.source,
        finer=load.detail_columns,
        zone=load.zone,
        reading=change.reading,
        made_at=change.made_at.isoformat(),
        made_by=change.made_by,
        lines=change.lines,
        header=change.lines_header,
        skipped=change.lines_skipped,
        rejected=change.rows_rejected,
    )


@contextmanager
def _table(archive: ZipFile, path: str, columns: Sequence[str]) -> Iterator[Any]:
    with archive.open(path, "w", force_zip64=True) as out:
        out.write((",".join(columns) + "\n").encode())
        yield out


def _rows(archive: ZipFile, path: str, columns: Sequence[str], rows: Any) -> None:
    with _table(archive, path, columns) as out:
        for row in rows:
            text = io.StringIO()
            csv.writer(text, quoting=csv.QUOTE_ALL, lineterminator="\n").writerow(row)
            out.write(text.getvalue().encode("utf-8", "replace"))


def read_package(
    connection: Connection, workspace: int, package: Package, zone: str, parts: Parts, progress: Progress,
    check: CheckRows,
) -> str:  # fmt: skip
    """Bring all of a package into an empty workspace, in the transaction of `connection`.

    Parameters
    ----------
    connection : where it goes
    workspace : whose
    package : what comes
    zone : time zone of its settings
    parts : of the workspace
    progress : told how far it is
    check : refuses rows that no link sheet can hold

    Returns
    -------
    str
        What could not come, in words; empty if all came.

    Raises
    ------
    FileProblem
        If the workspace is not empty, or a part cannot be read.
    """
    if connection.execute(select(Change.id).where(Change.workspace_id == workspace).limit(1)).first():
        raise FileProblem("a package comes into an empty workspace: make a new one, then load it there")
    keep_settings(connection, workspace, package.settings(), "load", SETTINGS)
    together: dict[int, int] = {}
    numbers: dict[int, int] = {}
    total = done = 0
    for load in package.loads:
        number = next_load(connection)
        numbers[load.number] = number
        together.setdefault(load.together, number)
        rows = package.rows(load)
        taken = load_file(connection, workspace, rows, load.zone or zone, number, parts, _after(progress, total, done))
        if taken.counts.rejected:
            raise FileProblem(f"{load.path}: rows that stood cannot be read any more ({taken.rejected[0].reason})")
        total, done = total + taken.counts.read, done + package.sizes[load.path]
        counts = taken.counts
        counts.new, counts.rejected = counts.read, load.rejected
        counts.read += load.rejected
        counts.lines, counts.header, counts.skipped = load.lines, load.header, load.skipped
        change = record_load(
            connection, workspace, number, together[load.together], rows.header, counts, load.zone, load.reading
        )
        values = {"made_at": load.made_at, "made_by": load.made_by}
        connection.execute(update(Change).where(Change.id == change).values(**values))
    _rejected(connection, workspace, package, numbers)
    taken_codes = read_links(connection, workspace, package, check)
    read_clicks(connection, workspace, package, taken_codes)
    if not taken_codes:
        return ""
    owners = ", ".join(sorted(set(taken_codes.values())))
    many = "1 short code stays" if len(taken_codes) == 1 else f"{len(taken_codes)} short codes stay"
    return f"{many} with the workspace {owners}"


def _after(progress: Progress, rows: int, done: int) -> Progress:
    """Progress of a part of the work that begins after others."""
    return lambda n, _: progress(rows + n, done)


def _rejected(connection: Connection, workspace: int, package: Package, numbers: dict[int, int]) -> None:
    for some in package.table(REJECTED, REJECTED_COLUMNS):
        try:
            rows: list[dict[str, Any]] = [
                {
                    "workspace_id": workspace,
                    "load_no": numbers[int(row["load"])],
                    "file": row["file"],
                    "line": int(row["line"]),
                    "column": row["column"],
                    "value": row["value"],
                    "reason": row["reason"],
                    "digest": row["digest"],
                }
                for row in some
            ]
            if not all(is_digest(row["digest"]) and 0 < row["line"] < 2**31 for row in rows):
                raise ValueError("digest or line")
            if any("\0" in str(cell) for row in rows for cell in row.values()):
                raise ValueError("a NUL")
        except (ValueError, KeyError):
            raise FileProblem(f"{REJECTED}: a row of it cannot be read: write the package out anew") from None
        if rows:
            connection.execute(insert(RejectedRow), rows)
