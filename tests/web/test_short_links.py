"""Short links: sent on to stored addresses only, every click on record before the answer."""

from __future__ import annotations

import asyncio
import io
import json
import os
import signal
import subprocess
import sys
import time
import urllib.error
import urllib.request
import zlib
from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, datetime, timedelta
from pathlib import Path

import psycopg
import pytest
from fastapi.testclient import TestClient
from sqlalchemy import text
from sqlalchemy.exc import OperationalError

from private_postgres import free_port
from web.conftest import BASE, InWorkspace
from web.http_files import load
from yardstick.stations.mark.short_links import ShortLinks
from yardstick.store.clicks import Click, ClickRecorder
from yardstick.store.database import connect_alone
from yardstick.web.app import create

PAGE = "https://www.lunnick.example/night"
ROW = {"page": PAGE + "#book", "campaign": "Midnight Boat", "source": "ostrel", "medium": "poster"}
URL = f"{PAGE}?utm_source=ostrel&utm_medium=poster&utm_campaign=Midnight%20Boat"


def put(client, *rows, what="links"):
    basis = client.get("/api/w/test/mark/links").json()["basis"]
    changes = [{"key": key, "cells": cells} for key, cells in rows]
    answer = client.patch("/api/w/test/mark/links", json={"basis": basis, "changes": changes, "what": what})
    assert answer.status_code == 200, answer.text
    return answer.json()


def go(client, path, **headers):
    return client.get(path, headers=headers, follow_redirects=False)


def clicks(client):
    with client.desk.engine.connect() as connection:
        return connection.execute(text("SELECT code, target, referrer, agent FROM short_click ORDER BY id")).all()


def test_a_click_is_put_on_record_and_sent_on(alone):
    put(alone, ("k1", ROW | {"short": "Night"}))
    answer = go(alone, "/~/Night", referer="https://tide.example/a?b", **{"user-agent": "reader"})
    assert (answer.status_code, answer.headers["location"]) == (302, URL + "#book")
    assert answer.headers["referrer-policy"] == "strict-origin-when-cross-origin"
    assert answer.headers["cache-control"] == "no-store"
    assert [tuple(c) for c in clicks(alone)] == [("Night", URL + "#book", "https://tide.example/a?b", "reader")]
    state = alone.get("/api/w/test/mark/placing").json()[0]
    assert (state["state"], state["clicks"], state["first"]) == ("planned", 1, "")
    assert state["verdict"] == "1 click counted; the visits of these days are not gathered yet"


def test_only_stored_targets_are_served(alone):
    put(alone, ("k1", ROW | {"short": "n1"}), ("k2", ROW | {"page": "/night", "content": "b", "short": "n2"}))
    for path in ("/~/none", "/~/", "/~/n1x", "/~/https://evil.example", "/~//evil.example", "/~/n2", "/~/N1"):
        assert go(alone, path).status_code == 404, path
    assert alone.post("/~/n1").status_code == 405
    assert alone.head("/~/n1", follow_redirects=False).status_code == 302
    assert clicks(alone) == []


def test_slots_in_the_query_are_passed_on_and_cannot_break_out(alone):
    put(alone, ("k1", ROW | {"short": "n1"}))
    assert go(alone, "/~/n1?grp=whale%20all&k=a+b").headers["location"] == f"{URL}&grp=whale%20all&k=a+b#book"
    odd = go(alone, "/~/n1?x=%0d%0aSet-Cookie:a=b&y=<>\"'").headers
    assert "set-cookie" not in odd
    assert odd["location"].startswith(URL + "&x=%0d%0aSet-Cookie:a=b&y=%3C%3E")


def test_the_nearest_rule_for_the_referrer_wins(alone):
    plan = alone.get("/api/w/test/plan").json()

    def keep(path, body):
        nonlocal plan
        answer = alone.put(f"/api/w/test/plan/{path}", json=body | {"basis": plan["basis"]})
        assert answer.status_code == 200, answer.text
        plan = answer.json()

    put(alone, ("k1", ROW | {"short": "n1"}), ("k2", ROW | {"content": "b", "short": "n2", "referrer": "whole"}))
    keep("general", {"values": {"referrer": "none"}})
    assert go(alone, "/~/n1", referer="https://tide.example/a").headers["referrer-policy"] == "no-referrer"
    keep("sections/campaign", {"records": [{"name": "Midnight Boat", "referrer": "host"}]})
    assert go(alone, "/~/n1", referer="https://tide.example/a").headers["referrer-policy"] == "origin"
    assert go(alone, "/~/n2", referer="https://tide.example/a").headers["referrer-policy"] == "unsafe-url"
    assert [c.referrer for c in clicks(alone)] == ["", "tide.example", "https://tide.example/a"]


def test_a_changed_row_that_nobody_clicked_on_changes_its_short_link_at_once(alone):
    put(alone, ("k1", ROW | {"short": "n1"}))
    put(alone, ("k1", {"content": "new"}))
    assert go(alone, "/~/n1").headers["location"].endswith("&utm_content=new#book")


def test_a_clicked_link_leads_on_until_somebody_says_it_was_placed_anew_or_takes_it_out(alone):
    put(alone, ("k1", ROW | {"short": "n1"}))
    assert go(alone, "/~/n1").headers["location"] == URL + "#book"
    put(alone, ("k1", {"content": "new"}))
    assert go(alone, "/~/n1").headers["location"] == URL + "#book"
    sheet = alone.get("/api/w/test/mark/links").json()
    assert sheet["rows"][0]["made"].endswith("&utm_content=new#book")
    assert "placed as" not in sheet["rows"][0]["cells"]
    anew = alone.post("/api/w/test/mark/links/anew", json={"keys": ["k1"], "basis": sheet["basis"]})
    assert anew.json()["rows"][0]["url"].endswith("&utm_content=new#book")
    assert go(alone, "/~/n1").headers["location"].endswith("&utm_content=new#book")
    put(alone, ("k1", None))
    assert go(alone, "/~/n1").status_code == 404
    alone.post("/api/w/test/mark/links/undo")
    assert go(alone, "/~/n1").status_code == 302


def test_a_plan_that_comes_in_as_a_file_changes_short_links_too(alone):
    put(alone, ("k1", ROW | {"short": "n1"}), ("k2", ROW | {"short": "n2", "content": "b"}))
    assert go(alone, "/~/n1").headers["location"] == URL + "#book"
    load(alone, [("settings.toml", b'[[campaign]]\nname = "Midnight Boat"\ncode = "mnb"\n')])
    assert "utm_campaign=mnb" in go(alone, "/~/n2").headers["location"]
    assert go(alone, "/~/n1").headers["location"] == URL + "#book"


def test_short_links_lead_where_they_led_while_the_database_is_away(alone, monkeypatch):
    put(alone, ("k1", ROW | {"short": "n1"}))
    assert go(alone, "/~/n1").status_code == 302

    def away(_):
        raise OperationalError("", None, Exception())

    alone.at_work.sheets.changed()
    with monkeypatch.context() as gone:
        gone.setattr(ShortLinks, "_read", away)
        assert go(alone, "/~/n1").status_code == 302
        assert go(alone, "/~/n2").status_code == 404
    put(alone, ("k2", ROW | {"content": "b", "short": "n2"}))
    assert go(alone, "/~/n2").status_code == 302


def test_a_click_that_was_answered_survives_the_death_of_the_app(databases, tmp_path):
    url, port = databases.fresh(), free_port()
    environment = os.environ | {
        "YARDSTICK_DATABASE": url,
        "YARDSTICK_HOME": str(tmp_path / "home"),
        "YARDSTICK_WORKSPACE": "own",
    }
    command = [sys.executable, "-m", "uvicorn", "yardstick.web.app:from_environment", "--factory", "--port", str(port)]
    app = subprocess.Popen([*command, "--log-level", "warning"], env=environment, cwd=Path(__file__).parents[2])
    here = f"http://127.0.0.1:{port}"
    until = time.monotonic() + 60
    while time.monotonic() < until:
        try:
            basis = json.load(urllib.request.urlopen(here + "/api/w/own/mark/links"))["basis"]
            break
        except OSError:
            time.sleep(0.05)  # a process that starts has no other way to say that it is up
    body = {"basis": basis, "what": "x", "changes": [{"key": "k", "cells": ROW | {"short": "n"}}]}
    ask = urllib.request.Request(
        here + "/api/w/own/mark/links", json.dumps(body).encode(), {"Content-Type": "application/json"}, method="PATCH"
    )
    urllib.request.urlopen(ask)

    class Stay(urllib.request.HTTPRedirectHandler):
        def redirect_request(self, *_):
            return None

    opener = urllib.request.build_opener(Stay)
    for _ in range(5):
        with pytest.raises(urllib.error.HTTPError) as answer:
            opener.open(here + "/~/n")
        assert answer.value.code == 302
    app.send_signal(signal.SIGKILL)
    app.wait(20)
    with psycopg.connect(url.replace("+psycopg", "")) as connection:
        assert connection.execute("SELECT count(*) FROM short_click").fetchall()[0][0] == 5


def put_on_record(recorder, click):
    """In a thread of its own: the browser tests of this worker may have a loop running in this one."""
    with ThreadPoolExecutor(1) as pool:
        pool.submit(asyncio.run, recorder.record(click)).result(60)


def test_clicks_while_the_database_is_away_are_kept_and_taken_in_later(alone, tmp_path):
    """A visitor is sent on whatever happens; nothing is lost, nothing comes in twice."""
    nowhere = connect_alone(f"postgresql+psycopg://nobody:x@127.0.0.1:{free_port()}/none")
    spool = tmp_path / "clicks.jsonl"
    click = Click("n", "2026-11-25T10:00:00+00:00", URL, workspace="test")
    recorder = ClickRecorder(nowhere, spool)
    put_on_record(recorder, click)
    recorder.close()
    assert len(spool.read_text().splitlines()) == 1
    before_clearing = spool.read_bytes()
    url = alone.desk.engine.url.render_as_string(hide_password=False)

    def ingest():
        again = ClickRecorder(connect_alone(url), spool)
        try:
            wait_until(lambda: not spool.exists())
        finally:
            again.close()

    ingest()
    assert [c.code for c in clicks(alone)] == ["n"]
    # A crash after the commit and before the spool was cleared: the same lines once more, and one cut short.
    spool.write_bytes(before_clearing + before_clearing[:40])
    ingest()
    assert [c.code for c in clicks(alone)] == ["n"]
    assert spool.with_name("clicks.jsonl.unread").read_bytes().strip() == before_clearing[:40].strip()


def test_the_recorder_outlives_whatever_the_database_does(alone, tmp_path, monkeypatch):
    """Once a wait for a connection of 30 s ended its thread, and every short link hung from then on."""
    put(alone, ("k1", ROW | {"short": "n1"}))
    recorder = alone.app.state.recorder

    def broken(_):
        raise RuntimeError("nobody thought of this")

    with monkeypatch.context() as gone:
        gone.setattr(recorder, "_into_database", broken)
        assert go(alone, "/~/n1").status_code == 302
    assert go(alone, "/~/n1").status_code == 302
    wait_until(lambda: len(clicks(alone)) == 2)


def test_links_resolve_from_disk_before_the_database_was_reached(databases, tmp_path):
    url = databases.fresh()
    with TestClient(create(url, tmp_path / "home", "test", tmp_path / "none"), base_url=BASE) as client:
        put(client, ("k1", ROW | {"short": "n1"}))
        assert go(client, "/~/n1").status_code == 302
    away = f"postgresql+psycopg://nobody:x@127.0.0.1:{free_port()}/none"
    with TestClient(create(away, tmp_path / "home", "test", tmp_path / "none"), base_url=BASE) as client:
        assert go(client, "/~/n1").headers["location"] == URL + "#book"
        # Of the links of this workspace all are known; another one might still have it.
        assert go(client, "/~/n2").status_code in (404, 503)
    with TestClient(create(away, tmp_path / "new", "test", tmp_path / "none"), base_url=BASE) as client:
        answer = go(client, "/~/n1")
        assert (answer.status_code, "removed" in answer.text) == (503, False)


def wait_until(holds):
    """Wait for what another thread does; it has no other way to say so."""
    until = time.monotonic() + 30
    while not holds():
        assert time.monotonic() < until
        time.sleep(0.02)  # see above


@pytest.fixture
def locked(alone):
    """A door behind which the sheet cannot be read: whoever does waits until it is opened."""
    held = connect_alone(alone.desk.engine.url.render_as_string(hide_password=False)).connect()
    held.execute(text("LOCK TABLE link IN ACCESS EXCLUSIVE MODE"))
    yield held
    held.close()


def test_a_link_whose_news_take_long_leads_where_it_led_and_then_where_it_leads(alone, request):
    put(alone, ("k1", ROW | {"short": "n1"}))
    go(alone, "/~/n1?yt-test=1")
    put(alone, ("k1", {"content": "new"}))
    held = request.getfixturevalue("locked")
    assert go(alone, "/~/n1").headers["location"] == URL + "#book"
    held.rollback()
    wait_until(lambda: go(alone, "/~/n1?yt-test=1").headers["location"].split("&yt")[0].endswith("&utm_content=new"))


def test_no_pool_of_others_is_in_the_way_of_a_click(alone):
    """Every connection that the workspaces have is taken; a code nobody asked for yet is found all the same."""
    put(alone, ("k1", ROW | {"short": "n1"}))
    engine = alone.desk.engine
    taken = [engine.connect() for _ in range(engine.pool.size() + engine.pool._max_overflow)]
    try:
        assert go(alone, "/~/n1").headers["location"] == URL + "#book"
        assert alone.get("/api/health").json()["database"] == "ok"
    finally:
        for one in taken:
            one.close()


def test_the_first_click_after_a_start_opens_no_workspace(databases, tmp_path):
    url = databases.fresh()
    with TestClient(create(url, tmp_path / "home", "test", tmp_path / "none"), base_url=BASE) as client:
        put(client, ("k1", ROW | {"short": "n1"}))
    app = create(url, tmp_path / "home", "other", tmp_path / "none")
    with TestClient(app, base_url=BASE) as client:
        assert go(client, "/~/n1").headers["location"] == URL + "#book"
        assert app.state.workspaces.opened == ["other"]


def test_a_workspace_that_cannot_be_read_holds_up_no_link_of_another_and_its_own_lead_on(alone):
    put(alone, ("k1", ROW | {"short": "n1"}))
    go(alone, "/~/n1")
    alone.post("/api/workspaces", json={"name": "second"})
    second = InWorkspace(alone._client, "second")
    put(second, ("k1", ROW | {"short": "m1", "content": "b"}))
    load(alone, [("settings.toml", b"margin = 0.5")])
    with alone.desk.engine.begin() as connection:
        connection.execute(text("UPDATE settings_version SET toml = 'margin = ['"))
    alone.app.state.links.forget("test")
    assert go(alone, "/~/m1").headers["location"].endswith("&utm_content=b#book")
    assert go(alone, "/~/n1").headers["location"] == URL + "#book"


def test_a_page_with_any_letters_is_sent_on_to(alone):
    """Characters outside Latin-1 once were a fault after the click was on record."""
    put(alone, ("k1", ROW | {"page": "https://www.lunnick.example/日?q=søndag#på", "short": "n1"}))
    answer = go(alone, "/~/n1?grp=%C3%B8")
    assert answer.status_code == 302
    assert answer.headers["location"] == (
        "https://www.lunnick.example/%E6%97%A5?q=s%C3%B8ndag&utm_source=ostrel&utm_medium=poster"
        "&utm_campaign=Midnight%20Boat&grp=%C3%B8#p%C3%A5"
    )
    (row,) = alone.get("/api/w/test/mark/links").json()["rows"]
    assert row["url"].isascii()
    assert "raw_character" in {f["code"] for f in row["findings"]}


def test_what_follows_the_code_fills_the_chosen_extra_value(alone):
    load(alone, [("settings.toml", b'extra_values = ["size"]\n')])
    put(
        alone,
        ("k1", ROW | {"short": "n1", "rest": "Size"}),
        ("k2", ROW | {"short": "n2", "content": "b"}),
        ("k3", ROW | {"content": "c", "rest": "colour"}),
    )
    assert go(alone, "/~/n1/A%2F4 x").headers["location"] == f"{URL}&size=A%2F4%20x#book"
    assert go(alone, "/~/n1/").headers["location"] == f"{URL}#book"
    assert go(alone, "/~/n2/anything").headers["location"] == f"{URL}&utm_content=b#book"
    assert len(clicks(alone)) == 3
    wrong = alone.get("/api/w/test/mark/links").json()["rows"][2]
    assert {f["code"]: f["message"] for f in wrong["findings"]}["bad_rest"].endswith("there are size")


def test_test_clicks_are_none(alone):
    """An address that carries the parameter of tests is a test record (R9), at the redirect as anywhere."""
    put(alone, ("k1", ROW | {"short": "n1"}))
    assert go(alone, "/~/n1?yt-test=3f").headers["location"] == f"{URL}&yt-test=3f#book"
    (link,) = alone.get("/api/w/test/mark/placing").json()
    assert (link["clicks"], link["verdict"]) == (0, "no arrival yet")
    go(alone, "/~/n1?x=yt-test")
    (link,) = alone.get("/api/w/test/mark/placing").json()
    assert link["clicks"] == 1


def test_clicks_never_stand_for_arrivals(alone):
    """A page that loses all tags once was told to have got exactly these: the click on our own redirect was taken for
    the arrival."""
    later = (datetime.now(UTC) + timedelta(days=300)).isoformat()
    visits = f"visit_id,occurred_at,visitor_id,url\nv1,{later},a,https://www.lunnick.example/night\n"
    load(alone, [("visits.csv", visits.encode())])
    put(alone, ("k1", ROW | {"short": "n1"}))
    go(alone, "/~/n1")
    (link,) = alone.get("/api/w/test/mark/placing").json()
    assert (link["state"], link["visits"], link["clicks"]) == ("planned", 0, 1)
    assert link["verdict"] == "1 click counted, but no arrival with these tags: test it, the page may lose them"


def test_a_store_tells_clicks_and_nothing_else(alone):
    load(alone, [("settings.toml", b'[[store]]\nhost = "apps.tidegate.example"\nid_kind = "number"\n')])
    put(alone, ("k1", ROW | {"page": "https://apps.tidegate.example/id4711", "short": "app"}))
    for query in ("", "", "?yt-test=a"):
        go(alone, "/~/app" + query)
    (link,) = alone.get("/api/w/test/mark/placing").json()
    assert (link["state"], link["clicks"], link["verdict"]) == ("arriving", 2, "2 clicks counted")


def test_visits_of_tests_are_no_arrivals(alone):
    rows = [
        f"v{i},2026-03-0{i}T10:00:00Z,a,{PAGE}?utm_source=ostrel&utm_medium=poster&utm_campaign=Midnight+Boat{more}"
        for i, more in enumerate(("", "&yt-test=1", "&YT-TEST=2"), 1)
    ]
    load(alone, [("visits.csv", "\n".join(["visit_id,occurred_at,visitor_id,url", *rows]).encode())])
    put(alone, ("k1", ROW))
    (link,) = alone.get("/api/w/test/mark/placing").json()
    assert (link["visits"], link["verdict"]) == (1, "1 real arrival carried exactly these tags")


def test_a_visitor_waits_for_no_arrivals_to_be_read(alone, monkeypatch):
    """What came so far tells the sheet which names are known; a short link leads on without it, also after a load."""
    put(alone, ("k1", ROW | {"short": "n1"}))
    load(alone, [("visits.csv", b"visit_id,occurred_at,url\nv1,2026-03-02T10:00:00Z,/\n")])
    with monkeypatch.context() as none:
        none.setattr(alone.at_work.desk.arrivals, "under", lambda _: pytest.fail("arrivals were read"))
        assert go(alone, "/~/n1").headers["location"] == URL + "#book"


def spooled(*records):
    """Lines of a spool, each with its sum."""
    said = [json.dumps(record) for record in records]
    return "".join(f"{zlib.crc32(one.encode()):08x} {one}\n" for one in said)


def test_a_spool_of_another_version_is_taken_in_and_what_says_too_little_is_put_aside(databases, tmp_path, monkeypatch):
    """Also where the log takes nothing, as on a full disk: the thread goes on."""

    class Full(io.StringIO):
        def write(self, text):
            raise OSError(28, "No space left on device")

    url = databases.fresh()
    with connect_alone(url).begin() as connection:
        connection.execute(text("INSERT INTO workspace (name) VALUES ('w')"))
    click = {"code": "n1", "clicked_at": "2026-03-02T10:00:00+00:00", "target": "https://x.example/", "workspace": "w"}
    spool = tmp_path / "clicks.jsonl"
    lacking = [{"code": "n1"}, click | {"clicked_at": "yesterday"}, ["n1"], click | {"target": 7}]
    spool.write_text(spooled(click, *lacking, click | {"country": "of a later version", "uid": "u2"}))
    monkeypatch.setattr(sys, "stderr", Full())
    recorder = ClickRecorder(connect_alone(url), spool)
    try:
        wait_until(lambda: not spool.exists())
        assert len(spool.with_name("clicks.jsonl.unread").read_text().splitlines()) == len(lacking)
        spool.write_text(spooled(click | {"uid": "u3"}))
        put_on_record(recorder, Click("n1", click["clicked_at"], click["target"], workspace="w"))
        with connect_alone(url).connect() as connection:
            assert connection.execute(text("SELECT count(*) FROM short_click")).scalar_one() == 3
    finally:
        recorder.close()
