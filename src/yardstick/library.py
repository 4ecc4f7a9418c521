"""The same from a notebook: tables in, tables out, with no file and no server."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from functools import cached_property
from pathlib import Path
from typing import Any

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.schema import SCHEMA
from yardstick.core.plan.plan import Plan
from yardstick.core.report.breakdown import Breakdown, check_field
from yardstick.core.report.filters import read_filter
from yardstick.core.report.judged import Judged, judge_result
from yardstick.core.report.weigh import Result
from yardstick.core.report.weigh import weigh as weigh_tables
from yardstick.formats.files.arrow_in import ArrowFile
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.results.folder import result_tables, summary
from yardstick.formats.results.typed_results import typed_table
from yardstick.formats.rows.input_tables import InputTables, read_file, tables_of
from yardstick.stations.command.plan_of_file import plan_of_file
from yardstick.stations.command.weigh_folder import table_of


class Weighed:
    """What `weigh` gives. Tables are `pyarrow.Table`, typed: numbers as numbers, money as decimals.

    Attributes
    ----------
    summary : what `summary.json` holds
    fingerprint, origin : of the result, and of where its rows came from (R27)
    """

    def __init__(self, result: Result, given: InputTables, judged: Judged | None) -> None:
        self._result, self._given, self._judged = result, given, judged
        self.fingerprint, self.origin = result.fingerprint, result.origin
        self._tables = result_tables(result, given, judged)

    def __repr__(self) -> str:
        return f"{table_of(self._result)}\nfingerprint {self.fingerprint}"

    @cached_property
    def summary(self) -> dict[str, Any]:
        """What `summary.json` holds."""
        return summary(self._result, self._given)

    def table(self) -> Any:
        """The report: one row per yardstick, bucket and value of the breakdown."""
        return self._typed("result")

    def credits(self) -> Any:
        """Every share of every conversion."""
        return self._typed("credits")

    def findings(self) -> Any:
        """What was noticed about rows that count."""
        return self._typed("findings")

    def rejected(self) -> Any:
        """Rows that do not count, with their reasons; `line` is a row's number from 1."""
        return self._typed("rejected")

    def coverage(self) -> Any:
        """How much of visits, leads, conversions, value and spend is tied together, and since when (R32)."""
        return self._typed("coverage")

    def matters(self) -> Any:
        """What is open, by what is at stake (R30)."""
        return self._typed("matters")

    def verdicts(self) -> Any:
        """Which campaigns to grow, keep or cut (R25); only with `certainty=True`."""
        return self._typed("verdicts")

    def intervals(self) -> Any:
        """90 % intervals (R24); only with `certainty=True`."""
        return self._typed("intervals")

    def maturity(self) -> Any:
        """How much of what a day's touches earn has come, by days (R28); only with `certainty=True`."""
        return self._typed("maturity")

    def _typed(self, name: str) -> Any:
        if name not in self._tables:
            raise ValueError(f"there are no {name}: weigh with certainty=True")
        header, rows, texts = self._tables[name]
        return typed_table(header, rows, texts, self._result.plan.money.minor_digits)


def weigh(
    *,
    settings: str | Path | Plan | None = None,
    by: str | Sequence[str] = "campaign",
    where: Iterable[str] = (),
    certainty: bool = False,
    **tables: Any,
) -> Weighed:
    """Attribute every conversion to the touches before it and set the credit beside the spend.

    Parameters
    ----------
    settings : path of a `settings.toml`, or a plan; None = the defaults
    by : one field of the breakdown, or two
    where : filters, such as "source is quorrin"
    certainty : work out intervals, verdicts and maturity, too
    tables : visits, and any of leads, conversions, spend, other_costs, rates, refunds, statuses, deal_contacts,
        order_lines, invoices, ads, each anything that speaks the Arrow C stream. Text is read as in a file; columns
        that are typed are taken as they are

    Returns
    -------
    Weighed

    Raises
    ------
    SettingsError
        If the settings, the breakdown or a filter cannot be understood.
    FileProblem
        If a table is none, lacks a column, or holds money as binary floats.

    Examples
    --------
    >>> import pyarrow as pa
    >>> visits = pa.table({"visit_id": ["a"], "occurred_at": ["2026-04-01T10:00:00Z"], "url": ["/?utm_campaign=A"]})
    >>> weigh(visits=visits).table().num_rows
    8
    """
    plan = settings if isinstance(settings, Plan) else plan_of_file(None if settings is None else Path(settings))
    unknown = sorted(set(tables) - set(SCHEMA))
    if unknown:
        raise SettingsError(f"there is no table {unknown[0]!r}; tables are {', '.join(SCHEMA)}")
    fields = (Breakdown.read(by) if isinstance(by, str) else Breakdown(by)).checked(plan.reading)
    filters = tuple(read_filter(text) for text in where)
    for stated in filters:
        check_field(stated.field, plan.reading)
    if tables.get("visits") is None:
        raise FileProblem("visits are required: weigh(visits=...)")
    read = [ArrowFile(name, tables[name]) for name in SCHEMA if tables.get(name) is not None]
    given = tables_of([read_file(one, plan.reading.time_zone) for one in read])
    result = weigh_tables(given.tables, plan, fields, where=filters)
    return Weighed(result, given, judge_result(given.tables, result) if certainty else None)
