"""How sure a result is: intervals, maturity, verdicts, as one (R24, R25, R28)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from ..base.tables import Tables
from .certainty import Interval, intervals_and_redraws
from .maturity import Maturity, ages, maturity
from .part import Glossary
from .verdicts import Verdict, days_of, days_of_all, is_by_ads, judge
from .weigh import Result


@dataclass(frozen=True)
class Judged:
    """Everything that is concluded from a result.

    Attributes
    ----------
    intervals : by yardstick and number of the place, figure -> interval; of named rows with spend
    ruled : the same of what the ruler draws and verdicts judge: by anything but the campaign, of what the ads earned
    maturity : by kind of goal
    verdicts : of rows with spend; filters hold for them as for the rows
    come : by kind, the share of the range's conversions that has come; None where it cannot be told
    come_by_place : the same for every place of the result
    """

    intervals: Mapping[tuple[str, int], Mapping[str, Interval]]
    ruled: Mapping[tuple[str, int], Mapping[str, Interval]]
    maturity: Mapping[str, Maturity]
    verdicts: list[Verdict]
    come: Mapping[str, Fraction | None]
    come_by_place: list[Mapping[str, Fraction | None]]


def judge_result(tables: Tables, result: Result, everything: bool = True) -> Judged:
    """Say how sure a result is.

    Parameters
    ----------
    tables : what it was weighed from
    result : a weighing, by whatever fields
    everything : False leaves out intervals and verdicts where the breakdown is not judged
    """
    glossary = Glossary(result.prepared, result.counted)
    found = maturity(glossary, result.plan, ages(glossary, result.plan))
    days = days_of_all(result)
    come = {kind: one.mean(days) for kind, one in found.items()}
    by_place: list[Mapping[str, Fraction | None]] = [
        {kind: one.mean(own_days) for kind, one in found.items()} for own_days in days_of(result)
    ]
    if not everything and not result.by.is_judged:
        return Judged({}, {}, found, [], come, by_place)
    own, redraws = intervals_and_redraws(result)
    asked = intervals_and_redraws(result, ads_only=True) if is_by_ads(result) else (own, redraws)
    return Judged(own, asked[0], found, judge(result, found, *asked), come, by_place)
