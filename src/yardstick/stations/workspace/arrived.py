"""What arrived at links, worked out once per state of the data and way of reading."""

from __future__ import annotations

import threading
from dataclasses import dataclass
from typing import TYPE_CHECKING

from yardstick.core.base.day_numbers import day_number
from yardstick.core.base.days import local_days
from yardstick.core.base.schema import CLICK
from yardstick.core.base.tables import empty_table
from yardstick.core.links.placing import ArrivalBook
from yardstick.core.plan.reading_phase import Reading
from yardstick.core.reading.arrivals import read_arrivals
from yardstick.core.trails.quarantine import quarantined_visits

if TYPE_CHECKING:
    from .desk import Desk


@dataclass(frozen=True)
class Arrived:
    """Real arrivals of a workspace.

    Attributes
    ----------
    data : fingerprint of the rows; empty if there are none
    book : arrivals by the tags they carry
    until : the last day of which arrivals are known
    """

    data: str
    book: ArrivalBook | None
    until: int


class LinkArrivals:
    """Tells what arrived in one workspace."""

    def __init__(self, desk: Desk) -> None:
        self._desk = desk
        self._lock = threading.Lock()
        self._kept: tuple[tuple[str, Reading], Arrived] | None = None

    def state(self) -> str:
        """The state of the data it is asked on; empty if there is none."""
        current = self._desk.snapshots.current()
        return current.data if current is not None and current.change else ""

    def under(self, reading: Reading) -> Arrived:
        """What arrived, read by a plan. Test records are none (R9)."""
        data = self.state()
        if not data:
            return Arrived("", None, day_number(self._desk.today(reading.time_zone)))
        with self._lock:
            if self._kept is None or self._kept[0] != (data, reading):
                tables = self._desk.tables()
                visits = tables.visits if tables else empty_table("visits")
                day = local_days(visits.ints("occurred_at"), reading.time_zone)
                arrivals = read_arrivals(visits, reading)
                counts = (visits.ints("kind") == CLICK) & ~quarantined_visits(visits, arrivals, reading)
                book = ArrivalBook(arrivals, counts, day, reading.names)
                until = int(day.max()) if len(day) else day_number(self._desk.today(reading.time_zone))
                self._kept = ((data, reading), Arrived(data, book, until))
            return self._kept[1]
