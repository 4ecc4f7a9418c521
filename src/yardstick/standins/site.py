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

import json
import threading
from datetime import UTC, datetime
from http.server import ThreadingHTTPServer

from .answering import Answering, serve

PAGE = "<!doctype html><title>Lunnick Sound Ferries</title><h1>Lunnick Sound Ferries</h1><p>{path}</p>"


class Site(ThreadingHTTPServer):
    """The site, with the arrivals of this run."""

    daemon_threads = True

    def __init__(self, port: int) -> None:
        super().__init__(("127.0.0.1", port), Visitor)
        self.arrivals: list[dict[str, str]] = []
        self.noting = threading.Lock()


class Visitor(Answering):
    """One request."""

    server: Site

    def do_GET(self) -> None:  # noqa: N802
        path, _, query = self.path.partition("?")
        if path == "/arrivals":
            with self.server.noting:
                lines = [json.dumps(a) for a in self.server.arrivals]
            self.answer(200, "\n".join(lines).encode(), "application/x-ndjson")
        elif path.startswith("/old/"):
            self.send_on("/" + path.removeprefix("/old/") + ("?" + query if query else ""))
        elif path.startswith("/forgetful/"):
            self.send_on("/" + path.removeprefix("/forgetful/"))
        elif path.startswith("/shouting/"):
            self.send_on("/" + path.removeprefix("/shouting/") + ("?" + query.lower() if query else ""))
        elif path == "/round":
            self.send_on("/round")
        elif path == "/to":
            self.send_on(query.partition("&")[0], 302)
        else:
            self._note()
            self.answer(200, PAGE.format(path=path).encode(), "text/html; charset=utf-8")

    def _note(self) -> None:
        arrival = {
            "at": datetime.now(UTC).isoformat(),
            "url": f"https://{self.headers.get('Host', '')}{self.path}",
            "referrer": self.headers.get("Referer", ""),
        }
        with self.server.noting:
            self.server.arrivals.append(arrival)


if __name__ == "__main__":
    serve(Site)
