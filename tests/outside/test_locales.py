"""Exports in the languages of CLDR, as Babel writes their numbers and days: each is guessed, and read to the same rows.

Source: Unicode Common Locale Data Repository, number and date patterns, through the library Babel.
"""

from __future__ import annotations

import io
from datetime import date, timedelta

import pytest
from babel import Locale
from babel.dates import format_date
from babel.numbers import format_decimal

from yardstick.core.plan.plan import Plan
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.formats.rows.input_tables import read_file, tables_of
from yardstick.formats.sources.guessing import guess
from yardstick.formats.sources.sourcing import open_by

_TAGS = "en_US en_AU en_GB de_DE de_CH fr_FR es_ES it_IT nl_NL pt_BR sv_SE da_DK nb_NO fi_FI pl_PL cs_CZ hu_HU tr_TR ja_JP zh_CN ko_KR id_ID"
LOCALES = _TAGS.split(" ")
ROWS = [(date(2026, 1, 3) + timedelta(i), f"c{i}", 12_345_678 * i + 99_950, 7 * i * i + 1_000) for i in range(40)]


def canonical():
    lines = "".join(f"{d.isoformat()},Q,{c},{cents // 100}.{cents % 100:02d},{n},EUR\n" for d, c, cents, n in ROWS)
    content = "day,platform,campaign,cost,clicks,currency\n" + lines
    return tables_of([read_file(open_by("spend.csv", io.BytesIO(content.encode()), None), "UTC")]).tables.data


def order_of(locale, width):
    letters = [c for c in str(Locale.parse(locale).date_formats[width].pattern) if c in "yMd"]
    first = letters[0]
    return {"y": "year month day", "d": "day month year", "M": "month day year"}[first]


@pytest.mark.parametrize("width", ["short", "medium"])
@pytest.mark.parametrize("locale", LOCALES)
def test_an_export_in_a_language_is_guessed_and_read_to_the_same_rows(locale, width):
    lines = ["Date|Campaign|Cost (EUR)|Clicks"]
    for day, campaign, cents, clicks in ROWS:
        cost = format_decimal(cents / 100, "#,##0.00", locale=locale)
        cells = format_date(day, width, locale=locale), campaign, cost, format_decimal(clicks, locale=locale)
        lines.append("|".join(cells))
    content = "\n".join(lines).encode()
    made = guess("export.csv", io.BytesIO(content), Plan(), "spend")
    record = made.record | {"constant": {"platform": "Q"}}
    # Names of months need no order; days above 12 decide every other.
    assert [q.field for q in made.questions] == ["constant.platform"], made.questions
    if width == "short":
        assert record.get("date", "year month day") == order_of(locale, width)
    file = read_file(open_by("export.csv", io.BytesIO(content), SourcePart.model_validate(record).plain()), "UTC")
    assert [(r.line, r.column, r.value) for r in file.rejected] == []
    assert tables_of([file]).tables.data == canonical()
