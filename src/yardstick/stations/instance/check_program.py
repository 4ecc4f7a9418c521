"""The worked examples of the rules and published ones, computed by the installed program, beside what is wanted.

An example is small enough to be worked out by hand. Each goes the way of any data: rows through the readers, the core.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from decimal import Decimal
from importlib.resources import files
from pathlib import Path

import numpy as np

from yardstick.core.base.day_numbers import day_text
from yardstick.core.base.days import local_days
from yardstick.core.base.money import round_half_even
from yardstick.core.base.tables import Tables
from yardstick.core.plan.plan import Plan
from yardstick.core.reading.tags import parameters
from yardstick.core.report.breakdown import BY_CAMPAIGN, Breakdown
from yardstick.core.report.certainty import replicate_weights
from yardstick.core.report.figures import Figures, Sums, break_even_roas, figures, ratio
from yardstick.core.report.report import Row
from yardstick.core.report.summary import tie_line
from yardstick.core.report.weigh import weigh
from yardstick.core.rules.apportioning import apportion_by_weight, largest_remainder
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.results.csv_out import credit, figure, money, table_text
from yardstick.formats.rows.input_tables import read_file, tables_of

from ..command.weigh_folder import weigh_folder

COMMON = "common practice"


@dataclass(frozen=True)
class Worked:
    """One example.

    Attributes
    ----------
    rule : its number
    example : what is given
    wanted, got : the answer, as it is published or worked out by hand, and the program's
    source : where the wanted answer is from
    holds : whether they are the same
    """

    rule: str
    example: str
    wanted: str
    got: str
    source: str
    holds: bool


def selfcheck() -> list[Worked]:
    """All examples, in the order of the rules. One that ends in an error does not hold, and says it."""
    out = []
    for rule, example, source, wanted, compute in _examples():
        try:
            got = compute()
        except Exception as problem:
            got = f"{type(problem).__name__}: {problem}"
        out.append(Worked(rule, example, wanted, got, source, wanted == got))
    return out


Example = tuple[str, str, str, str, Callable[[], str]]


def _examples() -> Iterator[Example]:
    yield (
        *("R1", "a=1+2%2B&a=&b=%FF"),
        "WHATWG URL Standard, application/x-www-form-urlencoded parsing",
        "a=1 2+ a= b=\ufffd",
        lambda: " ".join(f"{name}={value}" for name, value, _ in parameters("a=1+2%2B&a=&b=%FF")),
    )
    yield "R14", "90.00 over A A B under linear", COMMON, "60.00 30.00", lambda: _values("AAB", "90.00", "linear")
    yield (
        *("R14", "900.00 over five touches under position", COMMON),
        "360.00 60.00 60.00 60.00 360.00",
        lambda: _values("ABCDE", "900.00", "position"),
    )
    yield (
        *("R14", "70.00, touches 14, 7 and 0 days old, half-life 7 days", COMMON, "10.00 20.00 40.00"),
        lambda: _values("ABC", "70.00", "decay", days=(14, 7, 0)),
    )
    yield (
        *("R15", "A conv 1, B conv 1, A>B conv 2: conversions of A and B under fair share"),
        *("L. S. Shapley, A value for n-person games, 1953: each conversion equally among its players", "2 2"),
        lambda: _counts(JOURNEYS, "fair_share"),
    )
    yield (
        *("R16", "the same, with B lost 3 and A lost 1, under removal: effects 1/2 and 3/4"),
        *("worked out by hand: P = 1/2, without A 1/4, without B 1/8", "1.6000000000 2.4000000000"),
        lambda: _counts(JOURNEYS, "removal"),
    )
    yield (
        *("R17", "100 shared equally among three", "published apportionment example (largest remainder)", "34 33 33"),
        lambda: _joined(largest_remainder(100, [1, 1, 1])),
    )
    yield (
        *("R17", "0.04 over two touches, position 0.3 and 0.5: a tie of remainders", "worked out by hand", "2 2"),
        lambda: _joined(apportion_by_weight(np.array([4]), np.array([3, 5]), np.array([0, 2])).tolist()),
    )
    yield (
        *("R18", "other costs of 100.00 over three days", COMMON, "33.34 33.33 33.33"),
        lambda: _spend_by_day([_other("100.00", "2026-04-01", "2026-04-03")], "other_costs"),
    )
    for whole, wanted in (("120.00", "120.00"), ("90.00", "100.00")):
        rows = [_spend("60.00", "north"), _spend("40.00", "south"), _spend(whole, "")]
        yield (
            *("R18", f"groups of 60.00 and 40.00 and a campaign row of {whole}", "worked out by hand", wanted),
            lambda rows=rows: _spend_by_day(rows, "spend"),  # type: ignore[misc]
        )
    yield (
        *("R20", "137.40 at a rate of 1.27", COMMON, "174.50"),
        lambda: money(int(round_half_even(np.array([13740 * 127], dtype=object), 4, 2)[0]), 2),
    )
    yield (
        *("R21", "23:30 on 4 April at UTC-5, as a day in UTC", "ISO 8601", "2026-04-05"),
        lambda: day_text(int(local_days(np.array([1_775_363_400_000_000]), "UTC")[0])),
    )
    yield "R23", "cost per lead of 420.00 for 35 leads", COMMON, "12", lambda: figure(_of(leads=35).cost_per_lead)
    yield (
        *("R23", "cost per good lead, 14 of them good", COMMON, "30"),
        lambda: figure(_of(leads=35, good_leads=14).cost_per_good_lead),
    )
    yield "R23", "cost per lead without a lead", COMMON, "", lambda: figure(_of().cost_per_lead)
    yield (
        *("R23", "(120 + 30) / (100 + 10), a ratio of sums and no mean of 1.2 and 3", COMMON, "1.36363636364"),
        lambda: figure(ratio(120 + 30, 100 + 10)),
    )
    yield "R23", "break-even ROAS at a margin of 0.4", COMMON, "2.5", lambda: str(break_even_roas(Decimal("0.4")))
    yield (
        *("R23", "profit of 4,300.00 at a margin of 0.4 and 1,250.00 spent", COMMON, "470.00"),
        lambda: money(figures(Sums(value=430_000, spend=125_000), Decimal("0.4"), 2).profit, 2),
    )
    yield (
        *("R24", "share of buckets that a replicate leaves out: 1/e", "tables of the Poisson distribution, mean 1"),
        *("0.368", lambda: f"{(replicate_weights() == 0).mean():.3f}"),
    )
    yield (
        *(
            "all",
            "the worked week: booked, invoiced, Spring Whale Boats under first, linear, fair share, removal",
        ),
        *("worked out by hand in docs/worked-week.md", "452.57 197.30 220.00 140.00 123.33 144.19", _worked_week),
    )


JOURNEYS = ("A!", "B!", "B", "B", "B", "AB!", "AB!", "A")


def _joined(numbers: Sequence[int]) -> str:
    return " ".join(map(str, numbers))


def _of(**sums: int) -> Figures:
    return figures(Sums(spend=42_000, **sums), Decimal(1), 2)  # type: ignore[arg-type]


def _tables(**rows: list[dict[str, str]]) -> Tables:
    read = []
    for name, some in rows.items():
        header = list(dict.fromkeys(column for row in some for column in row))
        text = table_text(header, [[row.get(column, "") for column in header] for row in some])
        read.append(read_file(csv_of(f"{name}.csv", text.encode(), name), "UTC"))
    return tables_of(read).tables


def _visit(number: int, campaign: str, day: int, person: str) -> dict[str, str]:
    return {
        "visit_id": str(number),
        "occurred_at": f"2026-04-{day:02}T10:00:00Z",
        "visitor_id": person,
        "url": f"/?utm_source=zeta&utm_medium=cpc&utm_campaign={campaign}",
    }


def _sale(number: int, day: int, person: str, total: str) -> dict[str, str]:
    at = f"2026-04-{day:02}T10:00:00Z"
    return {"conversion_id": str(number), "occurred_at": at, "goal": "sale", "visitor_id": person, "total": total}


def _under(tables: Tables, yardstick: str) -> dict[str, Row]:
    result = weigh(tables, Plan())
    return {row.by[0]: row for row in result.rows if row.yardstick == yardstick and row.bucket == "named"}


def _values(path: str, total: str, yardstick: str, days: Sequence[int] = ()) -> str:
    """Value by campaign of one person who touched a path of campaigns."""
    ages = days or range(len(path) - 1, -1, -1)
    visits = [_visit(i, campaign, 20 - age, "p") for i, (campaign, age) in enumerate(zip(path, ages, strict=True))]
    rows = _under(_tables(visits=visits, conversions=[_sale(1, 20, "p", total)]), yardstick)
    return " ".join(money(rows[campaign].sums.value, 2) for campaign in dict.fromkeys(path))


def _counts(paths: Sequence[str], yardstick: str) -> str:
    """Credited conversions of A and B, of people who each touched a path; those marked ! converted."""
    visits, sales = [], []
    for person, path in enumerate(paths):
        for step, campaign in enumerate(path.rstrip("!")):
            visits.append(_visit(10 * person + step, campaign, 1 + step, f"p{person}"))
        if path.endswith("!"):
            sales.append(_sale(person, 9, f"p{person}", "10.00"))
    rows = _under(_tables(visits=visits, conversions=sales), yardstick)
    return " ".join(credit(rows[campaign].sums.conversions) for campaign in "AB")


def _spend(cost: str, group: str) -> dict[str, str]:
    return {"day": "2026-04-01", "platform": "Zeta", "campaign": "A", "ad_group": group, "cost": cost}


def _other(cost: str, first: str, last: str) -> dict[str, str]:
    return {"from": first, "to": last, "campaign": "A", "kind": "print", "cost": cost}


def _spend_by_day(rows: list[dict[str, str]], table: str) -> str:
    visits = [_visit(1, "A", 1, "p")]
    result = weigh(_tables(visits=visits, **{table: rows}), Plan(), Breakdown(("day",)))
    found = [row for row in result.rows if row.yardstick == "linear" and row.sums.spend]
    return " ".join(money(row.sums.spend, 2) for row in sorted(found, key=lambda row: row.by))


def _worked_week() -> str:
    folder = Path(str(files("yardstick.demo") / "worked_week"))
    result = weigh_folder(folder, folder / "settings.toml", BY_CAMPAIGN).result
    ties = tie_line(result)
    boats = {row.yardstick: row for row in result.rows if row.by == ("Spring Whale Boats",)}
    value = [money(boats[name].sums.value, 2) for name in ("first", "linear", "fair_share", "removal")]
    return " ".join([money(ties.booked.value, 2), money(ties.invoiced, 2), *value])
