"""CSV out (RFC 4180, UTF-8): money with its decimals, credits with ten, no cell that a spreadsheet would run."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence
from decimal import ROUND_HALF_EVEN, Context, Decimal
from fractions import Fraction

from yardstick.core.base.day_numbers import day_text, instant_text
from yardstick.core.base.notes import Finding, Rejected
from yardstick.core.credit.credit import WHOLE
from yardstick.core.plan.plan import Plan
from yardstick.core.report.figures import Figures, Sums
from yardstick.core.report.judged import Judged
from yardstick.core.report.maturity import SALES
from yardstick.core.report.weigh import Result
from yardstick.core.settling.coverage import coverage
from yardstick.core.settling.facts import NOTHING_BESIDES, Besides
from yardstick.core.settling.matters import find_matters

REPORT_COLUMNS = (
    "touches",
    "leads",
    "good_leads",
    "conversions",
    "value",
    "spend",
    "impressions",
    "clicks",
    "claimed_conversions",
    "claimed_value",
    "cost_per_lead",
    "cost_per_good_lead",
    "cost_per_conversion",
    "roas",
    "profit",
    "conversion_rate",
    "cost_per_click",
    "average_value",
    "bounce_rate",
    "value_per_touch",
    "new_customers",
    "cost_per_new_customer",
)
CREDIT_COLUMNS = ("yardstick", "table", "conversion_id", "goal", "visit_id", "touched_at", "share", "value")
FINDING_COLUMNS = ("code", "level", "table", "id", "field", "value", "amount", "currency", "file", "line")
REJECTED_COLUMNS = ("file", "line", "column", "value", "reason")
VERDICT_COLUMNS = (
    *("kind", "verdict", "reason", "conversions", "spend", "break_even", "target"),
    *("lowest_yardstick", "lowest", "highest_yardstick", "highest", "maturity"),
    *("pays", "loses", "flips_under", "pays_up_to_click", "conversions_needed"),
)
MATURITY_COLUMNS = ("kind", "days", "share", "credits")
_RUNS = re.compile(r"'*[=+\-@\t\r]")
_NUMBER = re.compile(r"[+-]?\d+(\.\d+)?", re.ASCII)


def neutral(cell: str) -> str:
    """Put an apostrophe before a cell that a spreadsheet would run as a formula; `csv_in.restore` takes it away."""
    return "'" + cell if _RUNS.match(cell) and not _NUMBER.fullmatch(cell) else cell


def money(minor: int | None, digits: int) -> str:
    """Minor units as a decimal string; empty = no figure."""
    return "" if minor is None else format(Decimal(minor).scaleb(-digits), "f")


def plain(number: Decimal | int | None) -> str:
    """A number without exponent and closing zeros; empty = no figure."""
    if number is None:
        return ""
    text = format(number, "f") if isinstance(number, Decimal) else str(number)
    return text.rstrip("0").rstrip(".") if "." in text else text


def credit(number: Fraction | None) -> str:
    """Credit half-even with 10 decimals, whole sums as whole numbers (R17); empty = no figure."""
    if number is None or number.denominator == 1:
        return "" if number is None else str(number.numerator)
    return format(Decimal(round(number * 10**CREDIT_DECIMALS)).scaleb(-CREDIT_DECIMALS), "f")


def figure(number: Fraction | None) -> str:
    """A ratio half-even with 12 significant digits (formats.md); empty = no figure."""
    if number is None:
        return ""
    exact = Context(prec=RATIO_DIGITS, rounding=ROUND_HALF_EVEN)
    return plain(exact.divide(Decimal(number.numerator), Decimal(number.denominator)))


CREDIT_DECIMALS, RATIO_DIGITS = 10, 12


def table_text(header: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """Rows as CSV text, every cell made harmless."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(header)
    writer.writerows([neutral(cell) for cell in row] for row in rows)
    return out.getvalue()


def report_rows(result: Result) -> Iterator[list[str]]:
    """`result.csv`: one row per yardstick, bucket and value of the breakdown."""
    for row in result.rows:
        yield [row.yardstick, row.bucket, *row.by, *figure_cells(row.sums, row.figures, result.plan.money.minor_digits)]


def figure_cells(sums: Sums, ratios: Figures, digits: int) -> list[str]:
    """The cells of `REPORT_COLUMNS`."""
    return [
        plain(sums.touches),
        credit(sums.leads),
        credit(sums.good_leads),
        credit(sums.conversions),
        money(sums.value, digits),
        money(sums.spend, digits),
        plain(sums.impressions),
        plain(sums.clicks),
        plain(sums.claimed_conversions),
        money(sums.claimed_value, digits),
        figure(ratios.cost_per_lead),
        figure(ratios.cost_per_good_lead),
        figure(ratios.cost_per_conversion),
        figure(ratios.roas),
        money(ratios.profit, digits),
        figure(ratios.conversion_rate),
        figure(ratios.cost_per_click),
        figure(ratios.average_value),
        figure(ratios.bounce_rate),
        figure(ratios.value_per_touch),
        credit(sums.new_customers),
        figure(ratios.cost_per_new_customer),
    ]


def report_header(result: Result) -> list[str]:
    """Columns of `result.csv`."""
    return ["yardstick", "bucket", *result.by, *REPORT_COLUMNS]


def credit_rows(result: Result) -> Iterator[list[str]]:
    """`credits.csv`: what every touch got, by yardstick, then the conversion's time, table and id."""
    prepared, trails, digits = result.prepared, result.trails, result.plan.money.minor_digits
    conversions, touches = prepared.conversions, prepared.touches
    visit_id = prepared.tables.visits.text("visit_id")
    at = conversions.at[trails.conversion].tolist()
    ids = conversions.id.take(trails.conversion).strings()
    goals = conversions.goal.take(trails.conversion).strings()
    is_lead = conversions.is_lead_row[trails.conversion].tolist()
    tables = ["leads" if lead else "conversions" for lead in is_lead]
    order = sorted(range(len(ids)), key=lambda i: (at[i], tables[i], ids[i], i))
    for name, share in sorted(result.shares.items()):
        for i in order:
            for e in range(int(trails.offsets[i]), int(trails.offsets[i + 1])):
                part = int(share.parts[e])
                if part:
                    touch = int(trails.touch[e])
                    visit = visit_id[int(touches.visit[touch])] if touch < touches.count else ""
                    when = instant_text(int(touches.at[touch]))
                    worth = money(int(share.value[e]), digits)
                    yield [name, tables[i], ids[i], goals[i], visit, when, credit(Fraction(part, int(WHOLE))), worth]


def finding_rows(findings: Iterable[Finding], digits: int) -> Iterator[list[str]]:
    """`findings.csv`."""
    for f in findings:
        line = str(f.line) if f.line else ""
        yield [f.code, f.level, f.table, f.id, f.field, f.value, money(f.amount, digits), f.currency, f.file, line]


def rejected_rows(rejected: Iterable[Rejected]) -> Iterator[list[str]]:
    """`rejected.csv`."""
    for r in rejected:
        yield [r.file, str(r.line), r.column, r.value, r.reason]


def verdict_header(result: Result) -> list[str]:
    """Columns of `verdicts.csv`."""
    return [*result.by, *VERDICT_COLUMNS]


def verdict_rows(judged: Judged, digits: int) -> Iterator[list[str]]:
    """`verdicts.csv`, by values as they are compared."""
    for v in sorted(judged.verdicts, key=lambda v: (*(s.casefold() for s in v.shown), *v.shown, v.kind != SALES)):
        flips = v.flips
        yield [
            *(*v.shown, v.kind, v.code, v.reason, credit(v.credited), money(v.spend, digits)),
            *(figure(v.break_even), figure(v.target), v.lowest[0], figure(v.lowest[1])),
            *(v.highest[0], figure(v.highest[1]), figure(v.maturity)),
            *("" if flips.pays is None else str(flips.pays), "" if flips.loses is None else str(flips.loses)),
            *(flips.under, figure(flips.up_to_click), flips.needed),
        ]


def interval_header(result: Result) -> list[str]:
    """Columns of `intervals.csv`."""
    return ["yardstick", *result.by, "figure", "point", "low", "high"]


def interval_rows(result: Result, judged: Judged) -> Iterator[list[str]]:
    """`intervals.csv`: in the order of the report's rows."""
    number = {(place.bucket, place.shown): i for i, place in enumerate(result.places)}
    for row in result.rows:
        of_row = judged.intervals.get((row.yardstick, number.get((row.bucket, row.by), -1)), {})
        for name, one in of_row.items():
            written = credit if name in ("conversions", "leads") else figure
            yield [row.yardstick, *row.by, name, written(one.point), written(one.low), written(one.high)]


def maturity_rows(judged: Judged) -> Iterator[list[str]]:
    """`maturity.csv`: by kind and whole days of age, the share of credit that has come, and how much that is. A kind
    with too few to tell has one row, without days and share."""
    for kind, one in judged.maturity.items():
        if not one.known:
            yield [kind, "", "", credit(Fraction(one.credited, int(WHOLE)))]
            continue
        for days, come in enumerate(one.come):
            yield [kind, str(days), figure(one.share(days)), credit(Fraction(come, int(WHOLE)))]


COVERAGE_COLUMNS = ("figure", "by", "value", "part", "whole", "low", "high", "since")


def coverage_rows(result: Result) -> Iterator[Sequence[str]]:
    """The cells of `coverage.csv`: how much is tied together (R32); amounts in the home currency, bounds as ratios."""
    digits = result.plan.money.minor_digits
    for one in coverage(result):
        written = str if one.counts else (lambda minor: money(minor, digits))
        bounds = (figure(None if bound is None else Fraction(bound)) for bound in (one.low, one.high))
        yield (one.figure, one.by, one.value, written(one.part), written(one.whole), *bounds, one.since)


MATTER_COLUMNS = ("kind", "object", "first_day", "rows", "spend", "value", "words", "state")
OPEN, ACCEPTED = "open", "accepted"
"""The state of a matter; what was mended, a workspace knows."""


def matter_rows(
    result: Result, today: int | None = None, plan: Plan | None = None, besides: Besides = NOTHING_BESIDES
) -> Iterator[Sequence[str]]:
    """The cells of `matters.csv`: what is open in a result (R30)."""
    digits = result.plan.money.minor_digits
    for one in find_matters(result, today, plan, besides):
        amounts = ("" if amount is None else money(amount, digits) for amount in (one.spend, one.value))
        first = "" if one.first_day is None else day_text(one.first_day)
        said = (one.called, first, str(one.rows), *amounts)
        yield (
            one.kind.name,
            *said,
            f"{one.rule}: {one.said}" if one.said else one.rule,
            ACCEPTED if one.is_accepted else OPEN,
        )
