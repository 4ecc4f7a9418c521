"""A made-up ferry line's site: pages that note who arrived, and old addresses that send visitors on, well or badly.

/arrivals            what arrived, one JSON object a line
/old/...             sends on to /..., the query kept
/forgetful/...       sends on to /..., the query lost
/shouting/...        sends on to /..., the query in lower case
/round               sends on to itself for ever
/to?ADDRESS          sends on to what stands there, whatever it is, without what comes after &
anything else        a page
"""

from __future__ import annotations

import argparse
import json
import threading
from datetime import UTC, datetime
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer

PAGE = "<!doctype html><title>Lunnick Sound Ferries</title><h1>Lunnick Sound Ferries</h1><p>{path}</p>"


class Site(ThreadingHTTPServer):
    """The site, with the arrivals of this run."""

    daemon_threads = True

    def __init__(self, port: int) -> None:
        super().__init__(("127.0.0.1", port), Visitor)
        self.arrivals: list[dict[str, str]] = []
        self.noting = threading.Lock()


class Visitor(BaseHTTPRequestHandler):
    """One request."""

    server: Site
    protocol_version = "HTTP/1.1"

    def do_GET(self) -> None:
        path, _, query = self.path.partition("?")
        if path == "/arrivals":
            with self.server.noting:
                lines = [json.dumps(a) for a in self.server.arrivals]
            self._answer(200, "\n".join(lines).encode(), "application/x-ndjson")
        elif path.startswith("/old/"):
            self._send_on("/" + path.removeprefix("/old/") + ("?" + query if query else ""))
        elif path.startswith("/forgetful/"):
            self._send_on("/" + path.removeprefix("/forgetful/"))
        elif path.startswith("/shouting/"):
            self._send_on("/" + path.removeprefix("/shouting/") + ("?" + query.lower() if query else ""))
        elif path == "/round":
            self._send_on("/round")
        elif path == "/to":
            self._send_on(query.partition("&")[0], 302)
        else:
            self._note()
            self._answer(200, PAGE.format(path=path).encode(), "text/html; charset=utf-8")

    def _note(self) -> None:
        arrival = {
            "at": datetime.now(UTC).isoformat(),
            "url": f"https://{self.headers.get('Host', '')}{self.path}",
            "referrer": self.headers.get("Referer", ""),
        }
        with self.server.noting:
            self.server.arrivals.append(arrival)

    def _send_on(self, where: str, status: int = 301) -> None:
        self.send_response(status)
        self.send_header("Location", where)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def _answer(self, status: int, body: bytes, kind: str) -> None:
        self.send_response(status)
        self.send_header("Content-Type", kind)
        self.send_header("Content-Length", str(len(body)))
        self.end_headers()
        self.wfile.write(body)

    def log_message(self, format: str, *args: object) -> None:
        """Say nothing: the terminal belongs to the app."""


def main() -> None:
    """Serve until the process is ended."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--port", type=int, required=True)
    Site(parser.parse_args().port).serve_forever()


if __name__ == "__main__":
    main()
