"""Files as practitioners have them: read by a source, whatever their columns, dates, numbers and lines are."""

from __future__ import annotations

import io
import json
from datetime import datetime

import openpyxl
import pyarrow as pa
import pyarrow.parquet as pq
import pytest
import tomli_w
from hypothesis import given
from hypothesis import strategies as st
from typer.testing import CliRunner

from yardstick.cli import app
from yardstick.core.base.errors import SettingsError
from yardstick.formats.files.raw import FileProblem
from yardstick.formats.plan.settings_toml import read_settings
from yardstick.formats.plan.source_parts import SourcePart
from yardstick.formats.rows.input_tables import read_file, tables_of
from yardstick.formats.sources.sourcing import Ambiguous, open_by, open_file

SPEND = {
    "name": "quorrin report",
    "table": "spend",
    "columns": {"day": "Datum", "campaign": "Kampagne", "cost": "Kosten", "clicks": "Klicks"},
    "constant": {"platform": "Quorrin", "account": "q-main", "currency": "EUR"},
    "date": "day month year",
    "decimal": ",",
    "thousands": ".",
}
PLAIN = "day,campaign,cost,clicks,platform,account,currency\n"
CANONICAL = PLAIN + "2026-03-01,Freight,1234.50,1200,Quorrin,q-main,EUR\n2026-03-02,Boats,7.00,3,Quorrin,q-main,EUR\n"
GERMAN = "Datum;Kampagne;Kosten;Klicks\n01.03.2026;Freight;1.234,50;1.200\n02.03.2026;Boats;7,00;3\n"


def run(*words, code=0):
    done = CliRunner().invoke(app, [str(word) for word in words])
    assert done.exit_code == code, done.output
    return done


def source(record, **changes):
    return SourcePart.model_validate(record | changes).plain()


def read(name, content, by=None, zone="UTC"):
    data = content.encode() if isinstance(content, str) else content
    return read_file(open_by(name, io.BytesIO(data), by), zone)


def data(*files):
    """What names the rows of files, wherever they came from."""
    return tables_of(files).tables.data


def cells(file, *names):
    return [tuple(b.columns[n][i].as_py() for n in names) for b in file.batches for i in range(len(b))]


def rejected(file):
    return [(r.line, r.column, r.value) for r in file.rejected]


def test_a_source_reads_what_no_column_name_of_ours_stands_in():
    german = read("bericht.csv", GERMAN, source(SPEND))
    assert data(german) == data(read("spend.csv", CANONICAL))
    assert cells(german, "platform", "campaign", "cost", "clicks")[0] == ("Quorrin", "Freight", "1234.5", 1200)


@pytest.mark.parametrize(
    ("changes", "content"),
    [
        ({"skip_top": 2}, "Report for March\n\n" + GERMAN),
        ({"total": "Summe"}, GERMAN + "Summe;;1.241,50;1.203\n"),
        ({"total": "summe"}, GERMAN + "Summe: 2 Zeilen;1.241,50\n"),
        ({"encoding": "windows-1252"}, GERMAN.encode("cp1252")),
        ({}, GERMAN.encode("utf-16")),
        ({"encoding": "utf-16"}, GERMAN.encode("utf-16-le")),
        ({}, "sep=;\n" + GERMAN),
        ({"delimiter": "|"}, GERMAN.replace(";", "|")),
        ({"delimiter": "tab"}, GERMAN.replace(";", "\t")),
        ({"nothing": ["--"], "columns": SPEND["columns"] | {"impressions": "Ein"}}, GERMAN.replace("Klicks\n", "Klicks;Ein\n").replace("50;1.200\n", "50;1.200;--\n").replace("0;3\n", "0;3;--\n")),
        ({"currency_signs": True}, GERMAN.replace("1.234,50", "€ 1.234,50").replace("7,00", "7,00 EUR")),
        ({"thousands": "space"}, GERMAN.replace("1.234,50", "1\u202f234,50").replace("1.200", "1 200")),
        ({"thousands": "'", "decimal": "."}, GERMAN.replace("1.234,50", "1’234.50").replace("7,00", "7.00").replace("1.200", "1'200")),
        ({"date": "month day year"}, GERMAN.replace("01.03.2026", "3/1/26").replace("02.03.2026", "3/2/26")),
        ({"date": "unix seconds"}, GERMAN.replace("01.03.2026", "1772323200").replace("02.03.2026", "1772409600")),
        ({}, GERMAN.replace("01.03.2026", "1. März 2026").replace("02.03.2026", "2 Mar 2026")),
        ({}, GERMAN.replace("Klicks", "KLICKS")),
        ({"replace": [{"column": "campaign", "from": "freight fridays", "to": "Freight"}]}, GERMAN.replace("Freight", "Freight Fridays")),
        ({"columns": {"day": "Datum", "cost": "Kosten", "clicks": "Klicks"}, "split": [{"column": "Kampagne", "by": " > ", "into": ["", "campaign"]}]}, GERMAN.replace("Freight", "Sea > Freight").replace("Boats", "Sea > Boats")),
        ({"columns": {"campaign": "Kampagne", "cost": "Kosten", "clicks": "Klicks"}, "join": [{"into": "day", "columns": ["T", "M", "J"], "by": "."}]}, GERMAN.replace("Datum", "T;M;J").replace("01.03.2026", "1;3;2026").replace("02.03.2026", "2;3;2026")),
    ],
)  # fmt: skip
def test_every_way_of_writing_the_same_rows_gives_the_same_rows(changes, content):
    file = read("bericht.csv", content, source(SPEND, **changes))
    assert rejected(file) == []
    assert data(file) == data(read("spend.csv", CANONICAL))


def test_the_same_rows_in_another_format_change_nothing():
    by = source(SPEND)
    wanted = data(read("spend.csv", CANONICAL))
    names = ["Datum", "Kampagne", "Kosten", "Klicks"]
    rows = [(datetime(2026, 3, 1), "Freight", 1234.5, 1200), (datetime(2026, 3, 2), "Boats", 7, 3)]
    book, out = openpyxl.Workbook(), io.BytesIO()
    book.active.append(["Cover"])
    sheet = book.create_sheet("Zahlen")
    for row in [names, *rows]:
        sheet.append(row)
    book.save(out)
    assert data(read("b.xlsx", out.getvalue(), source(SPEND, sheet="Zahlen"))) == wanted
    table, out = pa.table(dict(zip(names, map(list, zip(*rows, strict=True)), strict=True))), io.BytesIO()
    pq.write_table(table, out)
    assert data(read("b.parquet", out.getvalue(), by)) == wanted
    lines = "\n".join(
        json.dumps(dict(zip(names, ["01.03.2026", *r[1:]] if r[3] == 1200 else ["02.03.2026", *r[1:]], strict=True)))
        for r in rows
    )
    assert data(read("b.jsonl", lines, by)) == wanted


def test_a_cell_that_is_not_as_the_source_writes_it_rejects_its_row_though_it_could_be_read_otherwise():
    content = (
        GERMAN + "03.03.2026;Boats;12.50;1\n31.02.2026;Boats;1,00;1\n2026-03-05;Boats;1,00;1\n03/25/2026;Boats;1,00;1\n"
    )
    file = read("bericht.csv", content, source(SPEND))
    assert rejected(file) == [(4, "cost", "12.50"), (5, "day", "31.02.2026"), (7, "day", "03/25/2026")]
    assert "decimals after ','" in file.rejected[0].reason
    assert "day month year" in file.rejected[1].reason


def test_a_code_beside_an_amount_is_read_and_the_sign_of_another_currency_is_not_dropped():
    content = GERMAN.replace("1.234,50", "1.234,50 USD").replace("7,00", "A$ 7,00")
    file = read("bericht.csv", content, source(SPEND, currency_signs=True))
    assert rejected(file) == [(3, "cost", "A$ 7,00")]
    assert [(b.columns["cost"].to_pylist(), b.columns["currency"].to_pylist()) for b in file.batches] == [
        (["1234.5"], ["USD"])
    ]


def test_lines_read_rejected_and_left_out_are_the_lines_of_the_file():
    content = "Title\n" + GERMAN + "x;y\nSumme;;1;1\n\n"
    count = read("bericht.csv", content, source(SPEND, skip_top=1, total="Summe")).count
    assert (count.lines, count.header, count.read, count.skipped, count.rejected) == (7, 2, 3, 2, 1)


VISITS = {
    "name": "web sessions",
    "table": "visits",
    "columns": {
        "occurred_at": "Begin",
        "visitor_id": "Key",
        "url": "Entry",
        "utm_source": "From",
        "utm_campaign": "Drive",
    },
    "date": "month day year",
    "time_zone": "Asia/Tokyo",
    "url_host": "www.lunnick.example",
    "id": ["occurred_at", "visitor_id"],
}
SESSIONS = 'Begin,Key,Entry,From,Drive\n3/1/2026 9:05 PM,k1,/boats?x=1#top,quorrin,"Whale, big"\n03/02/2026 21:06,k2,lunnick.example/,,\n'


def test_addresses_times_tags_and_ids_of_an_export_of_sessions():
    file = read("s.csv", SESSIONS, source(VISITS), zone="Asia/Tokyo")
    (first, second) = cells(file, "visit_id", "occurred_at", "visitor_id", "url")
    assert first[3] == "https://www.lunnick.example/boats?x=1&utm_source=quorrin&utm_campaign=Whale%2C+big#top"
    assert second[3] == "https://lunnick.example/"
    assert first[1] == int(datetime.fromisoformat("2026-03-01T21:05+09:00").timestamp()) * 10**6
    assert len({first[0], second[0]}) == 2


def test_an_id_that_is_made_stays_the_same_however_the_row_is_written():
    other = SESSIONS.replace("3/1/2026 9:05 PM", "2026-03-01T12:05:00Z").replace("Begin,Key", "Start,Cookie")
    renamed = VISITS | {"columns": VISITS["columns"] | {"occurred_at": "Start", "visitor_id": "Cookie"}}
    one = read("s.csv", SESSIONS, source(VISITS), zone="Asia/Tokyo")
    two = read("t.csv", other, source(renamed), zone="Asia/Tokyo")
    assert cells(one, "visit_id", "url") == cells(two, "visit_id", "url")


def test_rows_whose_telling_columns_are_empty_are_rejected():
    file = read("s.csv", SESSIONS + ",,/,,\n", source(VISITS | {"id": ["visitor_id"]}), zone="Asia/Tokyo")
    assert rejected(file) == [(4, "occurred_at", "")] or rejected(file)[0][0] == 4


def test_times_without_an_offset_are_in_the_zone_of_their_source(tmp_path):
    (tmp_path / "in").mkdir()
    (tmp_path / "in" / "s.csv").write_text(SESSIONS)
    settings = tmp_path / "settings.toml"
    settings.write_text(
        toml(VISITS)
        + '\n[[source]]\nname = "other"\ntable = "leads"\ncolumns = { lead_id = "No", occurred_at = "At" }\n'
    )
    run("credit", tmp_path / "in", "--out", tmp_path / "out", "--settings", settings)
    found = json.loads((tmp_path / "out" / "summary.json").read_text())
    assert found["files"]["s.csv"]["accepted"] == 2


def toml(*records):
    return tomli_w.dumps(
        {
            "source": [
                SourcePart.model_validate(r).model_dump(mode="json", by_alias=True, exclude_defaults=True)
                for r in records
            ]
        }
    )


def test_of_sources_that_fit_the_one_with_most_columns_reads_and_a_tie_is_refused():
    wide = source(SPEND)
    narrow = source(SPEND, name="narrow", columns={"day": "Datum", "campaign": "Kampagne", "cost": "Kosten"})
    twin = source(SPEND, name="twin")
    assert open_file("b.csv", io.BytesIO(GERMAN.encode()), [narrow, wide]).header.source == "quorrin report"
    with pytest.raises(Ambiguous, match="quorrin report and twin have the same columns"):
        open_file("b.csv", io.BytesIO(GERMAN.encode()), [wide, twin])
    with pytest.raises(FileProblem, match="unknown table"):
        open_file("b.csv", io.BytesIO(GERMAN.replace("Kosten", "Preis").encode()), [wide])


def test_a_column_that_is_gone_and_one_that_nothing_is_said_of_are_named():
    with pytest.raises(FileProblem, match="needs the column Kosten; found Datum, Kampagne, Preis"):
        read("b.csv", GERMAN.replace("Kosten", "Preis"), source(SPEND))
    with pytest.raises(FileProblem, match="says nothing of platform"):
        read("b.csv", GERMAN, source(SPEND, constant={}))
    with pytest.raises(FileProblem, match="needs the column Nr"):
        read("s.csv", SESSIONS, source(VISITS, id=["Nr"]))


@pytest.mark.parametrize(
    ("changes", "said"),
    [
        ({"table": "things"}, "it is one of visits"),
        ({"columns": {"colour": "Farbe"}}, "spend has no column 'colour'"),
        ({"decimal": "."}, "must differ"),
        ({"thousands": "5"}, "cannot stand between digits"),
        ({"encoding": "utf-99"}, "not known"),
        ({"delimiter": '"'}, "cannot be a quote"),
        ({"time_zone": "Mars/Base"}, "unknown time zone"),
        ({"currency": "EURO"}, "ISO 4217"),
        ({"starts": "2026-03-02", "ends": "2026-03-01"}, "swap them"),
        ({"constant": {"currency": "EURO"}}, "ISO 4217"),
        ({"split": [{"column": "x", "by": "/", "into": ["cost", "ad"]}]}, "filled twice"),
        ({"skip_top": -1}, "greater than or equal"),
        ({"colour": "red"}, "unknown setting"),
    ],
)
def test_a_source_that_cannot_be_says_why(changes, said):
    record = SPEND | changes
    text = "[[source]]\n" + "\n".join(
        f"{k} = {json.dumps(v, ensure_ascii=False) if not isinstance(v, dict) else '{ ' + ', '.join(f'{a} = {json.dumps(b)}' for a, b in v.items()) + ' }'}"
        for k, v in record.items()
        if k != "split"
    )
    if "split" in record:
        text += '\nsplit = [{ column = "x", by = "/", into = ["cost", "ad"] }]'
    with pytest.raises(SettingsError, match=said):
        read_settings(text.encode())
    with pytest.raises(SettingsError, match="appears twice"):
        read_settings((toml(SPEND, SPEND)).encode())


def test_the_command_reads_any_folder_by_its_sources_and_shows_what_a_file_becomes(tmp_path):
    folder = tmp_path / "in"
    folder.mkdir()
    (folder / "visits.csv").write_text(
        "visit_id,occurred_at,visitor_id,url\nv,2026-03-01T10:00:00Z,p,/?utm_campaign=Freight\n"
    )
    (folder / "bericht märz.csv").write_text(GERMAN + "x;Boats;1;1\n")
    (folder / "notes.csv").write_text("colour\nred\n")
    settings = tmp_path / "settings.toml"
    settings.write_text(toml(SPEND))
    done = run("credit", folder, "--out", tmp_path / "out", "--settings", settings)
    assert "`yardstick read` writes the source that would read it" in done.stderr
    found = json.loads((tmp_path / "out" / "summary.json").read_text())
    assert found["totals"]["invoiced"] == "1241.50"
    assert found["files"]["bericht märz.csv"]["rejected"] == 1
    shown = run("read", folder / "bericht märz.csv", "--settings", settings).stdout
    assert "spend, read by quorrin report" in shown
    assert "4 lines = 1 header + 3 rows + 0 that are none; 2 accepted, 1 rejected" in shown
    assert "worth 1241.5 EUR" in shown
    assert "2026-03-01  Quorrin" in shown
    assert "1 cells of day such as x" in shown


def test_a_file_that_nothing_fits_gets_a_source_to_start_from_that_reads_it(tmp_path):
    file = tmp_path / "quorrin report.csv"
    file.write_text("sep=;\n" + GERMAN.replace("02.03", "25.03"))
    shown = run("read", file, code=1).stdout
    settings = tmp_path / "settings.toml"
    settings.write_text(shown[shown.index("[[source]]") :] + '\n[source.constant]\nplatform = "Quorrin"\n')
    again = run("read", file, "--settings", settings).stdout
    assert "2 accepted, 0 rejected" in again


@given(
    st.lists(st.tuples(st.dates(datetime(2000, 1, 1).date(), datetime(2100, 1, 1).date()), st.integers(0, 10**9), st.integers(0, 10**6)), min_size=1, max_size=80),
    st.sampled_from(["%d.%m.%Y", "%m/%d/%Y", "%Y/%m/%d", "%d-%m-%y"]),
    st.sampled_from([(",", "."), (".", ","), (",", "space"), (".", "'"), (",", ""), (".", "")]),
)  # fmt: skip
def test_numbers_and_days_come_back_from_every_way_of_writing_them(rows, layout, signs):
    """A plain way of writing stands beside every other; many rows go another way through the code than few."""
    decimal, thousands = signs
    group = {"space": "\u00a0"}.get(thousands, thousands)

    def number(n, digits):
        whole = f"{n // 10**digits:,}".replace(",", group)
        return whole + (decimal + str(n % 10**digits).rjust(digits, "0") if digits else "")

    short = layout.endswith("%y")
    rows = [r for r in rows if not short or 1970 <= r[0].year < 2070]
    order = {"%d": "day month year", "%m": "month day year", "%Y": "year month day"}[layout[:2]]
    plain = [
        f"{day.isoformat()},c{i},{cents // 100}.{cents % 100:02d},{clicks},Q,,\n"
        for i, (day, cents, clicks) in enumerate(rows)
    ]
    written = [
        f"{day.strftime(layout)}|c{i}|{number(cents, 2)}|{number(clicks, 0)}\n"
        for i, (day, cents, clicks) in enumerate(rows)
    ]
    by = source(SPEND, date=order, decimal=decimal, thousands=thousands, delimiter="|", constant={"platform": "Q"})
    file = read("b.csv", "Datum|Kampagne|Kosten|Klicks\n" + "".join(written), by)
    assert rejected(file) == []
    assert data(file) == data(read("spend.csv", PLAIN + "".join(plain)))
