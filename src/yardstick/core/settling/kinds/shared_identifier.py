"""An identifier of so many others that it joins nobody (R6, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.columns import Ints
from ...base.identifiers import IDENTIFIER_KINDS
from ...report.person_rows import TABLES
from ...report.weigh import Result
from ...trails.people import KINDS
from ..matter import FoundMatter, MatterKind, RowsOf, days_of_records


def _find(result: Result) -> Iterator[FoundMatter]:
    read = result.prepared.read
    conversions = read.conversions
    leads = len(read.tables.leads)
    values = np.where(result.counted.flags, conversions.value, 0)
    of_records = days_of_records(result)
    days: tuple[Ints, ...] = (
        read.roles.day[: len(read.tables.visits)],
        of_records[:leads],
        of_records[leads:],
    )
    worth = (None, values[:leads], values[leads:])
    for kind, value, _ in read.known.people.shared:
        number = KINDS.index(kind)
        parts = []
        for group, table in enumerate(TABLES):
            identified = read.identified[group]
            if number not in identified.columns:
                continue
            rows = np.flatnonzero(identified.columns[number].equals(value) & identified.joins)
            if len(rows):
                mine = worth[group]
                parts.append(RowsOf(table, rows, days[group][rows], None if mine is None else mine[rows]))
        yield FoundMatter((IDENTIFIER_KINDS[number], value), tuple(parts))


KIND = MatterKind(
    name="shared_identifier",
    station="gather",
    mendings=("leave out", "separate"),
    rule="an identifier found together with more others than the limit: it joins nobody",
    find=_find,
)
