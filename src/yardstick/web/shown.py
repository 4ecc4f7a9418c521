"""What the core says, in the form that goes over the wire."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import fields
from datetime import date
from fractions import Fraction

from yardstick.core.base.conditions import OFFERED
from yardstick.core.base.report_fields import FIELDS
from yardstick.core.reading.tags import EXTRA
from yardstick.core.report.breakdown import known_extras
from yardstick.core.report.figures import Figures, Sums, break_even_roas
from yardstick.core.report.judged import Judged
from yardstick.core.report.person_seen import PersonPage
from yardstick.core.report.recorded import RecordPage
from yardstick.core.report.traced import Trace
from yardstick.core.report.weigh import Result
from yardstick.stations.weigh.board_columns import COLUMNS, SETS, BoardColumn, columns_of
from yardstick.stations.weigh.board_rows import BoardRow, Verdicts, Wanted, in_order, is_found
from yardstick.stations.weigh.findings import grouped, rows_of
from yardstick.stations.weigh.shown_figures import as_float, credit_sent
from yardstick.stations.weigh.weigh_board import Board
from yardstick.store.states import LoadCame

from .schemas import (
    AdsOut,
    BoardOut,
    CertaintyOut,
    ColumnOut,
    FindingGroupOut,
    FindingOut,
    FindingsOut,
    PersonOut,
    RecordOut,
    RowOut,
    TraceOut,
    VerdictOut,
)


def board_out(board: Board, wanted: Wanted, verdicts: Verdicts, behind: str = "") -> BoardOut:
    """The ruler board, rows in the order wanted."""
    plan = board.plan
    reporting, window = plan.reporting, plan.windows.window
    columns = columns_of(wanted.columns)
    return BoardOut(
        by=str(board.question.by),
        operators=[*OFFERED],
        breakdowns=[*FIELDS, *sorted(f"{EXTRA}{name}" for name in known_extras(plan.reading))],
        columns=[
            ColumnOut(name=c.name, title=c.title, kind=c.kind, traced=c.traced, none=c.none) for c in COLUMNS.values()
        ],
        column_sets={name: list(columns) for name, columns in SETS.items()},
        shown_columns=[column.name for column in columns],
        where=list(board.question.where),
        yardstick=board.question.yardstick,
        yardsticks=[y.name for y in plan.crediting.yardsticks],
        panel=list(plan.panel),
        judged=board.question.by.is_judged,
        currency=plan.money.home_currency,
        minor_digits=plan.money.minor_digits,
        time_zone=plan.reading.time_zone,
        date_basis=reporting.date_basis,
        report_from=_day(reporting.report_from),
        report_to=_day(reporting.report_to),
        first_day=board.first_day,
        last_day=board.last_day,
        click_days=float(window.click_days),
        own_windows=any(goal.click_days is not None for goal in plan.goals),
        margin=float(reporting.margin),
        break_even_roas=break_even_roas(reporting.margin),
        target_roas=None if reporting.target_roas is None else float(reporting.target_roas),
        target_cost_per_lead=None if reporting.target_cost_per_lead is None else float(reporting.target_cost_per_lead),
        fingerprint=board.fingerprint,
        data=board.data,
        origin=board.origin,
        behind=behind,
        rows=_rows(board, wanted, verdicts, columns),
        total=_row(board.total, columns),
        ads_only=_row(board.ads_only, columns),
        ties=board.ties,
        sources=board.sources,
        findings=board.findings,
        rejected=board.rejected,
        without_rate=board.without_rate,
        without_event=board.without_event,
        nearest=board.nearest,
    )


def _day(day: date | None) -> str | None:
    return None if day is None else day.isoformat()


def _rows(board: Board, wanted: Wanted, verdicts: Verdicts, columns: Sequence[BoardColumn]) -> list[RowOut]:
    """The rows; a campaign of the plan shows what it is called in spend files and links, and its own targets."""
    ordered = in_order(board.rows, board.question.yardstick, wanted, verdicts)
    every = [y.name for y in board.plan.crediting.yardsticks]
    chosen = board.question.yardstick
    # What is drawn needs no more than value and leads; the figures beside it stand under the chosen yardstick.
    drawn: Sequence[BoardColumn] = () if wanted.rulers_only else columns
    sent = dict.fromkeys(board.plan.panel if wanted.rulers_only else every, drawn) | {chosen: columns}
    rows = [_row(row, columns, is_found(row, wanted, verdicts), sent) for row in ordered]
    if board.question.by.is_by_campaign:
        for row in rows:
            campaign = board.plan.campaign_of(row.name) if row.name else None
            if campaign is not None:
                row.campaign = campaign.name
                row.target_roas = None if campaign.target_roas is None else float(campaign.target_roas)
                target = campaign.target_cost_per_lead
                row.target_cost_per_lead = None if target is None else float(target)
    return rows


def _row(
    row: BoardRow,
    columns: Sequence[BoardColumn],
    found: bool = True,
    sent: Mapping[str, Sequence[BoardColumn]] | None = None,
) -> RowOut:
    """A row, with its columns under the yardsticks that are sent; without any named, all of them under all."""
    under = {
        name: _under(*of, columns if sent is None else sent[name])
        for name, of in row.under.items()
        if sent is None or name in sent
    }
    name = row.values[0] if row.values else ""
    return RowOut(
        bucket=row.bucket,
        name=name,
        values=list(row.values),
        called=row.called,
        found=found,
        touches=row.touches,
        spend=row.spend,
        clicks=row.clicks,
        ads={
            name: AdsOut(value=ads.value, leads=credit_sent(ads.leads))
            for name, ads in row.ads.items()
            if name in under
        },
        under=under,
    )


def certainty_out(result: Result, judged: Judged, chosen: str) -> CertaintyOut:
    """How sure the figures of a board are; what flips a verdict is seen from the chosen yardstick."""
    verdicts: dict[int, dict[str, VerdictOut]] = {}
    for v in judged.verdicts:
        verdicts.setdefault(v.place, {})[v.kind] = VerdictOut(
            code=v.code,
            reason=v.reason,
            pays=v.flips.pays,
            loses=v.flips.loses,
            flips_under=v.flips.under_from(chosen, v.spend),
            pays_up_to_click=_float(v.flips.up_to_click),
            conversions_needed=v.flips.needed,
        )
    intervals: dict[int, dict[str, dict[str, dict[str, float | None]]]] = {}
    for (name, place), of_place in judged.ruled.items():
        shown = {figure: {"low": _float(one.low), "high": _float(one.high)} for figure, one in of_place.items()}
        intervals.setdefault(place, {})[name] = shown
    # Of hundreds of rows all are taken apart at once: a model for each interval takes as long as all the rest.
    return CertaintyOut.model_validate(
        {
            "fingerprint": result.fingerprint,
            "panel": list(result.plan.panel),
            "mature_share": float(result.plan.reporting.mature_share),
            "come": {kind: _float(share) for kind, share in judged.come.items()},
            "rows": [
                {
                    "bucket": place.bucket,
                    "values": list(place.shown),
                    "intervals": intervals.get(number, {}),
                    "verdicts": verdicts.get(number, {}),
                    "come": {kind: _float(share) for kind, share in judged.come_by_place[number].items()},
                }
                for number, place in enumerate(result.places)
            ],
        }
    )


def _under(sums: Sums, ratios: Figures, columns: Sequence[BoardColumn]) -> dict[str, float | int | None]:
    """The figures of a row under one yardstick; None = no figure."""
    return {column.name: column.sent(sums, ratios) for column in (*_DRAWN, *columns)}


_DRAWN = tuple(COLUMNS[name] for name in ("leads", "sales", "value"))
"""What the ruler and the comparison of yardsticks need, whichever columns are shown."""


def findings_out(result: Result, code: str, find: str, first: int, limit: int) -> FindingsOut:
    """The findings behind a result, and a page of those of one kind."""
    groups = grouped(result.findings)
    code = code or (groups[0].code if groups else "")
    rows = rows_of(result.findings, code, find)
    return FindingsOut(
        fingerprint=result.fingerprint,
        currency=result.plan.money.home_currency,
        minor_digits=result.plan.money.minor_digits,
        groups=[
            FindingGroupOut(code=group.code, count=group.count, amount=group.amount, **vars(group.kind))
            for group in groups
        ],
        code=code,
        found=len(rows),
        rows=[
            FindingOut(**{name: getattr(one, name) for name in FindingOut.model_fields})
            for one in rows[first : first + limit]
        ],
    )


def _float(number: Fraction | None) -> float | None:
    return None if number is None else as_float(number)


def trace_out(result: Result, trace: Trace, yardstick: str) -> TraceOut:
    """A trace, with what it was asked of."""
    return TraceOut(
        **{field.name: getattr(trace, field.name) for field in fields(trace)},
        yardstick=yardstick,
        currency=result.plan.money.home_currency,
        minor_digits=result.plan.money.minor_digits,
        time_zone=result.plan.reading.time_zone,
        fingerprint=result.fingerprint,
        data=result.data,
        origin=result.origin,
    )


def record_out(result: Result, yardstick: str, page: RecordPage, loads: dict[int, LoadCame]) -> RecordOut:
    """The page of a record, with what it was looked at by, and when its loads came.

    Yardsticks that credit states credit no single record.
    """
    return RecordOut(
        **{field.name: getattr(page, field.name) for field in fields(page)},
        yardstick=yardstick,
        panel=tuple(name for name in result.plan.panel if name in page.yardsticks),
        loads=loads,
        currency=result.plan.money.home_currency,
        minor_digits=result.plan.money.minor_digits,
        time_zone=result.plan.reading.time_zone,
        fingerprint=result.fingerprint,
    )


def person_out(result: Result, page: PersonPage) -> PersonOut:
    """The page of a person, with what its values and times are in."""
    return PersonOut(
        **{field.name: getattr(page, field.name) for field in fields(page)},
        currency=result.plan.money.home_currency,
        minor_digits=result.plan.money.minor_digits,
        time_zone=result.plan.reading.time_zone,
    )
