"""Status and refund rows through Gather: they change the board, and an undo brings the figures back (R10)."""

from __future__ import annotations

from web.http_files import load, rehearse
from week import week_files

STATUSES = b"record_id,occurred_at,status,value\no6,2026-03-09T10:00:00Z,,50.00\no2,2026-03-09T10:00:00Z,lost,\n"
REFUNDS = (
    b"refund_id,conversion_id,occurred_at,amount\nr1,o1,2026-03-20T10:00:00Z,20.00\nr2,o99,2026-03-20T10:00:00Z,1\n"
)


def booked(client):
    return client.get("/api/w/test/weigh/board").json()["ties"]["booked"]["value"]


def test_contacts_of_a_deal_are_told_by_their_columns_and_lengthen_its_trail(client):
    load(client, week_files())
    before = client.get("/api/w/test/weigh/board").json()
    load(client, [("people.csv", b"deal_id,lead_id,role\no8,l2,boss\n")])
    after = client.get("/api/w/test/weigh/board").json()
    assert after["ties"]["booked"] == before["ties"]["booked"]
    assert after["ties"]["no_value"]["linear"] > before["ties"]["no_value"]["linear"]
    (latest, *_) = client.get("/api/w/test/gather/loads").json()
    assert (latest["subject"], latest["new"]) == ("deal_contacts", 1)
    client.post(f"/api/w/test/gather/loads/{latest['id']}/undo")
    assert client.get("/api/w/test/weigh/board").json()["fingerprint"] == before["fingerprint"]


def test_how_often_captured_sources_agree_with_visits_is_said_with_its_interval(client):
    load(client, week_files())
    before = client.get("/api/w/test/weigh/board").json()["ties"]
    names = b"lead_id,occurred_at,visitor_id,first_source,first_medium,first_campaign,last_source,last_medium\n"
    visits = (
        b"visit_id,occurred_at,visitor_id,url\nz1,2026-03-03T10:00:00Z,z,/?utm_source=s&utm_medium=m&utm_campaign=c\n"
    )
    load(client, [("leads.csv", names + b"z,2026-03-03T10:20:00Z,z,S,m,c,other,m\n"), ("visits.csv", visits)])
    after = client.get("/api/w/test/weigh/board").json()["ties"]
    for which, agrees in (("captured_first", 1), ("captured_last", 0)):
        assert after[which]["of"] == before[which]["of"] + 1
        assert after[which]["hits"] == before[which]["hits"] + agrees
        assert 0 <= after[which]["low"] < after[which]["high"] <= 1


def test_lines_of_orders_are_told_by_their_columns_and_share_a_breakdown_by_product(client):
    load(client, week_files())
    before = client.get("/api/w/test/weigh/board").json()
    lines = b"conversion_id,line,product,quantity,total\no1,1,Seat,2,25\no1,2,Bike,1,75\nnobody,1,Seat,1,5\n"
    load(client, [("baskets.csv", lines)])
    board = client.get("/api/w/test/weigh/board", params={"by": "product"}).json()
    assert board["ties"]["booked"] == before["ties"]["booked"]
    rows = {r["name"]: r["under"]["linear"]["value"] for r in board["rows"] if r["bucket"] == "named"}
    assert rows["Bike"] == 3 * rows["Seat"] > 0
    asked = {"by": "product", "yardstick": "linear", "bucket": "named", "name": "Bike", "figure": "value"}
    trace = client.get("/api/w/test/weigh/trace", params=asked).json()
    assert trace["value"] == rows["Bike"]
    (order,) = trace["conversions"]
    assert sum(t["value"] for t in order["touches"] if t["here"]) == rows["Bike"]
    assert sum(t["value"] for t in order["touches"]) == order["value"]
    shown = client.get("/api/w/test/weigh/board", params={"where": "product is Bike"}).json()
    buckets = ("named", "untagged", "no_value")
    assert sum(r["under"]["linear"]["value"] for r in shown["rows"] if r["bucket"] in buckets) == rows["Bike"]
    found = client.get("/api/w/test/weigh/board").json()["findings"]
    assert found["lines_of_unknown_order"] == 1
    (latest, *_) = client.get("/api/w/test/gather/loads").json()
    assert (latest["subject"], latest["new"]) == ("order_lines", 3)
    client.post(f"/api/w/test/gather/loads/{latest['id']}/undo")
    assert client.get("/api/w/test/weigh/board").json()["fingerprint"] == before["fingerprint"]


def test_statuses_and_refunds_are_told_by_their_columns_and_move_the_books(client):
    load(client, week_files())
    before = booked(client)
    files = [("later.csv", STATUSES), ("back.csv", REFUNDS)]
    assert [(f["table"], f["new"], f["problem"]) for f in rehearse(client, files)["files"]] == [
        ("statuses", 2, ""),
        ("refunds", 2, ""),
    ]
    load(client, files)
    # o6 is worth 50.00 in place of 66.67, of o1 20.00 were given back; lost counts until the plan says otherwise.
    assert before - booked(client) == 1_667 + 2_000
    findings = client.get("/api/w/test/weigh/board").json()["findings"]
    assert (findings["unlisted_status"], findings["refund_of_unknown_order"]) == (1, 1)
    for entry in client.get("/api/w/test/gather/loads").json():
        if entry["file"] in ("later.csv", "back.csv"):
            assert client.post(f"/api/w/test/gather/loads/{entry['id']}/undo").status_code < 300
    assert booked(client) == before
