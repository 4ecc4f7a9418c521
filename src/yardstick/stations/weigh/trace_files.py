"""The lists of a trace as files: every row, not a page of them, with all that was asked."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import fields

from yardstick.core.report.trace_states import TracedState
from yardstick.core.report.traced import Opening, Trace, TracedConversion, TracedSpend, TracedTouch
from yardstick.core.report.weigh import Result

from .question_words import asked_of, file_name
from .record_tables import RecordTable, record_table
from .shown_board import data_days
from .weigh_board import BoardQuestion

MOST = 100_000
"""Conversions, spend rows or touches of one file: more are not laid out for one answer."""


class TooMany(ValueError):
    """A trace has more rows than go into one file; the text says how many."""


def trace_file(
    question: BoardQuestion,
    traced: Callable[[int, int], tuple[Result, str, Trace]],
    rows: str,
    called: str,
    workspace: str,
    kind: str,
) -> tuple[str, bytes]:
    """One list of a trace.

    Parameters
    ----------
    question : what was asked
    traced : gives a page of the trace, of its first row and so many
    rows : conversions with their touches, spend, touches, openings or states
    called : what is traced, for the name of the file
    workspace : its name
    kind : key of `formats.results.sheets.KINDS`

    Returns
    -------
    tuple
        (name without the workspace, content)

    Raises
    ------
    TooMany
        If there are more rows than one file takes.
    """
    result, yardstick, trace = traced(0, MOST)
    counts = {"conversions": trace.conversion_count, "spend": trace.spend_count, "touches": trace.touch_count}
    count = counts.get(rows, 0)
    if count > MOST:
        raise TooMany(f"there are {count:,} {rows}, and one file takes {MOST:,}: narrow the range, or filter")
    table = _table(trace, rows, result.plan.money.minor_digits)
    asked = asked_of(question, result.plan, data_days(result), workspace, result.fingerprint, result.data)
    name = file_name("trace", rows, called, asked["range_from"], "to", asked["range_to"], yardstick, result.fingerprint)
    return f"{name}.{kind}", table.beside({"yardstick": yardstick} | asked).file(kind)


def _table(trace: Trace, rows: str, digits: int) -> RecordTable:
    if rows == "spend":
        return record_table(TracedSpend, trace.spend_rows, minor=("cost", "claimed_value"), digits=digits)
    if rows == "touches":
        return record_table(TracedTouch, trace.touches, minor=("value",), digits=digits)
    if rows == "openings":
        return record_table(Opening, trace.openings, minor=("value",), digits=digits)
    if rows == "states":
        return record_table(TracedState, trace.states, minor=("value",), digits=digits)
    return _touch_by_touch(trace, digits)


def _touch_by_touch(trace: Trace, digits: int) -> RecordTable:
    """A line a touch, its conversion beside it; a conversion without any touch has a line of its own."""
    conversion = record_table(
        TracedConversion, trace.conversions, minor=("value", "value_here"), digits=digits, without=("touches",)
    )
    every = [touch for one in trace.conversions for touch in one.touches]
    touch = record_table(TracedTouch, every, minor=("value",), digits=digits)
    none, at, lines = [""] * len(fields(TracedTouch)), 0, []
    for one, line in zip(trace.conversions, conversion.rows, strict=True):
        mine = touch.rows[at : at + len(one.touches)]
        at += len(one.touches)
        lines += [[*line, *cells] for cells in mine or [none]]
    named = (("conversion", conversion), ("touch", touch))
    columns = [f"{of}_{name}" for of, table in named for name in table.columns]
    numbers = frozenset(f"{of}_{name}" for of, table in named for name in table.numbers)
    return RecordTable(columns, lines, numbers)
