"""How sure a result is: intervals, maturity, verdicts, as one (R24, R25, R28)."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction

from ..base.tables import Tables
from .certainty import Interval, intervals
from .maturity import Maturity, ages, maturity
from .part import Glossary
from .verdicts import Verdict, days_of, days_of_all, judge
from .weigh import Result, weigh

CAMPAIGN = ("campaign",)


@dataclass(frozen=True)
class Judged:
    """What is said of a result.

    Attributes
    ----------
    intervals : by yardstick and number of the place, figure -> interval; of named rows with spend
    maturity : by kind of goal
    verdicts : of campaigns, whatever the breakdown; filters hold for them as for the rows
    come : by kind, the share of the range's conversions that has come; None where it cannot be told
    come_by_place : the same for every place of the result
    """

    intervals: Mapping[tuple[str, int], Mapping[str, Interval]]
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
    everything : False leaves out intervals and verdicts where the breakdown is another than by campaign
    """
    glossary = Glossary(result.ground, result.counted)
    found = maturity(glossary, result.plan, ages(glossary, result.plan))
    days = days_of_all(result)
    come = {kind: one.mean(days) for kind, one in found.items()}
    by_place: list[Mapping[str, Fraction | None]] = [
        {kind: one.mean(own_days) for kind, one in found.items()} for own_days in days_of(result)
    ]
    if result.by != CAMPAIGN and not everything:
        return Judged({}, found, [], come, by_place)
    own = intervals(result)
    by_campaign, of_campaigns = result, own
    if result.by != CAMPAIGN:
        by_campaign = weigh(tables, result.plan, CAMPAIGN, where=result.where, ground=result.ground)
        of_campaigns = intervals(by_campaign)
    return Judged(own, found, judge(by_campaign, found, of_campaigns), come, by_place)
