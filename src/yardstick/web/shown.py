"""What the core says, in the form that goes over the wire."""

from __future__ import annotations

from dataclasses import asdict
from datetime import date
from fractions import Fraction

from yardstick.core.breakdown import FIELDS, known_extras
from yardstick.core.days import day_text, instant_text
from yardstick.core.figures import Figures, Sums, break_even_roas
from yardstick.core.tables import VISIT_KINDS
from yardstick.core.tags import EXTRA
from yardstick.core.trace import Trace, TracedConversion, TracedSpend, TracedTouch
from yardstick.core.weigh import Result
from yardstick.core.words import fold
from yardstick.stations.board_rows import BoardRow, Wanted, in_order, is_found
from yardstick.stations.weigh import Board

from .schemas import (
    BoardOut,
    ConversionOut,
    OpeningOut,
    RowOut,
    SourceOut,
    SpendOut,
    TieLineOut,
    TouchOut,
    TraceOut,
    Under,
)


def board_out(board: Board, wanted: Wanted) -> BoardOut:
    """The ruler board, rows in the order wanted."""
    settings = board.settings
    return BoardOut(
        by=board.question.by,
        breakdowns=[*FIELDS, *sorted(f"{EXTRA}{name}" for name in known_extras(settings))],
        where=list(board.question.where),
        yardstick=board.question.yardstick,
        yardsticks=[y.name for y in settings.yardsticks],
        currency=settings.home_currency,
        minor_digits=settings.minor_digits,
        time_zone=settings.time_zone,
        report_from=_day(settings.report_from),
        report_to=_day(settings.report_to),
        first_day=board.first_day,
        last_day=board.last_day,
        click_days=float(settings.window.click_days),
        own_windows=any(goal.click_days is not None for goal in settings.goals),
        margin=float(settings.margin),
        break_even_roas=break_even_roas(settings.margin),
        target_roas=None if settings.target_roas is None else float(settings.target_roas),
        target_cost_per_lead=None if settings.target_cost_per_lead is None else float(settings.target_cost_per_lead),
        fingerprint=board.fingerprint,
        data=board.data,
        rows=_rows(board, wanted),
        total=_row(board.total),
        ties=TieLineOut.model_validate(board.ties),
        sources=[
            SourceOut(
                name=s.name,
                table=s.table,
                zone=s.zone,
                other_zone=s.other_zone,
                last_day=None if s.last_day is None else day_text(s.last_day),
                missing=[day_text(d) for d in s.missing],
                partial=s.partial,
            )
            for s in board.sources
        ],
        findings=board.findings,
        rejected=board.rejected,
    )


def _day(day: date | None) -> str | None:
    return None if day is None else day.isoformat()


def _rows(board: Board, wanted: Wanted) -> list[RowOut]:
    """The rows; a campaign of the plan shows what it is called in spend files and links, and its own targets."""
    ordered = in_order(board.rows, board.question.yardstick, wanted)
    rows = [_row(row, is_found(row, wanted.find)) for row in ordered]
    if board.question.by == "campaign":
        planned = {fold(c.plain_name or c.name): c for c in board.settings.campaigns}
        for row in rows:
            campaign = planned.get(fold(row.name))
            if campaign is not None:
                row.campaign = campaign.name
                row.target_roas = None if campaign.target_roas is None else float(campaign.target_roas)
                target = campaign.target_cost_per_lead
                row.target_cost_per_lead = None if target is None else float(target)
    return rows


def _row(row: BoardRow, found: bool = True) -> RowOut:
    under = {name: _under(sums, ratios) for name, (sums, ratios) in row.under.items()}
    name = row.values[0] if row.values else ""
    return RowOut(
        bucket=row.bucket,
        name=name,
        called=row.called,
        found=found,
        touches=row.touches,
        spend=row.spend,
        clicks=row.clicks,
        under=under,
    )


def _under(sums: Sums, ratios: Figures) -> Under:
    return Under(
        leads=float(sums.leads),
        good_leads=float(sums.good_leads),
        sales=float(sums.conversions),
        value=sums.value,
        cost_per_lead=_float(ratios.cost_per_lead),
        cost_per_sale=_float(ratios.cost_per_conversion),
        roas=_float(ratios.roas),
        profit=ratios.profit,
    )


def _float(number: Fraction | None) -> float | None:
    return None if number is None else float(number)


def trace_out(result: Result, trace: Trace, yardstick: str, data: str) -> TraceOut:
    """A trace."""
    settings = result.settings
    return TraceOut(
        yardstick=yardstick,
        currency=settings.home_currency,
        minor_digits=settings.minor_digits,
        time_zone=settings.time_zone,
        fingerprint=result.fingerprint,
        data=data,
        share=trace.share,
        value=trace.value,
        spend=trace.spend,
        conversion_count=trace.conversion_count,
        spend_count=trace.spend_count,
        touch_count=trace.touch_count,
        conversions=[_conversion(c) for c in trace.conversions],
        spend_rows=[_spend(s) for s in trace.spend_rows],
        touches=[_touch(t) for t in trace.touches],
        openings=[OpeningOut.model_validate(o) for o in trace.openings],
    )


def _touch(touch: TracedTouch) -> TouchOut:
    return TouchOut(**asdict(touch) | {"at": instant_text(touch.at), "kind": VISIT_KINDS[touch.kind]})


def _conversion(conversion: TracedConversion) -> ConversionOut:
    plain = asdict(conversion) | {"at": instant_text(conversion.at), "touches": [_touch(t) for t in conversion.touches]}
    return ConversionOut(**plain)


def _spend(spend: TracedSpend) -> SpendOut:
    return SpendOut(**asdict(spend) | {"day": day_text(spend.day)})
