"""Placing: states follow from arrivals, a test visit goes over a real socket to a process that knows nothing of us."""

from __future__ import annotations

import contextlib
import json
import socket
import subprocess
import sys
import threading
import time
import urllib.request
from datetime import date, timedelta

import pytest
from fastapi.testclient import TestClient

from planned_week import SITE, planned_week_files
from private_postgres import free_port
from web.http_files import load
from web.test_short_links import put
from yardstick.core.links.placing import Seen, state_of
from yardstick.core.reading.tags import parameters, split_address
from yardstick.stations.workspace import outside_requests
from yardstick.web.app import create

CARD = {"campaign": "Two-Island Year Card", "source": "ostrel", "medium": "paid-social"}


@pytest.mark.parametrize(
    ("placed", "ends", "seen", "state"),
    [
        (None, None, None, "planned"),
        (105, None, None, "planned"),
        (100, None, None, "placed"),
        (90, None, None, "none_yet"),
        (90, None, Seen(1, 91, 93), "arriving"),
        (None, None, Seen(1, 91, 93), "arriving"),
        (90, None, Seen(9, 91, 92), "quiet"),
        (90, 99, Seen(9, 91, 99), "ended"),
        (90, 100, Seen(9, 91, 99), "arriving"),
    ],
)
def test_past_placed_only_arrivals_tell(placed, ends, seen, state):
    assert state_of(placed, ends, seen, today=100, data_until=100) == state


@pytest.fixture
def standin():
    """Starts stand-ins, each a process of its own; gives their host:port."""
    running = []

    def start(name):
        port = free_port()
        running.append(subprocess.Popen([sys.executable, "-m", f"yardstick.standins.{name}", "--port", str(port)]))
        until = time.monotonic() + 30
        while time.monotonic() < until:
            try:
                urllib.request.urlopen(f"http://127.0.0.1:{port}/", timeout=5)
                break
            except urllib.error.HTTPError:
                break
            except OSError:
                time.sleep(0.05)  # a process that starts has no other way to say that it is up
        return f"127.0.0.1:{port}"

    yield start
    for process in running:
        process.terminate()
        process.wait(10)


@pytest.fixture
def placed(databases, tmp_path, standin):
    site = standin("site")
    named = {"www.lunnick.example": site}
    app = create(databases.fresh(), tmp_path / "home", "test", tmp_path / "none", named)
    with TestClient(app, base_url="http://127.0.0.1:8420") as client:
        client.named = named
        yield client, site


def states(client):
    return {link["key"]: link for link in client.get("/api/w/test/mark/placing").json()}


def test_states_and_verdicts_come_from_arrivals(placed):
    client, _ = placed
    load(client, planned_week_files())
    yesterday = (date.today() - timedelta(days=1)).isoformat()
    put(
        client,
        ("old", CARD | {"page": f"{SITE}/card", "placed_on": "2026-03-01", "placed_by": "Tove"}),
        (
            "odd",
            CARD | {"page": f"{SITE}/card", "content": "83016", "term": "families_30_card", "placed_on": "2026-03-01"},
        ),
        ("new", CARD | {"page": f"{SITE}/card", "content": "x"}),
        ("hung", CARD | {"page": f"{SITE}/card", "content": "y", "placed_on": yesterday}),
    )
    found = states(client)
    assert {key: link["state"] for key, link in found.items()} == {
        "old": "arriving", "odd": "none_yet", "new": "planned", "hung": "none_yet",
    }  # fmt: skip
    assert (found["old"]["visits"], found["old"]["first"], found["old"]["last"]) == (2, "2026-03-03", "2026-03-03")
    assert found["old"]["verdict"] == "2 real arrivals carried exactly these tags"
    # v30 carries all of its tags but the content.
    assert found["odd"]["deviations"] == [{"field": "content", "expected": "83016", "arrived": "83015", "visits": 1}]
    assert "83015 in place of 83016" in found["odd"]["verdict"]
    assert {key: link["fault"] for key, link in found.items()} == {
        "old": "", "odd": "another content arrives", "new": "", "hung": "none yet",
    }  # fmt: skip
    assert {key: link["cause"] for key, link in found.items()} == {
        "old": None, "odd": "another", "new": None, "hung": "none_yet",
    }  # fmt: skip
    assert (sum(found["old"]["weeks"]), len(found["old"]["weeks"])) == (2, 13)


def test_a_link_never_placed_accuses_nobody_and_a_fault_of_a_campaign_is_said_once(placed):
    """One stray arrival stood as the fault of every link of its campaign, drafts in the drawer among them."""
    client, _ = placed
    load(client, planned_week_files())
    more = {"term": "families_30_card", "page": f"{SITE}/card"}
    put(
        client,
        ("drawer", CARD | more | {"content": "90001"}),
        ("one", CARD | more | {"content": "90002", "placed_on": "2026-03-01"}),
        ("two", CARD | more | {"content": "90003", "placed_on": "2026-03-01"}),
    )
    found = states(client)
    assert (found["drawer"]["deviations"], found["drawer"]["fault"]) == ([], "")
    faults = {found[key]["fault"] for key in ("one", "two")}
    assert faults == {
        f"another content arrives: 1 arrival with content 83015 in place of one of 2 links of {found['one']['campaign']}"
    }
    # Once it is placed, it is one of them.
    put(client, ("drawer", CARD | more | {"content": "90001", "placed_on": "2026-03-02"}))
    assert "of 3 links" in states(client)["one"]["fault"]


def test_links_that_must_not_go_out_say_why(placed):
    client, _ = placed
    load(client, [("settings.toml", b'own_hosts = ["lunnick.example"]\n')])
    put(
        client,
        *(
            (f"k{i}", CARD | {"page": page})
            for i, page in enumerate(("http://127.0.0.1/card", "https://tide.example/card", f"{SITE}/card"))
        ),
    )
    found = states(client)
    assert "nobody else can open" in found["k0"]["withheld"]
    assert "not one of your hosts" in found["k1"]["withheld"]
    assert found["k2"]["withheld"] == ""
    answer = client.get("/api/w/test/mark/links/k1/qr.svg")
    assert (answer.status_code, "tide.example" in answer.json()["message"]) == (422, True)


def test_a_pattern_of_a_workspace_without_a_page_names_nobodys_host(placed):
    client, _ = placed
    load(client, [("settings.toml", b'[[pattern]]\nplatform = "Quorrin"\nlevel = "account"\nsource = "quorrin"\n')])
    found = client.get("/api/w/test/mark/patterns/resolved?platform=Quorrin").json()
    assert found["address"].startswith("https://your-landing-page.invalid/")
    assert found["withheld"] == "no landing page is known yet"


def visit(client, **cells):
    put(client, ("k", {"page": "", "term": "", **CARD, **cells}))
    return client.post("/api/w/test/mark/links/k/visit").json()


def test_a_test_visit_compares_what_arrives_field_by_field(placed):
    client, site = placed
    good = visit(client, page=f"{SITE}/card?lang=en")
    assert good["problem"] == ""
    assert {f["name"]: f["fate"] for f in good["fields"]} == dict.fromkeys(
        ("lang", "utm_source", "utm_medium", "utm_campaign"), "same"
    )
    kept = visit(client, page=f"{SITE}/old/card")
    assert [s["status"] for s in kept["steps"]] == [301, 200]
    assert {f["fate"] for f in kept["fields"]} == {"same"}
    lost = visit(client, page=f"{SITE}/forgetful/card")
    assert {f["fate"] for f in lost["fields"]} == {"lost"}
    low = {f["name"]: f["fate"] for f in visit(client, page=f"{SITE}/shouting/card")["fields"]}
    assert low == {"utm_source": "same", "utm_medium": "same", "utm_campaign": "changed_case"}
    slot = visit(client, page=f"{SITE}/card", term="{keyword}")
    assert {f["name"]: f["fate"] for f in slot["fields"]}["utm_term"] == "unfilled_slot"
    arrived = urllib.request.urlopen(f"http://{site}/arrivals").read().decode()
    assert "utm_source=ostrel&utm_medium=paid-social" in arrived


def test_a_test_visit_says_what_stands_in_its_way(placed):
    client, _ = placed
    assert "circle" in visit(client, page=f"{SITE}/round")["problem"]
    client.named["gone.example"] = f"127.0.0.1:{free_port()}"
    assert "did not answer" in visit(client, page="http://gone.example/")["problem"]
    put(client, ("k", {"page": "/card"}))
    assert client.post("/api/w/test/mark/links/k/visit").status_code == 422
    assert client.post("/api/w/test/mark/links/nobody/visit").status_code == 404


def test_codes_and_messages_over_http(placed):
    client, _ = placed
    put(client, ("k", CARD | {"page": f"{SITE}/card", "short": "card"}))
    refused = client.get("/api/w/test/mark/links/k/qr.svg")
    assert (refused.status_code, "127.0.0.1, which nobody else can open" in refused.json()["message"]) == (422, True)
    load(client, [("settings.toml", b'short_base = "https://go.lunnick.example"\n')])
    svg = client.get("/api/w/test/mark/links/k/qr.svg")
    assert (svg.status_code, svg.headers["content-type"]) == (200, "image/svg+xml")
    assert client.get("/api/w/test/mark/links/k/qr.png?error=h").content.startswith(b"\x89PNG")
    base = client.get("/api/w/test/mark/short-base").json()
    assert base == {"base": "https://go.lunnick.example/~/", "problem": ""}
    said = client.post("/api/w/test/mark/message", json={"text": "Last cabins: " + base["base"] + "card"}).json()
    assert (said["alphabet"], said["parts"]) == ("GSM 7 bit", 1)


def test_a_pattern_made_here_is_filled_by_a_platform_that_knows_nothing_of_us_and_arrives(placed, standin):
    """The dialect is the platform's, the values are its own; what arrives must be what the pattern meant."""
    client, site = placed
    platform = standin("ad_platform")
    dialect = {"platform": "Quorrin", "opens": "{=", "closes": "=}", "slots": [{"name": "grp", "means": "group-name"}]}
    fields = {"source": "quorrin", "medium": "cpc", "campaign": "night", "content": "(:group-name:)"}
    for section, record in (("dialect", dialect), ("pattern", {"platform": "Quorrin", "level": "account", **fields})):
        basis = client.get("/api/w/test/plan").json()["basis"]
        answer = client.put(f"/api/w/test/plan/sections/{section}", json={"basis": basis, "records": [record]})
        assert answer.status_code == 200, answer.text
    asked = {"platform": "Quorrin", "landing": f"http://{site}/card?lang=en"}
    made = client.get("/api/w/test/mark/patterns/resolved", params=asked).json()
    assert made["findings"] == []
    ad = {"address": made["address"], "opens": "{=", "closes": "=}", "values": {"grp": "whale & all?"}}
    body = json.dumps(ad).encode()
    urllib.request.urlopen(urllib.request.Request(f"http://{platform}/ads/a", body, method="PUT"))
    urllib.request.urlopen(f"http://{platform}/click/a")
    arrived = json.loads(urllib.request.urlopen(f"http://{site}/arrivals").read().decode().splitlines()[-1])
    query = split_address(arrived["url"])[1]
    assert [p[:2] for p in parameters(query)] == [
        ("lang", "en"), ("utm_source", "quorrin"), ("utm_medium", "cpc"), ("utm_campaign", "night"),
        ("utm_content", "whale & all?"),
    ]  # fmt: skip


QUORRIN = {
    "platform": "Quorrin",
    "opens": "{=",
    "closes": "=}",
    "slots": [{"name": "grp", "means": "group-name"}, {"name": "kw", "means": "keyword"}],
}
FIELDS = {
    "source": "quorrin",
    "medium": "cpc",
    "campaign": "Night",
    "content": "g-(:group-name:)",
    "term": "(:keyword:)",
}


@pytest.mark.parametrize(
    ("page", "knows", "verdicts"),
    [
        ("/card", {"grp": "whale & all?", "kw": "boat"}, ["same", "same", "same", "filled", "filled"]),
        ("/card", {"grp": "whale"}, ["same", "same", "same", "unfilled_slot", "filled"]),
        ("/old/card", {"grp": "", "kw": "boat"}, ["same", "same", "same", "filled", "changed"]),
        ("/forgetful/card", {"grp": "w", "kw": "b"}, ["lost"] * 5),
        ("/shouting/card", {"grp": "W", "kw": "b"}, ["same", "same", "changed_case", "filled", "filled"]),
    ],
)
def test_an_ad_is_clicked_and_compared_with_its_pattern(placed, standin, page, knows, verdicts):
    client, site = placed
    platform = standin("ad_platform")
    client.named["ads.quorrin.example"] = platform
    for section, record in (("dialect", QUORRIN), ("pattern", {"platform": "Quorrin", "level": "account", **FIELDS})):
        basis = client.get("/api/w/test/plan").json()["basis"]
        client.put(f"/api/w/test/plan/sections/{section}", json={"basis": basis, "records": [record]})
    asked = {"platform": "Quorrin", "landing": f"http://{site}{page}"}
    made = client.get("/api/w/test/mark/patterns/resolved", params=asked).json()
    ad = {"address": made["address"], "opens": "{=", "closes": "=}", "values": knows}
    urllib.request.urlopen(urllib.request.Request(f"http://{platform}/ads/a", json.dumps(ad).encode(), method="PUT"))
    assert f"http://{platform}/click/a" in urllib.request.urlopen(f"http://{platform}/").read().decode()
    visited = {"whose": {"platform": "Quorrin"}, "click": f"http://{platform}/click/a"}
    answer = client.post("/api/w/test/mark/patterns/visit", json=visited).json()
    assert answer["problem"] == ""
    assert [f["fate"] for f in answer["fields"] if f["name"].startswith("utm_")] == verdicts
    # The platform sends visitors itself, too; each is noted by the site as it came.
    body = json.dumps({"clicks": 3, "through": site}).encode()
    urllib.request.urlopen(urllib.request.Request(f"http://{platform}/click/a", body, method="POST"))
    arrived = urllib.request.urlopen(f"http://{site}/arrivals").read().decode().splitlines()
    landed = [json.loads(line)["referrer"] for line in arrived if "/card" in line]
    # Where the address sends on, these visitors do not follow.
    assert landed == ["", *(["https://ads.quorrin.example/"] * 3 if page == "/card" else [])]


def test_a_click_without_a_pattern_or_an_address_is_refused_in_words(placed):
    client, _ = placed
    visited = {"whose": {"platform": "Quorrin"}, "click": "http://127.0.0.1:1/click/a"}
    answer = client.post("/api/w/test/mark/patterns/visit", json=visited)
    assert (answer.status_code, "set one first" in answer.json()["message"]) == (422, True)
    record = {"platform": "Quorrin", "level": "account", "source": "quorrin"}
    client.put("/api/w/test/plan/sections/pattern", json={"basis": 0, "records": [record]})
    answer = client.post("/api/w/test/mark/patterns/visit", json=visited | {"click": "/card"})
    assert (answer.status_code, "write the whole address" in answer.json()["message"]) == (422, True)
    client.named["gone.example"] = "127.0.0.1:1"
    visited["click"] = "http://gone.example/click/a"
    assert "did not answer" in client.post("/api/w/test/mark/patterns/visit", json=visited).json()["problem"]


@pytest.mark.parametrize("key", ["", "a/b", "k" * 65, "\n"])
def test_a_row_whose_key_no_address_can_carry_is_refused(client, key):
    """An empty key once was a fault of the server; one with a slash could never be placed."""
    wanted = {"changes": [{"key": key, "cells": {"source": "zeta"}}], "basis": 0, "what": "one"}
    answer = client.patch("/api/w/test/mark/links", json=wanted)
    assert (answer.status_code, "key" in answer.json()["message"]) == (422, True)
    assert client.get("/api/w/test/mark/links").json()["rows"] == []


def test_a_request_that_cannot_be_read_is_said_in_the_form_of_every_other_problem(client):
    for method, path, content, status in (
        ("PATCH", "mark/links", b"\xff", 400),
        ("GET", "nowhere", b"", 404),
        ("DELETE", "mark/links", b"", 405),
    ):
        answer = client.request(
            method, f"/api/w/test/{path}", content=content, headers={"content-type": "application/json"}
        )
        assert (answer.status_code, set(answer.json())) == (status, {"code", "message"}), answer.text


def test_a_test_visit_is_a_test_record_wherever_it_is_counted(placed):
    """The parameter goes with every hop, also where a redirect loses what it was given."""
    client, site = placed
    for page in ("/card", "/forgetful/card"):
        found = visit(client, page=f"{SITE}{page}")
        assert "yt-test" not in {f["name"] for f in found["fields"]}
        assert all("yt-test=" in step["url"] for step in found["steps"]), found
    arrived = urllib.request.urlopen(f"http://{site}/arrivals").read().decode().splitlines()
    assert all("yt-test=" in line for line in arrived if "/card" in line)


@pytest.mark.parametrize(
    "host",
    [
        "[64:ff9b::7f00:1]",
        "[64:ff9b::808:808]",
        "[2002:7f00:1::]",
        "[::7f00:1]",
        "[2002:a01:203::1]",
        "127.0.0.1",
        "localhost",
        "10.1.2.3",
        "192.168.0.1",
        "169.254.169.254",
        "[::1]",
        "[::ffff:127.0.0.1]",
        "0",
    ],
)
def test_a_test_visit_reaches_no_address_that_is_not_public(placed, host):
    client, _ = placed
    found = visit(client, page=f"http://{host}:81/card")
    assert "is not public" in found["problem"], found
    assert found["steps"] == []


def test_a_redirect_into_the_network_of_the_machine_is_not_followed(placed):
    client, _ = placed
    found = visit(client, page=f"{SITE}/to?http://127.0.0.1:1/secret")
    assert "is not public" in found["problem"], found
    assert [s["status"] for s in found["steps"]] == [302]


@pytest.mark.parametrize("onward", ["http://%5B::1", "https://x.example:99999/", "mailto:a@b.example", "http://"])
def test_a_broken_redirect_is_an_answer(placed, onward):
    client, _ = placed
    found = visit(client, page=f"{SITE}/to?{onward}")
    assert "which is not an address" in found["problem"], found


def test_a_visit_that_ends_at_somebody_elses_page_says_so(placed):
    """The last hop is judged: there nobody of ours would see the visit."""
    client, site = placed
    load(client, [("settings.toml", b'own_hosts = ["lunnick.example"]\n')])
    client.named["tide.example"] = site
    assert visit(client, page=f"{SITE}/card")["problem"] == ""
    found = visit(client, page=f"{SITE}/to?http://tide.example/card")
    assert found["problem"] == "it ends at tide.example, which is not one of your hosts: its visits would not be seen"


def test_a_page_that_sends_a_byte_now_and_then_is_cut_off(placed, monkeypatch):
    """Every single wait is short there; without an end to the whole this test would never come to its own."""
    client, _ = placed
    monkeypatch.setattr(outside_requests, "WAIT_S", 0.5)
    stop = threading.Event()
    with socket.create_server(("127.0.0.1", 0)) as server:

        def drip():
            connection, _ = server.accept()
            with connection, contextlib.suppress(OSError):
                connection.sendall(b"HTTP/1.1 200 OK\r\n")
                while not stop.wait(0.05):
                    connection.sendall(b"X-More: 1\r\n")

        slow = threading.Thread(target=drip)
        slow.start()
        client.named["slow.example"] = f"127.0.0.1:{server.getsockname()[1]}"
        found = visit(client, page="http://slow.example/")
        stop.set()
        slow.join(10)
    assert "did not answer" in found["problem"]


@pytest.mark.parametrize("text", ["a\0b", "x" * 4_001])
def test_a_cell_that_cannot_be_kept_is_refused_in_words(client, text):
    wanted = {"changes": [{"key": "k", "cells": {"note": text}}], "basis": 0, "what": "one"}
    answer = client.patch("/api/w/test/mark/links", json=wanted)
    assert (answer.status_code, "row 1, note" in answer.json()["message"]) == (422, True)


def test_a_placed_link_whose_arrivals_carry_another_tag_is_open_with_what_they_earned(client):
    load(client, planned_week_files())
    odd = {"page": f"{SITE}/card", "content": "83016", "term": "families_30_card", "placed_on": "2026-03-01"}
    put(client, ("a", CARD | odd), ("b", CARD | {"page": f"{SITE}/card", "placed_on": "2026-03-01"}))
    (placed,) = [link for link in client.get("/api/w/test/mark/placing").json() if link["deviations"]]
    open_ones = [one for one in client.get("/api/w/test/matters").json()["matters"] if one["kind"] == "link_wrong"]
    assert [one["object"] for one in open_ones] == [[placed["url"]]]
    assert open_ones[0]["rows"] == sum(d["visits"] for d in placed["deviations"])
    assert client.get("/api/w/test/matters.csv").status_code == 200
