"""What was said of matters (R30): which of it is of which matter, and whether a matter may stay."""

from __future__ import annotations

import numpy as np

from ..base.columns import Ints
from ..base.day_numbers import day_number
from ..base.days import NO_DAY, mondays
from ..base.words import fold
from ..plan.gathering_phase import SaidOfMatter
from .facts import Facts
from .matter import OBJECT_PARTS, FoundMatter

WEEKLY = ("arrivals_fell", "capture_differs")
"""Kinds that are of weeks: what was said of one holds for one that shares a week with it."""
RUNS = ("missing_day", "missing_rate")
"""Kinds of which an object may have several, told apart by their first day."""


def kept_of(facts: Facts, kind: str, one: FoundMatter, first_day: int | None) -> SaidOfMatter | None:
    """What was said of a matter, None where nothing was.

    Parameters
    ----------
    kind, one : the matter
    first_day : its first day
    """
    called = fold(OBJECT_PARTS.join(one.object))
    for said in facts.said_of.get((kind, called), ()):
        day = None if said.first_day is None else day_number(said.first_day)
        if kind in RUNS:
            fits = day == first_day
        elif kind in WEEKLY:
            fits = day is None or bool(np.isin(mondays(np.array([day])), _weeks(one, first_day)).any())
        else:
            # One a kind and object: its first day moves when earlier rows come.
            fits = True
        if fits:
            return said
    return None


def _weeks(one: FoundMatter, first_day: int | None) -> Ints:
    days = [part.days[part.days != NO_DAY] for part in one.parts]
    return mondays(np.concatenate([*days, np.array([] if first_day is None else [first_day], np.int64)]))


def is_accepted(facts: Facts, said: SaidOfMatter | None, rows: int) -> bool:
    """Whether a matter may stay: it has a reason, its day has not passed, and its rows have not doubled.

    Parameters
    ----------
    said : what was said of it
    rows : how many it has over all days
    """
    if said is None or not said.accepted_reason.strip():
        return False
    today = facts.last_visit_day if facts.today is None else facts.today
    passed = said.accepted_until is not None and today is not None and today > day_number(said.accepted_until)
    return not passed and not (said.accepted_rows and rows >= 2 * said.accepted_rows)


def whose(facts: Facts, said: SaidOfMatter | None, one: FoundMatter) -> str:
    """Who sees to a matter: whom somebody said, else who mends its link, else the owner of its campaign,
    else nobody."""
    if said is not None and said.whose.strip():
        return said.whose.strip()
    if one.whose:
        return one.whose
    campaigns = (facts.plan.campaign_of(part) for part in one.object if part)
    return next((campaign.owner for campaign in campaigns if campaign is not None and campaign.owner), "")
