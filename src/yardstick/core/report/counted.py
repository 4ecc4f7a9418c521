"""Which conversions count over all the data, and the trails of any of them (R8, R10-R13)."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import NO_INSTANT, Flags, Ints
from ..base.day_numbers import DAY_US
from ..plan.counting_phase import Trailing, Windows
from ..reading.captured import captured_for
from ..trails.deals import with_contacts
from ..trails.goals import count_once, first_sales, goodness, previous_counted
from ..trails.trails import Trails, cut_at, fill_empty, lay_trails, yield_to_others
from .prepared_data import PreparedData

SALE, LEAD, GOOD_LEAD, NEW_SALE, OPEN_LEAD = range(5)
"""What a conversion counts as; a new sale is the first of its person (R23), of an open lead it is not known yet whether
it is good (R10)."""
KINDS = 5


@dataclass(frozen=True)
class Counted:
    """What counts, over all the data.

    Attributes
    ----------
    flags : (conversions,) bool, conversions that count (R10)
    after : (conversions,) int64, the instant after which a trail begins under `cut_at_previous` (R11)
    new : (conversions,) bool, first counted sales of their persons in all the data (R23)
    good, open : (conversions,) bool, good leads, and leads of which that is not known yet (R10)
    kind : (conversions,) int64: sale, lead, good lead, a person's first sale, or a lead that may still become good
    """

    flags: Flags
    after: Ints
    new: Flags
    good: Flags
    open: Flags
    kind: Ints


def count(prepared: PreparedData, windows: Windows, trailing: Trailing) -> Counted:
    """See what counts.

    It cannot be said of a part of the people: until when a lead's goodness is open depends on the last day of everyone.
    """
    conversions, goals = prepared.conversions, prepared.goals
    no_cut = np.full(len(conversions), NO_INSTANT, np.int64)
    if {goal.count for goal in goals} <= {"every"}:
        flags = conversions.eligible
    else:
        last_touch = np.full(len(conversions), -1, np.int64)
        if any(goal.count == "one_per_touch" for goal in goals):
            every = trails_of(conversions.eligible, prepared, windows, no_cut)
            filled = every.lengths > 0
            last_touch[every.conversion[filled]] = every.touch[every.offsets[1:][filled] - 1]
        flags = count_once(conversions, goals, last_touch)
    seen = prepared.roles.day[: prepared.roles.visits][~prepared.quarantine.visits]
    good, waiting = goodness(
        conversions,
        flags,
        goals,
        lambda name: trailing.versions_of(name)[0].kind,
        int(seen.max()) if len(seen) else None,
    )
    new = first_sales(conversions, flags, goals)
    is_lead = np.array([g.kind == "lead" for g in goals], np.bool_)
    lead = is_lead[conversions.version] if len(conversions) else np.empty(0, np.bool_)
    of_lead = np.where(good, GOOD_LEAD, np.where(waiting, OPEN_LEAD, LEAD))
    return Counted(
        flags=flags,
        after=previous_counted(conversions, flags) if windows.cut_at_previous else no_cut,
        new=new,
        good=good,
        open=waiting,
        kind=np.where(lead, of_lead, np.where(new, NEW_SALE, SALE)),
    )


def is_sale(kinds: Ints) -> Flags:
    """(c,) bool: which kinds are sales."""
    sales: Flags = (kinds == SALE) | (kinds == NEW_SALE)
    return sales


def look_back(prepared: PreparedData, windows: Windows) -> Ints:
    """(goal versions, 3) int64: the windows for clicks, views and watches, in microseconds (R11)."""
    usual, own = windows.window, {(w.name, w.since): w for w in windows.goal_windows}
    per_goal = []
    for goal in prepared.goals:
        mine = own.get((goal.name, goal.since))
        days = [
            getattr(usual, kind) if mine is None or getattr(mine, kind) is None else getattr(mine, kind)
            for kind in ("click_days", "view_days", "watch_days")
        ]
        per_goal.append([int(d * DAY_US) for d in days])
    return np.array(per_goal, np.int64).reshape(-1, 3)


def trails_of(chosen: Flags, prepared: PreparedData, windows: Windows, after: Ints) -> Trails:
    """The trails of some conversions, in the order of people (R8, R11, R13).

    Parameters
    ----------
    chosen : (conversions,) bool
    after : (conversions,) int64, see `Counted`
    """
    conversions, touches = prepared.conversions, prepared.touches
    which = conversions.by_person[chosen[conversions.by_person]]
    at, back = conversions.at[which], look_back(prepared, windows)[conversions.version[which]]
    real = touches.count
    trails = lay_trails(touches.begins, touches.at[:real], touches.kind[:real], conversions.person[which], at, back)
    trails = Trails(which, trails.offsets, trails.touch)
    if len(prepared.contacts.conversion):
        trails = _with_contacts(trails, prepared, at, back)
    if windows.cut_at_previous:
        trails = cut_at(trails, touches.at, after[which])
    empty = np.flatnonzero(trails.lengths == 0)
    sale = np.where(conversions.is_lead_row, -1, conversions.row)[which][empty]
    lead = conversions.names_lead[which][empty]
    owner, number = captured_for(prepared.captured, lead, sale, at[empty], back[empty, 0], after[which][empty])
    trails = fill_empty(trails, empty[owner], number + real)
    if windows.direct == "yield":
        trails = yield_to_others(trails, touches.direct)
    if windows.views == "yield":
        trails = yield_to_others(trails, touches.kind != 0)
    return trails


def _with_contacts(trails: Trails, prepared: PreparedData, at: Ints, back: Ints) -> Trails:
    """Deals among the trails with what their contacts touched (R10)."""
    place = np.full(len(prepared.conversions), -1, np.int64)
    place[trails.conversion] = np.arange(len(trails.conversion))
    of = place[prepared.contacts.conversion]
    mine, touches = of >= 0, prepared.touches
    of, person, real = of[mine], prepared.contacts.person[mine], touches.count
    laid = lay_trails(touches.begins, touches.at[:real], touches.kind[:real], person, at[of], back[of])
    further = Trails(of, laid.offsets, laid.touch)
    return with_contacts(trails, further, touches.at, prepared.tables.visits.text("visit_id"), touches.visit)


def agreement(trails: Trails, prepared: PreparedData) -> dict[str, int]:
    """How often the set a form captured agrees with the visits, for leads that have both (R8)."""
    conversions, fields, real = prepared.conversions, prepared.touches.fields, prepared.touches.count
    own = conversions.is_lead_row[trails.conversion] & (trails.lengths > 0)
    starts = trails.offsets[:-1][own]
    if len(starts):
        own[np.flatnonzero(own)[trails.touch[starts] >= real]] = False
    lead = conversions.row[trails.conversion[own]]
    out = {}
    ends = {"first": trails.offsets[:-1][own], "last": trails.offsets[1:][own] - 1}
    for offset, (which, element) in enumerate(ends.items()):
        number = 2 * lead + offset
        filled = prepared.captured.filled[number]
        touch = trails.touch[element][filled]
        agree = np.ones(len(touch), np.bool_)
        for name in ("source", "medium", "campaign"):
            codes = fields[name].codes
            agree &= codes[touch] == codes[real + number[filled]]
        out[f"{which}_compared"], out[f"{which}_agree"] = int(filled.sum()), int(agree.sum())
    return out
