"""Redirects per second of `/~/code`, each click on disk first, beside a bare FastAPI endpoint that redirects."""

from __future__ import annotations

import asyncio
import json
import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

import psycopg

sys.path[:0] = [str(Path(__file__).parents[1] / "scripts"), str(Path(__file__).parents[1] / "src")]
from private_postgres import Cluster, free_port  # noqa: E402
from yardstick.store.database import connect, migrate  # noqa: E402

CONNECTIONS, SECONDS = 64, 5.0
BARE = """
from fastapi import FastAPI
from fastapi.responses import RedirectResponse
app = FastAPI()
@app.get("/~/night")
async def go():
    return RedirectResponse("https://www.lunnick.example/night?utm_source=ostrel&utm_medium=poster&utm_campaign=x", 302)
"""


async def _ask(port: int, until: float) -> int:
    reader, writer = await asyncio.open_connection("127.0.0.1", port)
    request = f"GET /~/night HTTP/1.1\r\nHost: 127.0.0.1:{port}\r\n\r\n".encode()
    done = 0
    while time.perf_counter() < until:
        writer.write(request)
        head = await reader.readuntil(b"\r\n\r\n")
        assert head.startswith(b"HTTP/1.1 302"), head
        done += 1
    writer.close()
    return done


async def _load(port: int) -> float:
    start = time.perf_counter()
    done = sum(await asyncio.gather(*(_ask(port, start + SECONDS) for _ in range(CONNECTIONS))))
    return done / (time.perf_counter() - start)


def _serve(what: list[str], environment: dict[str, str], folder: str) -> tuple[subprocess.Popen[bytes], int]:
    port = free_port()
    command = [
        sys.executable,
        "-m",
        "uvicorn",
        *what,
        "--port",
        str(port),
        "--log-level",
        "critical",
        "--no-access-log",
    ]
    process = subprocess.Popen(command, env=os.environ | environment, cwd=folder)
    for _ in range(600):
        try:
            urllib.request.urlopen(f"http://127.0.0.1:{port}/openapi.json").read()
            break
        except urllib.error.HTTPError:
            break
        except OSError:
            time.sleep(0.1)
    return process, port


def measure() -> tuple[float, float, int, int]:
    """Redirects per second: the bare endpoint's, ours; and clicks answered by ours, clicks found in the database."""
    with tempfile.TemporaryDirectory(dir="/srv" if os.access("/srv", os.W_OK) else None) as folder:
        os.chmod(folder, 0o755)
        (Path(folder) / "bare.py").write_text(BARE)
        cluster = Cluster(Path(folder) / "cluster")
        cluster.start()
        try:
            url = cluster.url("postgres")
            migrate(connect(url))
            bare, bare_port = _serve(["bare:app"], {}, folder)
            ours, port = _serve(
                ["yardstick.web.app:from_environment", "--factory"],
                {"YARDSTICK_DATABASE": url, "YARDSTICK_HOME": f"{folder}/home", "YARDSTICK_WORKSPACE": "bench"},
                str(Path(__file__).parents[1]),
            )
            here = f"http://127.0.0.1:{port}/api/w/bench/mark/links"
            basis = json.load(urllib.request.urlopen(here))["basis"]
            cells = {
                "page": "https://www.lunnick.example/night",
                "campaign": "x",
                "source": "a",
                "medium": "b",
                "short": "night",
            }
            body = json.dumps({"basis": basis, "what": "bench", "changes": [{"key": "k", "cells": cells}]}).encode()
            urllib.request.urlopen(
                urllib.request.Request(here, body, {"Content-Type": "application/json"}, method="PATCH")
            )
            theirs = asyncio.run(_load(bare_port))
            mine = asyncio.run(_load(port))
            for process in (bare, ours):
                process.terminate()
                process.wait(20)
            with psycopg.connect(url.replace("+psycopg", "")) as connection:
                kept = connection.execute("SELECT count(*) FROM short_click").fetchone()[0]
            return theirs, mine, round(mine * SECONDS), kept
        finally:
            cluster.stop()


if __name__ == "__main__":
    theirs, mine, answered, kept = measure()
    print(
        f"redirects a second, {CONNECTIONS} connections: bare {theirs:.0f}, /~/code {mine:.0f} = {mine / theirs:.2f} x (goal 0.5); about {answered} answered, {kept} on record"
    )
