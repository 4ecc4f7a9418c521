"""One lead, order or deal looked at: its worth step by step, its people's touches and what they get, what counts it."""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal

import numpy as np

from ..base.columns import Amounts, Text
from ..base.day_numbers import DAY_US, day_text, instant_text
from ..base.days import NO_DAY
from ..base.masking import masked_email
from ..base.report_fields import REASON
from ..base.schema import SCHEMA, TEST
from ..base.tables import Table
from ..costs.further_costs import currency_digits
from ..trails.quarantine import quarantined_by
from ..trails.trails import Trails
from .apart import apart_of
from .breakdown import lay_axis
from .counted import Counted, look_back
from .prepared_data import PreparedData
from .record_touches import touches_of
from .recorded import Apart, RecordPage, RecordRow, ValueStep, WorthStep
from .weigh import Result

ABOUT = {
    "statuses": "record_id",
    "refunds": "conversion_id",
    "order_lines": "conversion_id",
    "deal_contacts": "deal_id",
}
"""Tables whose rows are about a record, and the column that names it."""


def find_record(prepared: PreparedData, table: str, id: str) -> int | None:
    """The number of a record among all conversions; None if no accepted row has the id.

    Parameters
    ----------
    prepared : the data
    table : "leads" or "conversions"
    id : as it stands in the file, but for white space around it
    """
    conversions = prepared.conversions
    mine = conversions.id.equals(id.strip()) & (conversions.is_lead_row == (table == "leads"))
    found = np.flatnonzero(mine)
    return int(found[0]) if len(found) else None


def record_page(result: Result, number: int) -> RecordPage:
    """Everything that is known of one record.

    Parameters
    ----------
    result : a weighing, whose range and windows are looked by
    number : of the record among all conversions

    Notes
    -----
    Nothing is worked out a second way: its value is the one that is weighed, its trail is laid by the same function as
    every other, and its credits are shares of that trail.
    """
    prepared, counted = result.prepared, result.counted
    conversions = prepared.conversions
    table, row = _row_of(prepared, number)
    goal = prepared.goals[int(conversions.version[number])]
    apart, by = why_apart(result, number)
    trail, touches, outside = touches_of(result, number)
    day = int(conversions.report_day[number])
    back = look_back(prepared, result.plan.windows)[int(conversions.version[number])]
    return RecordPage(
        table=table.name,
        id=conversions.id[number],
        goal=conversions.goal[number],
        kind=goal.kind,
        at=instant_text(int(conversions.at[number])),
        day="" if day == NO_DAY else day_text(day),
        word=conversions.word[number],
        stage=conversions.stage[number],
        owner=conversions.owner[number],
        apart=apart,
        by=by,
        good=bool(counted.good[number]),
        new=bool(counted.new[number]),
        value=int(conversions.value[number]),
        worth=tuple(_worth(result, number, table, row)),
        reason=_reason(prepared, trail, counted) if table.name == "leads" else "",
        look_back=(back[0] / DAY_US, back[1] / DAY_US, back[2] / DAY_US),
        touches=touches,
        outside=outside,
        yardsticks=tuple(credit.yardstick for credit in touches[0].credits) if touches else (),
        rows=tuple(_rows_about(prepared, conversions.id[number])),
        file=table.file[row],
        line=int(table.line[row]),
        load=_load(table, row),
    )


def _load(table: Table, row: int) -> int | None:
    return None if table.load is None else int(table.load[row])


def _row_of(prepared: PreparedData, number: int) -> tuple[Table, int]:
    is_lead = bool(prepared.conversions.is_lead_row[number])
    return prepared.tables.leads if is_lead else prepared.tables.conversions, int(prepared.conversions.row[number])


def why_apart(result: Result, number: int) -> tuple[Apart | None, str]:
    """Why a record is in no figure, and by what: the first of the rules that takes it out; None where it counts.

    Parameters
    ----------
    result : a weighing, whose range is looked by
    number : of the record among all conversions
    """
    prepared = result.prepared
    conversions = prepared.conversions
    table, row = _row_of(prepared, number)
    apart = apart_of(result, np.array([number]))[0]
    word = conversions.word[number]
    by = {
        Apart.TEST: word if word == TEST else "is_test",
        Apart.CANCELLED: word,
        Apart.WORD: word,
        Apart.COUNTED_ELSEWHERE: prepared.goals[int(conversions.version[number])].count,
        Apart.NO_EVENT: result.plan.trailing.event,
    }
    if apart is None:
        return None, ""
    if apart == Apart.QUARANTINED:
        return apart, _quarantined_by(result, table.take(np.array([row])))
    if apart == Apart.OUTSIDE:
        return apart, day_text(int(conversions.report_day[number]))
    return apart, by[apart]


def _quarantined_by(result: Result, one: Table) -> str:
    """What quarantines a record: a rule by its number, or somebody by hand."""
    number = int(quarantined_by(one, result.plan.reading)[0])
    return f"rule {number}" if number else "by hand"


def _worth(result: Result, number: int, table: Table, row: int) -> Iterator[WorthStep]:
    """The steps of a record's value, see `trails.goals.record_values`."""
    prepared, money = result.prepared, result.plan.money
    conversions, read = prepared.conversions, prepared.read
    which = 0 if table.name == "leads" else 1
    goal, home = prepared.goals[int(conversions.version[number])], money.home_currency
    total = _amount(read.stated[which], row)
    code = (table.text("currency")[row] if "currency" in table.columns else "") or home
    if goal.fixed_value is not None:
        worth, code = goal.fixed_value, goal.currency or home
        yield WorthStep(ValueStep.FIXED, _said(worth, code), code, goal.name)
    elif total is None:
        worth, code = goal.default_value or Decimal(0), goal.currency or home
        yield WorthStep(ValueStep.DEFAULT, _said(worth, code), code, goal.name)
    else:
        less = [(ValueStep.REFUNDED, _amount(read.refunded[which], row))]
        if goal.value == "net":
            names = {ValueStep.TAX: "tax", ValueStep.SHIPPING: "shipping"}
            less += [(step, _amount(table.amounts(n), row)) for step, n in names.items() if n in table.columns]
        worth = total
        yield WorthStep(ValueStep.STATED, _said(total, code), code)
        for step, amount in less:
            if amount:
                worth -= amount
                yield WorthStep(step, _said(-amount, code), code, goal.value if step != ValueStep.REFUNDED else "")
        if worth < 0:
            yield WorthStep(ValueStep.FLOOR, _said(-worth, code), code)
            worth = Decimal(0)
    if code != home and worth:
        at = read.rates.row_for(code, int(conversions.day[number]))
        value = Decimal(int(conversions.value[number])).scaleb(-money.minor_digits)
        # Only a test record stands without a rate: any other is rejected.
        by = ""
        if at is not None:
            rate = f"{Decimal(read.rates.units(at)).scaleb(-read.rates.decimals):f}"
            by = f"{rate} of {day_text(int(prepared.tables.rates.ints('day')[at]))}"
        yield WorthStep(ValueStep.RATE, f"{value:f}", home, by)


def _said(amount: Decimal, code: str) -> str:
    """An amount with the decimals of its currency, more only where it has more."""
    exponent = amount.normalize().as_tuple().exponent
    assert isinstance(exponent, int)
    return f"{amount:.{max(-exponent, currency_digits(code))}f}"


def _amount(column: Amounts, row: int) -> Decimal | None:
    if not column.known[row]:
        return None
    return Decimal(int(column.units[row])).scaleb(-column.decimals)


def _reason(prepared: PreparedData, trail: Trails, counted: Counted) -> str:
    axis = lay_axis(REASON, prepared, trail, counted)
    assert axis.trails is not None
    return axis.shown[int(axis.trails[0])]


def _rows_about(prepared: PreparedData, id: str) -> Iterator[RecordRow]:
    """The rows of other tables that name a record, as they came, in the order of time."""
    for name, column in ABOUT.items():
        table: Table = getattr(prepared.tables, name)
        rows = np.flatnonzero(table.text(column).test(lambda text: text.strip() == id)).tolist()
        found = []
        for row in rows:
            names = [c.name for c in SCHEMA[name] if c.name not in (column, "occurred_at")]
            cells = {name: _cell(table, name, row) for name in names}
            at = instant_text(int(table.ints("occurred_at")[row])) if "occurred_at" in table.columns else ""
            said = {key: text for key, text in cells.items() if text}
            found.append(RecordRow(name, at, said, table.file[row], int(table.line[row]), _load(table, row)))
        yield from sorted(found, key=lambda one: one.at)


def _cell(table: Table, name: str, row: int) -> str:
    """A cell as text; of an e-mail address no more than tells one from another."""
    column = table.columns[name]
    if isinstance(column, Amounts):
        amount = _amount(column, row)
        return "" if amount is None else f"{amount:f}"
    if isinstance(column, Text):
        return masked_email(column[row]) if name == "email" else column[row]
    number = int(column[row])
    return "" if number < 0 else str(number)
