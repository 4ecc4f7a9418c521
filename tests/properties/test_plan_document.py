"""The plan goes out as TOML, CSV and XLSX and comes back the same, whatever people typed."""

from __future__ import annotations

import tomllib
from datetime import date, timedelta
from decimal import Decimal

import pytest
from hypothesis import given
from hypothesis import strategies as st

from effort import examples
from yardstick.core.base.errors import SettingsError
from yardstick.formats.plan.plan_document import Document
from yardstick.formats.plan.plan_fields import PlanField, fields_of
from yardstick.formats.plan.sections import SECTIONS
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.results.sheets import read_table, write_table

WORDS = st.text(min_size=1, max_size=12).map(str.strip).filter(lambda s: s and "\x00" not in s and s.isprintable())
MONEY = st.decimals(0, 10**6, places=2).map(lambda d: format(d, "f"))
DAYS = st.integers(0, 20_000).map(lambda n: (date(1990, 1, 1) + timedelta(n)).isoformat())
SPECIAL = {
    ("channel", "field"): st.just("source"),
    ("channel", "op"): st.just("is"),
    ("shared_channel", "field"): st.just("source"),
    ("shared_channel", "op"): st.just("is"),
    ("channel", "value"): WORDS.map(lambda w: [w]),
    ("shared_channel", "value"): WORDS.map(lambda w: [w]),
    ("quarantine", "field"): st.sampled_from(["email_host", "name", "parameter:inside"]),
    ("quarantine", "op"): st.just("is"),
    ("quarantine", "value"): WORDS.map(lambda w: [w]),
    ("rename", "field"): st.just("campaign"),
    ("naming", "field"): st.sampled_from(["term", "content", "campaign"]),
    ("allowed", "field"): st.sampled_from(["source", "medium", "campaign", "term", "content", "id"]),
    ("landing_page", "address"): st.integers(0, 999).map(lambda n: f"https://www.lunnick.example/{n}"),
    ("goal", "yardstick"): st.just("linear"),
    ("goal", "kind"): st.just("sale"),
    ("platform", "time_zone"): st.sampled_from(["Asia/Tokyo", "UTC"]),
    ("dialect", "opens"): st.just("{="),
    ("dialect", "closes"): st.just("=}"),
    ("place", "longest"): st.integers(21, 9_999).map(str),
    ("yardstick", "rule"): st.just("custom"),
    **{("yardstick", name): st.decimals(0, 1000, places=4).map(str) for name in ("first", "middle", "last", "weight")},
    ("separate", "first"): WORDS.map(lambda w: f"visitor_id:v{w}"),
    ("separate", "second"): WORDS.map(lambda w: f"lead_id:l{w}"),
    ("legend", "utm_term"): st.just("group"),
    ("store", "scheme"): st.sampled_from(["lunnick-boats", "pierguide", "cards+x", "night.boat"]),
    ("source", "table"): st.just("spend"),
    ("source", "column"): st.sampled_from(["day", "cost", "campaign", "placement"]),
    ("source", "into"): st.just("ad"),
    ("source", "time_zone"): st.just("Asia/Tokyo"),
    ("source", "encoding"): st.sampled_from(["utf-16", "windows-1252"]),
    ("source", "delimiter"): st.sampled_from([";", "tab", "|"]),
    ("source", "decimal"): st.just(","),
    ("source", "thousands"): st.sampled_from([".", "space", "'"]),
    ("source", "skip_top"): st.integers(1, 20).map(str),
    ("source", "expected_days"): st.integers(0, 9).map(str),
    ("source", "starts"): st.just("2026-03-01"),
    ("source", "ends"): st.just("2026-09-01"),
    ("other_cost", "from"): st.just("2026-03-01"),
    ("other_cost", "to"): st.sampled_from(["2026-03-01", "2027-03-01"]),
}
"""What makes a record one that the plan takes, where a word of any kind would not."""
_SOURCE = (
    "name table kind account time_zone currency dialect click_mark starts ends expected_days encoding delimiter sheet "
    "skip_top total date decimal thousands nothing currency_signs url_host columns column text id join into by"
)
ONLY = {
    "source": tuple(_SOURCE.split(" ")),
    "store": ("scheme", "id_in", "id_kind"),
    "legend": ("source", "from", "utm_term"),
    "yardstick": ("name", "rule", "first", "middle", "last", "channel", "weight"),
}
"""Fields that go together with the special ones above."""
NEEDED = {
    "store": ["scheme"],
    "legend": ["utm_term"],
    "channel": ["value"],
    "shared_channel": ["value"],
    "quarantine": ["value"],
}


def value_of(section: str, field: PlanField):
    if (section, field.name) in SPECIAL:
        return SPECIAL[section, field.name]
    if field.name == "currency":
        return st.sampled_from(["AUD", "JPY"])
    if field.kind == "choice":
        return st.sampled_from(field.options)
    if field.kind == "number":
        return MONEY.filter(lambda m: Decimal(m) > 0)
    if field.kind == "day":
        return DAYS
    if field.kind == "words":
        return st.lists(st.sampled_from(field.options) if field.options else WORDS, min_size=1, max_size=3, unique=True)
    if field.kind == "records":
        return st.lists(record_of(section, field.fields), min_size=1, max_size=2)
    return WORDS


def record_of(section: str, fields: tuple[PlanField, ...]):
    fields = [f for f in fields if f.name in ONLY.get(section, (f.name,))]
    must = {f.name: value_of(section, f) for f in fields if f.required or f.name in NEEDED.get(section, ())}
    may = {f.name: value_of(section, f) for f in fields if f.name not in must}
    return st.fixed_dictionaries(must, optional=may)


RECORDS = {section: st.lists(record_of(section, fields_of(section)), min_size=1, max_size=3) for section in SECTIONS}


def kept(section: str, records) -> Document | None:
    """The document, or None where records contradict each other."""
    document = Document("").with_records(section, records)
    try:
        document.plan()
    except SettingsError:
        return None
    return document


@pytest.mark.parametrize("section", SECTIONS)
def test_most_records_drawn_are_taken(section):
    """So that the tests below look at something."""
    taken = []

    @examples(16)
    @given(RECORDS[section])
    def look(records):
        taken.append(kept(section, records) is not None)

    look()
    assert sum(taken) > len(taken) / 4, section


@given(st.sampled_from(list(SECTIONS)).flatmap(lambda s: st.tuples(st.just(s), RECORDS[s])))
def test_toml_gives_back_what_went_in(drawn):
    section, records = drawn
    document = kept(section, records)
    if document is None:
        return
    text = document.text()
    again = Document(text)
    assert again.records(section) == document.records(section)
    assert again.text() == text
    assert read_settings(text.encode()) == document.plan()
    assert set(tomllib.loads(text)) == {section}


@given(st.sampled_from(list(SECTIONS)).flatmap(lambda s: st.tuples(st.just(s), RECORDS[s])), st.integers(0, 5))
def test_other_sections_are_left_alone_and_taking_all_out_leaves_nothing(drawn, at):
    section, records = drawn
    document = kept(section, records)
    if document is None:
        return
    other = [name for name in SECTIONS if name != section][at]
    assert document.with_records(other, []).text() == document.text()
    assert document.with_records(section, []).text() == ""


CELLS = st.text(st.characters(blacklist_categories=("Cs", "Cc")), max_size=20).map(str.strip)


@pytest.mark.parametrize("kind", ["csv", "xlsx"])
@given(rows=st.lists(st.lists(CELLS, min_size=3, max_size=3), min_size=1, max_size=4))
def test_a_table_comes_back_from_its_file_cell_by_cell(kind, rows):
    header = ["name", "value", "note"]
    content = write_table(kind, header, rows)
    columns, found = read_table(f"t.{kind}", content)
    assert columns == header
    wanted = [dict(zip(header, row, strict=True)) for row in rows if any(row)]
    assert found == wanted


@pytest.mark.parametrize("encoding", ["utf-8", "utf-8-sig", "utf-16"])
@pytest.mark.parametrize("above", ["", "sep=;\r\n"])
def test_lists_are_read_as_spreadsheets_save_them(encoding, above):
    """As tables are: in UTF-16, and with a first line that says what stands between cells."""
    text = above + "name;owner\r\nFähre, früh;Tove\r\n"
    assert read_table("campaigns.csv", text.encode(encoding)) == (
        ["name", "owner"],
        [{"name": "Fähre, früh", "owner": "Tove"}],
    )
