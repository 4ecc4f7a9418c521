"""One conversion explained: its trail, and its shares and cents under every yardstick, as text for a terminal."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction

import numpy as np

from yardstick.core.base.day_numbers import instant_text
from yardstick.core.credit.credit import WHOLE
from yardstick.core.report.record_page import why_apart
from yardstick.core.report.recorded import Apart
from yardstick.core.report.weigh import Result
from yardstick.core.rules.registry import by_states
from yardstick.formats.results.csv_out import credit, money

from .tables_of_text import in_columns


class NoSuchConversion(ValueError):
    """No accepted lead or conversion has the id that was asked for."""


def explain(result: Result, wanted: str) -> str:
    """What one conversion is worth, which touches came before it, and what each of them gets.

    Parameters
    ----------
    result : what was weighed
    wanted : id of a lead or of a conversion; both tables may have it

    Raises
    ------
    NoSuchConversion
        If none has it.
    """
    ids = result.prepared.conversions.id
    found = np.flatnonzero(ids.test(lambda value: value == wanted.strip()))
    if not len(found):
        raise NoSuchConversion(f"there is no lead or conversion {wanted!r} among the rows that were accepted")
    return "\n\n".join("\n".join(_one(result, int(number))) for number in found)


def _one(result: Result, number: int) -> Iterator[str]:
    prepared, digits = result.prepared, result.plan.money.minor_digits
    conversions = prepared.conversions
    table = "leads" if conversions.is_lead_row[number] else "conversions"
    worth = f"{money(int(conversions.value[number]), digits)} {result.plan.money.home_currency}"
    at = instant_text(int(conversions.at[number]))
    yield f"{conversions.id[number]} ({table}, goal {conversions.goal[number]}): {worth} at {at}"
    trail = np.flatnonzero(result.whole.conversion == number)
    if not len(trail):
        yield f"It is in no figure: {_why_not(result, number)}."
        return
    first, last = (int(edge) for edge in result.whole.offsets[trail[0] : trail[0] + 2])
    if first == last:
        yield "It has no touch: it stands in no trail, under every yardstick."
        return
    titles = ["", "touch", "at", "campaign", "source", "medium", "channel"]
    yield from in_columns([titles, *_touches(result, first, last)])
    yield ""
    header, rows = ["", *result.whole_shares], []
    for element in range(first, last):
        row = [str(element - first + 1)]
        for share in result.whole_shares.values():
            part = int(share.parts[element])
            said = f"{credit(Fraction(part, int(WHOLE)))} = {money(int(share.value[element]), digits)}"
            row.append(said if part else "-")
        rows.append(row)
    yield from in_columns([header, *rows])
    for yardstick in result.plan.crediting.yardsticks:
        if by_states(yardstick):
            yield f"{yardstick.name} credits what would be lost without a state, not touches of one conversion."


def _touches(result: Result, first: int, last: int) -> Iterator[list[str]]:
    touches, ids = result.prepared.touches, result.prepared.tables.visits.text("visit_id")
    for element in range(first, last):
        touch = int(result.whole.touch[element])
        visit = ids[int(touches.visit[touch])] if touch < touches.count else "(captured)"
        fields = (touches.fields[name] for name in ("campaign", "source", "medium", "channel"))
        said = [labels.shown[int(labels.codes[touch])] or "-" for labels in fields]
        yield [str(element - first + 1), visit, instant_text(int(touches.at[touch])), *said]


_APART = {
    Apart.TEST: "it is a test record ({})",
    Apart.QUARANTINED: "it is quarantined ({})",
    Apart.CANCELLED: "it is cancelled",
    Apart.WORD: "its word, {}, does not count",
    Apart.COUNTED_ELSEWHERE: "the counting rule of its goal ({}) counts another conversion of this person instead",
    Apart.NO_EVENT: "it never had the word or stage {!r}, on whose day records stand",
    Apart.OUTSIDE: "its day, {}, is outside the report range",
}


def _why_not(result: Result, number: int) -> str:
    apart, by = why_apart(result, number)
    assert apart is not None, "what counts has a trail"
    return _APART[apart].format(by)
