"""A file as far as it was taken in: read, typed, keyed and counted, batch by batch."""

from __future__ import annotations

from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, field

import numpy as np

from yardstick.core.base.notes import Finding, Rejected

from ..cells.row_hashes import is_ready
from ..files.raw import RawBatch, TableFile
from .columns import TypedBatch, Typer
from .keyed import KeyRows, Keys, detail_columns_of, keys_of
from .two_cores import steps

MOST_SHOWN = 200


@dataclass(kw_only=True)
class LineCounts:
    """What became of the lines of a file: lines = header + read + skipped - spread.

    `skipped` are blank lines and lines inside a cell, `repeated` rows identical to one that counts, `replaced` those
    that another of their id or day took the place of or that took the place of one. `spread` are rows that stand for a
    part of a line that others stand for, too: a week of spend is seven.
    """

    lines: int
    header: int
    skipped: int
    read: int
    rejected: int
    repeated: int
    replaced: int
    spread: int = 0


@dataclass(kw_only=True)
class Counts(LineCounts):
    """What loading a file did, or would do: read = new + replaced + unchanged + repeated + rejected."""

    new: int
    unchanged: int

    @classmethod
    def of(cls, **counts: int) -> Counts:
        """Counts, 0 where nothing is said."""
        return cls(**dict.fromkeys(COUNTS, 0) | counts)


COUNTS = ("lines", "header", "skipped", "read", "rejected", "repeated", "replaced", "new", "unchanged")


@dataclass
class Intake:
    """A file as far as it was taken in.

    Attributes
    ----------
    counts : without new, replaced, unchanged and repeated, which depend on what stands
    keys : of the accepted rows
    rejected : the first of the rejected rows
    findings, zone_matters : see `Typer`
    sample : the first accepted rows as they came
    """

    counts: Counts = field(default_factory=Counts.of)
    keys: Keys = field(default_factory=lambda: Keys.join([]))
    rejected: list[Rejected] = field(default_factory=list)
    findings: list[Finding] = field(default_factory=list)
    zone_matters: bool = False
    sample: list[list[str]] = field(default_factory=list)


Progress = Callable[[int, int], None]
"""Told (rows done, bytes done); raises `Stopped` to stop."""


def ingest(
    file: TableFile,
    zone: str,
    progress: Progress,
    each: Callable[[TypedBatch, Keys], None],
    sample: int = 0,
    known: bool = False,
) -> Intake:
    """Read a file to its end, batch by batch.

    Parameters
    ----------
    file : being read
    zone : time zone of times that carry no offset
    progress : told how far it is
    each : told every batch with its hashes
    sample : how many rows to keep as they came
    known : see `keys_of`
    """
    out, typer = Intake(), Typer(file.header, zone)
    detail_columns, all_keys = detail_columns_of(file.header), KeyRows()
    counts = out.counts
    counts.header = file.header_lines

    def typed(raw: RawBatch) -> tuple[RawBatch, TypedBatch]:
        return raw, typer.read(raw)

    def keyed(both: tuple[RawBatch, TypedBatch]) -> tuple[RawBatch, TypedBatch, Keys]:
        return *both, keys_of(file.header.table, both[1], detail_columns, known=known)

    # What hashes rows one by one holds the interpreter, and would hold up who reads and types.
    with closing(steps(file.batches(), typed, keyed, at_once=is_ready())) as batches:
        for raw, batch, keys in batches:
            all_keys.add(keys)
            each(batch, keys)
            out.rejected += batch.rejected[: MOST_SHOWN - len(out.rejected)]
            if len(out.sample) < sample:
                rows = zip(*(batch.raw[name][:sample].to_pylist() for name in batch.raw), strict=True)
                out.sample += [list(row) for row in rows][: sample - len(out.sample)]
            rejected = len({r.line for r in batch.rejected})
            counts.rejected += rejected
            counts.read += len(batch) + rejected
            counts.skipped += raw.skipped
            counts.spread += len(batch) - len(np.unique(batch.lines)) if raw.spread else 0
            progress(counts.read, raw.bytes_done)
    counts.lines = counts.header + counts.read + counts.skipped - counts.spread
    out.keys, out.findings, out.zone_matters = all_keys.all(), typer.findings, typer.zone_matters
    if not counts.read:
        header = file.header
        out.findings.append(Finding("no_rows", "warning", header.table, "", "", "", None, "", header.file, 1))
    return out
