"""What a board shows of a result, whichever yardstick is chosen."""

from __future__ import annotations

from dataclasses import dataclass

from yardstick.core.base.day_numbers import day_text
from yardstick.core.report.report import Row
from yardstick.core.report.summary import TieLine, finding_counts, money_without_rate, tie_line
from yardstick.core.report.totals import ads_by_place, totals
from yardstick.core.report.trace import ADS_ONLY, TOTAL
from yardstick.core.report.unrated import WithoutRate
from yardstick.core.report.weigh import Result

from .board_rows import BoardRow, name_of


def data_days(result: Result) -> tuple[str, str]:
    """First and last day that any row of the data stands on."""
    prepared = result.prepared
    days: list[int] = []
    for column in (prepared.touches.day, prepared.conversions.day, prepared.spend.ints("day")):
        if len(column):
            days += [int(column.min()), int(column.max())]
    return (day_text(min(days)), day_text(max(days))) if days else ("", "")


@dataclass(frozen=True)
class ShownBoard:
    """What a board shows of a result, whichever yardstick is chosen."""

    rows: list[BoardRow]
    total: BoardRow
    ads_only: BoardRow
    ties: TieLine
    findings: dict[str, int]
    without_rate: list[WithoutRate]
    without_event: int
    days: tuple[str, str]


def shown_board(result: Result) -> ShownBoard:
    """Rows, totals, tie line and what is to be known of a result."""
    return ShownBoard(
        rows=_board_rows(result),
        total=_total(TOTAL, "Blended (everything)", result, False),
        ads_only=_total(ADS_ONLY, "Ads only", result, True),
        ties=tie_line(result),
        findings=finding_counts(result.findings),
        without_rate=money_without_rate(result),
        without_event=result.without_event(),
        days=data_days(result),
    )


def _board_rows(result: Result) -> list[BoardRow]:
    by_place: dict[tuple[str, tuple[str, ...]], dict[str, Row]] = {}
    for row in result.rows:
        by_place.setdefault((row.bucket, row.by), {})[row.yardstick] = row
    ads = {} if result.by.is_by_campaign else ads_by_place(result)
    out = []
    for (bucket, values), under in by_place.items():
        any_row = next(iter(under.values()))
        sums = any_row.sums
        both = {name: (row.sums, row.figures) for name, row in under.items()}
        earned = ads.get((bucket, values), {})
        called = name_of(bucket, values, result.by)
        out.append(BoardRow(bucket, values, called, sums.touches, sums.spend, sums.clicks, both, earned))
    return out


def _total(bucket: str, called: str, result: Result, ads_only: bool) -> BoardRow:
    under = dict(totals(result, ads_only))
    any_sums = next(iter(under.values()))[0]
    return BoardRow(bucket, (), called, any_sums.touches, any_sums.spend, any_sums.clicks, under, {})
