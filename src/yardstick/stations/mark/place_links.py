"""Placing: where each link is, and what its arrivals say. No field sets a state past *placed*."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, fields, replace
from datetime import date
from zoneinfo import ZoneInfo

from yardstick.core.base.day_numbers import day_number, day_text
from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import Slots, fold
from yardstick.core.links.addresses import as_browsers_read, is_of_this_machine, why_not_opened
from yardstick.core.links.link_states import LinkCause, LinkState
from yardstick.core.links.links import store_of
from yardstick.core.links.placing import Deviation, Seen, cause_of, shared_fault, state_of, verdict
from yardstick.core.plan.campaign_records import DRAFT
from yardstick.core.plan.linking_phase import Place
from yardstick.core.plan.plan import Plan
from yardstick.core.reading.arrivals import reader_of
from yardstick.core.reading.hosts import host_matcher
from yardstick.core.reading.tags import host_of, split_address
from yardstick.formats.results.sheets import write_table
from yardstick.store.clicks import clicks_by_code

from ..workspace.desk import Desk
from ..workspace.refusals import NotFound
from .edit_sheet import SheetRow, Sheets
from .visit_link import Compared, Visit, compare, visit

LINK_STATE_WORDS = {
    LinkState.PLANNED: "planned",
    LinkState.PLACED: "placed",
    LinkState.NONE_YET: "none yet",
    LinkState.ARRIVING: "arriving",
    LinkState.QUIET: "quiet",
    LinkState.ENDED: "ended",
}
"""States of links as they are shown."""
_FAULT_WORDS = {
    LinkCause.DRAFT: "placed, though the campaign is a draft",
    LinkCause.CLICKED: "clicked, but none arrived",
    LinkCause.QUIET: "quiet",
    LinkCause.LATE: "late",
    LinkCause.NONE_YET: "none yet",
}


@dataclass(frozen=True)
class PlacedLink:
    """A link, its place, its state and what arrived.

    Attributes
    ----------
    campaign : its plain name
    placement, box, leave : where it is, which box there takes it, what to leave alone
    placed_on, placed_by : since when, by whom
    state : where it stands
    visits, clicks : arrivals with exactly its tags; clicks on its short link
    first, last : days of the first and last arrival; of the clicks, where nothing else can be counted
    draft : its campaign is a draft, so that it is not to be placed
    mender : who must mend it: whoever placed it, else the owner of its campaign
    due, late : the day by which first visits must have come, and whether it has passed without any
    weeks : arrivals in each of 13 weeks up to the last day there is
    cause, fault : what is wrong with where it stands, in words that links with the same fault share; None, empty where
        nothing is
    withheld : why its address must not go out to others; empty if it may
    is_wrong : whether the check-up finds an error in it
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
    state: LinkState
    visits: int
    clicks: int
    first: str
    last: str
    draft: bool
    mender: str
    due: str
    late: bool
    verdict: str
    deviations: tuple[Deviation, ...]
    weeks: tuple[int, ...] = ()
    cause: LinkCause | None = None
    fault: str = ""
    withheld: str = ""
    is_wrong: bool = False


@dataclass(frozen=True)
class Landed:
    """An address one landed at, beside the link it came from.

    Attributes
    ----------
    key, url : of the link
    fields : what became of each of its parameters
    problems : what is wrong with where one landed
    """

    key: str
    url: str
    fields: tuple[Compared, ...]
    problems: tuple[str, ...]


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
        arrived = self._desk.arrivals.under(reading)
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
            # What arrives otherwise is nothing that a link did which stands nowhere yet.
            is_out = bool(row.cells.get("placed_on") or number or visits)
            deviations = book.deviations(read_as, known) if book and is_out else ()
            ends = day_number(campaign.ends) if campaign and campaign.ends else None
            state = state_of(_day(row.cells.get("placed_on")), ends, seen, today, newest)
            late = seen is None and (_day(row.cells.get("due")) or today) < today
            draft = campaign is not None and campaign.state == DRAFT
            cause = cause_of(state, late=late, draft=draft, deviations=deviations, clicks=number, seen=seen)
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
                    state=state,
                    visits=visits.visits if visits else 0,
                    clicks=number,
                    first=day_text(seen.first) if seen else "",
                    last=day_text(seen.last) if seen else "",
                    mender=row.cells.get("placed_by") or place.asked_by or (campaign.owner if campaign else ""),
                    due=row.cells.get("due", ""),
                    late=late,
                    draft=draft,
                    verdict=verdict(seen, deviations, number, gathered, only_clicks),
                    deviations=deviations,
                    weeks=book.weeks(read_as) if book else (),
                    cause=cause,
                    fault=fault_words(cause, deviations),
                    withheld=why_withheld(row.url, plan),
                    is_wrong=any(finding.level == "error" for finding in row.findings),
                )
            )
        return _said_once(out)

    def test_visit(self, key: str) -> Visit:
        """Open a link over a real socket and compare what arrives.

        Raises
        ------
        NotFound
            If there is no such link.
        """
        row = self.row(key)
        plan = self._desk.plan()
        reading = plan.reading
        store = store_of(row.url, plan.linking.stores)
        if store is not None and store.scheme:
            raise SettingsError("an app opens this address: no test visit can, only clicks are counted there")
        return visit(
            row.url,
            self.resolve,
            Slots(reading.slot_pairs),
            test_parameter=reading.test_parameter,
            ours=ends_well(plan),
        )

    def landed(self, url: str) -> Landed:
        """The link that led to an address one landed at, and what became of it on the way.

        Raises
        ------
        SettingsError
            If it is no address.
        NotFound
            If no link of the sheet has any of its tags.
        """
        plan = self._desk.plan()
        at = as_browsers_read(url)
        problem = why_not_opened(at)
        if problem:
            raise SettingsError(f"{url[:80]}: {problem}")
        read = reader_of(plan.reading)
        came, same = read(at), plan.reading.names.same
        carried = {(name, same(value)) for name, value in came.values().items() if value}
        best: tuple[int, bool, int] = (0, False, 0)
        found: SheetRow | None = None
        for number, row in enumerate(self._sheets.read().rows):
            link = read(row.url) if row.url else None
            if link is not None:
                stated = {(name, same(value)) for name, value in link.values().items() if value}
                score = (len(stated & carried), link.page == came.page, -number)
                if score > best and score[0]:
                    best, found = score, row
        if found is None:
            raise NotFound("no link of the sheet has any of its tags: it came from none of them, or lost them all")
        compared = compare(found.url, at, Slots(plan.reading.slot_pairs), None, plan.reading.test_parameter)
        problems = []
        if not ends_well(plan)(host_of(at)):
            problems.append(f"{host_of(at)} is not one of your hosts: its visits would not be seen")
        if split_address(found.url)[0].rstrip("/") != split_address(at)[0].rstrip("/"):
            problems.append(f"the link leads to {split_address(found.url)[0]}, you landed at {split_address(at)[0]}")
        return Landed(found.key, found.url, compared, tuple(problems))

    def file(self, kind: str) -> bytes:
        """Every link with its place, its state and its arrivals as a file."""
        names = [
            f.name for f in fields(PlacedLink) if f.name not in ("key", "deviations", "weeks", "cause", "is_wrong")
        ]
        lines = [[_as_cell(getattr(link, name)) for name in names] for link in self.links()]
        return write_table(kind, names, lines)

    def row(self, key: str) -> SheetRow:
        """A row of the sheet that has an address.

        Raises
        ------
        NotFound
            If there is none.
        """
        row = next((r for r in self._sheets.read().rows if r.key == key), None)
        if row is None or not row.url:
            raise NotFound("there is no such link, or it has no address yet: reload the sheet")
        return row


def fault_words(cause: LinkCause | None, deviations: tuple[Deviation, ...]) -> str:
    """What is wrong with where a link stands, in words that links with the same fault share; empty where nothing is."""
    if cause == LinkCause.ANOTHER:
        return f"another {deviations[0].field} arrives"
    return _FAULT_WORDS[cause] if cause else ""


def _said_once(links: list[PlacedLink]) -> list[PlacedLink]:
    """Links with the faults of their campaigns in one set of words: what arrives under one wrong tag is no more the
    fault of one of its links than of the others."""
    alike: dict[tuple[str, str, str], list[PlacedLink]] = {}
    for link in links:
        if link.campaign and link.cause == LinkCause.ANOTHER:
            first = link.deviations[0]
            alike.setdefault((link.campaign, first.field, first.arrived), []).append(link)
    fault_by_key = {
        link.key: shared_fault(campaign, field, arrived, len(of), of[0].deviations[0].visits)
        for (campaign, field, arrived), of in alike.items()
        if len(of) > 1
        for link in of
    }
    return [replace(link, fault=fault_by_key.get(link.key, link.fault)) for link in links]


def ends_well(plan: Plan) -> Callable[[str], bool]:
    """Tells whether a host is one where links may end: our own, or a store of the plan."""
    ours = host_matcher([*plan.reading.own_hosts, *(s.host for s in plan.linking.stores if s.host)])
    return ours if plan.reading.own_hosts else lambda _: True


def why_withheld(url: str, plan: Plan) -> str:
    """Why an address must not stand on a sheet for others; empty if it may. Whoever places it cannot tell."""
    host = host_of(url)
    if is_of_this_machine(host):
        return f"it leads to {host}, which nobody else can open: correct its page"
    if host and not ends_well(plan)(host):
        return f"it leads to {host}, which is not one of your hosts: correct its page, or name the host in Plan"
    return ""


def _as_cell(value: object) -> str:
    if isinstance(value, LinkState):
        return LINK_STATE_WORDS[value]
    return ("yes" if value else "") if isinstance(value, bool) else str(value)


def _day(text: str | None) -> int | None:
    try:
        return day_number(date.fromisoformat(text)) if text else None
    except ValueError:
        return None
