"""Rows that are the sum of others: shown, left out where they are so for sure, asked about where they may be."""

from __future__ import annotations

from collections.abc import Iterable
from decimal import Decimal

from yardstick.core.plan.gathering_phase import KEPT, LEFT_OUT
from yardstick.core.plan.plan import Plan

from ..sum_rows import SumRow
from .look import Look
from .question import Asking, FileQuestion, Record, said

SHOWN = 3


def _ask(look: Look, record: Record, plan: Plan) -> Iterable[FileQuestion]:
    rows, answer = look.sums, said(record, "sums") or str(record.get("sums", ""))
    if not rows:
        if answer:
            yield FileQuestion("sums", "Rows that are the sum of others:", [LEFT_OUT, KEPT], answer=answer)
        return
    perhaps = [row for row in rows if not row.sure]
    # Words alone on most rows are a name.
    if perhaps and not answer:
        some = perhaps
        what = "look like sums of others" if len(some) > 1 else "looks like the sum of others"
        ask = "should they be left out?" if len(some) > 1 else "should it be left out?"
    else:
        some = rows
        what = "are sums of others" if len(rows) > 1 else "is the sum of others"
        ask = "They are left out." if all(row.out for row in rows) else "They count as rows."
        ask = (
            ask
            if len(rows) > 1
            else ask.replace("They are", "It is").replace("They count as rows", "It counts as a row")
        )
    shown = "; ".join(_row(row) for row in some[:SHOWN])
    more = f" and {len(some) - SHOWN} more" if len(some) > SHOWN else ""
    which = f"{len(some)} rows {what}" if len(some) > 1 else f"A row {what}"
    hints = [_worth(some, "less"), _worth(some, "more")]
    held = answer or ("" if perhaps else LEFT_OUT)
    yield FileQuestion("sums", f"{which} ({shown}{more}): {ask}", [LEFT_OUT, KEPT], hints, some[0].line, held)


def _row(row: SumRow) -> str:
    said_there = f" {row.said[:40]}" if row.said else ""
    return f"line {row.line:,}{said_there}, {row.amount:,.2f}"


def _worth(rows: list[SumRow], way: str) -> str:
    total = sum((row.amount for row in rows), Decimal(0))
    return f"{total:,.2f} {way}"


def _put(record: Record, field: str, answer: str) -> Record:
    return record | {"sums": answer if answer in (LEFT_OUT, KEPT) else ""}


ASKING = Asking(("sums",), _ask, _put)
