"""How much each door takes and how long it waits: said before anything is read, whoever sends it."""

from __future__ import annotations

import asyncio
import itertools
import json
import socket
import threading

import pytest
import uvicorn

from yardstick.web import guards, head_deadline, limits
from yardstick.web.head_deadline import PatientProtocol
from yardstick.web.limits import FILES, JSON, LISTS, TEXTS, limit_of

PIECE = b"x" * 65_536


def doors(client):
    """Every way and path that takes a body, over both documents."""
    outer = client.get("/openapi.json").json()["paths"]
    inner = client.get("/api/w/test/openapi.json").json()["paths"]
    named = [*outer.items(), *(("/api/w/test" + path, ways) for path, ways in inner.items())]
    return [(way, path) for path, ways in named for way in ways if way in ("post", "put", "patch", "delete")]


def test_every_door_says_too_much_before_it_reads(client):
    """Of 500 MiB to a door of 10,000 characters nothing may be kept in memory."""
    found = doors(client)
    assert len(found) > 30
    for way, path in found:
        limit = limit_of(path, FILES)
        head = {"content-type": "application/json", "content-length": str(limit + 1)}
        answer = client.request(way, path, content=b"{}", headers=head)
        assert answer.status_code == 413, (way, path, answer.text)
        assert f"{limit:,} bytes" in answer.json()["message"]


@pytest.mark.parametrize(
    ("path", "limit"),
    [
        ("/api/w/a/gather/rehearsals", FILES),
        ("/api/w/a/mark/message", TEXTS),
        ("/api/w/a/mark/links/k1/visit", TEXTS),
        ("/api/w/a/mark/links/file", LISTS),
        ("/api/w/a/plan/sections/goal/file", LISTS),
        ("/api/w/a/plan/sections/goal/file/rehearsal", LISTS),
        ("/api/w/a/plan/sections/goal", JSON),
        ("/api/w/a/mark/check-up", JSON),
        ("/somewhere/else", JSON),
    ],
)
def test_a_door_has_its_own_limit_and_what_nobody_named_has_that_of_json(path, limit):
    assert limit_of(path, FILES) == limit
    assert limit_of(path, 1000) == 1000


def test_what_a_person_writes_is_far_below(client):
    """10,000 signs of two units each, escaped, to the door of messages; the largest change of the sheet."""
    body = json.dumps({"text": "😀" * 10_000}).encode()
    assert client.post("/api/w/test/mark/message", content=body).status_code in (200, 422)
    assert len(body) < TEXTS
    changes = [
        {"key": f"k{i}", "cells": {"page": "p" * 40, "campaign": "c" * 40}, "position": None} for i in range(5_000)
    ]
    assert len(json.dumps({"basis": 0, "what": "pasted", "changes": changes}).encode()) < JSON


def answered_by(guard, receive, path="/api/workspaces"):
    """Status and body of what a guard answers to a request whose body comes by `receive`."""
    said = []

    async def send(message):
        said.append(message)

    scope = {
        "type": "http",
        "scheme": "http",
        "path": path,
        "headers": [(b"host", b"127.0.0.1:8420")],
    }
    asyncio.run(guard(scope, receive, send))
    return said[0]["status"], json.loads(said[1]["body"])["code"]


async def reads_on(scope, receive, send):
    """An app that wants the whole body."""
    while (await receive()).get("more_body"):
        pass
    raise AssertionError("the body never ends")


@pytest.fixture
def no_grace(monkeypatch):
    monkeypatch.setattr(guards, "GRACE_S", 0.02)
    monkeypatch.setattr(limits, "GRACE_S", 0.02)


def in_a_thread(work):
    """The browser tests of this worker may have a loop running in this thread."""
    got = []
    thread = threading.Thread(target=lambda: got.append(work()))
    thread.start()
    thread.join(60)
    return got[0]


@pytest.mark.parametrize("path", ["/api/w/a/mark/message", "/api/w/a/plan/general", "/api/w/a/plan/sections/goal/file"])
def test_of_a_body_without_a_length_a_piece_more_than_may_come_is_the_last_that_is_read(path):
    read = itertools.count(1)

    async def piece():
        return {"type": "http.request", "body": PIECE, "more_body": next(read) < 10_000}

    assert in_a_thread(lambda: answered_by(guards.Guard(reads_on, FILES), piece, path)) == (413, "too_large")
    assert next(read) - 1 == limit_of(path, FILES) // len(PIECE) + 1


@pytest.mark.parametrize("sign", [b"[],", b"{},", b"[", b'{"a":'])
def test_json_of_nothing_but_brackets_is_refused_before_it_is_read(client, sign):
    """16 MiB of empty lists held up everybody for three seconds."""
    body = b"[" + sign * (JSON // len(sign) - 2)
    answer = client.post("/api/w/test/mark/check-up", content=body, headers={"content-type": "application/json"})
    assert (answer.status_code, "500,000 lists and records" in answer.json()["message"]) == (413, True)


def test_a_body_that_stops_coming_is_given_up(no_grace):
    async def never():
        await asyncio.Event().wait()

    assert in_a_thread(lambda: answered_by(guards.Guard(reads_on, FILES), never)) == (408, "too_slow")


def test_a_body_that_drips_is_given_up(no_grace):
    drops = itertools.count()

    async def drip():
        next(drops)
        await asyncio.sleep(0.005)
        return {"type": "http.request", "body": b"x", "more_body": True}

    assert in_a_thread(lambda: answered_by(guards.Guard(reads_on, FILES), drip)) == (408, "too_slow")
    assert next(drops) < 100


@pytest.mark.parametrize("begun", [b"", b"GET / HT", b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\nA: b\r\n"])
def test_a_connection_whose_head_never_ends_is_closed(monkeypatch, begun):
    monkeypatch.setattr(head_deadline, "HEAD_S", 0.05)

    async def answer(scope, receive, send):
        await send({"type": "http.response.start", "status": 204, "headers": []})
        await send({"type": "http.response.body", "body": b""})

    config = uvicorn.Config(answer, port=0, http=PatientProtocol, log_level="error", lifespan="off")
    server = uvicorn.Server(config)
    listening = config.bind_socket()
    listening.listen(8)
    thread = threading.Thread(target=server.run, args=([listening],))
    thread.start()
    try:
        with socket.create_connection(listening.getsockname(), 20) as slow:
            # One that says what it wants is answered, also as the second on its connection.
            slow.sendall(b"GET / HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
            assert slow.recv(4096).startswith(b"HTTP/1.1 204")
            slow.sendall(begun or b"G")
            assert slow.recv(4096) == b""
        with socket.create_connection(listening.getsockname(), 20) as slow:
            slow.sendall(begun)
            assert slow.recv(4096) == b""
    finally:
        server.should_exit = True
        thread.join(20)


@pytest.mark.parametrize(
    ("origin", "status"),
    [
        ("http://127.0.0.1:8420", 200),
        ("https://127.0.0.1:8420", 403),
        ("http://user@127.0.0.1:8420", 403),
        ("http://127.0.0.1:8420/path", 403),
        ("ftp://127.0.0.1:8420", 403),
        ("http://127.0.0.1", 403),
        ("null", 403),
        ("", 403),
    ],
)
def test_an_origin_is_compared_whole(client, origin, status):
    assert client.get("/api/health", headers={"origin": origin}).status_code == status
