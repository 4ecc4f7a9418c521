"""Five exports as practitioners have them, each in a shape and dialect of its own, made up; none has our column names."""

from __future__ import annotations

import io
from datetime import datetime, timedelta

import openpyxl

PLAN = """
home_currency = "AUD"
time_zone = "Australia/Adelaide"
own_hosts = ["www.lunnick.example"]
[[platform]]
name = "Quorrin"
source = "quorrin"
medium = "cpc"
[[platform]]
name = "Ostrel"
source = "ostrel"
medium = "paid-social"
[[goal]]
name = "ticket"
kind = "sale"
[[goal]]
name = "year card"
kind = "sale"
"""
CAMPAIGNS = ("Spring Whale Boats", "Freight Fridays")


def ads_report(month: int = 5) -> bytes:
    """Title lines, American dates, signs of dollars, dashes for nothing, a row of sums: 28 days of two campaigns, each
    day 10.00 and 1,005.50."""
    lines = ["Quorrin campaign report", f"Account q-main, {month}/1/2026 to {month}/28/2026", ""]
    lines.append('"Reporting day","Campaign title","Campaign no","Times shown","Taps","Money spent (AUD)"')
    for day in range(1, 29):
        lines.append(f'"{month}/{day}/2026","{CAMPAIGNS[0]}","q-101","1,204","{"--" if day == 9 else 31}","$10.00"')
        lines.append(f'"{month}/{day}/2026","{CAMPAIGNS[1]}","q-140","15,220","412","$1,005.50"')
    lines.append('"Total","","","","","$28,434.00"')
    return ("\n".join(lines) + "\n").encode()


def semicolon_report(month: int = 5) -> bytes:
    """Semicolons, commas before decimals, umlauts in an older encoding: 12 days of 1.234,50, no day above 12."""
    lines = ["sep=;", "Tag;Kampagne;Anzeigengruppe;Einblendungen;Klicks;Kosten"]
    lines += [f"{day:02d}.{month:02d}.2026;Fähren im Frühling;Gruppe A;2.210;19;1.234,50" for day in range(1, 13)]
    return "\r\n".join([*lines, "Gesamt;;;26.520;228;14.814,00", ""]).encode("cp1252")


def web_sessions(count: int = 240) -> bytes:
    """UTF-16, tabs, seconds since 1970, addresses without a scheme, and no id."""
    lines = ["Session begin\tVisitor key\tEntry page\tCame from\tDevice type"]
    start = datetime.fromisoformat("2026-05-01T00:30:00+00:00")
    for i in range(count):
        at = int((start + timedelta(hours=i)).timestamp())
        tags = f"utm_source=quorrin&utm_medium=cpc&utm_campaign={CAMPAIGNS[i % 2].replace(' ', '+')}"
        lines.append(f"{at}\tv{i % 60}\twww.lunnick.example/boats?{tags}\tn/a\tmobile")
    return ("\n".join(lines) + "\n").encode("utf-16")


def enquiries(count: int = 40) -> bytes:
    """A workbook with a cover, its rows on the second sheet under a title, source and medium in one column."""
    book = openpyxl.Workbook()
    book.active.title = "Cover"
    book.active.append(["Enquiries of all offices"])
    sheet = book.create_sheet("Enquiries")
    sheet.append(["Enquiries, all offices"])
    sheet.append([])
    sheet.append(["Enquiry no", "Received on", "Contact", "E-mail address", "Lead source / medium", "Lead stage"])
    for i in range(count):
        at = datetime(2026, 5, 1 + i % 28, 9, i)
        sheet.append([f"E-{i:04d}", at, f"Person {i}", f"p{i}@mail.example", "ostrel / paid-social", "new"])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def orders(count: int = 60) -> bytes:
    """Bars between cells, twelve hours, signs of Australian dollars, no goal: each 120.00 with 20.00 tax."""
    lines = ["Order no|Placed at|Buyer e-mail|Grand total|Port tax|State of order"]
    for i in range(count):
        half = "AM" if i % 2 else "PM"
        placed = f"{1 + i % 12:02d}/05/2026 {1 + i % 12}:{i % 60:02d} {half}"
        lines.append(f"T-{i:05d}|{placed}|p{i}@mail.example|A$ 120.00|A$ 20.00|ok")
    return ("\n".join(lines) + "\n").encode()


EXPORTS = {
    "quorrin report may.csv": ads_report(),
    "ostrel mai.csv": semicolon_report(),
    "web sessions.tsv": web_sessions(),
    "enquiries.xlsx": enquiries(),
    "orders.csv": orders(),
}
"""File name -> content."""
