"""Placing: where each link is, and what its arrivals say. No field sets a state past *placed*."""

from __future__ import annotations

import threading
from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from zoneinfo import ZoneInfo

from yardstick.core.arrivals import read_arrivals
from yardstick.core.days import day_number, day_text, local_days
from yardstick.core.placing import ArrivalBook, Deviation, Seen, state_of, verdict
from yardstick.core.settings import Settings
from yardstick.core.tables import CLICK
from yardstick.core.tags import reader
from yardstick.core.words import Slots, fold
from yardstick.formats.plan_document import Document
from yardstick.store.clicks import clicks_by_code

from .desk import Desk
from .gather import NotFound
from .mark import SheetRow, Sheets
from .test_visit import Visit, visit


@dataclass(frozen=True)
class PlacedLink:
    """A link, its place, its state and what arrived.

    Attributes
    ----------
    campaign : its plain name
    placement, box, leave : where it is, which box there takes it, what to leave alone
    placed_on, placed_by : since when, by whom
    state : one of `core.placing.STATES`
    visits, clicks : arrivals with exactly its tags; clicks on its short link
    first, last : days of the first and last of both
    """

    key: str
    campaign: str
    url: str
    short: str
    placement: str
    box: str
    leave: str
    placed_on: str
    placed_by: str
    state: str
    visits: int
    clicks: int
    first: str
    last: str
    verdict: str
    deviations: tuple[Deviation, ...]


class Placing:
    """Answers where links are.

    Parameters
    ----------
    desk, sheets : the workspace
    resolve : host -> host:port for test visits, where a stand-in takes a host's place
    """

    def __init__(self, desk: Desk, sheets: Sheets, resolve: Mapping[str, str]) -> None:
        self._desk, self._sheets, self.resolve = desk, sheets, resolve
        self._lock = threading.Lock()
        self._book: tuple[tuple[str, Settings], ArrivalBook, int] | None = None

    def links(self) -> list[PlacedLink]:
        """Every link of the sheet that has an address, in order."""
        document = Document(self._sheets.plan_text())
        settings = document.settings()
        rows = [row for row in self._sheets.read().rows if row.url]
        book, until = self._arrivals(settings)
        read = reader(settings.click_marks, settings.extra_values, Slots(settings.slot_pairs))
        readings = [read(row.url) for row in rows]
        known = {book.key(r) for r in readings} if book else set()
        with self._desk.engine.connect() as connection:
            clicks = {c.code: c for c in clicks_by_code(connection, self._desk.workspace)}
        campaigns = {}
        for record in document.records("campaign"):
            for name in (record["name"], record.get("code", ""), record.get("plain_name", "")):
                campaigns[fold(name)] = record
        places = {fold(p["name"]): p for p in document.records("place")}
        zone = ZoneInfo(settings.time_zone)
        today = day_number(self._desk.today(settings.time_zone))
        out = []
        for row, reading in zip(rows, readings, strict=True):
            campaign = campaigns.get(fold(row.cells.get("campaign", "")), {})
            place = places.get(fold(row.cells.get("placement", "")), {})
            visits = book.seen(reading) if book else None
            clicked = clicks.get(row.cells.get("short", ""))
            seen, number, newest = visits, 0, until
            if clicked is not None:
                first, last = (day_number(at.astimezone(zone).date()) for at in (clicked.first, clicked.last))
                seen, number = Seen(clicked.clicks, first, last).and_also(visits), clicked.clicks
                newest = max(until, last)
            deviations = book.deviations(reading, known) if book else ()
            out.append(
                PlacedLink(
                    key=row.key,
                    campaign=campaign.get("plain_name") or campaign.get("name") or row.cells.get("campaign", ""),
                    url=row.url,
                    short=row.cells.get("short", ""),
                    placement=row.cells.get("placement", ""),
                    box=row.cells.get("box") or place.get("box", ""),
                    leave=place.get("leave", ""),
                    placed_on=row.cells.get("placed_on", ""),
                    placed_by=row.cells.get("placed_by") or place.get("asked_by", ""),
                    state=state_of(_day(row.cells.get("placed_on")), _day(campaign.get("ends")), seen, today, newest),
                    visits=visits.visits if visits else 0,
                    clicks=number,
                    first=day_text(seen.first) if seen else "",
                    last=day_text(seen.last) if seen else "",
                    verdict=verdict(seen, deviations),
                    deviations=deviations,
                )
            )
        return out

    def test_visit(self, key: str) -> Visit:
        """Open a link over a real socket and compare what arrives.

        Raises
        ------
        NotFound
            If there is no such link.
        """
        row = self.row(key)
        settings = Document(self._sheets.plan_text()).settings()
        return visit(row.url, self.resolve, Slots(settings.slot_pairs))

    def row(self, key: str) -> SheetRow:
        """A row of the sheet that has an address.

        Raises
        ------
        NotFound
            If there is none.
        """
        row = next((r for r in self._sheets.read().rows if r.key == key), None)
        if row is None or not row.url:
            raise NotFound("there is no such link, or it has no address yet: look at the sheet again")
        return row

    def _arrivals(self, settings: Settings) -> tuple[ArrivalBook | None, int]:
        current = self._desk.snapshots.current()
        if current is None or not current.change:
            return None, day_number(self._desk.today(settings.time_zone))
        with self._lock:
            key = (current.data, settings)
            if self._book is None or self._book[0] != key:
                visits = self._desk.snapshots.read(current.data).visits
                day = local_days(visits.ints("occurred_at"), settings.time_zone)
                counts = (visits.ints("kind") == CLICK) & ~visits.flags("is_test")
                codes = {c.code: c.name for c in settings.campaigns if c.code}
                book = ArrivalBook(read_arrivals(visits, settings), counts, day, settings.fold, codes)
                until = int(day.max()) if len(day) else day_number(self._desk.today(settings.time_zone))
                self._book = (key, book, until)
            return self._book[1], self._book[2]


def _day(text: str | None) -> int | None:
    try:
        return day_number(date.fromisoformat(text)) if text else None
    except ValueError:
        return None
