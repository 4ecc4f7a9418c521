"""Short links of the sheet: where each leads, and what of the referrer goes on with the visitor.

A click waits for nothing: neither for the workspaces nor for their connections. Links are read by a thread of their own
over a connection of their own, one workspace at a time, and lead where they led until that is done.
"""

from __future__ import annotations

import asyncio
import json
import sys
import threading
import time
from collections.abc import Callable
from concurrent.futures import Future, ThreadPoolExecutor
from contextlib import suppress
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from urllib.parse import quote

from sqlalchemy import Engine

from yardstick.core.base.words import fold
from yardstick.core.links.addresses import build, written_out
from yardstick.core.links.checkup import Checker
from yardstick.core.links.links import LinkMaker
from yardstick.core.plan.linking_phase import AS_BROWSERS, EARLIER_REFERRERS
from yardstick.core.reading.tags import host_of, split_address
from yardstick.store.database import AWAY
from yardstick.store.links import rows_after
from yardstick.store.short_codes import owner_of
from yardstick.store.states import last_change
from yardstick.store.whole_files import read_whole, write_whole

from ..workspace.desk import Desk, now

POLICY = {
    AS_BROWSERS: "strict-origin-when-cross-origin",
    "whole": "unsafe-url",
    "host": "origin",
    "none": "no-referrer",
}
"""What is done with the referrer, and how browsers are told (W3C Referrer Policy)."""
_SAFE = "!$&'()*+,;=:@/?-._~%"
PATIENCE_S, AT_MOST_S, REST_S = 0.2, 10.0, 1.0
"""How long a click waits for news of a link that led somewhere before, and of one that is not known yet; how long
nobody asks again after links could not be read."""
MOST_ASKED = 1_000
"""Codes that are looked for at a time."""


@dataclass(frozen=True)
class Target:
    """Where a short link leads, and the workspace it belongs to. `rest` names the parameter that what follows the code
    fills."""

    code: str
    url: str
    referrer: str
    workspace: str = ""
    rest: str = ""

    @property
    def policy(self) -> str:
        """The header that tells the browser."""
        return POLICY[EARLIER_REFERRERS.get(self.referrer, self.referrer)]

    def shown(self, referrer: str) -> str:
        """As much of a referrer as may be kept."""
        rule = EARLIER_REFERRERS.get(self.referrer, self.referrer)
        if rule == "none":
            return ""
        return host_of(referrer) if rule == "host" else referrer

    def called_with(self, query: str, rest: str = "") -> Target:
        """The same with the raw query it was called with passed on, so that an ad platform can fill slots there.

        Parameters
        ----------
        query : as it came, undecoded
        rest : what followed the code, decoded; it goes into the link's chosen extra value
        """
        url = written_out(self.url)
        if rest and self.rest:
            url = build(url, [(self.rest, rest)]).url
        if not query:
            return replace(self, url=url)
        base, own, fragment = split_address(url)
        # Only what may stand in a query goes on, so that nobody can break out of the header.
        passed = quote(query, safe=_SAFE)
        url = f"{base}?{own + '&' if own else ''}{passed}" + (f"#{fragment}" if fragment else "")
        return replace(self, url=url)


class ShortLinks:
    """Where the short links of a workspace lead. Kept in memory, read anew after every change of sheet or plan, and
    written to disk, so that they lead on while the database has not been reached yet.

    Parameters
    ----------
    desk : the workspace
    """

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._file = _folder(desk.home) / f"{desk.name}.json"
        self._file.parent.mkdir(parents=True, exist_ok=True)
        self._targets = self._from_disk(self._file, desk.name)
        self._resting_until = 0.0
        self.stale = True

    def forget(self) -> None:
        """Read the sheet anew at the next click."""
        self.stale = True
        self._resting_until = 0.0

    @property
    def settled(self) -> bool:
        """Whether no news is to be had now: nothing changed, or it could not be read a moment ago."""
        return not self.stale or time.monotonic() < self._resting_until

    def target(self, code: str) -> Target | None:
        """Where a code leads; None if there is no such short link as far as is known."""
        return (self._targets or {}).get(code)

    def renew(self) -> bool:
        """Read the sheet anew if it changed; whether that is done. Otherwise links lead where they led last."""
        if not self.stale:
            return True
        # Taken back before reading: what changes meanwhile is read at the next click.
        self.stale = False
        try:
            found = self._read()
        except Exception as problem:  # a workspace that cannot be read holds up nobody
            self.stale = True
            self._resting_until = time.monotonic() + REST_S
            if not isinstance(problem, AWAY):
                _say(f"the short links of {self._desk.name} cannot be read again: {problem}")
            return False
        if found != self._targets:
            self._to_disk(found)
        self._targets = found
        return True

    def _read(self) -> dict[str, Target]:
        """It waits for nothing that only findings need: a visitor must not wait until all arrivals were read."""
        desk, workspace = self._desk, self._desk.workspace
        with desk.engine.connect() as connection:
            rows = rows_after(connection, workspace, last_change(connection, workspace))
            plan = desk.kept_plan(connection).plan
        maker, general = LinkMaker(Checker(plan), plan), plan.linking.referrer
        out: dict[str, Target] = {}
        own = {fold(name): name for name in (*plan.reading.extra_values, *plan.reading.tag_parameters)}
        for row in rows:
            code, url = row.cells.get("short", ""), ""
            if code and code not in out:
                url = maker.address(row.cells)
            if url and not url.startswith("/"):
                named = row.cells.get("campaign", "")
                campaign = plan.campaign_of(named) if named else None
                near = row.cells.get("referrer", "") or (campaign.referrer if campaign else "")
                near = EARLIER_REFERRERS.get(near, near)
                rest = own.get(fold(row.cells.get("rest", "")), "")
                out[code] = Target(code, url, near if near in POLICY else general, desk.name, rest)
        return out

    def _to_disk(self, targets: dict[str, Target]) -> None:
        try:
            write_whole(self._file, json.dumps([asdict(t) for t in targets.values()]).encode())
        except OSError:
            # The links in memory lead on; what stands on disk is older, never wrong in form.
            return

    @staticmethod
    def _from_disk(file: Path, workspace: str) -> dict[str, Target] | None:
        content = read_whole(file)
        if content is None:
            return None
        try:
            return {t["code"]: Target(**t | {"workspace": workspace}) for t in json.loads(content)}
        except (ValueError, TypeError, KeyError):
            # Of another version: read anew from the sheet.
            return None


class AllShortLinks:
    """The short links of all workspaces of the instance.

    Parameters
    ----------
    engine : the database; nobody else uses these connections
    home : the app's data folder
    clock : see `Desk`
    """

    def __init__(self, engine: Engine, home: Path, clock: Callable[[], int] = now) -> None:
        self._engine, self._home, self._clock = engine, home, clock
        self._of = {file.stem: ShortLinks(self._desk(file.stem)) for file in sorted(_folder(home).glob("*.json"))}
        self._thread = ThreadPoolExecutor(1, thread_name_prefix="short links")
        self._asked: dict[str, Future[bool]] = {}
        self._lock = threading.Lock()

    def forget(self, workspace: str) -> None:
        """The sheet or the plan of a workspace changed: its links are read anew at the next click."""
        links = self._of.get(workspace)
        if links is not None:
            links.forget()

    def at_hand(self, code: str) -> Target | None:
        """Where a code leads, if that is known for sure, or as sure as it can be now, without waiting."""
        for links in tuple(self._of.values()):
            target = links.target(code)
            if target is not None and links.settled:
                return target
        return None

    async def look_up(self, code: str) -> tuple[Target | None, bool]:
        """Where a code leads, after reading anew what changed, if that is quick; and whether that is so."""
        if "\x00" in code or not code.isascii():
            return None, True
        old = self._known(code)
        try:
            sure = await asyncio.wait_for(self._news_of(code), PATIENCE_S if old else AT_MOST_S)
        except TimeoutError:
            return old, old is not None
        found = self._known(code)
        return found, sure or found is not None

    async def _news_of(self, code: str) -> bool:
        """Wait until a code was looked for; whether it is known now where it leads."""
        joined = code in self._asked
        asked = self._ask(code)
        if asked is None:
            return False
        sure = await asyncio.shield(asyncio.wrap_future(asked))
        # What others had asked before may have been read before the latest change.
        again = self._ask(code) if joined and self.at_hand(code) is None else None
        return sure if again is None else await asyncio.shield(asyncio.wrap_future(again))

    def close(self) -> None:
        """Read nothing any more."""
        self._thread.shutdown(wait=True, cancel_futures=True)
        self._engine.dispose()

    def _desk(self, name: str) -> Desk:
        return Desk(self._engine, self._home, name, self._clock)

    def _known(self, code: str) -> Target | None:
        return next((t for links in tuple(self._of.values()) if (t := links.target(code)) is not None), None)

    def _ask(self, code: str) -> Future[bool] | None:
        """Have a code looked for, once however many wait for it; None if too many are."""
        with self._lock:
            if code not in self._asked and len(self._asked) >= MOST_ASKED:
                return None
            if code not in self._asked:
                self._asked[code] = self._thread.submit(self._find, code)
            return self._asked[code]

    def _find(self, code: str) -> bool:
        """Read anew the links of the workspace that has a code; whether it is known now where the code leads."""
        try:
            with self._engine.connect() as connection:
                owner = owner_of(connection, code)
            if owner is None:
                return True
            if owner not in self._of:
                self._of[owner] = ShortLinks(self._desk(owner))
            return self._of[owner].renew()
        except Exception as problem:  # whatever it is, the thread goes on
            if not isinstance(problem, AWAY):
                _say(f"the short link {code[:60]!r} cannot be looked up: {problem}")
            return False
        finally:
            with self._lock:
                self._asked.pop(code, None)


def _folder(home: Path) -> Path:
    return home / "short-links"


def _say(text: str) -> None:
    with suppress(OSError, ValueError):
        print(text, file=sys.stderr, flush=True)
