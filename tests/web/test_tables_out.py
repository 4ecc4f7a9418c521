"""Every table of the app as a file of each kind: the same rows that stand on the screen, all of them."""

from __future__ import annotations

import csv
import io
import json
from decimal import Decimal

import pyarrow.parquet as pq
import pytest
from openpyxl import load_workbook

from web.http_files import load
from week import week_files
from yardstick.stations.weigh import trace_files

BASE = "/api/w/test"
ADS = b"platform,account,campaign,ad,address,spend,state\nQuorrin,a,Whale,Blue,https://lunnick.example/,12.50,running\n"
BROKEN = b"visit_id,occurred_at,visitor_id,url\nbad,never,p,/\nbad2,2026-03-02T10:00:00Z,p,nonsense\n"


@pytest.fixture
def week(client):
    load(client, [*week_files(), ("ads.csv", ADS), ("more_visits.csv", BROKEN)])
    return client


def lines_of(answer, kind):
    """Rows of any kind of file, cells as text, empty where there is none."""
    assert answer.status_code == 200, answer.text
    if kind == "csv":
        return list(csv.DictReader(io.StringIO(answer.text)))
    if kind == "jsonl":
        return [json.loads(line) for line in answer.text.splitlines()]
    if kind == "parquet":
        rows = pq.read_table(io.BytesIO(answer.content)).to_pylist()
    else:
        head, *cells = load_workbook(io.BytesIO(answer.content)).active.iter_rows(values_only=True)
        rows = [dict(zip(head, row, strict=True)) for row in cells]
    return rows


def as_numbers(line):
    """Numbers may be written with fewer zeros."""

    def plain(cell):
        try:
            return Decimal(str(cell)).normalize()
        except ArithmeticError:
            return cell

    return {name: plain(cell) if cell not in ("", None) else "" for name, cell in line.items()}


TRACE = "/weigh/trace.{kind}?bucket=total&figure=roas&rows="
TABLES = {
    "loads": ("/gather/loads.{kind}", "/gather/loads", "file"),
    "sources": ("/gather/sources.{kind}", "/gather/sources", "table"),
    "accounts": ("/gather/accounts.{kind}", "/gather/accounts", "rows"),
    "ads": ("/gather/audit.{kind}", "/gather/audit", "ad"),
    "rejected": ("/gather/loads/LAST/rejected.{kind}", None, "reason"),
    "a section": ("/plan/sections/platform.{kind}", None, "name"),
    "links": ("/mark/links.{kind}", None, "address"),
    "placing": ("/mark/placing.{kind}", None, "state"),
    "conversions": (TRACE + "conversions", None, "touch_visit_id"),
    "spend rows": (TRACE + "spend", None, "original"),
    "openings": ("/weigh/trace/untagged.{kind}?rows=openings", None, "landing_page"),
    "a part": ("/weigh/trace/booked.{kind}", None, "conversion_id"),
    "self-check": ("/selfcheck.{kind}", None, "source"),
}


@pytest.mark.parametrize("name", TABLES)
def test_a_table_is_the_same_in_every_kind_of_file(week, name):
    path, _, column = TABLES[name]
    rejecting = next(one["id"] for one in week.get(f"{BASE}/gather/loads").json() if one["rejected"])
    path = BASE + path.replace("LAST", str(rejecting))
    answers = {kind: week.get(path.format(kind=kind)) for kind in ("csv", "xlsx", "parquet", "jsonl")}
    lines = {kind: [as_numbers(line) for line in lines_of(answer, kind)] for kind, answer in answers.items()}
    assert lines["csv"] or name in ("a section", "links", "placing")
    if lines["csv"]:
        assert any(line[column] for line in lines["csv"])
    assert lines["xlsx"] == lines["parquet"] == lines["jsonl"] == lines["csv"]
    for kind, answer in answers.items():
        assert f'.{kind}"' in answer.headers["content-disposition"]


def test_files_hold_what_the_screen_shows(week):
    for name in ("loads", "sources", "accounts", "ads"):
        path, shown, column = TABLES[name]
        found = week.get(BASE + shown).json()
        rows = found["ads"] if name == "ads" else found
        file = lines_of(week.get(BASE + path.format(kind="csv")), "csv")
        assert [line[column] for line in file] == [str(row[column]) for row in rows]
        if name == "sources":
            assert [line["money"] for line in file] == [
                "; ".join(f"{one['currency']} {one['amount']}" for one in row["money"]) for row in rows
            ]


def test_a_trace_as_a_file_is_all_of_it_and_adds_up_to_the_figure(week):
    asked = {"bucket": "total", "figure": "roas", "yardstick": "last", "from": "2026-03-02", "to": "2026-03-08"}
    page = week.get(f"{BASE}/weigh/trace", params=asked | {"limit": 1}).json()
    assert len(page["conversions"]) == 1 < page["conversion_count"]
    answer = week.get(f"{BASE}/weigh/trace.csv", params=asked | {"rows": "conversions"})
    lines = lines_of(answer, "csv")
    assert len({line["conversion_id"] for line in lines}) == page["conversion_count"]
    worth = sum(Decimal(line["touch_value"] or 0) for line in lines if line["touch_here"])
    alone = sum(Decimal(line["conversion_value_here"]) for line in lines if not line["touch_at"])
    assert worth + alone == Decimal(page["value"]) / 100
    spend = lines_of(week.get(f"{BASE}/weigh/trace.csv", params=asked | {"rows": "spend"}), "csv")
    assert sum(Decimal(line["cost"]) for line in spend) == Decimal(page["spend"]) / 100
    for line in lines + spend:
        assert (line["range_from"], line["range_to"], line["yardstick"]) == ("2026-03-02", "2026-03-08", "last")
        assert (line["fingerprint"], line["data_state"]) == (page["fingerprint"], page["data"])
    name = answer.headers["content-disposition"]
    assert f"-trace-conversions-roas-total-2026-03-02-to-2026-03-08-last-{page['fingerprint']}.csv" in name


def test_the_days_of_an_invoice_are_a_file(week):
    month = next(one for one in week.get(f"{BASE}/gather/accounts").json() if Decimal(one["rows"] or 0))
    whose = {"platform": month["platform"], "account": month["account"]}
    lines = lines_of(week.get(f"{BASE}/gather/invoices/{month['month']}.csv", params=whose), "csv")
    assert len(lines) >= 28
    assert sum(Decimal(line["amount"] or 0) for line in lines) == Decimal(month["rows"])
    assert {line["currency"] for line in lines} == {month["currency"]}


def test_what_a_check_up_found_is_a_file(week):
    urls = ["https://www.lunnick.example/a?utm_source=zeta&utm_medium=cpc&utm_campaign=A", "nothing"]
    shown = week.post(f"{BASE}/mark/check-up", json={"urls": urls}).json()
    for kind in ("csv", "xlsx", "parquet", "jsonl"):
        lines = lines_of(week.post(f"{BASE}/mark/check-up.{kind}", json={"urls": urls}), kind)
        assert [line["address"] for line in lines] == urls
        assert [line["findings"] or "" for line in lines] == [
            "; ".join(f["message"] for f in c["findings"]) for c in shown
        ]
        assert [line["mended"] for line in lines] == [c["mended"] for c in shown]


def test_a_trace_with_more_rows_than_a_file_takes_is_refused_with_their_number(week, monkeypatch):
    monkeypatch.setattr(trace_files, "MOST", 3)
    answer = week.get(f"{BASE}/weigh/trace/booked.csv")
    assert (answer.status_code, answer.json()["code"]) == (422, "too_many_rows")
    assert "one file takes 3: narrow the range" in answer.json()["message"]


def test_a_list_comes_back_from_parquet_with_what_it_would_do(week):
    content = week.get(f"{BASE}/plan/sections/platform.parquet").content
    files = {"file": ("platform.parquet", content)}
    found = week.post(f"{BASE}/plan/sections/platform/file/rehearsal", files=files).json()
    assert found["same"] == found["rows"]
    assert week.post(f"{BASE}/plan/sections/platform/file?how=update", files=files).status_code == 200
    assert week.post(f"{BASE}/plan/sections/platform/file?how=guess", files=files).status_code == 422


def test_what_is_no_kind_of_file_or_no_such_list_is_said(week):
    assert week.get(f"{BASE}/gather/loads.doc").status_code == 422
    assert week.get(f"{BASE}{TRACE.format(kind='csv')}everything").status_code == 422
    assert week.get(f"{BASE}/weigh/trace/nothing.csv").status_code == 404
