"""The day that decides is the workspace's at a given instant; rows have one name, one order, on screen and in the file."""

from __future__ import annotations

import csv
import io
from datetime import UTC, datetime

import pytest
from fastapi.testclient import TestClient

from web.http_files import load
from web.test_short_links import put
from week import week_files
from yardstick.web.app import create

VISITS = b"visit_id,occurred_at,visitor_id,url\nv1,2026-03-02T10:00:00Z,p,/?utm_campaign=A&utm_source=s\n"


def instant(text):
    return int(datetime.fromisoformat(text).replace(tzinfo=UTC).timestamp()) * 1_000_000


@pytest.fixture
def at(databases, tmp_path):
    """A client whose clock says what the test says."""
    said = {"now": instant("2026-09-04T12:00:00")}
    app = create(databases.fresh(), tmp_path / "home", "test", tmp_path / "none", clock=lambda: said["now"])
    with TestClient(app, base_url="http://127.0.0.1:8420") as client:

        def is_now(text):
            said["now"] = instant(text)
            return client

        yield is_now


def test_a_campaign_ends_at_midnight_of_the_workspace_zone(at):
    """14:15 in UTC is 23:45 of the same day in Adelaide, and half an hour later it is tomorrow there."""
    client = at("2026-09-04T14:15:00")
    settings = (
        'time_zone = "Australia/Adelaide"\n'
        '[[campaign]]\nname = "A"\nends = "2026-09-04"\n[[landing_page]]\nname = "P"\naddress = "https://a.example/"\n'
    )
    load(client, [("settings.toml", settings.encode()), ("visits.csv", VISITS)])
    put(client, ("k", {"page": "https://a.example/", "campaign": "A", "source": "s", "placed_on": "2026-03-01"}))
    url = "https://a.example/?utm_source=s&utm_medium=m&utm_campaign=A"

    def said():
        checked = client.post("/api/w/test/mark/check-up", json={"urls": [url]}).json()[0]
        sheet = client.get("/api/w/test/mark/links").json()["rows"][0]
        state = client.get("/api/w/test/mark/placing").json()[0]["state"]
        return (
            "campaign_ended" in {f["code"] for f in checked["findings"]},
            "campaign_ended" in {f["code"] for f in sheet["findings"]},
            state == "ended",
        )

    assert said() == (False, False, False)
    at("2026-09-04T14:45:00")
    assert said() == (True, True, True)


def test_a_day_is_partial_until_it_is_over_in_the_source_zone(at):
    client = at("2026-03-02T12:00:00")
    load(client, [("visits.csv", VISITS)])
    assert [s["partial"] for s in client.get("/api/w/test/weigh/board").json()["sources"] if s["name"] == "visits"] == [
        True
    ]
    at("2026-03-03T00:00:00")
    assert [s["partial"] for s in client.get("/api/w/test/weigh/board").json()["sources"] if s["name"] == "visits"] == [
        False
    ]


@pytest.mark.parametrize("find", ["", "boat", "UNTAGGED", "No  trail", "untagged row"])
@pytest.mark.parametrize("sort", ["spend", "name", "value", "roas", "cost_per_lead"])
def test_board_and_file_show_the_same_rows_under_the_same_names_in_the_same_order(shared, sort, find):
    asked = {"sort": sort, "descending": sort != "name", "find": find}
    board = shared.get("/api/w/test/weigh/board", params=asked).json()
    seen = [(r["bucket"], r["called"]) for r in board["rows"] if r["found"]]
    file = csv.DictReader(io.StringIO(shared.get("/api/w/test/weigh/board.csv", params=asked).text))
    assert [(r["bucket"], r["campaign"]) for r in file] == seen
    assert bool(seen) == (find != "untagged row")
    if find == "UNTAGGED":
        assert seen == [("untagged", "Untagged")]


@pytest.fixture(scope="module")
def shared(databases, tmp_path_factory):
    app = create(databases.fresh(), tmp_path_factory.mktemp("home"), "test", tmp_path_factory.mktemp("none"))
    with TestClient(app, base_url="http://127.0.0.1:8420") as client:
        load(client, week_files())
        yield client


BEYOND = {
    "visits.csv": VISITS + b"v2,0001-01-01T00:30:00+05:00,p,/\nv3,9999-12-31T23:30:00Z,p,/\n",
    "conversions.csv": b"conversion_id,occurred_at,goal,visitor_id,total\nc1,2026-03-02T11:00:00Z,sale,p,90.00\n"
    b"c2,2026-03-02T11:00:00Z,sale,p,99999999999999999999.00\nc3,2026-03-02T11:00:00Z,sale,p,90000000000000000.00\n",
    "spend.csv": b"day,platform,campaign,clicks,click_price,cost\n2026-03-02,Q,A,999999999999,999999999,\n2026-03-02,Q,A,,,5\n",
}


def test_rows_beyond_the_limits_leave_every_view_answering(client):
    """R29: once such a row stood, board, trace, CSV and Plan answered 500 until it was undone."""
    load(client, list(BEYOND.items()))
    board = client.get("/api/w/test/weigh/board").json()
    (row,) = [r for r in board["rows"] if r["bucket"] == "named"]
    assert (row["under"]["linear"]["value"], row["spend"]) == (9000, 500)
    for path in (
        "/api/w/test/weigh/trace?bucket=named&name=A&figure=value",
        "/api/w/test/weigh/board.csv",
        "/api/w/test/weigh/board?by=day",
        "/api/w/test/plan",
        "/api/w/test/plan/tree",
        "/api/w/test/plan/came",
    ):
        assert client.get(path).status_code == 200, path


@pytest.mark.parametrize(
    ("section", "record", "field"),
    [
        ("other_cost", {"campaign": "A", "cost": "1000000000000", "from": "2026-03-01", "to": "2026-03-02"}, "cost"),
        ("other_cost", {"campaign": "A", "cost": "1", "from": "1899-12-31", "to": "1899-12-31"}, "from"),
        ("click_price", {"campaign": "A", "price": "1000000000"}, "price"),
        ("goal", {"name": "sale", "default_value": "1e12"}, "default_value"),
        ("goal", {"name": "sale", "fixed_value": "1000000000000"}, "fixed_value"),
    ],
)
def test_the_plan_has_the_same_limits(client, section, record, field):
    basis = client.get("/api/w/test/plan").json()["basis"]
    answer = client.put(f"/api/w/test/plan/sections/{section}", json={"basis": basis, "records": [record]})
    assert answer.status_code == 422
    assert field in answer.json()["message"]


def test_rows_that_are_no_campaign_say_what_the_ads_alone_earned(client):
    """By hand from docs/worked-week.md, linear: of all value 270.90 went to campaigns with spend."""
    load(client, week_files())
    for by in ("week", "channel", "goal", "source"):
        board = client.get("/api/w/test/weigh/board", params={"by": by}).json()
        assert sum(row["ads"]["linear"]["value"] for row in board["rows"] if row["ads"]) == 27_090, by
        assert board["ads_only"]["under"]["linear"]["value"] == 27_090
    assert all(row["ads"] == {} for row in client.get("/api/w/test/weigh/board").json()["rows"])
