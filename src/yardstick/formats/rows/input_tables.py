"""Files that are given together, without database: read, typed, keyed, and made into the core's tables."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field, fields

import numpy as np
import pyarrow as pa

from yardstick.core.base.columns import Text
from yardstick.core.base.notes import Finding, Rejected
from yardstick.core.base.schema import ROW_ID, SCHEMA
from yardstick.core.base.tables import Table, Tables
from yardstick.core.report.fingerprint import name_of

from ..files.raw import Header, TableFile
from .arrow_tables import ids_of, table_of
from .columns import TypedBatch
from .intake import LineCounts, ingest
from .keyed import GROUPED, Keys, all_stand, contributed, resolve_versions, sum_of
from .origins import FileRows, origin_of


@dataclass(kw_only=True)
class FileCount(LineCounts):
    """Of a file that was read once: read = accepted + rejected + repeated + replaced. Quarantined rows are among the
    accepted."""

    accepted: int
    quarantined: int


@dataclass
class ReadFile:
    """A whole file, typed."""

    header: Header
    batches: list[TypedBatch]
    keys: Keys
    rejected: list[Rejected]
    findings: list[Finding]
    count: FileCount


def read_file(file: TableFile, zone: str) -> ReadFile:
    """Read and type a file.

    Parameters
    ----------
    file : being read
    zone : time zone of times that carry no offset
    """
    batches: list[TypedBatch] = []
    rejected: list[Rejected] = []

    def each(batch: TypedBatch, _: Keys) -> None:
        batches.append(batch)
        rejected.extend(batch.rejected)

    taken = ingest(file, zone, lambda rows, done: None, each, known=True)
    count = FileCount(
        **{f.name: getattr(taken.counts, f.name) for f in fields(LineCounts)},
        accepted=taken.counts.read - taken.counts.rejected,
        quarantined=0,
    )
    return ReadFile(file.header, batches, taken.keys, rejected, [*taken.findings, *_sums(file)], count)


def _sums(file: TableFile) -> list[Finding]:
    """Rows that are the sum of others and were left out, and rows that may be and count."""
    table, name = file.header.table, file.header.file
    out = []
    for row in getattr(file, "sums", ()):
        code, level = ("sum_left_out", "note") if row.out else ("may_be_a_sum", "warning")
        out.append(
            Finding(code, level, table, "", "", row.said or f"{row.amount.normalize():f}", None, "", name, row.line)
        )
    return out


@dataclass
class InputTables:
    """Tables made of files, with all that was noticed. `unread` says by file what is wrong with one that could not be
    read as a whole, and what would make it read."""

    tables: Tables
    rejected: list[Rejected] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    counts: dict[str, FileCount] = field(default_factory=dict)
    unread: dict[str, str] = field(default_factory=dict)


def tables_of(files: Iterable[ReadFile]) -> InputTables:
    """The tables that files hold together; they are one load.

    Parameters
    ----------
    files : in the order of their names
    """
    given = list(files)
    out = InputTables(Tables())
    found: dict[str, Table] = {}
    total, rows = 0, []
    for name in SCHEMA:
        mine = [f for f in given if f.header.table == name]
        if mine:
            found[name], added, came, repeated = _one_table(name, mine)
            total += added
            rows += came
            out.findings += repeated
    for f in given:
        out.rejected += f.rejected
        out.findings += f.findings
        out.counts[f.header.file] = f.count
    total += sum(int(digest, 16) for digest in {r.digest for r in out.rejected})
    counted = [(f.header.file, f.count.lines) for f in given]
    origin = origin_of(counted, rows, [(r.file, r.line, r.digest) for r in out.rejected])
    out.tables = Tables(**found, data=name_of(total), origin=origin)
    return out


def _one_table(name: str, files: Sequence[ReadFile]) -> tuple[Table, int, list[FileRows], list[Finding]]:
    batches = [(i, b) for i, f in enumerate(files) for b in f.batches]
    keys = Keys.join([f.keys for f in files])
    made: dict[str, Text] = {}
    if name in ROW_ID and batches:
        ids = ids_of(pa.chunked_array([b.columns[ROW_ID[name]] for _, b in batches], pa.string()))
        keys.key[:, 0] = ids.codes
        made[ROW_ID[name]] = ids
        standing = (
            all_stand(len(keys))
            if len(ids.values) == len(keys)
            else resolve_versions(name, keys, np.zeros(len(keys), np.int64))
        )
    else:
        standing = resolve_versions(name, keys, np.zeros(len(keys), np.int64))
    lines = np.concatenate([b.lines for _, b in batches] or [np.empty(0, np.int64)])
    of_file = np.concatenate([np.full(len(b), i) for i, b in batches] or [np.empty(0, np.int64)])
    columns = {}
    absent = frozenset[str]().union(*(b.absent for _, b in batches[:1])).intersection(*(b.absent for _, b in batches))
    for column in SCHEMA[name]:
        if column.name in absent:
            continue
        joined = (
            pa.chunked_array([b.columns[column.name] for _, b in batches]) if batches else pa.array([], pa.string())
        )
        columns[column.name] = joined if standing.counts.all() else joined.filter(pa.array(standing.counts))
    findings = []
    for row in np.flatnonzero(standing.repeated).tolist():
        file = files[int(of_file[row])]
        file.count.accepted -= 1
        file.count.repeated += 1
        findings.append(_repeated(name, file, batches, row))
    if not batches:
        return Tables().named()[name], 0, [], findings
    kept = standing.counts
    file_text = Text(of_file[kept].astype(np.int32), [f.header.file for f in files])
    whole = made if kept.all() else {}
    table = table_of(name, columns, file_text, lines[kept].astype(np.int32), whole)
    content = contributed(keys.digest, standing.ordinal)
    came, start = [], 0
    for file in files:
        stop = start + len(file.keys)
        texts = pa.chunked_array([b.plain_times for b in file.batches], pa.string())
        where = np.concatenate([b.lines for b in file.batches] or [np.empty(0, np.int64)])
        came.append(FileRows(file.header.file, content[start:stop], where, texts))
        start = stop
    return table, sum_of(content[kept]), came, findings


def _repeated(name: str, file: ReadFile, batches: Sequence[tuple[int, TypedBatch]], row: int) -> Finding:
    for _, batch in batches:
        if row < len(batch):
            break
        row -= len(batch)
    field_name = "campaign" if name in GROUPED else SCHEMA[name][0].name
    value = str(batch.columns[field_name][row].as_py())
    said, of = ("", value) if name in GROUPED else (value, "")
    line = int(batch.lines[row])
    return Finding("identical_row", "note", name, said, field_name, of, None, "", file.header.file, line)
