"""The reports of the demo's ad platforms, each in a shape and dialect of its own, and the sources that read them."""

from __future__ import annotations

import csv
import io
import json
from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

from .places import PLATFORMS, SITE

Row = Mapping[str, str]


@dataclass(frozen=True)
class DemoReport:
    """A platform's report: the file, what its columns are called in their order, how it is written, and how it is read."""

    platform: str
    file: str
    columns: dict[str, str]
    write: Callable[[DemoReport, Sequence[Row]], bytes]
    reading: dict[str, Any]

    def source(self) -> dict[str, Any]:
        """The source that reads it, as settings have it."""
        platform = PLATFORMS[self.platform]
        return {
            "name": f"{self.platform} report",
            "table": "spend",
            "kind": "ads report",
            "account": platform.account,
            "time_zone": platform.zone,
            "currency": platform.currency,
            "columns": self.columns,
            "constant": {"platform": self.platform},
            **self.reading,
        }


def _titled(report: DemoReport, rows: Sequence[Row]) -> bytes:
    """Two lines of a title, days as Americans write them, commas between thousands, dollars, a row of sums."""
    text = io.StringIO()
    out = csv.writer(text, lineterminator="\n")
    text.write(f"{report.platform} campaign report\nAll campaigns of {PLATFORMS[report.platform].account}\n")
    out.writerow(report.columns.values())
    total = Decimal(0)
    for row in rows:
        year, month, day = row["day"].split("-")
        said = {"day": f"{int(month)}/{int(day)}/{year}", "impressions": f"{int(row['impressions'] or 0):,}"}
        for name in ("cost", "claimed_value"):
            said[name] = f"${Decimal(row[name]):,.2f}" if row.get(name) else "--"
        total += Decimal(row["cost"] or 0)
        out.writerow([said.get(name) or row.get(name) or "--" for name in report.columns])
    sums = {"day": "Total", "cost": f"${total:,.2f}"}
    out.writerow([sums.get(name, "") for name in report.columns])
    return text.getvalue().encode()


def _semicolons(report: DemoReport, rows: Sequence[Row]) -> bytes:
    """Semicolons, days first, commas before decimals, points between thousands, an older encoding."""

    def number(text: str) -> str:
        whole, _, part = f"{Decimal(text):,}".partition(".")
        return whole.replace(",", ".") + (f",{part}" if part else "")

    lines = [";".join(report.columns.values())]
    for row in rows:
        cells = []
        for name in report.columns:
            cell = row.get(name, "")
            is_number = bool(cell) and name in ("impressions", "clicks", "cost", "claimed_conversions", "claimed_value")
            cells.append(".".join(reversed(cell.split("-"))) if name == "day" else number(cell) if is_number else cell)
        lines.append(";".join(cells))
    return "\r\n".join([*lines, ""]).encode("cp1252")


def _tabs(report: DemoReport, rows: Sequence[Row]) -> bytes:
    """Tabs, in UTF-16."""
    lines = ["\t".join(report.columns.values())]
    lines += ["\t".join(row.get(name, "").replace("-", "/") if name == "day" else row.get(name, "") for name in report.columns) for row in rows]  # fmt: skip
    return "\n".join([*lines, ""]).encode("utf-16")


def _lines(report: DemoReport, rows: Sequence[Row]) -> bytes:
    """An object a line."""
    said = [{called: row.get(name, "") for name, called in report.columns.items()} for row in rows]
    return "".join(json.dumps(one, ensure_ascii=False) + "\n" for one in said).encode()


def _called(day: str, number: str, campaign: str, shown: str, clicks: str, cost: str, claims: str, worth: str) -> dict[str, str]:  # fmt: skip
    names = ("day", "campaign_id", "campaign", "impressions", "clicks", "cost", "claimed_conversions", "claimed_value")
    return dict(zip(names, (day, number, campaign, shown, clicks, cost, claims, worth), strict=True))


REPORTS = (
    DemoReport(
        "Quorrin",
        "quorrin-campaign-report.csv",
        _called("Reporting day", "Campaign no", "Campaign title", "Times shown", "Taps", "Money spent", "Bookings", "Worth")
        | {"ad_group": "Word group"},
        _titled,
        {"skip_top": 2, "total": "Total", "date": "month day year", "thousands": ",", "currency_signs": True, "nothing": ["--"]},
    ),
    DemoReport(
        "Ostrel",
        "ostrel-auswertung.csv",
        _called("Tag", "Nummer", "Kampagne", "Einblendungen", "Klicks", "Kosten", "Abschlüsse", "Wert"),
        _semicolons,
        {"encoding": "windows-1252", "date": "day month year", "decimal": ",", "thousands": "."},
    ),
    DemoReport(
        "Tarvolin",
        "tarvolin-panels.tsv",
        _called("Panel day", "Run id", "Run", "Seen", "Pressed", "Charged", "Claimed", "Claimed yen") | {"placement": "Site"},
        _tabs,
        {},
    ),
    DemoReport(
        "Harnock",
        "harnock-films.jsonl",
        _called("shown_on", "film_run", "film_run_name", "plays", "follows", "fee", "followed_by", "followed_by_worth"),
        _lines,
        {},
    ),
)  # fmt: skip


def report_files(spend: Sequence[Row]) -> tuple[list[tuple[str, bytes]], list[Row]]:
    """The reports as files, and the rows of spend that are in none of them."""
    by_platform: dict[str, list[Row]] = defaultdict(list)
    for row in spend:
        by_platform[row["platform"]].append(row)
    files = [(r.file, r.write(r, by_platform.pop(r.platform))) for r in REPORTS if by_platform.get(r.platform)]
    left = [row for row in spend if row["platform"] in by_platform]
    return files, left


def invoices_of(spend: Sequence[Row]) -> list[dict[str, str]]:
    """What each platform bills for each month."""
    sums: dict[tuple[str, str, str, str], Decimal] = defaultdict(Decimal)
    for row in spend:
        sums[row["platform"], row["account"], row["day"][:7], row["currency"]] += Decimal(row["cost"])
    return [
        {"platform": p, "account": a, "month": month, "amount": str(total), "currency": currency}
        for (p, a, month, currency), total in sorted(sums.items())
    ]


def ads_of(spend: Sequence[Row]) -> list[dict[str, str]]:
    """The ads of each account as its platform lists them, with what stands behind their addresses at which level."""
    latest = max(row["day"] for row in spend)[:7]
    cost: dict[tuple[str, str, str, str], Decimal] = defaultdict(Decimal)
    for row in spend:
        if row["day"].startswith(latest) and row["platform"] in _PATTERNS:
            key = row["platform"], row["account"], row["campaign"], row["campaign_id"]
            cost[key] += Decimal(row["cost"]) * _ABOUT.get(row["currency"], Decimal(1))
    out = []
    for number, ((platform, account, campaign, id_), total) in enumerate(sorted(cost.items())):
        level, pattern = _PATTERNS[platform]
        for letter, share in (("a", Decimal("0.6")), ("b", Decimal("0.4"))):
            out.append(
                {
                    "platform": platform,
                    "account": account,
                    "campaign": campaign,
                    "campaign_id": id_,
                    "ad_group": f"{campaign} all",
                    "ad": f"{campaign} {letter}",
                    "level": level,
                    "pattern": pattern if (number, letter) != (4, "b") else f"ref={platform.lower()}",
                    "address": f"{SITE}/boats?lang=en",
                    "state": "on",
                    "spend": f"{total * share:.2f}",
                }
            )
    return out


_ABOUT = {"JPY": Decimal("0.0102"), "NZD": Decimal("0.915")}
"""About what a currency is worth: lists of ads say what each cost in the home currency."""
_PATTERNS = {
    "Quorrin": ("account", "utm_source=quorrin&utm_medium=cpc&utm_campaign={=camp=}&utm_content={=grp=}"),
    "Ostrel": ("ad", "utm_source=ostrel&utm_medium=paid-social&utm_campaign=[[CAMPAIGN]]&utm_term=[[SETT]]"),
    "Tarvolin": ("campaign", "utm_source={{site}}&utm_medium=display&utm_campaign={{campaign.name}}&net=tarvolin"),
    "Harnock": ("ad", ""),
}
"""Where a platform's pattern stands, and what it says; one of them misspells a slot, and one has none."""
