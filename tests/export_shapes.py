# mypy: disable-error-code="arg-type"
# Cells of exports are of any kind.
"""A generator of exports in sixty shapes, each with the truth beside it: what its rows are, and whether it is read, asked
about or refused. All of it is made up; column names are words of the trade and of dictionaries."""

from __future__ import annotations

import io
import json
import random
from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import date, timedelta
from decimal import Decimal

import openpyxl
from babel.dates import format_date
from babel.numbers import format_decimal

CAMPAIGNS = ("Whale Boats", "Freight Fridays", "Midnight Boat")
D = Decimal


@dataclass(frozen=True)
class Row:
    """What a row is: its day, what tells it, what it is worth, its currency and how many there were."""

    day: date
    name: str
    worth: Decimal
    currency: str = ""
    count: int | None = None


@dataclass
class Made:
    """A file and its truth. `answers` are to the questions that it must raise, by what they are about; `refused` is a part
    of what must be said of a file that cannot be read."""

    file: str
    content: bytes
    table: str
    rows: list[Row] = field(default_factory=list)
    answers: dict[str, str] = field(default_factory=dict)
    refused: str = ""
    column: str = ""
    """A column that must stand as `name` says, besides money and days."""


Shape = Callable[[random.Random], Made]
SHAPES: dict[str, Shape] = {}


def shape(make: Shape) -> Shape:
    SHAPES[make.__name__] = make
    return make


def spend(r: random.Random, days: int = 16, start: date = date(2026, 5, 10)) -> list[Row]:
    """Days of three campaigns, each dearer than the sum of any two others can be by chance."""
    return [
        Row(start + timedelta(days=d), name, D(r.randint(1_000, 99_999)) / 100, count=r.randint(5, 400))
        for d in range(days)
        for name in CAMPAIGNS
    ]


def csv(lines: Sequence[Sequence[object]], by: str = ",") -> str:
    return "".join(
        by.join(f'"{cell}"' if by in str(cell) or '"' in str(cell) else str(cell) for cell in line) + "\n"
        for line in lines
    )


def report(rows: Sequence[Row], header: Sequence[str], by: str = ",") -> str:
    return csv([header, *([r.day, r.name, r.worth, r.count] for r in rows)], by)


# Twenty locales: words, days and numbers as people write them there.

WORDS = {
    "en_US": "Date|Campaign name|Amount spent|Clicks",
    "en_GB": "Day|Campaign|Spend|Clicks",
    "de_DE": "Datum|Kampagnenname|Ausgaben|Klicks",
    "de_CH": "Tag|Kampagne|Gesamtkosten|Klicks",
    "fr_FR": "Jour|Nom de la campagne|Montant dépensé|Clics",
    "es_ES": "Fecha|Nombre de campaña|Importe gastado|Clics",
    "it_IT": "Giorno|Nome campagna|Importo speso|Clic",
    "pt_BR": "Data|Campanha|Custo|Cliques",
    "nl_NL": "Dag|Campagne|Besteed bedrag|Kliks",
    "sv_SE": "Datum|Kampanj|Kostnad|Klick",
    "da_DK": "Dato|Kampagnenavn|Forbrug|Klik",
    "nb_NO": "Dato|Kampanje|Kostnader|Klikk",
    "fi_FI": "Päivä|Kampanja|Kustannukset|Klikkaukset",
    "pl_PL": "Dzień|Kampania|Koszt|Kliknięcia",
    "cs_CZ": "Datum|Kampaň|Náklady|Kliknutí",
    "hu_HU": "Dátum|Kampány|Költség|Kattintások",
    "ro_RO": "Data|Campanie|Cheltuieli|Clicuri",
    "tr_TR": "Tarih|Kampanya|Harcama|Tıklamalar",
    "ru_RU": "Дата|Кампания|Расход|Клики",
    "ja_JP": "日付|キャンペーン|費用|クリック数",
}


def _of_locale(locale: str) -> Shape:
    def make(r: random.Random) -> Made:
        rows = spend(r)
        lines = [WORDS[locale].split("|")]
        for row in rows:
            worth = format_decimal(row.worth, "#,##0.00", locale=locale)
            lines.append([format_date(row.day, "short", locale=locale), row.name, worth, str(row.count)])
        return Made("Quorrin.csv", csv(lines, ";").encode(), "spend", rows)

    make.__name__ = f"locale_{locale}"
    return make


for _locale in WORDS:
    shape(_of_locale(_locale))


# Sums among the rows.


@shape
def total_in_the_last_row(r):
    rows = spend(r)
    lines = report(rows, ["Day", "Campaign", "Cost", "Clicks"])
    lines += f"Total,,{sum(x.worth for x in rows)},{sum(x.count for x in rows)}\n"
    return Made("Quorrin.csv", lines.encode(), "spend", rows)


@shape
def subtotals_that_carry_a_day(r):
    rows = spend(r, 8)
    lines = [["Tag", "Kampagne", "Kosten", "Klicks"]]
    for name in CAMPAIGNS:
        mine = [x for x in rows if x.name == name]
        lines += [[x.day, x.name, x.worth, x.count] for x in mine]
        lines.append([mine[-1].day, "Zwischensumme", sum(x.worth for x in mine), sum(x.count for x in mine)])
    lines.append([rows[-1].day, "Gesamtsumme", sum(x.worth for x in rows), sum(x.count for x in rows)])
    return Made("Quorrin.csv", csv(lines, ";").encode(), "spend", rows)


@shape
def totals_of_a_group_after_all_rows(r):
    rows = spend(r, 8)
    lines = report(rows, ["Day", "Campaign", "Cost", "Clicks"])
    for name in CAMPAIGNS:
        mine = [x for x in rows if x.name == name]
        lines += f"{rows[-1].day},Total {name},{sum(x.worth for x in mine)},{sum(x.count for x in mine)}\n"
    return Made("Quorrin.csv", lines.encode(), "spend", rows)


@shape
def sums_in_another_script(r):
    rows = spend(r, 6)
    lines = report(rows, ["日付", "キャンペーン", "費用", "クリック"])
    lines += f"{rows[-1].day},合計,{sum(x.worth for x in rows)},{sum(x.count for x in rows)}\n"
    return Made("Quorrin.csv", lines.encode(), "spend", rows)


@shape
def a_sum_without_a_word_and_without_a_name(r):
    rows = spend(r, 6)
    lines = report(rows, ["Day", "Campaign", "Cost", "Clicks"])
    lines += f"{rows[-1].day},,{sum(x.worth for x in rows)},{sum(x.count for x in rows)}\n"
    return Made("Quorrin.csv", lines.encode(), "spend", rows)


@shape
def sums_that_look_like_rows(r):
    rows = spend(r, 6)
    lines = [["Day", "Campaign", "Cost", "Clicks"]]
    for name in CAMPAIGNS:
        mine = [x for x in rows if x.name == name]
        lines += [[x.day, x.name, x.worth, x.count] for x in mine]
        lines.append([mine[-1].day, name, sum(x.worth for x in mine), sum(x.count for x in mine)])
    return Made("Quorrin.csv", csv(lines).encode(), "spend", rows, {"sums": "leave out"})


@shape
def a_total_that_is_none(r):
    rows = spend(r, 6)
    lines = report(rows, ["Day", "Campaign", "Cost", "Clicks"]) + f"{rows[-1].day},Total,12345.67,1\n"
    return Made("Quorrin.csv", lines.encode(), "spend", rows, {"sums": "leave out"})


@shape
def a_total_in_our_own_columns(r):
    rows = spend(r, 6)
    head = ["day", "campaign", "cost", "clicks", "platform"]
    lines = csv([head, *([x.day, x.name, x.worth, x.count, "Quorrin"] for x in rows)])
    lines += f"{rows[-1].day},Total,{sum(x.worth for x in rows)},{sum(x.count for x in rows)},Quorrin\n"
    return Made("Quorrin.csv", lines.encode(), "spend", rows)


# Which column is the money.


@shape
def cost_per_result_beside_what_was_spent(r):
    rows = spend(r)
    head = ["Day", "Campaign", "Results", "Cost per result", "Amount spent", "Clicks"]
    lines = [head, *([x.day, x.name, 3, round(x.worth / 3, 2), x.worth, x.count] for x in rows)]
    return Made("Ostrel.csv", csv(lines).encode(), "spend", rows)


@shape
def averages_budgets_and_bids_beside_the_cost(r):
    rows = spend(r)
    head = ["Day", "Campaign", "Daily budget", "Max. bid", "Avg. CPC", "CPM", "Cost", "Clicks", "CTR"]
    lines = [head, *([x.day, x.name, "50.00", "1.20", "0.31", "4.02", x.worth, x.count, "1.2%"] for x in rows)]
    return Made("Quorrin.csv", csv(lines).encode(), "spend", rows)


@shape
def cost_per_lead_alone(r):
    rows = spend(r)
    lines = [["Day", "Campaign", "Leads", "Cost per lead"], *([x.day, x.name, 3, x.worth] for x in rows)]
    return Made("Ostrel.csv", csv(lines).encode(), "spend", rows, {"columns.cost": "Cost per lead"})


@shape
def two_columns_that_say_cost(r):
    rows = spend(r)
    head = ["Day", "Campaign", "Media cost", "Total cost", "Clicks"]
    lines = [head, *([x.day, x.name, round(x.worth * D("0.9"), 2), x.worth, x.count] for x in rows)]
    return Made("Quorrin.csv", csv(lines).encode(), "spend", rows, {"columns.cost": "Total cost"})


def orders(r: random.Random, n: int = 30) -> list[Row]:
    return [
        Row(date(2026, 5, 3) + timedelta(days=i % 26), f"T-{i:04d}", D(r.randint(2_000, 90_000)) / 100)
        for i in range(n)
    ]


@shape
def an_order_with_its_parts(r):
    rows = orders(r)
    head = ["Order number", "Created at", "Email", "Subtotal", "Shipping", "Taxes", "Total", "Discount amount"]
    lines = [head]
    lines += [
        [x.name, f"{x.day} 10:00", f"{x.name}@mail.example", x.worth - 5, "2.00", "3.00", x.worth, "0.00"] for x in rows
    ]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows)


@shape
def unit_price_and_quantity_beside_the_total(r):
    rows = orders(r)
    lines = [["Order id", "Order date", "Unit price", "Quantity", "Order total"]]
    lines += [[x.name, f"{x.day} 10:00", round(x.worth / 2, 2), 2, x.worth] for x in rows]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows)


@shape
def net_and_gross_that_rows_prove(r):
    rows = orders(r)
    lines = [["Bestellnummer", "Bestelldatum", "Betrag", "MwSt", "Gesamtbetrag"]]
    lines += [[x.name, f"{x.day} 10:00", x.worth - D("3.19"), "3.19", x.worth] for x in rows]
    return Made("orders.csv", csv(lines, ";").encode(), "conversions", rows)


@shape
def net_and_gross_that_nothing_tells_apart(r):
    rows = orders(r)
    lines = [["Order", "Date", "Gross amount", "Net amount"]]
    lines += [[x.name, f"{x.day} 10:00", x.worth, round(x.worth * D("0.84"), 2)] for x in rows]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows, {"columns.total": "Gross amount"})


@shape
def words_made_of_two(r):
    rows = orders(r)
    lines = [["Bestellnr.", "Bestellzeitpunkt", "Kundenmail", "Bestellsumme"]]
    lines += [
        [x.name, f"{x.day:%d.%m.%Y} 10:00", f"{x.name}@mail.example", str(x.worth).replace(".", ",")] for x in rows
    ]
    return Made("export.csv", csv(lines, ";").encode(), "conversions", rows)


# Currencies.


@shape
def dollars_of_nobody_knows_where(r):
    rows = spend(r)
    lines = [["Day", "Campaign", "Cost", "Clicks"], *([x.day, x.name, f"${x.worth:,}", x.count] for x in rows)]
    true = [Row(x.day, x.name, x.worth, "NZD", x.count) for x in rows]
    return Made("Quorrin.csv", csv(lines).encode(), "spend", true, {"signs.$": "NZD"})


@shape
def pounds_in_a_workspace_of_dollars(r):
    rows = spend(r)
    lines = [["Day", "Campaign", "Cost", "Clicks"], *([x.day, x.name, f"£{x.worth:,}", x.count] for x in rows)]
    true = [Row(x.day, x.name, x.worth, "GBP", x.count) for x in rows]
    return Made("Quorrin.csv", csv(lines).encode(), "spend", true, {"signs.£": "GBP"})


@shape
def zloty_behind_the_amount(r):
    rows = spend(r)
    lines = [["Dzień", "Kampania", "Koszt", "Kliknięcia"]]
    lines += [[x.day, x.name, f"{format_decimal(x.worth, '#,##0.00', locale='pl_PL')} zł", x.count] for x in rows]
    true = [Row(x.day, x.name, x.worth, "PLN", x.count) for x in rows]
    return Made("Quorrin.csv", csv(lines, ";").encode(), "spend", true, {"signs.zł": "PLN"})


@shape
def codes_before_the_amount(r):
    rows = orders(r)
    lines = [["Order no", "Placed at", "Order total"], *([x.name, f"{x.day} 10:00", f"USD {x.worth:,}"] for x in rows)]
    return Made("orders.csv", csv(lines).encode(), "conversions", [Row(x.day, x.name, x.worth, "USD") for x in rows])


@shape
def codes_behind_the_amount(r):
    rows = orders(r)
    lines = [["Bestellnummer", "Bestelldatum", "Bestellwert"]]
    lines += [
        [x.name, f"{x.day} 10:00", f"{format_decimal(x.worth + 1000, '#,##0.00', locale='de')} EUR"] for x in rows
    ]
    true = [Row(x.day, x.name, x.worth + 1000, "EUR") for x in rows]
    return Made("orders.csv", csv(lines, ";").encode(), "conversions", true)


@shape
def swiss_codes_and_both_apostrophes(r):
    rows = [Row(x.day, x.name, x.worth + 1000, "CHF") for x in orders(r)]
    signs = "'’"
    lines = [["Order no", "Placed at", "Order total"]]
    lines += [[x.name, f"{x.day} 10:00", f"CHF {x.worth:,}".replace(",", signs[i % 2])] for i, x in enumerate(rows)]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows)


@shape
def two_currencies_in_one_column(r):
    rows = [Row(x.day, x.name, x.worth, ("USD", "EUR")[i % 2]) for i, x in enumerate(orders(r))]
    signs = {"USD": "US$", "EUR": "€"}
    lines = [["Order no", "Placed at", "Order total"]]
    lines += [[x.name, f"{x.day} 10:00", f"{signs[x.currency]}{x.worth}"] for x in rows]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows, {"signs.US$": "USD", "signs.€": "EUR"})


@shape
def a_code_in_the_header(r):
    rows = spend(r)
    lines = [["Day", "Campaign", "Cost (JPY)", "Clicks"], *([x.day, x.name, int(x.worth), x.count] for x in rows)]
    true = [Row(x.day, x.name, D(int(x.worth)), "JPY", x.count) for x in rows]
    return Made("Quorrin.csv", csv(lines).encode(), "spend", true)


@shape
def a_code_in_a_title_line(r):
    rows = spend(r)
    lines = "Campaign report\nAll amounts in NZD\n\n" + report(rows, ["Day", "Campaign", "Cost", "Clicks"])
    return Made("Quorrin.csv", lines.encode(), "spend", [Row(x.day, x.name, x.worth, "NZD", x.count) for x in rows])


# Zero where there was money.


@shape
def money_that_no_name_tells(r):
    rows = orders(r)
    lines = [["Order no", "Placed at", "Verkoopcijfer"], *([x.name, f"{x.day} 10:00", x.worth] for x in rows)]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows, {"columns.total": "Verkoopcijfer"})


@shape
def ids_that_are_all_empty(r):
    rows = orders(r)
    lines = [["Order id", "Placed at", "Document", "Total"], *(["", f"{x.day} 10:00", x.name, x.worth] for x in rows)]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows, {"columns.conversion_id": "Document"})


@shape
def spend_that_adds_up_to_nothing(r):
    rows = spend(r)
    lines = [["Day", "Campaign", "Cost", "Charges", "Clicks"]]
    lines += [[x.day, x.name, "0.00", x.worth, x.count] for x in rows]
    return Made("Quorrin.csv", csv(lines).encode(), "spend", rows, {"columns.cost": "Charges"})


# Placeholders, encodings, headers, levels.


@shape
def placeholders_in_source_and_medium(r):
    kinds = ["quorrin / cpc", "(direct) / (none)", "(not set)", "ostrel/paid-social"]
    rows = [Row(date(2026, 5, 3) + timedelta(days=i % 26), f"E-{i:03d}", D(0)) for i in range(24)]
    lines = [["Enquiry no", "Received on", "E-mail", "Source / medium"]]
    lines += [[x.name, f"{x.day} 10:00", f"p{i}@mail.example", kinds[i % 4]] for i, x in enumerate(rows)]
    return Made("enquiries.csv", csv(lines).encode(), "leads", rows)


def _in(encoding: str, text: str) -> bytes:
    return text.encode(encoding)


@shape
def windows_1252(r):
    rows = [Row(x.day, f"Fähre {x.name} für Höfe", x.worth, "", x.count) for x in spend(r)]
    return Made("Quorrin.csv", _in("cp1252", report(rows, ["Tag", "Kampagne", "Kosten", "Klicks"], ";")), "spend", rows)


@shape
def windows_1250(r):
    rows = [Row(x.day, f"Příští žlutá {x.name}", x.worth, "", x.count) for x in spend(r)]
    return Made(
        "Quorrin.csv", _in("cp1250", report(rows, ["Datum", "Kampaň", "Náklady", "Kliknutí"], ";")), "spend", rows
    )


@shape
def windows_1251(r):
    rows = [Row(x.day, f"Весенние {x.name}", x.worth, "", x.count) for x in spend(r)]
    return Made("Quorrin.csv", _in("cp1251", report(rows, ["Дата", "Кампания", "Расход", "Клики"], ";")), "spend", rows)


@shape
def mac_roman(r):
    rows = [Row(x.day, f"Fähren im Frühling {x.name}", x.worth, "", x.count) for x in spend(r)]
    content = _in("mac_roman", report(rows, ["Tag", "Kampagne", "Kosten", "Klicks"], ";"))
    return Made("Quorrin.csv", content, "spend", rows, {"encoding": "mac-roman"})


@shape
def shift_jis_with_yen(r):
    rows = [Row(x.day, f"春の船 {x.name}", D(int(x.worth)), "JPY", x.count) for x in spend(r)]
    lines = [["日付", "キャンペーン", "費用", "クリック数"], *([x.day, x.name, f"\\{x.worth}", x.count] for x in rows)]
    return Made("Quorrin.csv", _in("shift_jis", csv(lines)), "spend", rows, {"signs.\\": "JPY"})


@shape
def gb18030(r):
    rows = [Row(x.day, f"春季鲸鱼船 {x.name}", x.worth, "", x.count) for x in spend(r)]
    return Made("Quorrin.csv", _in("gb18030", report(rows, ["日期", "广告系列", "花费", "点击次数"])), "spend", rows)


@shape
def utf_32(r):
    rows = [Row(x.day, f"Fähre {x.name}", x.worth, "", x.count) for x in spend(r)]
    return Made("Quorrin.csv", _in("utf-32", report(rows, ["Tag", "Kampagne", "Kosten", "Klicks"], ";")), "spend", rows)


@shape
def no_header_at_all(r):
    rows = spend(r)
    lines = csv([[x.day, x.name, x.worth, x.count] for x in rows])
    return Made(
        "Quorrin spend.csv",
        lines.encode(),
        "spend",
        rows,
        {"table": "spend", "columns.campaign": "Column 2", "columns.cost": "Column 3"},
    )


@shape
def what_gathers_ads_is_a_group(r):
    rows = spend(r)
    head = ["Day", "Campaign", "Ad bundle name", "Amount spent", "Clicks"]
    lines = csv([head, *([x.day, x.name, f"Bundle {x.count % 3}", x.worth, x.count] for x in rows)])
    return Made("Ostrel.csv", lines.encode(), "spend", rows, column="ad_group")


# Periods, amounts, times.


@shape
def iso_weeks(r):
    weeks = [
        (date.fromisocalendar(2026, w, 1), name, D(r.randint(7_000, 90_000)) / 100)
        for w in (18, 19, 20)
        for name in CAMPAIGNS
    ]
    lines = csv([["Week", "Campaign", "Cost"], *([f"2026-W{m.isocalendar()[1]}", n, c] for m, n, c in weeks)])
    return Made("Quorrin.csv", lines.encode(), "spend", _spread(weeks, 7))


@shape
def weeks_by_their_first_day(r):
    weeks = [
        (date(2026, 5, 4) + timedelta(days=7 * w), name, D(r.randint(7_000, 90_000)) / 100)
        for w in range(4)
        for name in CAMPAIGNS
    ]
    lines = csv([["Week starting", "Campaign", "Cost"], *([m, n, c] for m, n, c in weeks)])
    return Made("Quorrin.csv", lines.encode(), "spend", _spread(weeks, 7))


@shape
def months(r):
    months = [(date(2026, m, 1), name, D(r.randint(7_000, 90_000)) / 100) for m in (4, 6, 9, 11) for name in CAMPAIGNS]
    lines = csv([["Month", "Campaign", "Cost"], *([f"{m:%Y-%m}", n, c] for m, n, c in months)])
    return Made("Quorrin.csv", lines.encode(), "spend", _spread(months, 30))


def _spread(rows: Sequence[tuple[date, str, Decimal]], days: int) -> list[Row]:
    out = []
    for first, name, worth in rows:
        each, more = divmod(int(worth * 100), days)
        out += [Row(first + timedelta(days=k), name, D(each + (k < more)) / 100) for k in range(days)]
    return out


@shape
def days_that_could_be_weeks(r):
    weeks = [
        (date(2026, 5, 4) + timedelta(days=7 * w), name, D(r.randint(7_000, 90_000)) / 100)
        for w in range(4)
        for name in CAMPAIGNS
    ]
    lines = csv([["Date", "Campaign", "Cost"], *([m, n, c] for m, n, c in weeks)])
    return Made("Quorrin.csv", lines.encode(), "spend", _spread(weeks, 7), {"period": "week"})


@shape
def millionths(r):
    rows = spend(r)
    head = ["Day", "Campaign", "Cost", "Clicks"]
    lines = csv([head, *([x.day, x.name, int(x.worth * 1_000_000), x.count] for x in rows)])
    return Made("Quorrin.csv", lines.encode(), "spend", rows, {"micros": "millionths"})


@shape
def orders_below_nothing(r):
    rows = orders(r)
    lines = [["Order no", "Placed at", "Order total"], *([x.name, f"{x.day} 10:00", x.worth] for x in rows)]
    lines += [[rows[3].name, "2026-05-30 10:00", -rows[3].worth]]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows, {"negative": "refunds"})


@shape
def names_of_zones_in_the_cells(r):
    rows = orders(r)
    lines = [["Order no", "Placed at", "Order total"]]
    lines += [[x.name, f"{x.day} 10:00 {('CEST', 'EDT', 'GMT+2')[i % 3]}", x.worth] for i, x in enumerate(rows)]
    return Made("orders.csv", csv(lines).encode(), "conversions", rows)


@shape
def a_nested_column_that_nobody_maps(r):
    rows = orders(r)
    lines = [
        json.dumps(
            {"order_number": x.name, "created_at": f"{x.day}T10:00:00Z", "total": str(x.worth), "items": [{"sku": 1}]}
        )
        for x in rows
    ]
    return Made("orders.jsonl", "\n".join(lines).encode(), "conversions", rows)


@shape
def a_workbook_with_a_cover(r):
    rows = spend(r)
    book = openpyxl.Workbook()
    book.active.append(["Report of all campaigns"])
    sheet = book.create_sheet("Data")
    sheet.append(["Report"])
    sheet.append(["Day", "Campaign", "Cost", "Clicks"])
    for x in rows:
        sheet.append([x.day, x.name, float(x.worth), x.count])
    sheet.append(["Total", None, float(sum(x.worth for x in rows)), sum(x.count for x in rows)])
    out = io.BytesIO()
    book.save(out)
    return Made("Quorrin.xlsx", out.getvalue(), "spend", rows)


# What cannot be used.


@shape
def sessions_that_were_counted(r):
    lines = csv(
        [
            ["Date", "Source / medium", "Sessions", "Users"],
            *([x.day, "quorrin / cpc", x.count, x.count] for x in spend(r)),
        ]
    )
    return Made("sessions.csv", lines.encode(), "visits", refused="single visits")


@shape
def an_empty_file(r):
    return Made("spend.csv", b"\n\n", "spend", refused="empty")


@shape
def a_page_instead_of_a_table(r):
    return Made(
        "Quorrin.xlsx", b"<html><body><table><tr><td>Day</td></tr></table></body></html>", "spend", refused="XLSX"
    )


@shape
def a_header_alone(r):
    return Made("Quorrin.csv", b"Day,Campaign,Cost\n", "spend", refused="found Day, Campaign, Cost")
