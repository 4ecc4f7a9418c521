"""Short links of the sheet: where each leads, and what of the referrer goes on with the visitor."""

from __future__ import annotations

import json
import threading
from collections.abc import Callable
from dataclasses import asdict, dataclass, replace
from pathlib import Path
from urllib.parse import quote

from yardstick.core.base.words import fold
from yardstick.core.links.addresses import build, written_out
from yardstick.core.plan.link_records import AS_BROWSERS, EARLIER_REFERRERS
from yardstick.core.reading.tags import host_of, split_address
from yardstick.store.database import AWAY
from yardstick.store.whole_files import read_whole, write_whole

from .desk import Desk
from .mark import Sheets

POLICY = {
    AS_BROWSERS: "strict-origin-when-cross-origin",
    "whole": "unsafe-url",
    "host": "origin",
    "none": "no-referrer",
}
"""What is done with the referrer, and how browsers are told (W3C Referrer Policy)."""
_SAFE = "!$&'()*+,;=:@/?-._~%"


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
    desk, sheets : the workspace
    """

    def __init__(self, desk: Desk, sheets: Sheets) -> None:
        self._desk, self._sheets = desk, sheets
        self._file = desk.home / "short-links" / f"{desk.name}.json"
        self._file.parent.mkdir(parents=True, exist_ok=True)
        self._targets = self._from_disk(self._file, desk.name)
        self._lock = threading.Lock()
        self.stale = True
        sheets.when_changed(self.forget)

    @property
    def known(self) -> bool:
        """Whether the links were read at all, from the database or from disk."""
        return self._targets is not None

    def forget(self) -> None:
        """Read the sheet anew at the next click."""
        self.stale = True

    def target(self, code: str) -> Target | None:
        """Where a code leads; None if there is no such short link as far as is known."""
        return (self._targets or {}).get(code)

    def renew(self) -> None:
        """Read the sheet anew if it changed. While the database is away links lead where they led last."""
        with self._lock:
            if not self.stale:
                return
            # Taken back before reading: what changes meanwhile is read at the next click.
            self.stale = False
            try:
                found = self._read()
            except AWAY:
                self.stale = True
                return
            if found != self._targets:
                self._to_disk(found)
            self._targets = found

    def _read(self) -> dict[str, Target]:
        links, plan = self._sheets.addresses(), self._desk.plan()
        general = plan.linking.referrer
        out: dict[str, Target] = {}
        own = {fold(name): name for name in (*plan.reading.extra_values, *plan.reading.tag_parameters)}
        for cells, url in links:
            code = cells.get("short", "")
            if code and url and not url.startswith("/") and code not in out:
                named = cells.get("campaign", "")
                campaign = plan.campaign_of(named) if named else None
                near = cells.get("referrer", "") or (campaign.referrer if campaign else "")
                near = EARLIER_REFERRERS.get(near, near)
                rest = own.get(fold(cells.get("rest", "")), "")
                out[code] = Target(code, url, near if near in POLICY else general, self._desk.name, rest)
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
        return {t["code"]: Target(**t | {"workspace": workspace}) for t in json.loads(content)}


class AllShortLinks:
    """The short links of all workspaces of the instance.

    Parameters
    ----------
    every : gives the short links of each workspace
    opened : the same without waiting for anything; None if that cannot be
    """

    def __init__(self, every: Callable[[], list[ShortLinks]], opened: Callable[[], list[ShortLinks] | None]) -> None:
        self._every, self._opened = every, opened

    def at_hand(self, code: str) -> Target | None:
        """Where a code leads, if that can be said without asking the database."""
        every = self._opened()
        if every is None or any(links.stale for links in every):
            return None
        return next((t for links in every if (t := links.target(code)) is not None), None)

    def look_up(self, code: str) -> tuple[Target | None, bool]:
        """Where a code leads, after reading anew what changed; and whether all links are known."""
        every = self._every()
        for links in every:
            links.renew()
        found = next((t for links in every if (t := links.target(code)) is not None), None)
        return found, bool(every) and all(links.known for links in every)
