"""Mark over HTTP: patterns on four levels, what places and presets carry, names, stores and apps, landed addresses, and
who must mend what."""

from __future__ import annotations

import csv
import io
from datetime import date, timedelta

import pytest

from web.http_files import load
from web.test_short_links import put
from yardstick.core.links.mail import tag_mail_link
from yardstick.core.plan.linking_phase import Sender

SITE = "https://www.lunnick.example"
CARD = {"page": f"{SITE}/card", "campaign": "Card", "source": "ostrel", "medium": "paid-social"}
DIALECT = {
    "platform": "Quorrin", "opens": "{=", "closes": "=}", "landing": "page",
    "slots": [{"name": "grp", "means": "group-name", "example": "Whale"}],
}  # fmt: skip


def plan(client):
    return client.get("/api/w/test/plan").json()


def keep(client, section, *records):
    body = {"basis": plan(client)["basis"], "records": list(records)}
    answer = client.put(f"/api/w/test/plan/sections/{section}", json=body)
    assert answer.status_code == 200, answer.text


def say(client, level, field, text, status=200, **whose):
    body = {"whose": {"platform": "Quorrin", **whose}, "level": level, "field": field, "text": text}
    answer = client.put("/api/w/test/mark/patterns/cell", json=body | {"basis": plan(client)["basis"]})
    assert answer.status_code == status, answer.text
    return answer.json()


def resolved(client, landing=f"{SITE}/boats", **whose):
    params = {"platform": "Quorrin", "landing": landing, **whose}
    return client.get("/api/w/test/mark/patterns/resolved", params=params).json()


@pytest.fixture
def patterned(client):
    keep(client, "dialect", DIALECT)
    say(client, "account", "source", "quorrin")
    say(client, "account", "medium", "cpc")
    say(client, "account", "campaign", "all")
    say(client, "campaign", "campaign", "night", campaign="Night")
    say(client, "group", "utm_content", "late (:group-name:)", campaign="Night", group="Late")
    say(client, "ad", "size", "wide", ad="Top")
    say(client, "account", "referrer", "host")
    return client


def test_a_cell_at_each_level_counts_where_it_is_the_nearest(patterned):
    found = resolved(patterned, campaign="Night", group="Late", ad="Top")
    assert [(p["field"], p["text"], p["level"]) for p in found["parts"]] == [
        ("source", "quorrin", "account"), ("medium", "cpc", "account"), ("campaign", "night", "campaign"),
        ("content", "late (:group-name:)", "group"), ("size", "wide", "ad"), ("referrer", "host", "account"),
    ]  # fmt: skip
    cells = {(c["field"], c["level"]): (c["text"], c["counts"]) for c in found["cells"]}
    assert cells["campaign", "account"] == ("all", False)
    assert cells["campaign", "campaign"] == ("night", True)
    assert found["findings"] == []
    assert found["one_question_mark"]


def test_three_ways_out(patterned):
    found = resolved(patterned, landing=f"{SITE}/boats?lang=en#top", campaign="Night", group="Late", ad="Top")
    suffix = "utm_source=quorrin&utm_medium=cpc&utm_campaign=night&utm_content=late%20{=grp=}&size=wide"
    assert found["suffix"] == suffix
    assert found["address"] == f"{SITE}/boats?lang=en&{suffix}#top"
    assert found["with_landing"] == "{=page=}&" + suffix
    assert found["preview"] == f"{SITE}/boats?lang=en&{suffix.replace('{=grp=}', 'Whale')}#top"
    assert resolved(patterned, campaign="Night", group="Late", ad="Top")["with_landing"] == "{=page=}?" + suffix
    keep(patterned, "dialect", DIALECT | {"landing": ""})
    assert resolved(patterned)["with_landing"] == ""


def test_a_kind_of_campaign_says_what_differs_from_the_general_pattern(patterned):
    say(patterned, "account", "medium", "video", kind="films")
    by_kind = {c["field"]: (c["text"], c["kind"]) for c in resolved(patterned, kind="films")["cells"]}
    assert by_kind["medium"] == ("video", "films")
    assert by_kind["source"] == ("quorrin", "")
    general = {c["field"]: (c["text"], c["kind"]) for c in resolved(patterned)["cells"]}
    assert general["medium"] == ("cpc", "")


def test_an_emptied_cell_is_gone_and_so_is_an_empty_pattern(patterned):
    say(patterned, "ad", "size", "", ad="Top")
    assert "size" not in {p["field"] for p in resolved(patterned, ad="Top")["parts"]}
    assert [p["level"] for p in plan(patterned)["sections"]["pattern"]] == ["account", "campaign", "group"]
    patterned.post("/api/w/test/plan/undo")
    assert "size" in {p["field"] for p in resolved(patterned, ad="Top")["parts"]}


def test_wrong_cells_are_refused_in_words(patterned):
    assert "there is no level" in say(patterned, "keyword", "source", "x", 422)["message"]
    assert "referrer" in say(patterned, "account", "referrer", "anything", 422)["message"]
    stale = {"whose": {"platform": "Quorrin"}, "level": "account", "field": "source", "text": "x", "basis": 1}
    assert patterned.put("/api/w/test/mark/patterns/cell", json=stale).status_code == 409
    keep(patterned, "allowed", {"field": "medium", "words": ["video"]})
    assert "not_allowed" in {f["code"] for f in resolved(patterned)["findings"]}


def answer_of(client, path):
    """Status and location of an answer, asked of the app itself."""
    said = []

    async def send(message):
        said.append(message)

    async def receive():
        return {"type": "http.request", "body": b"", "more_body": False}

    scope = {
        "type": "http", "method": "GET", "path": path, "raw_path": path.encode(), "query_string": b"",
        "headers": [(b"host", b"127.0.0.1:8420")], "http_version": "1.1", "scheme": "http", "client": ("127.0.0.1", 1),
        "server": ("127.0.0.1", 8420), "root_path": "",
    }  # fmt: skip
    client.portal.call(client.app, scope, receive, send)
    head = {name: value.decode() for name, value in said[0]["headers"]}
    return said[0]["status"], head[b"location"]


def rows(client):
    return client.get("/api/w/test/mark/links").json()["rows"]


def codes(row):
    return {f["code"] for f in row["findings"]}


def test_links_need_what_the_workspace_asks_for_and_nothing_else(client):
    load(client, [("settings.toml", b'required_tags = ["source", "ad"]\ntag_parameters = ["ad"]\n')])
    put(
        client,
        ("k", {"page": f"{SITE}/card", "source": "ostrel"}),
        ("l", {"page": f"{SITE}/card", "source": "x", "ad": "7"}),
    )
    first, second = rows(client)
    assert [(f["code"], f["field"]) for f in first["findings"] if f["level"] == "error"] == [("missing_required", "ad")]
    assert codes(second) == set()
    columns = {c["name"]: c["required"] for c in client.get("/api/w/test/mark/links").json()["columns"]}
    assert {name for name, required in columns.items() if required} == {"source", "ad"}


def test_one_address_in_several_places_is_accepted_with_a_reason(client):
    put(client, ("k", CARD), ("l", CARD | {"shared": "the same button on two pages"}))
    first, second = rows(client)
    assert "same_address" in codes(first)
    assert {f["code"]: f["level"] for f in second["findings"]}["shared_address"] == "note"
    put(client, ("k", {"shared": "see row 2"}))
    assert not any("same_address" in codes(row) for row in rows(client))


def test_a_place_carries_what_its_links_have_where_they_say_nothing_else(client):
    load(client, [("settings.toml", b'extra_values = ["size"]\n')])
    keep(
        client,
        "place",
        {"name": "Feed", "source": "ostrel", "medium": "cpc", "cells": [{"name": "size", "text": "wide"}]},
    )
    put(client, ("k", {"page": f"{SITE}/card", "campaign": "Card", "placement": "feed", "medium": "paid-social"}))
    (row,) = rows(client)
    assert row["url"] == f"{SITE}/card?utm_source=ostrel&utm_medium=paid-social&utm_campaign=Card&size=wide"
    assert "missing_required" not in codes(row)
    wrong = {"name": "Feed", "cells": [{"name": "source", "text": "x"}]}
    body = {"basis": plan(client)["basis"], "records": [wrong]}
    answer = client.put("/api/w/test/plan/sections/place", json=body)
    assert (answer.status_code, "has a field of its own" in answer.json()["message"]) == (422, True)


def test_a_preset_may_carry_any_column(client):
    keep(client, "preset", {"name": "Feed", "placement": "Feed", "cells": [{"name": "due", "text": "2026-12-01"}]})
    presets = client.get("/api/w/test/mark/links").json()["presets"]
    assert presets == [{"name": "Feed", "placement": "Feed", "due": "2026-12-01"}]


def test_names_are_built_from_parts_with_the_next_number(client):
    parts = [{"name": "offer", "allowed": ["half", "full"]}, {"name": "size", "allowed": ["s", "m"]}, {"name": "n"}]
    keep(client, "naming", {"field": "content", "separator": "-", "parts": parts})
    put(client, ("a", {"content": "half-s-07"}), ("b", {"content": "half-s-012"}), ("c", {"content": "full-s-44"}))

    def built(status=200, **parts):
        answer = client.post("/api/w/test/mark/names", json={"field": "content", "parts": parts})
        assert answer.status_code == status, answer.text
        return answer.json()

    assert built(offer="half", size="s", n="#") == "half-s-013"
    assert built(offer="half", size="m", n="#") == "half-m-01"
    assert "it may be half, full" in built(422, offer="third", size="s", n="#")["message"]
    assert "size: fill" in built(422, offer="half", n="#")["message"]
    assert "separates the parts" in built(422, offer="half", size="s", n="a-b")["message"]


@pytest.mark.parametrize(
    ("page", "good"),
    [
        ("lunnick-boats://trip/4711", True),
        ("lunnick-boats:trip/4711?day=2", True),
        ("Lunnick-Boats://trip/none", False),
    ],
)
def test_an_app_is_a_destination_where_only_clicks_count(client, page, good):
    keep(client, "store", {"scheme": "lunnick-boats", "id_kind": "number"})
    put(client, ("k", CARD | {"page": page, "short": f"app-{client.workspace}"}))
    (row,) = rows(client)
    assert ("store_id" in codes(row)) is not good
    assert "only_clicks" in codes(row)
    assert row["url"].startswith(page + ("&" if "?" in page else "?") + "utm_source=ostrel")
    # Not through the test client, which follows such addresses in its mind and cannot.
    assert answer_of(client, f"/~/app-{client.workspace}") == (302, row["url"])
    (link,) = client.get("/api/w/test/mark/placing").json()
    assert (link["state"], link["verdict"]) == ("arriving", "1 click counted")
    answer = client.post("/api/w/test/mark/links/k/visit")
    assert (answer.status_code, "an app opens" in answer.json()["message"]) == (422, True)


@pytest.mark.parametrize("scheme", ["javascript", "https", "data", "not a scheme"])
def test_an_app_cannot_have_a_scheme_that_runs_or_opens_something_else(client, scheme):
    body = {"basis": plan(client)["basis"], "records": [{"scheme": scheme}]}
    assert client.put("/api/w/test/plan/sections/store", json=body).status_code == 422
    if scheme != "https":
        put(client, ("k", CARD | {"page": f"{scheme}:alert(1)"}))
        assert rows(client)[0]["url"] == ""


def test_a_landed_address_is_compared_with_its_link(client):
    load(client, [("settings.toml", b'own_hosts = ["lunnick.example"]\n')])
    put(client, ("a", CARD), ("b", CARD | {"content": "blue", "page": f"{SITE}/boats"}), ("c", {"page": f"{SITE}/x"}))

    def landed(url, status=200):
        answer = client.post("/api/w/test/mark/landed", json={"url": url})
        assert answer.status_code == status, answer.text
        return answer.json()

    found = landed(f"{SITE}/boats?utm_source=ostrel&utm_medium=Paid-Social&utm_content=blue&ckid=7&yt-test=1")
    assert found["key"] == "b"
    assert {f["name"]: f["fate"] for f in found["fields"]} == {
        "utm_source": "same", "utm_medium": "changed_case", "utm_campaign": "lost", "utm_content": "same", "ckid": "added",
    }  # fmt: skip
    assert found["problems"] == []
    away = landed("https://tide.example/card?utm_source=ostrel&utm_medium=paid-social&utm_campaign=Card")
    assert away["key"] == "a"
    assert any("not one of your hosts" in p for p in away["problems"])
    assert "has any of its tags" in landed(f"{SITE}/card", 404)["message"]
    assert "not an address" in landed("nothing", 422)["message"]


def test_placing_names_who_must_mend_and_until_when_visits_must_have_come(client):
    yesterday, today = (str(date.today() - timedelta(days=n)) for n in (1, 0))
    keep(client, "campaign", {"name": "Card", "owner": "Maren", "state": "approved"})
    keep(client, "place", {"name": "Feed", "asked_by": "Tove"})
    put(
        client,
        ("a", CARD | {"content": "1", "due": yesterday}),
        ("b", CARD | {"content": "2", "due": today, "placement": "Feed"}),
        ("c", CARD | {"content": "3", "placed_by": "Bo", "due": "soon"}),
    )
    found = {link["key"]: (link["mender"], link["late"]) for link in client.get("/api/w/test/mark/placing").json()}
    assert found == {"a": ("Maren", True), "b": ("Tove", False), "c": ("Bo", False)}
    assert "bad_day" in codes(rows(client)[2])
    file = client.get("/api/w/test/mark/placing.csv")
    lines = list(csv.DictReader(io.StringIO(file.text)))
    assert [(line["mender"], line["late"], line["due"]) for line in lines[:2]] == [
        ("Maren", "yes", yesterday), ("Tove", "", today)
    ]  # fmt: skip
    assert client.get("/api/w/test/mark/placing.xlsx").content.startswith(b"PK")


def test_a_mail_sender_adds_its_own_parameters_to_tagged_links_too():
    sender = Sender("Ellivane", "one-off", {"source": "ellivane", "content": "(:message:)"}, {"mail": "(:list:)"})
    values = {"list": "card holders", "message": ""}
    assert tag_mail_link(f"{SITE}/a", sender, values) == f"{SITE}/a?utm_source=ellivane&mail=card%20holders"
    assert tag_mail_link(f"{SITE}/a?utm_source=x#b", sender, values) == f"{SITE}/a?utm_source=x&mail=card%20holders#b"
    assert tag_mail_link(f"{SITE}/a?utm_source=x&MAIL=1", sender, values) == f"{SITE}/a?utm_source=x&MAIL=1"
    assert tag_mail_link(f"{SITE}/a?utm_source=x", sender, {"list": ""}) == f"{SITE}/a?utm_source=x"


def test_the_tags_of_a_pattern_with_own_parameters_come_back_from_files(patterned):
    for kind in ("csv", "xlsx"):
        file = patterned.get(f"/api/w/test/plan/sections/pattern.{kind}").content
        before = plan(patterned)["sections"]["pattern"]
        back = patterned.post("/api/w/test/plan/sections/pattern/file", files={"file": (f"p.{kind}", io.BytesIO(file))})
        assert back.status_code == 200, back.text
        assert plan(patterned)["sections"]["pattern"] == before
