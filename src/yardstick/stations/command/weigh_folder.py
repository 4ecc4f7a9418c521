"""Weigh a folder of files, without server or database."""

from __future__ import annotations

import os
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path

from yardstick.core.report.breakdown import BUCKETS, BY_CAMPAIGN, Breakdown, check_field
from yardstick.core.report.filters import read_filter
from yardstick.core.report.judged import judge_result
from yardstick.core.report.weigh import Result, weigh
from yardstick.formats.results.csv_out import money
from yardstick.formats.results.folder import read_folder, write_results
from yardstick.formats.rows.input_tables import InputTables

from ..weigh.board_rows import name_of
from .explain_conversion import explain
from .plan_of_file import plan_of_file
from .tables_of_text import in_columns


@dataclass(frozen=True)
class FolderResult:
    """A folder as it was read, and what a weighing made of it."""

    folder: InputTables
    result: Result


def weigh_folder(source: Path, settings_file: Path | None, by: Breakdown, where: Sequence[str] = ()) -> FolderResult:
    """Read a folder of tables and weigh it; see `credit_folder`."""
    plan = plan_of_file(settings_file)
    by.checked(plan.reading)
    filters = tuple(read_filter(text) for text in where)
    for stated in filters:
        check_field(stated.field, plan.reading)
    folder = read_folder(source, plan.reading.time_zone, plan.gathering.sources)
    return FolderResult(folder, weigh(folder.tables, plan, by, where=filters))


def credit_folder(
    source: Path,
    out: Path,
    settings_file: Path | None,
    by: Breakdown,
    where: Sequence[str] = (),
    format: str = "csv",
    certainty: bool = False,
) -> FolderResult:
    """Read a folder of tables, weigh it, write the results.

    Parameters
    ----------
    source : folder with visits.csv and the other tables
    out : folder for the results
    settings_file : TOML; without it the defaults hold
    by : what rows stand for
    where : filters as `core.filters.read_filter` takes them
    format : of the results, one of `result_kinds.FORMATS`
    certainty : write verdicts, intervals and maturity, too

    Returns
    -------
    Weighed

    Raises
    ------
    SettingsError
        If the settings are wrong.
    FileProblem
        If nothing can be computed from the files.
    """
    weighed = weigh_folder(source, settings_file, by, where)
    judged = judge_result(weighed.folder.tables, weighed.result) if certainty else None
    write_results(weighed.result, weighed.folder, out, format, judged)
    return weighed


def why_no_folder(out: Path) -> str:
    """Why results cannot be written to a place, said before anything is computed; empty where they can."""
    there = out
    while not there.exists() and there != there.parent:
        there = there.parent
    if not there.is_dir():
        return f"{out}: {there} is a file: name a folder for the results"
    if not os.access(there, os.W_OK | os.X_OK) or str(there.resolve()).startswith(("/proc", "/sys")):
        return f"{out}: nothing can be written in {there}: name another folder for the results"
    return ""


def explain_in_folder(source: Path, settings_file: Path | None, conversion: str) -> str:
    """One conversion of a folder of tables explained.

    Raises
    ------
    SettingsError, FileProblem
        See `credit_folder`.
    NoSuchConversion
        If no accepted row has the id.
    """
    return explain(weigh_folder(source, settings_file, BY_CAMPAIGN).result, conversion)


MOST_LINES = 12


def table_of(result: Result) -> str:
    """The rows of a report with the most spend, as a table for a terminal, under the board's first yardstick."""
    name = result.plan.usual_yardstick
    rows = [row for row in result.rows if row.yardstick == name]
    rows.sort(key=lambda row: (BUCKETS.index(row.bucket), -(row.sums.spend or 0), -row.sums.value))
    digits, shown = result.plan.money.minor_digits, rows[:MOST_LINES]
    cells = [[str(result.by), "spend", "leads", "cost/lead", "sales", "value", "ROAS"]]
    for row in shown:
        sums, ratios = row.sums, row.figures
        called = ", ".join(value for value in row.by if value) or name_of(row.bucket, row.by, result.by)
        cost = "-" if ratios.cost_per_lead is None else f"{float(ratios.cost_per_lead):.2f}"
        roas = "-" if ratios.roas is None else f"{float(ratios.roas):.2f}"
        counts = [f"{float(sums.leads):.1f}", cost, f"{float(sums.conversions):.1f}"]
        cells.append([called, money(sums.spend, digits) or "-", *counts, money(sums.value, digits), roas])
    more = f"\nand {len(rows) - len(shown)} more rows in result.csv" if len(rows) > len(shown) else ""
    return "\n".join(in_columns(cells)) + more + f"\nunder {name}, {result.plan.money.home_currency}"
