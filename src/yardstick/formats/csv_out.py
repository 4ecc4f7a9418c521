"""CSV out (RFC 4180, UTF-8): money with its decimals, credits unrounded, no cell that a spreadsheet would run."""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterable, Iterator, Sequence
from decimal import Decimal

from yardstick.core.days import instant_text
from yardstick.core.notes import Finding, Rejected
from yardstick.core.weigh import Result

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
)
CREDIT_COLUMNS = ("yardstick", "conversion_id", "goal", "visit_id", "touched_at", "share", "value")
FINDING_COLUMNS = ("code", "level", "table", "id", "field", "value", "amount", "currency", "file", "line")
REJECTED_COLUMNS = ("file", "line", "column", "value", "reason")
_RUNS = re.compile(r"'*[=+\-@\t\r]")
_NUMBER = re.compile(r"[+-]?\d+(\.\d+)?", re.ASCII)


def neutral(cell: str) -> str:
    """Put an apostrophe before a cell that a spreadsheet would run as a formula; `csv_in.restore` takes it away."""
    return "'" + cell if _RUNS.match(cell) and not _NUMBER.fullmatch(cell) else cell


def money(minor: int | None, digits: int) -> str:
    """Minor units as a decimal string; empty = no figure."""
    return "" if minor is None else format(Decimal(minor).scaleb(-digits), "f")


def plain(number: float | Decimal | int | None) -> str:
    """A number with at most 15 significant digits and no exponent; empty = no figure."""
    if number is None:
        return ""
    if isinstance(number, float):
        number = Decimal(f"{number:.15g}")
    text = format(number, "f") if isinstance(number, Decimal) else str(number)
    return text.rstrip("0").rstrip(".") if "." in text else text


def table_text(header: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """Rows as CSV text, every cell made harmless."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(header)
    writer.writerows([neutral(cell) for cell in row] for row in rows)
    return out.getvalue()


def report_rows(result: Result) -> Iterator[list[str]]:
    """`result.csv`: one row per yardstick, bucket and value of the breakdown."""
    digits = result.settings.minor_digits
    for row in result.rows:
        sums, ratios = row.sums, row.figures
        yield [
            row.yardstick,
            row.bucket,
            *row.by,
            plain(sums.touches),
            plain(sums.leads),
            plain(sums.good_leads),
            plain(sums.conversions),
            money(sums.value, digits),
            money(sums.spend, digits),
            plain(sums.impressions),
            plain(sums.clicks),
            plain(sums.claimed_conversions),
            money(sums.claimed_value, digits),
            plain(ratios.cost_per_lead),
            plain(ratios.cost_per_good_lead),
            plain(ratios.cost_per_conversion),
            plain(ratios.roas),
            money(ratios.profit, digits),
        ]


def report_header(result: Result) -> list[str]:
    """Columns of `result.csv`."""
    return ["yardstick", "bucket", *result.by, *REPORT_COLUMNS]


def credit_rows(result: Result) -> Iterator[list[str]]:
    """`credits.csv`: what every touch got of every conversion, conversions by time, then id."""
    ground, trails, digits = result.ground, result.trails, result.settings.minor_digits
    conversions, touches = ground.conversions, ground.touches
    visit_id = ground.tables.visits.text("visit_id")
    at = conversions.at[trails.conversion].tolist()
    ids = conversions.id.take(trails.conversion).strings()
    goals = conversions.goal.take(trails.conversion).strings()
    order = sorted(range(len(ids)), key=lambda i: (at[i], ids[i], i))
    for name, share in result.shares.items():
        for i in order:
            for e in range(int(trails.offsets[i]), int(trails.offsets[i + 1])):
                divisor = int(share.divisors[e])
                if divisor:
                    touch = int(trails.touch[e])
                    visit = visit_id[int(touches.visit[touch])] if touch < touches.count else ""
                    when = instant_text(int(touches.at[touch]))
                    worth = money(int(share.value[e]), digits)
                    yield [name, ids[i], goals[i], visit, when, plain(1 / divisor), worth]


def finding_rows(findings: Iterable[Finding], digits: int) -> Iterator[list[str]]:
    """`findings.csv`."""
    for f in findings:
        line = str(f.line) if f.line else ""
        yield [f.code, f.level, f.table, f.id, f.field, f.value, money(f.amount, digits), f.currency, f.file, line]


def rejected_rows(rejected: Iterable[Rejected]) -> Iterator[list[str]]:
    """`rejected.csv`."""
    for r in rejected:
        yield [r.file, str(r.line), r.column, r.value, r.reason]
