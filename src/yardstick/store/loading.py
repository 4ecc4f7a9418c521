"""Loading a file: bulk COPY into a staging table, then set by set into the raw rows, in one transaction.

Loading the same rows twice changes nothing; a row with a known id replaces the earlier one; spend replaces whole days
of an account and level. What is replaced is closed, never overwritten.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from sqlalchemy import Connection, insert, select, text, update

from yardstick.core.base.notes import Rejected
from yardstick.core.base.tables import ROW_ID, SCHEMA
from yardstick.core.base.words import fold
from yardstick.core.costs.spend import LEVELS
from yardstick.formats.columns import Parsed
from yardstick.formats.csv_in import RawTable

from .models import RAW, Change, RejectedRow, Workspace

CHUNK = 5_000
SEPARATOR = "\x1f"


class Stopped(Exception):
    """The person asked to stop; nothing of the file is kept."""


@dataclass(frozen=True)
class Loaded:
    """What loading a file did. new + replaced + unchanged = accepted rows."""

    change: int
    read: int
    new: int
    replaced: int
    unchanged: int
    rejected: int


Progress = Callable[[int, int], None]
"""Told (rows done, rows in all); raises `Stopped` to stop."""


def lock(connection: Connection, workspace: int) -> None:
    """Let changes of a workspace happen one after the other, so that their ids tell their order."""
    connection.execute(select(Workspace.id).where(Workspace.id == workspace).with_for_update()).one()


def load_rows(connection: Connection, workspace: int, raw: RawTable, parsed: Parsed, progress: Progress) -> Loaded:
    """Load the accepted rows of a file in the transaction of `connection`.

    Parameters
    ----------
    connection : in a transaction; the caller commits, or rolls back for a rehearsal
    workspace : id
    raw, parsed : the file as text, and which rows of it were accepted
    progress : told how far it is

    Raises
    ------
    Stopped
        If `progress` says so.
    """
    lock(connection, workspace)
    rejected = len({r.line for r in parsed.rejected})
    change = connection.execute(
        insert(Change)
        .values(
            workspace_id=workspace,
            kind="load",
            subject=raw.table,
            file=raw.file,
            rows_read=parsed.read,
            rows_rejected=rejected,
        )
        .returning(Change.id)
    ).scalar_one()
    _stage(connection, raw, parsed, progress)
    counts = _merge(connection, workspace, raw.table, change)
    unchanged = len(parsed.kept) - counts["new"] - counts["replaced"]
    connection.execute(
        update(Change)
        .where(Change.id == change)
        .values(rows_new=counts["new"], rows_replaced=counts["replaced"], rows_unchanged=unchanged)
    )
    keep_rejected(connection, workspace, change, parsed.rejected)
    return Loaded(change, parsed.read, counts["new"], counts["replaced"], unchanged, rejected)


def keep_rejected(connection: Connection, workspace: int, change: int, rejected: list[Rejected]) -> None:
    """Store the rejected rows of a file, so that nothing of it is lost."""
    if rejected:
        connection.execute(
            insert(RejectedRow),
            [
                {
                    "workspace_id": workspace,
                    "change_id": change,
                    "file": r.file,
                    "line": r.line,
                    "column": r.column,
                    "value": r.value,
                    "reason": r.reason,
                }
                for r in rejected
            ],
        )


def _stage(connection: Connection, raw: RawTable, parsed: Parsed, progress: Progress) -> None:
    names = [c.name for c in SCHEMA[raw.table]]
    columns = ", ".join(f'"{name}" text' for name in names)
    connection.execute(text("DROP TABLE IF EXISTS staging"))
    connection.execute(
        text(f"CREATE TEMPORARY TABLE staging (key text, digest text, line int, extra jsonb, {columns}) ON COMMIT DROP")
    )
    driver: Any = connection.connection.driver_connection
    total = len(parsed.kept)
    with driver.cursor() as cursor, cursor.copy("COPY staging FROM STDIN") as copy:
        for done, row in enumerate(_staged_rows(raw, parsed.kept, names)):
            if done % CHUNK == 0:
                progress(done, total)
            copy.write_row(row)
    progress(total, total)
    connection.execute(text("CREATE INDEX ON staging (key)"))
    connection.execute(text("ANALYZE staging"))


def _staged_rows(raw: RawTable, kept: list[int], names: list[str]) -> Iterator[list[Any]]:
    place = {name: i for i, name in enumerate(raw.columns)}
    order = [place.get(name, -1) for name in names]
    width = len(raw.columns)
    key_of = _key_reader(raw, place)
    known = sorted(place.items())
    for row in kept:
        cells = raw.rows[row]
        extra = {n: v for n, v in zip(raw.extra, cells[width:], strict=True) if v.strip()}
        said = [f"{name}={cells[i].strip()}" for name, i in known if cells[i].strip()]
        said += [f"{name}={value.strip()}" for name, value in sorted(extra.items())]
        digest = hashlib.blake2b(SEPARATOR.join(said).encode(), digest_size=16).hexdigest()
        values = [cells[i] if i >= 0 else "" for i in order]
        yield [key_of(cells), digest, raw.lines[row], json.dumps(extra) if extra else None, *values]


def _key_reader(raw: RawTable, place: dict[str, int]) -> Callable[[list[str]], str]:
    """What a row replaces: the row with its id; the whole day of its account and level; the rate of its day."""
    if raw.table in ROW_ID:
        at = place[ROW_ID[raw.table]]
        return lambda cells: cells[at].strip()

    def cell(cells: list[str], name: str) -> str:
        return cells[place[name]].strip() if name in place else ""

    if raw.table == "spend":
        return lambda cells: SEPARATOR.join(
            [
                cell(cells, "day"),
                fold(cell(cells, "platform")),
                fold(cell(cells, "account")),
                "".join("x" if cell(cells, name) else "-" for name in LEVELS),
            ]
        )
    if raw.table == "other_costs":
        return lambda cells: SEPARATOR.join(
            [cell(cells, "from"), cell(cells, "to"), fold(cell(cells, "campaign")), fold(cell(cells, "kind"))]
        )
    return lambda cells: SEPARATOR.join([cell(cells, "day"), cell(cells, "base").upper(), cell(cells, "quote").upper()])


def _merge(connection: Connection, workspace: int, table: str, change: int) -> dict[str, int]:
    raw = RAW[table].__tablename__
    names = ", ".join(f'"{c.name}"' for c in SCHEMA[table])
    bound = {"w": workspace, "c": change}
    if table == "rates":
        # Of two rates for one day the later row holds (R20).
        connection.execute(text("DELETE FROM staging a USING staging b WHERE a.key = b.key AND a.line < b.line"))
    if table in ("spend", "other_costs"):
        # Neither has an id of its own: all rows of one key are replaced together.
        _drop_unchanged_days(connection, raw, workspace)
        same = "false"
    else:
        same = "r.digest = s.digest"
    was_open = "FROM staging s WHERE EXISTS (SELECT 1 FROM {raw} r WHERE r.workspace_id = :w AND r.key = s.key"
    was_open = was_open.format(raw=raw) + f" AND r.closed_by IS NULL AND NOT ({same}))"
    replaced = connection.execute(text(f"SELECT count(*) {was_open}"), bound).scalar_one()
    connection.execute(
        text(
            f"UPDATE {raw} r SET closed_by = :c FROM (SELECT DISTINCT key, digest FROM staging) s "
            f"WHERE r.workspace_id = :w AND r.key = s.key AND r.closed_by IS NULL AND NOT ({same})"
        ),
        bound,
    )
    inserted = connection.execute(
        text(
            f"INSERT INTO {raw} (workspace_id, key, digest, load_id, line, opened_by, extra, {names}) "
            f"SELECT :w, s.key, s.digest, :c, s.line, :c, s.extra, {names_of(table)} FROM staging s "
            f"WHERE NOT EXISTS (SELECT 1 FROM {raw} r WHERE r.workspace_id = :w AND r.key = s.key "
            "AND r.closed_by IS NULL) ORDER BY s.line"
        ),
        bound,
    ).rowcount
    return {"new": inserted - replaced, "replaced": replaced}


def names_of(table: str) -> str:
    """The table's columns in the staging table, for a select list."""
    return ", ".join(f's."{c.name}"' for c in SCHEMA[table])


def _drop_unchanged_days(connection: Connection, raw: str, workspace: int) -> None:
    """Take days of an account and level whose rows are just those on record out of the staging table (R18)."""
    day = "SELECT key, string_agg(digest, ',' ORDER BY digest) AS rows FROM"
    connection.execute(
        text(
            f"DELETE FROM staging WHERE key IN (SELECT key FROM ({day} staging GROUP BY key) new "
            f"JOIN ({day} {raw} WHERE workspace_id = :w AND closed_by IS NULL "
            "AND key IN (SELECT key FROM staging) GROUP BY key) old USING (key, rows))"
        ),
        {"w": workspace},
    )


class CannotUndo(ValueError):
    """An undo that is not possible; the text says why and what to do first."""


def undo(connection: Connection, workspace: int, change: int) -> int:
    """Undo a load: close what it opened, bring back what it closed. Returns the id of the new change.

    Parameters
    ----------
    connection : in a transaction
    workspace : id
    change : the load to undo

    Raises
    ------
    CannotUndo
        If there is no such load, it is undone already, or a later load of the same table stands on it.
    """
    lock(connection, workspace)
    load = connection.execute(
        select(Change).where(Change.id == change, Change.workspace_id == workspace, Change.kind != "undo")
    ).one_or_none()
    if load is None:
        raise CannotUndo("there is nothing to undo: look at the list again")
    undone = select(Change.undoes).where(Change.workspace_id == workspace, Change.undoes.is_not(None))
    kept_later = connection.execute(
        select(Change.file)
        .where(
            Change.workspace_id == workspace,
            Change.kind != "undo",
            Change.subject == load.subject,
            Change.id > change,
            Change.id.not_in(undone),
        )
        .order_by(Change.id.desc())
    ).scalars()
    if connection.execute(select(Change.id).where(Change.undoes == change)).first():
        raise CannotUndo(f"{load.file} is undone already")
    later = list(kept_later)
    if later:
        raise CannotUndo(f"{later[0]} came into {load.subject} after {load.file}: undo that first")
    undoing = connection.execute(
        insert(Change)
        .values(workspace_id=workspace, kind="undo", subject=load.subject, file=load.file, undoes=change)
        .returning(Change.id)
    ).scalar_one()
    table, columns = _KEPT.get(load.subject) or _raw(load.subject)
    bound = {"w": workspace, "load": change, "u": undoing}
    # By where the rows came from: some may have been brought back by the undoing of a later load.
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
    return int(undoing)


_KEPT = {"settings": ("settings_version", "toml"), "links": ("link", "key, place, cells")}
"""Table and columns of what is kept in other tables than those of raw rows."""


def _raw(table: str) -> tuple[str, str]:
    names = ", ".join(f'"{c.name}"' for c in SCHEMA[table])
    return RAW[table].__tablename__, f"key, digest, line, extra, {names}"
