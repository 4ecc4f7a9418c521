"""What is open in a workspace (R30), with the rows that each matter is made of."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass
from datetime import date

import numpy as np

from yardstick.core.base.columns import Ints
from yardstick.core.base.day_numbers import day_text, instant_text
from yardstick.core.base.days import NO_DAY, day_at, mondays
from yardstick.core.base.schema import ROW_ID
from yardstick.core.links.link_states import LinkState
from yardstick.core.reading.pages import page_text
from yardstick.core.report.weigh import Result
from yardstick.core.settling.facts import Besides, WatchedLink
from yardstick.core.settling.matter import Matter, RowsOf
from yardstick.core.settling.matters import find_matters
from yardstick.formats.results.csv_out import MATTER_COLUMNS, matter_rows

from ..mark.audit_accounts import landing_pages
from ..mark.place_links import Placing
from ..weigh.record_tables import RecordTable
from ..weigh.weigh_board import BoardQuestion, Weighing, present_of
from ..workspace.desk import Desk

MOST_ROWS, MOST_PAGES = 10, 30


@dataclass(frozen=True)
class MatterRow:
    """A row of a matter.

    Attributes
    ----------
    table, id : which it is; rows of spend and of ads have no id, a day without rows no table
    at : instant as ISO 8601 text in UTC, or a day
    words : what tells a row that has no id
    value, spend : minor units of the home currency that it puts at stake; None where rows have none
    file, line : where it stands; empty and 0 of a day without rows
    beside : the row to be seen beside it
    """

    table: str
    id: str
    at: str
    words: str
    value: int | None
    spend: int | None
    file: str
    line: int
    beside: MatterRow | None = None


@dataclass(frozen=True)
class OpenMatter:
    """A matter as a list shows it.

    Attributes
    ----------
    kind, object : which it is
    first_day : ISO 8601; empty where its rows stand on no day
    rows, spend, value : in the range; amounts in minor units, None where none is at stake
    rule : when it is found, with its threshold
    said : what the object alone does not say
    station, mendings : where and by what it is mended
    is_accepted : whether somebody let it stay
    reason, until, whose, note : what was said of it; `until` is ISO 8601 or empty
    kept_object, kept_first_day : the key under which that is kept, or is to be; the day is ISO 8601 or empty
    all_rows : how many rows it has over all days
    last_day : ISO 8601, of its last row; empty where its rows stand on no day
    pages : landing pages of its arrivals, those with most first
    listed : its first rows, over all days
    """

    kind: str
    object: tuple[str, ...]
    first_day: str
    rows: int
    spend: int | None
    value: int | None
    rule: str
    said: str
    station: str
    mendings: tuple[str, ...]
    is_accepted: bool
    reason: str
    until: str
    whose: str
    note: str
    kept_object: str
    kept_first_day: str
    all_rows: int
    last_day: str
    pages: tuple[str, ...]
    listed: tuple[MatterRow, ...]


WEEKS = 13
"""Whole weeks before the last day with data: the range of a screen that has none."""


def open_matters(
    weighing: Weighing, besides: Besides, now: int, all_days: bool = False
) -> tuple[Result, list[OpenMatter]]:
    """What is open or accepted, the largest stake first, with the result it was found in.

    Parameters
    ----------
    besides : its placed links, and where campaigns lead; see `besides_of`
    now : the present instant, microseconds since 1970; a month is over by its day
    all_days : whether stakes are of all days, not of the latest weeks; a range of the settings goes before both

    Raises
    ------
    NothingYet
        If nothing was loaded.
    """
    result, _ = weighing.result(BoardQuestion() if all_days else _latest_weeks(weighing))
    return result, [_shown(result, one) for one in find_matters(result, _today(result, now), weighing.plan(), besides)]


def besides_of(desk: Desk, placing: Placing) -> Besides:
    """The links that are placed, and where campaigns lead."""
    placed = [link for link in placing.links() if link.state not in (LinkState.PLANNED, LinkState.ENDED)]
    return Besides(
        tuple(
            WatchedLink(link.url, link.is_wrong, tuple((d.field, d.arrived) for d in link.deviations), link.mender)
            for link in placed
        ),
        landing_pages(desk),
    )


def _latest_weeks(weighing: Weighing) -> BoardQuestion:
    """The whole weeks before the last day with data; of data that are shorter, all days."""
    result, _ = weighing.result(BoardQuestion())
    reporting = result.plan.reporting
    if reporting.report_from is not None or reporting.report_to is not None:
        return BoardQuestion()
    prepared = result.prepared
    columns = (prepared.touches.day, prepared.spend.ints("day"), prepared.conversions.day)
    days = [day for day in columns if len(day)]
    if not days:
        return BoardQuestion()
    last = int(mondays(np.array([max(int(day.max()) for day in days)]))[0]) - 1
    first = last - 7 * WEEKS + 1
    if min(int(day.min()) for day in days) > first:
        return BoardQuestion()
    return BoardQuestion(report_from=date.fromisoformat(day_text(first)), report_to=date.fromisoformat(day_text(last)))


def _today(result: Result, now: int) -> int:
    return day_at(present_of(result.plan, now), result.plan.reading.time_zone)


def _shown(result: Result, one: Matter) -> OpenMatter:
    own = [part for part in one.parts if part.own] or list(one.parts)
    places = [(part, at) for part in own for at in _heaviest(part)]
    rows = [_row(part, at) for part, at in sorted(places, key=lambda place: -_amount(*place))]
    first_day = "" if one.first_day is None else day_text(one.first_day)
    return OpenMatter(
        kind=one.kind.name,
        object=one.object,
        first_day=first_day,
        rows=one.rows,
        spend=one.spend,
        value=one.value,
        rule=one.rule,
        said=one.said,
        station=one.kind.station,
        mendings=one.kind.mendings,
        is_accepted=one.is_accepted,
        reason=one.kept.accepted_reason if one.kept else "",
        until=str(one.kept.accepted_until or "") if one.kept else "",
        whose=one.whose,
        note=one.kept.note if one.kept else "",
        kept_object=one.kept.object if one.kept else one.called,
        kept_first_day=str(one.kept.first_day or "") if one.kept else first_day,
        all_rows=one.all_rows,
        last_day=_last_day(one),
        pages=_pages(result, own),
        listed=tuple(rows[:MOST_ROWS]),
    )


def _last_day(one: Matter) -> str:
    days = [part.days[part.days != NO_DAY] for part in one.parts]
    last = max((int(some.max()) for some in days if len(some)), default=None)
    return "" if last is None else day_text(last)


def _pages(result: Result, parts: list[RowsOf]) -> tuple[str, ...]:
    """Landing pages of the visits among some rows."""
    arrivals, counts = result.prepared.arrivals, Counter[str]()
    for part in parts:
        if part.table is result.prepared.tables.visits:
            urls, times = np.unique(arrivals.url[part.rows], return_counts=True)
            for url, number in zip(urls.tolist(), times.tolist(), strict=True):
                counts[page_text(arrivals.readings[url].page)] += number
    return tuple(page for page, _ in sorted(counts.items(), key=lambda one: (-one[1], one[0]))[:MOST_PAGES])


def _amounts(part: RowsOf) -> Ints:
    column = part.spends if part.values is None else part.values
    return np.zeros(len(part.rows), np.int64) if column is None else column


def _amount(part: RowsOf, at: int) -> int:
    return int(_amounts(part)[at])


def _heaviest(part: RowsOf) -> list[int]:
    """Places of the rows with the largest amounts, of equal ones the earlier."""
    places = np.arange(len(part.rows))
    found: list[int] = np.lexsort((places, -_amounts(part)))[:MOST_ROWS].tolist()
    return found


def _row(part: RowsOf, at: int) -> MatterRow:
    beside = None if part.beside is None else _of(part, int(part.beside[at]), at, None)
    return _of(part, int(part.rows[at]), at, beside)


TELLING = ("platform", "account", "campaign", "ad_group", "ad", "keyword", "placement")


def _of(part: RowsOf, row: int, at: int, beside: MatterRow | None) -> MatterRow:
    table, day = part.table, int(part.days[at])
    value, spend = (None if column is None else int(column[at]) for column in (part.values, part.spends))
    if row < 0:
        return MatterRow("", "", day_text(day), "", value, spend, "", 0)
    instant = "occurred_at" in table.columns
    when = instant_text(int(table.ints("occurred_at")[row])) if instant else "" if day == NO_DAY else day_text(day)
    id = table.text(ROW_ID[table.name])[row].strip() if table.name in ROW_ID else ""
    said = [table.text(name)[row].strip() for name in TELLING if not id and name in table.columns]
    words = ", ".join(text for text in said if text)
    return MatterRow(table.name, id, when, words, value, spend, table.file[row], int(table.line[row]), beside)


def matters_table(weighing: Weighing, besides: Besides, now: int) -> RecordTable:
    """What is open as a table, as the command writes it."""
    result, _ = weighing.result(BoardQuestion())
    rows = [list(row) for row in matter_rows(result, _today(result, now), weighing.plan(), besides)]
    return RecordTable(list(MATTER_COLUMNS), rows, frozenset(("rows", "spend", "value")))
