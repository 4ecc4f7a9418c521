"""Forms that capture another source than the visits say (R8, R30)."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

import numpy as np

from ...base.days import mondays
from ...report.capture_agreement import compared_leads
from ..facts import Facts
from ..matter import FoundMatter, MatterKind
from ..parts import records_part

LEAST = 10


def _find(facts: Facts) -> Iterator[FoundMatter]:
    numbers, agree = compared_leads(facts.fields)
    forms = facts.fields.field("form")
    share = Fraction(facts.threshold(KIND.name))
    form, week = forms.codes[numbers], mondays(facts.prepared.conversions.day[numbers])
    for code in np.unique(form).tolist():
        found = []
        for monday in np.unique(week[form == code]).tolist():
            mine = (form == code) & (week == monday)
            of, differ = int(mine.sum()), int((mine & ~agree).sum())
            if of >= LEAST and differ > share * of:
                found.append(numbers[mine & ~agree])
        if found:
            yield FoundMatter((forms.shown[code],), records_part(facts, np.concatenate(found)))


KIND = MatterKind(
    name="capture_differs",
    station="gather",
    mendings=("legend", "form"),
    rule=f"captured and seen source differ in more than {{}} of a week with {LEAST} leads or more",
    find=_find,
)
