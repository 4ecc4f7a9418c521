"""Placing: where each link is, and what its arrivals say. No field sets a state past *placed*."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from zoneinfo import ZoneInfo

from yardstick.core.base.days import day_number, day_text
from yardstick.core.base.words import Slots, fold
from yardstick.core.links.links import store_of
from yardstick.core.links.placing import Deviation, Seen, state_of, verdict
from yardstick.core.plan.link_records import Place
from yardstick.core.plan.records import DRAFT
from yardstick.core.reading.arrivals import reader_of
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
    first, last : days of the first and last arrival; of the clicks, where nothing else can be counted
    draft : its campaign is a draft, so that it is not to be placed
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
    draft: bool
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

    def links(self) -> list[PlacedLink]:
        """Every link of the sheet that has an address, in order."""
        plan = self._desk.plan()
        reading = plan.reading
        rows = [row for row in self._sheets.read().rows if row.url]
        arrived = self._sheets.arrivals.under(reading)
        book, until = arrived.book, arrived.until
        read = reader_of(reading)
        readings = [read(row.url) for row in rows]
        known = {book.key(r) for r in readings} if book else set()
        with self._desk.engine.connect() as connection:
            of_codes = clicks_by_code(connection, self._desk.workspace, reading.test_parameter)
            clicks = {c.code: c for c in of_codes}
        places = {fold(p.name): p for p in plan.linking.places}
        zone = ZoneInfo(reading.time_zone)
        today = day_number(self._desk.today(reading.time_zone))
        out = []
        for row, read_as in zip(rows, readings, strict=True):
            named = row.cells.get("campaign", "")
            campaign = plan.campaign_of(named) if named else None
            place = places.get(fold(row.cells.get("placement", "")), Place(""))
            visits = book.seen(read_as) if book else None
            clicked = clicks.get(row.cells.get("short", ""))
            only_clicks = store_of(row.url, plan.linking.stores) is not None
            seen, number, newest, gathered = visits, 0, until, True
            if clicked is not None:
                first, last = (day_number(at.astimezone(zone).date()) for at in (clicked.first, clicked.last))
                number, gathered = clicked.clicks, book is not None and first <= until
                if only_clicks:
                    seen, newest = Seen(clicked.clicks, first, last), max(until, last)
            deviations = book.deviations(read_as, known) if book else ()
            ends = day_number(campaign.ends) if campaign and campaign.ends else None
            out.append(
                PlacedLink(
                    key=row.key,
                    campaign=campaign.shown if campaign else named,
                    url=row.url,
                    short=row.cells.get("short", ""),
                    placement=row.cells.get("placement", ""),
                    box=row.cells.get("box") or place.box,
                    leave=place.leave,
                    placed_on=row.cells.get("placed_on", ""),
                    placed_by=row.cells.get("placed_by") or place.asked_by,
                    state=state_of(_day(row.cells.get("placed_on")), ends, seen, today, newest),
                    visits=visits.visits if visits else 0,
                    clicks=number,
                    first=day_text(seen.first) if seen else "",
                    last=day_text(seen.last) if seen else "",
                    draft=campaign is not None and campaign.state == DRAFT,
                    verdict=verdict(seen, deviations, number, gathered, only_clicks),
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
        reading = self._desk.plan().reading
        return visit(row.url, self.resolve, Slots(reading.slot_pairs), test_parameter=reading.test_parameter)

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


def _day(text: str | None) -> int | None:
    try:
        return day_number(date.fromisoformat(text)) if text else None
    except ValueError:
        return None
