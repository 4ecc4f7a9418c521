"""An identifier of so many others that it joins nobody (R6, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...base.columns import Ints
from ...base.identifiers import IDENTIFIER_KINDS
from ...report.person_rows import TABLES
from ...trails.people import KINDS
from ..facts import Facts
from ..matter import FoundMatter, MatterKind, RowsOf


def _find(facts: Facts) -> Iterator[FoundMatter]:
    read = facts.prepared.read
    leads = len(read.tables.leads)
    of_visits = read.roles.day[: len(read.tables.visits)]
    days: tuple[Ints, ...] = (of_visits, facts.record_days[:leads], facts.record_days[leads:])
    worth = (None, facts.record_values[:leads], facts.record_values[leads:])
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
                values = None if mine is None else mine[rows]
                parts.append(RowsOf(getattr(read.tables, table), rows, days[group][rows], values))
        yield FoundMatter((IDENTIFIER_KINDS[number], value), tuple(parts))


KIND = MatterKind(
    name="shared_identifier",
    station="gather",
    mendings=("leave out", "separate"),
    rule="an identifier found together with more others than the limit: it joins nobody",
    find=_find,
)
