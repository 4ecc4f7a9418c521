"""Days that cannot be meant as they stand: the order turned round since last time, rows that are years away."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from itertools import pairwise

from yardstick.core.base.day_numbers import day_text
from yardstick.core.plan.gathering_phase import DAY_FIRST, MONTH, MONTH_FIRST, WEEK, YEAR_FIRST
from yardstick.core.plan.plan import Plan

from ...cells.dates_in import iso_of
from .look import DATES, Look, columns_of, kinds_of
from .question import Asking, FileQuestion, Record, said

RIGHT = "they are right"
_FAR = 550
"""Days around the others within which a row's day is none that needs asking."""
DAYS = "days"


def _ask(look: Look, record: Record, plan: Plan) -> Iterable[FileQuestion]:
    order = str(record.get("date", YEAR_FIRST))
    other = {DAY_FIRST: MONTH_FIRST, MONTH_FIRST: DAY_FIRST}.get(order, "")
    kinds = kinds_of(str(record["table"]))
    dated = [at for column, at in columns_of(look, record).items() if kinds.get(column) in DATES]
    if other and look.known:
        cells = {c.strip() for at in dated for c in look.cells[at] if 0 < len(c) < 60}
        bad = [c for c in [*look.bad_days, *cells] if not iso_of(c.strip(), order) and iso_of(c.strip(), other)]
        if bad:
            days = f"{len(bad):,} days, such as {bad[0]}, can only be read as {other}"
            text = f"{days}; its source has {order}: which is right?"
            yield FileQuestion("date", text, [other, order])
    if look.first_day is not None and look.last_day is not None and look.today is not None and not said(record, "far"):
        first, last = look.first_day, look.last_day
        ahead = last - look.today
        behind = look.today - first
        if ahead > _FAR or (behind > 3_650 and look.known) or (look.stood is not None and first - look.stood > 1_100):
            far = day_text(last if ahead > _FAR or not behind > 3_650 else first)
            yield FileQuestion(
                "far",
                f"Its days go to {far}: is that right?"
                if ahead > _FAR
                else f"Its days begin with {day_text(first)}: is that right?",
                [RIGHT],
            )
    period = str(record.get("period", ""))
    if period:
        held = said(record, "period") or period
        text = f"Each of its rows is a {period}: what it cost is spread evenly by day."
        yield FileQuestion("period", text, [period, DAYS], answer=held)


def _put(record: Record, field: str, answer: str) -> Record:
    if field == "period":
        return record | {"period": answer if answer in (WEEK, MONTH) else ""}
    return record | {"date": answer} if field == "date" else record


def rhythm_of(cells: Iterable[str], order: str) -> str:
    """Whether days are those of weeks: all one weekday, at least three, none nearer than seven days to the next."""
    found = sorted({iso[:10] for cell in cells if (iso := iso_of(cell.strip(), order))} if order else set())
    days = [date.fromisoformat(iso) for iso in found]
    if len(days) < 3:
        return ""
    if all(day.day == 1 for day in days):
        return MONTH
    return WEEK if all((b - a).days % 7 == 0 for a, b in pairwise(days)) else ""


ASKING = Asking(("date", "far", "period"), _ask, _put)
