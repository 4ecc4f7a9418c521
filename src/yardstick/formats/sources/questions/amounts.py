"""Amounts that cannot be meant as they stand: orders below 0, costs a million times too high, ids left empty."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from yardstick.core.base.schema import ROW_ID
from yardstick.core.plan.gathering_phase import LEFT_OUT, REFUNDS
from yardstick.core.plan.plan import Plan

from .look import Look, columns_of
from .question import Asking, FileQuestion, Record, put_field, said

MILLION, AS_IS = "millionths", "as they are"
ROWS = "orders as others"
_DEAREST = Decimal(2_000)
"""What a click can hardly cost."""


def _ask(look: Look, record: Record, plan: Plan) -> Iterable[FileQuestion]:
    columns, table = columns_of(look, record), str(record["table"])
    if table == "conversions" and "total" in columns:
        yield from _negative(look, record, columns["total"])
    if table == "spend" and "cost" in columns:
        yield from _micros(look, record, columns)
    yield from _ids(look, record, columns, table)


def _negative(look: Look, record: Record, at: int) -> Iterable[FileQuestion]:
    rows = [(n, line) for n, line in zip(look.numbers(at, record), look.lines, strict=True) if n is not None and n < 0]
    # The first rows may have none, and a row far below one.
    count, worth = (len(rows), sum((n for n, _ in rows), Decimal(0))) if rows else (look.below, look.worth_below)
    if not count:
        return
    line = rows[0][1] if rows else look.line_below
    text = f"{count:,} {'row is' if count == 1 else 'rows are'} below 0, {worth:,f} in all: what are they?"
    hints = ["taken off the order with their id", "counted nowhere", "worth 0 each"]
    yield FileQuestion("negative", text, [REFUNDS, LEFT_OUT, ROWS], hints, line, said(record, "negative"))


def _micros(look: Look, record: Record, columns: dict[str, int]) -> Iterable[FileQuestion]:
    costs = [n for n in look.numbers(columns["cost"], record) if n]
    if not costs or any(n != n.to_integral_value() for n in costs):
        return
    total = sum(costs, Decimal(0))
    clicks = look.total(columns["clicks"], record) if "clicks" in columns else Decimal(0)
    dear = (
        total > _DEAREST * clicks
        if clicks > 0
        else min(abs(n) for n in costs) >= 10_000 and all(n % 10 == 0 for n in costs)
    )
    many = look.usual > 0 and total / len(costs) > look.usual * 50_000
    if not (dear and min(abs(n) for n in costs) >= 1_000) and not many:
        return
    if said(record, "micros"):
        yield FileQuestion("micros", "Its costs are", [MILLION, AS_IS], answer=said(record, "micros"))
        return
    each = f", {total / clicks:,.0f} a click" if clicks > 0 else ""
    hints = [f"{total / 1_000_000:,.2f}", f"{total:,.2f}"]
    yield FileQuestion(
        "micros", f"Its costs add up to {total:,.0f}{each}: are they millionths?", [MILLION, AS_IS], hints
    )


def _ids(look: Look, record: Record, columns: dict[str, int], table: str) -> Iterable[FileQuestion]:
    """An id column that is empty throughout, beside one whose cells are all different."""
    own = ROW_ID.get(table, "")
    if not own or own not in columns or not look.lines or look.filled(columns[own]):
        return
    free = [
        i
        for i in range(len(look.names))
        if i not in columns.values()
        and look.contents[i].what in ("word", "number")
        and len(set(look.filled(i))) == len(look.lines)
    ]
    if free and not record.get("id"):
        text = f"{look.names[columns[own]]} is empty on every row: which column is the id of a row?"
        yield FileQuestion(f"columns.{own}", text, [look.names[i] for i in free])


def _put(record: Record, field: str, answer: str) -> Record:
    if field == "negative":
        return record | {"negative": "" if answer == ROWS else answer}
    if field == "micros":
        return record | {"micros": answer == MILLION}
    return put_field(record, field, answer)


ASKING = Asking(("negative", "micros"), _ask, _put)
