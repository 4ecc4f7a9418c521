"""How much of a workspace's data is tied together (R32)."""

from __future__ import annotations

from yardstick.core.report.weigh import Result
from yardstick.core.settling.coverage import CoverageShare, coverage
from yardstick.formats.results.csv_out import COVERAGE_COLUMNS, coverage_rows

from ..weigh.record_tables import RecordTable
from ..weigh.weigh_board import BoardQuestion, Weighing


def covered(weighing: Weighing, question: BoardQuestion) -> tuple[Result, list[CoverageShare]]:
    """Every share of a question's range, with the result it is of.

    Raises
    ------
    NothingYet
        If nothing was loaded.
    """
    result, _ = weighing.result(question)
    return result, coverage(result)


def coverage_table(weighing: Weighing, question: BoardQuestion) -> RecordTable:
    """The same as a table, as the command writes it."""
    result, _ = weighing.result(question)
    rows = [list(row) for row in coverage_rows(result)]
    return RecordTable(list(COVERAGE_COLUMNS), rows, frozenset(("part", "whole", "low", "high")))
