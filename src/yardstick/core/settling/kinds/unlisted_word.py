"""A status word that the plan gives no meaning, and that so counts (R10, R30)."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ...report.record_fields import RecordFields
from ...report.record_list import unlisted_words
from ...report.weigh import Result
from ..matter import FoundMatter, MatterKind, RowsOf, days_of_records


def _find(result: Result) -> Iterator[FoundMatter]:
    fields = RecordFields(result)
    groups = unlisted_words(fields)
    conversions, laid = result.prepared.conversions, fields.field("status") if groups else None
    for group in groups:
        assert laid is not None
        mine = np.flatnonzero(laid.codes == laid.shown.index(group.values[0]))
        days = days_of_records(result)
        # What a counting rule drops is a row without value.
        values = np.where(result.counted.flags, conversions.value, 0)
        parts = []
        for is_lead, table in ((True, "leads"), (False, "conversions")):
            numbers = mine[conversions.is_lead_row[mine] == is_lead]
            if len(numbers):
                parts.append(RowsOf(table, conversions.row[numbers], days[numbers], values[numbers]))
        yield FoundMatter(group.values, tuple(parts))


KIND = MatterKind(
    name="unlisted_word",
    station="gather",
    mendings=("status word",),
    rule="a present status word that the plan does not list",
    find=_find,
)
