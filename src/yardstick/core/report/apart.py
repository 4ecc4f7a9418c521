"""Why records are in no figure: the one answer, for a page, a list and a file (R9, R10, R22)."""

from __future__ import annotations

import numpy as np

from ..base.columns import Ints
from ..base.day_numbers import day_number
from ..base.days import NO_DAY
from ..base.schema import CANCELLED, TEST
from .recorded import Apart
from .weigh import Result

_RULES = (
    Apart.TEST,
    Apart.QUARANTINED,
    Apart.CANCELLED,
    Apart.WORD,
    Apart.COUNTED_ELSEWHERE,
    Apart.NO_EVENT,
    Apart.OUTSIDE,
)
"""In the order in which they are asked."""


def apart_of(result: Result, numbers: Ints) -> list[Apart | None]:
    """The first of the rules that takes each of some records out of every figure; None where it counts.

    Parameters
    ----------
    result : a weighing, whose range is looked by
    numbers : of the records among all conversions
    """
    rules: list[Apart | None] = [*_RULES, None]
    return [rules[code] for code in apart_codes(result)[numbers].tolist()]


def apart_codes(result: Result) -> Ints:
    """(c,) int64: of every record the place of that rule among `Apart`, and their number where it counts."""
    prepared, reporting = result.prepared, result.plan.reporting
    conversions, tables = prepared.conversions, prepared.tables
    word, day = conversions.word, conversions.report_day
    tests = np.concatenate([prepared.quarantine.leads, prepared.quarantine.conversions])
    flags = [
        t.flags("is_test") if "is_test" in t.columns else np.zeros(len(t), np.bool_)
        for t in (tables.leads, tables.conversions)
    ]
    said = np.concatenate(flags) | word.equals(TEST)
    outside = np.zeros(len(conversions), np.bool_)
    if reporting.report_from is not None:
        outside |= day < day_number(reporting.report_from)
    if reporting.report_to is not None:
        outside |= day > day_number(reporting.report_to)
    applies = (
        tests & said,
        tests,
        word.equals(CANCELLED),
        ~conversions.eligible,
        ~result.counted.flags,
        day == NO_DAY,
        outside,
    )
    return np.select(applies, list(range(len(applies))), len(_RULES)).astype(np.int64)


def apart_words() -> list[str]:
    """What the numbers of `apart_codes` stand for."""
    return [*_RULES, "counts"]
