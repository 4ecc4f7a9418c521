"""The touches of a record's people: those of its trail with what they get, the others with why they are not in it."""

from __future__ import annotations

import numpy as np

from ..base.columns import NO_INSTANT, Ints
from ..base.day_numbers import DAY_US
from ..credit.credit import WHOLE, Credit, credit_of
from ..trails.trails import Trails
from .counted import look_back, trails_of
from .recorded import RecordCredit, RecordTouch, Without
from .trace_lists import touch_of
from .weigh import Result

MOST_TOUCHES = 500


def touches_of(result: Result, number: int) -> tuple[Trails, tuple[RecordTouch, ...], int]:
    """The trail of a record, its people's touches in the order of time, and how many more of these there are.

    Parameters
    ----------
    result : a weighing
    number : of the record among all conversions
    """
    prepared, plan = result.prepared, result.plan
    conversions, touches = prepared.conversions, prepared.touches
    chosen = np.zeros(len(conversions), np.bool_)
    chosen[number] = True
    trail = trails_of(chosen, prepared, plan.windows, result.counted.after)
    shares = credit_of(trail, conversions, touches, plan.crediting)
    place = {int(touch): element for element, touch in enumerate(trail.touch.tolist())}
    every = _of_people(result, number)
    # Those of the trail first, then the nearest: of a person with very many touches not all can be listed.
    others = [touch for touch in every.tolist() if touch not in place]
    others.sort(key=lambda touch: abs(int(touches.at[touch]) - int(conversions.at[number])))
    listed = [*place, *others[: max(0, MOST_TOUCHES - len(place))]]
    listed.sort(key=lambda touch: (int(touches.at[touch]), touch))
    out = [_one(result, number, touch, place.get(touch), shares) for touch in listed]
    return trail, tuple(out), len(place) + len(others) - len(listed)


def _of_people(result: Result, number: int) -> Ints:
    """The touches of a record's person, and of the further people of a deal."""
    prepared = result.prepared
    begins = prepared.touches.begins
    mine = prepared.contacts.conversion == number
    people = {int(prepared.conversions.person[number]), *prepared.contacts.person[mine].tolist()}
    there = [person for person in sorted(people) if person < len(begins) - 2]
    found = [np.arange(begins[person], begins[person + 1]) for person in there]
    return np.concatenate(found) if found else np.empty(0, np.int64)


def _one(result: Result, number: int, touch: int, element: int | None, shares: Credit) -> RecordTouch:
    prepared = result.prepared
    seen = touch_of(result, touch, element is not None, 0.0, 0)
    credits = []
    for name in shares:
        part = value = 0
        if element is not None:
            mine = shares[name]
            part, value = int(mine.parts[element]), int(mine.value[element])
        credits.append(RecordCredit(name, part / int(WHOLE), value))
    age = int(prepared.conversions.at[number]) - int(prepared.touches.at[touch])
    return RecordTouch(
        at=seen.at,
        days_before=age / DAY_US,
        kind=seen.kind,
        campaign=seen.campaign,
        source=seen.source,
        medium=seen.medium,
        channel=seen.channel,
        why=seen.why,
        captured=seen.captured,
        tagged=seen.tagged,
        without=None if element is not None else _without(result, number, touch, age),
        credits=tuple(credits),
        visit_id=seen.visit_id,
        file=seen.file,
        line=seen.line,
    )


def _without(result: Result, number: int, touch: int, age: int) -> Without:
    """The first rule that keeps a touch out of a trail."""
    prepared, windows = result.prepared, result.plan.windows
    kind = int(prepared.touches.kind[touch])
    if age < 0:
        return Without.AFTER
    if age > int(look_back(prepared, windows)[int(prepared.conversions.version[number])][kind]):
        return Without.WINDOW
    after = int(result.counted.after[number])
    if after != NO_INSTANT and int(prepared.touches.at[touch]) <= after:
        return Without.PREVIOUS
    return Without.VIEW if kind else Without.DIRECT
