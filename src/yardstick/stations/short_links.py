"""Short links of the sheet: where each leads, and what of the referrer goes on with the visitor."""

from __future__ import annotations

import threading
from dataclasses import dataclass
from urllib.parse import quote

from yardstick.core.tags import host_of, split_address
from yardstick.core.words import fold
from yardstick.formats.plan_document import Document
from yardstick.store.database import AWAY

from .mark import Sheets

POLICY = {"pass on": "unsafe-url", "host only": "origin", "withhold": "no-referrer"}
"""What is done with the referrer, and how browsers are told (W3C Referrer Policy)."""
USUAL = "pass on"
_SAFE = "!$&'()*+,;=:@/?-._~%"


@dataclass(frozen=True)
class Target:
    """Where a short link leads."""

    code: str
    url: str
    referrer: str

    @property
    def policy(self) -> str:
        """The header that tells the browser."""
        return POLICY[self.referrer]

    def shown(self, referrer: str) -> str:
        """As much of a referrer as may be kept."""
        if self.referrer == "withhold":
            return ""
        return host_of(referrer) if self.referrer == "host only" else referrer


class ShortLinks:
    """Where the short links of a workspace lead. Kept in memory, read anew after every change of sheet or plan.

    Parameters
    ----------
    sheets : the link sheet
    """

    def __init__(self, sheets: Sheets) -> None:
        self._sheets = sheets
        self._targets: dict[str, Target] = {}
        self._stale = True
        self._lock = threading.Lock()
        sheets.when_changed(self.forget)

    def forget(self) -> None:
        """Read the sheet anew at the next click."""
        self._stale = True

    def target(self, code: str, query: str = "") -> Target | None:
        """Where a code leads; None if there is no such short link.

        Parameters
        ----------
        code : ending of the short link
        query : the raw query it was called with; it is passed on, so that an ad platform can fill slots there
        """
        if self._stale:
            with self._lock:
                self._refresh()
        found = self._targets.get(code)
        if found is None or not query:
            return found
        base, own, fragment = split_address(found.url)
        # Only what may stand in a query goes on, so that nobody can break out of the header.
        passed = quote(query, safe=_SAFE)
        url = f"{base}?{own + '&' if own else ''}{passed}" + (f"#{fragment}" if fragment else "")
        return Target(found.code, url, found.referrer)

    def _refresh(self) -> None:
        # Taken back before reading: what changes meanwhile is read at the next click.
        self._stale = False
        try:
            self._targets = self._read()
        except AWAY:
            # Visitors are sent where the links led last, until the database is back.
            self._stale = True

    def _read(self) -> dict[str, Target]:
        sheet, document = self._sheets.read(), Document(self._sheets.plan_text())
        general = document.general().get("referrer", USUAL)
        by_campaign = {}
        for campaign in document.records("campaign"):
            for name in (campaign["name"], campaign.get("code", ""), campaign.get("plain_name", "")):
                by_campaign[fold(name)] = campaign.get("referrer", "")
        out: dict[str, Target] = {}
        for row in sheet.rows:
            code, url = row.cells.get("short", ""), row.url
            if code and host_of(url) and code not in out:
                near = row.cells.get("referrer", "") or by_campaign.get(fold(row.cells.get("campaign", "")), "")
                out[code] = Target(code, url, near if near in POLICY else general)
        return out
