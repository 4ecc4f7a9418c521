"""The HTTP interface: who may ask, what it answers, and what it says when something is wrong."""

from __future__ import annotations

import csv
import io
import json
from datetime import datetime

import pyarrow as pa
import pyarrow.parquet as pq
import pytest
from fastapi.testclient import TestClient
from openpyxl import Workbook

from cluster import Databases, reachable
from effort import much
from web.http_files import load, rehearse
from week import week_files
from yardstick.web.app import create


def test_health_tells_versions_and_that_the_database_answers(client):
    answer = client.get("/api/health")
    assert answer.status_code == 200
    assert answer.json()["database"] == "ok"
    assert answer.json()["layout"] == "0012"


@pytest.mark.parametrize(
    "headers",
    [
        {"host": "evil.example"},
        {"host": "127.0.0.1.evil.example"},
        {"origin": "http://evil.example"},
        {"origin": "null"},
        {"origin": "http://127.0.0.1:9999"},
    ],
)
def test_foreign_hosts_and_origins_are_refused(client, headers):
    assert client.get("/api/health", headers=headers).status_code == 403
    assert client.post("/api/w/test/gather/loads", json={"token": "x"}, headers=headers).status_code == 403


def test_the_own_origin_is_served_with_a_policy(client):
    answer = client.get("/api/health", headers={"origin": "http://127.0.0.1:8420"})
    assert answer.status_code == 200
    assert "default-src 'self'" in answer.headers["content-security-policy"]


def test_the_self_check_is_answered_before_anything_is_loaded(client):
    found = client.get("/api/w/test/selfcheck").json()
    assert len(found) > 20
    assert all(one["holds"] for one in found)


def test_an_empty_workspace_says_what_to_do(client):
    answer = client.get("/api/w/test/weigh/board")
    assert answer.status_code == 404
    assert answer.json()["code"] == "nothing_yet"
    assert "Gather" in answer.json()["message"]


def test_the_board_shows_every_yardstick_and_ties_every_cent(client):
    load(client, week_files())
    board = client.get("/api/w/test/weigh/board").json()
    by_rule = ["first", "last", "last_marked", "linear", "position", "decay", "fair_share", "removal"]
    assert board["yardsticks"] == by_rule
    assert board["panel"] == ["first", "last", "linear", "fair_share"]
    rows = {(r["bucket"], r["name"]): r for r in board["rows"]}
    whale = rows["named", "Spring Whale Boats"]
    assert whale["spend"] == 10_000
    assert {y: u["value"] for y, u in whale["under"].items()} == {
        "first": 22_000,
        "last": 6_667,
        "last_marked": 6_667,
        "linear": 14_000,
        "position": 14_133,
        "decay": 13_122,
        "fair_share": 12_333,
        "removal": 14_419,
    }
    assert board["total"]["under"]["linear"]["value"] == board["ties"]["booked"]["value"] == 45_257
    ties = board["ties"]
    parts = [ties[part]["linear"] for part in ("named", "untagged", "no_value")]
    assert sum(parts) + ties["no_trail"]["value"] == 45_257
    assert (ties["invoiced"], ties["matched"], ties["unmatched"], ties["quarantined_value"]) == (
        19_730,
        18_530,
        1_200,
        99_900,
    )
    assert board["rejected"] == 1
    sources = {s["name"]: s for s in board["sources"]}
    # In its first week nothing says what such a day usually has.
    assert sources["Quorrin q-main"]["missing"] == []
    assert (sources["Ostrel o-main"]["zone"], sources["Ostrel o-main"]["other_zone"]) == ("Pacific/Auckland", True)
    assert sources["visits"]["last_day"] == "2026-03-07"


def test_range_and_look_back_change_the_answer(client):
    load(client, week_files())
    base = client.get("/api/w/test/weigh/board").json()
    one_day = client.get("/api/w/test/weigh/board", params={"from": "2026-03-06", "to": "2026-03-06"}).json()
    assert one_day["ties"]["booked"]["value"] == 10_000
    short = client.get("/api/w/test/weigh/board", params={"click_days": "1"}).json()
    rows = {r["name"]: r for r in short["rows"]}
    assert rows["Midnight Boat"]["under"]["first"]["value"] == 10_000  # o2 keeps v08 only
    assert len({base["fingerprint"], one_day["fingerprint"], short["fingerprint"]}) == 3
    assert {base["data"], one_day["data"], short["data"]} == {base["data"]}
    again = client.get("/api/w/test/weigh/board").json()
    assert again["fingerprint"] == base["fingerprint"]


@pytest.mark.parametrize(
    ("query", "named"),
    [
        ("by=extra:size", "size"),
        ("by=colour", "colour"),
        ("yardstick=ruler", "ruler"),
        ("from=2026-02-31", "from"),
        ("from=2026-03-09&to=2026-03-08", "after"),
        ("click_days=-1", "click_days"),
    ],
)
def test_wrong_questions_are_answered_in_words(client, query, named):
    load(client, week_files())
    answer = client.get(f"/api/w/test/weigh/board?{query}")
    assert answer.status_code == 422
    assert named in answer.json()["message"]


def test_the_trace_of_every_cell_of_the_worked_week_adds_up_to_it(client):
    load(client, week_files())
    seen = 0
    asked = {}
    columns = [column["name"] for column in client.get("/api/w/test/weigh/board").json()["columns"]]
    for by in ("campaign", "channel", "goal", "day"):
        board = client.get("/api/w/test/weigh/board", params={"by": by, "columns": columns}).json()
        assert board["shown_columns"] == columns
        for row in [*board["rows"], board["total"], board["ads_only"]]:
            # What a figure is made of depends on the yardstick, what is listed on the breakdown: each once with all of the other.
            some = much(("first", "linear", "fair_share", "removal"), board["yardsticks"])
            for yardstick in {"campaign": some, "channel": ("linear", "removal")}.get(by, ("linear",)):
                under = row["under"][yardstick]
                for column in board["columns"]:
                    question = {
                        "by": by,
                        "yardstick": yardstick,
                        "bucket": row["bucket"],
                        "name": row["name"],
                        "figure": column["traced"],
                    }
                    # Several columns open into one trace.
                    once = tuple(question.values())
                    if once not in asked:
                        asked[once] = client.get("/api/w/test/weigh/trace", params=question).json()
                    trace = asked[once]
                    assert trace["fingerprint"] == board["fingerprint"]
                    (check_states if yardstick == "removal" else check_trace)(trace, column["name"], row, under)
                    seen += 1
    assert seen > 900


CREDITED = {
    "leads": "leads",
    "cost_per_lead": "leads",
    "good_rate": "leads",
    "good_leads": "good_leads",
    "cost_per_good_lead": "good_leads",
    "sales": "sales",
    "cost_per_sale": "sales",
    "average_value": "sales",
    "conversion_rate": "sales",
    "new_customers": "new_customers",
    "cost_per_new_customer": "new_customers",
}
"""Figure -> the credit that its trace lists."""
OF_VALUE = ("value", "roas", "profit", "value_per_touch")
OF_SPEND = (
    *("spend", "roas", "profit", "clicks", "impressions", "claimed_conversions", "claimed_value", "cost_per_click"),
    *("cost_per_lead", "cost_per_good_lead", "cost_per_sale", "cost_per_new_customer"),
)
OF_TOUCHES = ("touches", "bounce_rate", "conversion_rate", "value_per_touch")


def check_trace(trace, figure, row, under):
    conversions = trace["conversions"]
    listed = sum(c["value_here"] for c in conversions)
    shares = sum(c["share_here"] for c in conversions)
    for c in conversions:
        assert c["file"]
        assert c["line"] > 1
        if c["touches"]:
            assert sum(t["value"] for t in c["touches"]) == c["value"]
            assert sum(t["value"] for t in c["touches"] if t["here"]) == c["value_here"]
    if figure in OF_VALUE:
        assert listed == trace["value"] == under["value"]
    if figure in CREDITED:
        assert shares == pytest.approx(under[CREDITED[figure]], abs=1e-9)
    else:
        assert figure in OF_VALUE or not conversions
    check_rows(trace, figure, row, under)


def check_rows(trace, figure, row, under):
    """Spend rows and touches stand where the figure is of them, and nowhere else."""
    rows = trace["spend_rows"]
    if figure in OF_SPEND:
        assert sum(s["cost"] for s in rows) == trace["spend"] == (row["spend"] or 0)
        assert sum(s["clicks"] for s in rows) == (row["clicks"] or 0)
        assert sum(s["claimed_value"] for s in rows) == (under["claimed_value"] or 0)
    else:
        assert not rows
    assert len(trace["touches"]) == ((row["touches"] or 0) if figure in OF_TOUCHES else 0)


def check_states(trace, figure, row, under):
    """Removal credits states: they, and conversions without a touch, add up to the figure."""
    states, alone = trace["states"], trace["conversions"]
    assert all(not c["touches"] for c in alone)
    share = sum(s["share"] for s in states) + sum(c["share_here"] for c in alone)
    if figure in OF_VALUE:
        value = sum(s["value"] for s in states) + sum(c["value_here"] for c in alone)
        assert value == trace["value"] == under["value"]
    if figure in CREDITED:
        assert share == pytest.approx(under[CREDITED[figure]], abs=1e-9)
    else:
        assert figure in OF_VALUE or not states
    check_rows(trace, figure, row, under)


def test_every_part_of_the_tie_line_opens_into_states_under_removal(client):
    load(client, week_files())
    ties = client.get("/api/w/test/weigh/board").json()["ties"]
    for part in ("booked", "named", "untagged", "no_value"):
        trace = client.get(f"/api/w/test/weigh/trace/{part}", params={"yardstick": "removal"}).json()
        value = sum(s["value"] for s in trace["states"]) + sum(c["value_here"] for c in trace["conversions"])
        assert value == (ties["booked"]["value"] if part == "booked" else ties[part]["removal"])
        assert all(0 <= s["effect"] <= 1 for s in trace["states"])


def test_two_fields_at_once_add_up_to_the_first_and_their_figures_open(client):
    load(client, week_files())
    one = client.get("/api/w/test/weigh/board", params={"by": "campaign"}).json()
    two = client.get("/api/w/test/weigh/board", params={"by": "campaign,channel"}).json()
    for row in one["rows"]:
        if row["bucket"] == "named":
            inner = [r for r in two["rows"] if r["bucket"] == "named" and r["values"][0] == row["name"]]
            for name in one["yardsticks"]:
                assert sum(r["under"][name]["value"] for r in inner) == row["under"][name]["value"]
    found = next(r for r in two["rows"] if r["under"]["linear"]["value"] and r["bucket"] == "named")
    assert found["called"] == " / ".join(found["values"])
    question = {"by": "campaign,channel", "bucket": "named", "name": found["values"], "figure": "value"}
    trace = client.get("/api/w/test/weigh/trace", params=question | {"yardstick": "linear"}).json()
    assert trace["value"] == found["under"]["linear"]["value"]
    text = client.get("/api/w/test/weigh/board.csv", params={"by": "campaign,channel"}).text
    rows = list(csv.DictReader(io.StringIO(text)))
    assert [found["values"]] == [
        [r["campaign"], r["channel"]] for r in rows if [r["campaign"], r["channel"]] == found["values"]
    ]
    assert client.get("/api/w/test/weigh/board", params={"by": "campaign,campaign"}).status_code == 422


def test_certainty_says_intervals_verdicts_and_what_has_come(client):
    load(client, week_files())
    board = client.get("/api/w/test/weigh/board").json()
    sure = client.get("/api/w/test/weigh/certainty").json()
    assert (sure["fingerprint"], sure["panel"]) == (board["fingerprint"], board["panel"])
    rows = {(r["bucket"], *r["values"]): r for r in sure["rows"]}
    named = {("named", r["name"]): r for r in board["rows"] if r["bucket"] == "named" and r["spend"]}
    for key, row in named.items():
        for name, figures in rows[key]["intervals"].items():
            assert figures["roas"]["low"] <= row["under"][name]["roas"] <= figures["roas"]["high"]
        assert "removal" not in rows[key]["intervals"]
        verdict = rows[key]["verdicts"]["sale"]
        assert verdict["code"] == "too_few"
        assert "at least 10 are needed" in verdict["reason"]
    # Six sales are too few to know how late they come.
    assert sure["come"] == {"sale": None, "lead": None}
    weeks = client.get("/api/w/test/weigh/certainty", params={"by": "week"}).json()
    assert all(r["verdicts"] == {} for r in weeks["rows"])
    sources = client.get("/api/w/test/weigh/certainty", params={"by": "source"}).json()
    assert {c["code"] for r in sources["rows"] for c in r["verdicts"].values()} == {"too_few"}
    judged = {
        by: client.get("/api/w/test/weigh/board", params={"by": by}).json()["judged"] for by in ("week", "source")
    }
    assert judged == {"week": False, "source": True}
    by_source = client.get("/api/w/test/weigh/board.csv", params={"by": "source"}).text
    assert "too few to tell" in by_source
    picked = client.get("/api/w/test/weigh/certainty", params={"panel": ["last", "removal"]}).json()
    assert picked["panel"] == ["last", "removal"]
    assert client.get("/api/w/test/weigh/certainty", params={"panel": "ruler"}).status_code == 422
    assert client.get("/api/w/test/weigh/certainty", params={"by": "colour"}).status_code == 422


def test_every_part_of_the_tie_line_opens_and_adds_up(client):
    load(client, week_files())
    ties = client.get("/api/w/test/weigh/board").json()["ties"]

    def part(name):
        return client.get(f"/api/w/test/weigh/trace/{name}", params={"yardstick": "linear"}).json()

    assert sum(c["value_here"] for c in part("booked")["conversions"]) == ties["booked"]["value"]
    assert sum(c["value_here"] for c in part("named")["conversions"]) == ties["named"]["linear"]
    assert sum(c["value_here"] for c in part("untagged")["conversions"]) == ties["untagged"]["linear"]
    assert sum(c["value_here"] for c in part("no_trail")["conversions"]) == ties["no_trail"]["value"]
    assert sum(c["value_here"] for c in part("quarantined")["conversions"]) == ties["quarantined_value"]
    for name in ("invoiced", "matched", "unmatched"):
        assert sum(s["cost"] for s in part(name)["spend_rows"]) == ties[name]
    touches = [t for c in part("no_value")["conversions"] for t in c["touches"] if t["here"]]
    assert [(t["visit_id"], t["tagged"], t["campaign"]) for t in touches] == [("v11", True, "")]
    openings = part("untagged")["openings"]
    assert sum(o["value"] for o in openings) == ties["untagged"]["linear"]
    assert ("Organic search", "findery.example") in {(o["channel"], o["referrer_host"]) for o in openings}
    assert client.get("/api/w/test/weigh/trace/pocket").status_code == 404


def test_a_trace_of_what_is_not_there_says_so(client):
    load(client, week_files())
    for question in ("bucket=named&name=Nothing&figure=value", "bucket=named&name=Midnight+Boat&figure=luck"):
        answer = client.get(f"/api/w/test/weigh/trace?{question}")
        assert answer.status_code == 404
        assert answer.json()["message"]


def test_the_csv_holds_what_is_seen_in_its_order_with_the_stamp(client):
    load(client, week_files())
    board = client.get("/api/w/test/weigh/board").json()
    answer = client.get(
        "/api/w/test/weigh/board.csv", params={"yardstick": "first", "sort": "value", "descending": "true"}
    )
    rows = list(csv.DictReader(io.StringIO(answer.text)))
    named = [r for r in rows if r["bucket"] == "named"]
    assert [r["campaign"] for r in named][:2] == ["Spring Whale Boats", "Two-Island Year Card"]
    assert (named[0]["value"], named[0]["value last"], named[0]["roas"], named[0]["currency"]) == (
        "220.00",
        "66.67",
        "2.20",
        "AUD",
    )
    assert {r["fingerprint"] for r in rows} == {board["fingerprint"]}
    assert {r["data_state"] for r in rows} == {board["data"]}
    by_name = client.get("/api/w/test/weigh/board.csv", params={"sort": "name", "descending": "false"}).text
    assert [r["campaign"] for r in csv.DictReader(io.StringIO(by_name))][:2] == ["Freight Fridays", "Midnight Boat"]
    assert client.get("/api/w/test/weigh/board.csv?sort=luck").status_code == 422
    found = client.get("/api/w/test/weigh/board.csv?find=BOAT").text
    assert {r["campaign"] for r in csv.DictReader(io.StringIO(found))} == {"Spring Whale Boats", "Midnight Boat"}


def test_the_csv_by_campaign_says_how_sure_its_figures_are_as_the_board_does(client):
    load(client, week_files())
    sure = client.get("/api/w/test/weigh/certainty").json()
    said = {(r["bucket"], *r["values"]): r for r in sure["rows"]}
    text = client.get("/api/w/test/weigh/board.csv", params={"yardstick": "first"}).text
    rows = list(csv.DictReader(io.StringIO(text)))
    assert {r["verdict"] for r in rows if r["bucket"] == "named" and float(r["spend"])} == {"too few to tell"}
    for row in rows:
        of_row = said.get((row["bucket"], row["campaign"]), {"intervals": {}, "verdicts": {}})
        bounds = of_row["intervals"].get("first", {})
        for figure in ("roas", "cost_per_lead"):
            for end in ("low", "high"):
                cell, wanted = row[f"{figure}_{end}"], bounds.get(figure, {}).get(end)
                assert (float(cell) if cell else None) == (wanted and pytest.approx(wanted, rel=1e-11)), (row, figure)
        for kind, column in (("sale", "verdict"), ("lead", "lead_verdict")):
            verdict = of_row["verdicts"].get(kind, {"code": "", "reason": ""})
            word = {"too_few": "too few to tell", "": ""}[verdict["code"]]
            assert (row[column], row[f"{column}_reason"]) == (word, verdict["reason"])
    by_day = client.get("/api/w/test/weigh/board.csv", params={"by": "day"}).text
    assert "verdict" not in by_day.partition("\n")[0]


def test_filters_over_http_narrow_the_board_its_totals_and_its_traces(client):
    load(client, week_files())
    whole = client.get("/api/w/test/weigh/board").json()
    asked = {"where": ["source is quorrin", "campaign is not Freight Fridays"]}
    board = client.get("/api/w/test/weigh/board", params=asked).json()
    assert board["where"] == asked["where"]
    assert board["ties"] == whole["ties"]
    left = next(r for r in board["rows"] if r["bucket"] == "left_out")
    for yardstick in board["yardsticks"]:
        shown = board["total"]["under"][yardstick]["value"]
        assert shown + left["under"][yardstick]["value"] == whole["total"]["under"][yardstick]["value"]
        for bucket, figures in (("total", board["total"]), ("left_out", left)):
            for figure in ("value", "conversions", "spend", "touches"):
                params = asked | {"bucket": bucket, "figure": figure, "yardstick": yardstick, "limit": 1000}
                trace = client.get("/api/w/test/weigh/trace", params=params).json()
                under = figures["under"][yardstick]
                if figure == "value":
                    assert (
                        sum(t["value"] for c in trace["conversions"] for t in c["touches"] if t["here"])
                        + sum(c["value"] for c in trace["conversions"] if not c["touches"])
                        + sum(s["value"] for s in trace["states"])
                        == under["value"]
                    )
                elif figure == "conversions":
                    assert trace["share"] == pytest.approx(under["sales"])
                elif figure == "spend":
                    assert sum(s["cost"] for s in trace["spend_rows"]) == figures["spend"]
                else:
                    assert trace["touch_count"] == figures["touches"]
    assert client.get("/api/w/test/weigh/values", params={"field": "medium"}).json()[0] == "cpc"
    assert client.get("/api/w/test/weigh/board?where=luck").status_code == 422
    assert client.get("/api/w/test/weigh/board?where=luck is good").status_code == 422


def test_undo_over_http_brings_the_old_board_back(client):
    load(client, week_files())
    before = client.get("/api/w/test/weigh/board").json()
    extra = b"day,platform,account,campaign_id,campaign,cost\n2026-03-03,Quorrin,q-main,q-70,Spring Whale Boats,25.00\n"
    load(client, [("spend-late.csv", extra)])
    assert client.get("/api/w/test/weigh/board").json()["ties"]["invoiced"] == 22_230
    loads = client.get("/api/w/test/gather/loads").json()
    assert (loads[0]["file"], loads[0]["can_undo"]) == ("spend-late.csv", True)
    after = client.post(f"/api/w/test/gather/loads/{loads[0]['id']}/undo").json()
    assert after[0]["undone"]
    assert client.get("/api/w/test/weigh/board").json()["fingerprint"] == before["fingerprint"]
    assert client.post(f"/api/w/test/gather/loads/{loads[0]['id']}/undo").status_code == 409


def test_json_lines_are_rehearsed_and_kept_as_csv_is(client):
    load(client, week_files())
    rows = csv.DictReader(io.StringIO(dict(week_files())["visits.csv"].decode("utf-8-sig")))
    again = "".join(json.dumps({k: v for k, v in row.items() if v}) + "\n" for row in rows).encode()
    before = client.get("/api/w/test/weigh/board").json()["data"]
    (said,) = rehearse(client, [("visits.jsonl", again)])["files"]
    assert (said["table"], said["problem"], said["new"], said["replaced"]) == ("visits", "", 0, 0)
    more = b'{"visit_id": "new", "occurred_at": "2026-03-08T10:00:00Z", "url": "/", "visitor_id": 7}\n'
    load(client, [("more-visits.jsonl", again + more)])
    assert client.get("/api/w/test/weigh/board").json()["data"] != before
    (latest, *_) = client.get("/api/w/test/gather/loads").json()
    assert (latest["file"], latest["new"], latest["header"]) == ("more-visits.jsonl", 1, 0)


def test_parquet_and_workbooks_are_rehearsed_and_kept_as_csv_is(client):
    load(client, week_files())
    rows = list(csv.DictReader(io.StringIO(dict(week_files())["visits.csv"].decode("utf-8-sig"))))
    again, book = io.BytesIO(), Workbook()
    pq.write_table(pa.table({name: [row[name] for row in rows] for name in rows[0]}), again)
    for line in [list(rows[0]), *(list(row.values()) for row in rows)]:
        book.active.append(line)
    sheet = io.BytesIO()
    book.save(sheet)
    for name, content in (("visits.parquet", again), ("visits.xlsx", sheet)):
        (said,) = rehearse(client, [(name, content.getvalue())])["files"]
        assert (said["table"], said["problem"], said["new"], said["replaced"]) == ("visits", "", 0, 0)
    extra = Workbook()
    extra.active.append(["day", "platform", "campaign", "cost"])
    extra.active.append([datetime(2026, 3, 8), "Ostrel", "Midnight Boat", 12.5])
    sheet = io.BytesIO()
    extra.save(sheet)
    before = client.get("/api/w/test/weigh/board").json()["ties"]["invoiced"]
    load(client, [("cost of march.xlsx", sheet.getvalue())])
    (latest, *_) = client.get("/api/w/test/gather/loads").json()
    assert (latest["subject"], latest["new"], latest["header"]) == ("spend", 1, 1)
    assert client.get("/api/w/test/weigh/board").json()["ties"]["invoiced"] == before + 1_250
    nul, more = io.BytesIO(), {"visit_id": ["n1", "n2"], "occurred_at": ["2026-03-08"] * 2, "url": ["/\0", "/"]}
    pq.write_table(pa.table(more | {"shelf": ["x", "\0"]}), nul)
    load(client, [("more.parquet", nul.getvalue())])
    (latest, *_) = client.get("/api/w/test/gather/loads").json()
    assert (latest["file"], latest["new"], latest["rejected"]) == ("more.parquet", 0, 2)
    (said,) = rehearse(client, [("visits.parquet", again.getvalue()[:-9])])["files"]
    assert "not readable as Parquet" in said["problem"]


def test_rejected_rows_can_be_taken_away_as_csv(client):
    load(client, week_files())
    visits = next(entry for entry in client.get("/api/w/test/gather/loads").json() if entry["subject"] == "visits")
    rows = list(csv.DictReader(io.StringIO(client.get(f"/api/w/test/gather/loads/{visits['id']}/rejected.csv").text)))
    assert [(r["file"], r["line"], r["column"]) for r in rows] == [
        ("visits.csv", "18", "url"),
        ("visits.csv", "19", "occurred_at"),
    ]


def test_a_rehearsal_is_over_once_kept_and_unknown_ones_are_named(client):
    answer = client.post("/api/w/test/gather/loads", json={"token": "../../etc"})
    assert answer.status_code == 404
    assert "choose the files again" in answer.json()["message"]
    assert client.get("/api/w/test/gather/jobs/12345").status_code == 404


def test_with_the_database_stopped_weigh_answers_and_gather_says_so(tmp_path):
    """A cluster of its own, so that stopping it disturbs nobody."""
    own = Databases(reachable("stopped"))
    url = own.fresh()
    with TestClient(create(url, tmp_path / "home", "test"), base_url="http://127.0.0.1:8420") as client:
        load(client, week_files())
        before = client.get("/api/w/test/weigh/board").json()
        waiting = rehearse(client, [("spend.csv", b"day,platform,campaign,cost\n2026-03-09,Quorrin,Whale,1\n")])[
            "token"
        ]
        own.cluster.stop("fast")
        assert client.get("/api/health").status_code == 503
        assert client.get("/api/w/test/weigh/board").json() == before
        other = client.get("/api/w/test/weigh/board", params={"by": "channel", "click_days": "2", "yardstick": "last"})
        assert other.status_code == 200
        traced = client.get(
            "/api/w/test/weigh/trace", params={"bucket": "named", "name": "Midnight Boat", "figure": "value"}
        )
        assert traced.status_code == 200
        for answer in (
            client.get("/api/w/test/gather/loads"),
            client.post("/api/w/test/gather/loads", json={"token": waiting}),
            client.post("/api/w/test/gather/rehearsals", files=[("files", ("spend.csv", b"x"))]),
        ):
            assert answer.status_code == 503
            assert "was not done" in answer.json()["message"]
    # A server started while the database is away answers from the snapshot too.
    with TestClient(create(url, tmp_path / "home", "test"), base_url="http://127.0.0.1:8420") as client:
        assert client.get("/api/w/test/weigh/board").json()["fingerprint"] == before["fingerprint"]
    own.cluster.start()
    url = url.rsplit("@", 1)[0] + f"@127.0.0.1:{own.cluster.port}/" + url.rsplit("/", 1)[1]
    with TestClient(create(url, tmp_path / "home", "test"), base_url="http://127.0.0.1:8420") as client:
        assert client.get("/api/health").status_code == 200
        assert client.get("/api/w/test/weigh/board").json()["fingerprint"] == before["fingerprint"]
    own.cluster.stop("fast")


def test_stopping_a_job_that_is_over_changes_nothing(client):
    job = load(client, week_files())
    assert client.post(f"/api/w/test/gather/jobs/{job['id']}/stop").json() == job
    assert client.post("/api/w/test/gather/jobs/12345/stop").status_code == 404
    assert len(client.get("/api/w/test/gather/loads").json()) == 6


def test_two_files_of_one_name_and_a_path_in_a_name_are_handled(client):
    name, content = next(f for f in week_files() if f[0] == "visits.csv")
    files = rehearse(client, [(name, content), (name, content), ("../../visits-b.csv", content)])["files"]
    assert "two files have this name" in files[1]["problem"]
    assert files[2]["problem"] == ""
    load(client, [("../../visits-b.csv", content)])
    (entry,) = client.get("/api/w/test/gather/loads").json()
    assert entry["file"] == "visits-b.csv"
