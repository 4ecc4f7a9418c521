"""A change of the plan on trial beside the weighing it would take without what is kept: of costs, of how rows are read,
and the verdicts that turn, at a million visits with a panel of four by campaign; and the pages of one record and one person."""

from __future__ import annotations

import sys
import tempfile
from collections.abc import Callable
from datetime import date
from decimal import Decimal
from pathlib import Path

import one_off
from clock import Took, interleaved
from yardstick.core.plan.campaign_records import Rename
from yardstick.core.plan.costing_phase import OtherCost
from yardstick.core.plan.crediting_phase import PANEL, Yardstick
from yardstick.core.plan.plan import Plan, plan_of
from yardstick.core.report.find_records import find_records
from yardstick.core.report.judged import judge_result
from yardstick.core.report.person_page import person_page
from yardstick.core.report.prepared_data import prepare_data
from yardstick.core.report.read_rows import read_rows
from yardstick.core.report.record_page import record_page
from yardstick.core.report.weigh import Result, weigh
from yardstick.core.settling.coverage import coverage
from yardstick.core.settling.matters import find_matters
from yardstick.core.settling.trial import compare, turned
from yardstick.formats.files.csv_in import CsvFile
from yardstick.formats.rows.input_tables import read_file, tables_of


def measure(visits: int = 1_000_000, rounds: int = 5) -> dict[str, Took]:
    """Seconds of each way: `weigh`, `certain` (weighing and judging), `costs`, `reading`, `verdicts`, `record`, `person`,
    `find`, `settled` (weighing, then coverage and all matters)."""
    with tempfile.TemporaryDirectory(prefix="yardstick-bench-") as name:
        folder = Path(name)
        one_off.write(folder, visits, campaigns=320)
        given = []
        for file in ("conversions.csv", "spend.csv", "visits.csv"):
            with (folder / file).open("rb") as stream:
                given.append(read_file(CsvFile(file, stream), "UTC"))
        tables = tables_of(given).tables
    plan = plan_of(click_marks=("ckid",), yardsticks=tuple(Yardstick(rule, rule) for rule in PANEL))
    rows = read_rows(tables, plan.reading, plan.trailing, plan.money)
    stands = weigh(tables, plan, prepared=prepare_data(tables, *_phases(plan), rows))
    judged = judge_result(tables, stands)
    campaigns = [row.by[0] for row in stands.rows if row.yardstick == PANEL[0] and row.by and row.sums.spend]
    number = iter(range(1, 1_000))

    def dearer() -> Result:
        n = next(number)
        fee = OtherCost(date(2026, 4, 1), date(2026, 4, 20), campaigns[n % len(campaigns)], "fee", Decimal(100 + n))
        mine = plan.having(other_costs=(fee,))
        return weigh(tables, mine, prepared=prepare_data(tables, *_phases(mine), rows))

    def costs() -> None:
        assert compare(stands, dearer(), "linear").spend > 0

    def reading() -> None:
        n = next(number)
        mine = plan.having(renames=(Rename("campaign", campaigns[n % len(campaigns)], campaigns[0]),))
        anew = read_rows(tables, mine.reading, mine.trailing, mine.money, rows)
        compare(stands, weigh(tables, mine, prepared=prepare_data(tables, *_phases(mine), anew)), "linear")

    changed = dearer()
    trial = compare(stands, changed, "linear")
    ways: dict[str, Callable[[], object]] = {
        "weigh": lambda: weigh(tables, plan),
        "certain": lambda: judge_result(tables, weigh(tables, plan)),
        "costs": costs,
        "reading": reading,
        "settled": lambda: settled(weigh(tables, plan)),
        "record": lambda: record_page(stands, next(number) % len(stands.prepared.conversions)),
        "person": lambda: person_page(stands, "conversions", next(number) % len(tables.conversions)),
        "find": lambda: find_records(stands.prepared.read, stands.plan.reading, f"c{next(number)}"),
        "verdicts": lambda: turned(trial, (stands, judged), (changed, judge_result(tables, changed))),
    }
    return interleaved(ways, rounds)


def settled(result: Result) -> None:
    """Coverage and all matters."""
    coverage(result)
    find_matters(result)


def _phases(plan: Plan) -> tuple[object, ...]:
    return plan.reading, plan.trailing, plan.costing, plan.money


def report(found: dict[str, Took]) -> str:
    """The figures in words."""
    whole, certain = found["weigh"].cpu, found["certain"].cpu
    return (
        f"on trial beside a weighing of {whole:.2f} CPU-s: costs {found['costs'].cpu / whole:.2f} x (goal 0.1), "
        f"reading {found['reading'].cpu / whole:.2f} x (goal 1); "
        f"page of a record {found['record'].cpu / whole:.2f} x (goal 0.1), of a person {found['person'].cpu / whole:.2f} x, "
        f"records found by a text {found['find'].cpu / whole:.2f} x; "
        f"coverage and all matters {found['settled'].cpu / whole - 1:.2f} x (goal 0.5); "
        f"verdicts that turn {found['verdicts'].cpu / certain:.2f} x a weighing with certainty (goal 1)"
    )


if __name__ == "__main__":
    print(report(measure(int(sys.argv[1]) if len(sys.argv) > 1 else 1_000_000)))
