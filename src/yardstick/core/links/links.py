"""Links of the sheet: from the cells of a row to its address, with all that will go wrong with it."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from urllib.parse import urlsplit

from ..base.words import collapse, fold
from ..plan.campaign_records import DRAFT, Campaign
from ..plan.linking_phase import EARLIER_REFERRERS, REFERRERS, Store
from ..plan.plan import Plan
from ..reading.hosts import host_matcher
from ..reading.tags import FIELDS, host_of, parameter_of, parameters, split_address
from .addresses import Built, LinkFinding, as_browsers_read, build, too_long, why_not_opened
from .checked_query import why_required
from .checkup import Checker

PLACING = ("placement", "box", "placed_on", "placed_by", "due")
PRICE = ("price", "price_from", "price_to")
CELLS = (
    "page",
    "campaign",
    "source",
    "medium",
    "term",
    "content",
    "id",
    *PLACING,
    *PRICE,
    "short",
    "rest",
    "referrer",
    "shared",
    "note",
)
"""Columns of the sheet, before the workspace's extra values."""
HELD = "placed as"
"""Cell, but no column, of a row whose link has gone out: its address as it left. No later change of the plan or
of the row makes another of it; people may say that it is placed anew."""
OTHERWISE = "made_otherwise"
CODES: dict[str, str] = {
    "no_page": "error",
    "same_address": "error",
    "same_name": "error",
    "bad_price": "error",
    "bad_day": "error",
    "bad_short_code": "error",
    "bad_rest": "error",
    "bad_referrer": "error",
    "short_code_taken": "error",
    "store_id": "error",
    OTHERWISE: "warning",
    "only_clicks": "note",
    "shared_address": "note",
    "missing_slash": "warning",
    "draft_campaign": "warning",
}
"""Findings of the sheet besides those of the check-up."""
_SHORT = re.compile(r"[A-Za-z0-9][A-Za-z0-9_-]{0,39}")
_PRICE = re.compile(r"\d{1,9}(\.\d{1,6})?")
_DAY = re.compile(r"\d{4}-(0[1-9]|1[0-2])-(0[1-9]|[12]\d|3[01])")
_REVERSE_DOMAIN = re.compile(r"[A-Za-z][A-Za-z0-9_]*(\.[A-Za-z][A-Za-z0-9_]*)+")

Cells = Mapping[str, str]


@dataclass(frozen=True)
class Link:
    """A row of the sheet made into an address. `url` is empty where none can be made; findings worst first."""

    url: str
    findings: tuple[LinkFinding, ...]


@dataclass(frozen=True)
class _LinkDraft:
    """A row on its way to an address: its cells, the values that go into the address, why there is none."""

    cell: dict[str, str]
    values: dict[str, str]
    page: str
    problem: str
    slash_added: bool
    store: Store | None
    campaign: Campaign | None
    built: Built


class LinkMaker:
    """Makes addresses of rows.

    Parameters
    ----------
    checker : of the workspace
    plan : campaigns, pages, places, stores, and the extra values that are further columns
    """

    def __init__(
        self,
        checker: Checker,
        plan: Plan,
    ) -> None:
        self._checker, self._plan = checker, plan
        pages = plan.reading.pages
        self._pages = {fold(page.name): page.address for page in pages}
        self._slashed = {page.address for page in pages if page.address.endswith("/")}
        self._places = {fold(place.name): place for place in plan.linking.places}
        self._stores = plan.linking.stores
        reading = plan.reading
        # Own parameters that count as tags are cells of the sheet like any extra value.
        self.extra_values = tuple(dict.fromkeys((*reading.extra_values, *reading.tag_parameters)))
        self._required = reading.required_tags

    def address(self, cells: Cells) -> str:
        """The address of a row, and nothing else: for those who only send visitors on."""
        return cells.get(HELD, "") or self.made(cells)

    def made(self, cells: Cells) -> str:
        """The address that a row gives now, whether it was placed with another or not; empty if it gives none."""
        return self._draft(cells).built.url

    def tags(self, cells: Cells) -> tuple[str, ...]:
        """The values that the tag fields of a row's address carry, in the order of `FIELDS`."""
        held = cells.get(HELD, "")
        if held:
            carried = tags_of(held)
            return tuple(carried.get(name, "") for name in FIELDS)
        cell = self._filled(cells)
        return tuple(self._values(cell)[name] for name in FIELDS)

    def make(self, cells: Cells) -> Link:
        """The address of a row, and what will go wrong with it.

        Parameters
        ----------
        cells : by name of `CELLS` or of an extra value; missing = empty

        Returns
        -------
        Link
        """
        held, draft = cells.get(HELD, ""), self._draft(cells)
        cell, page, store, built = draft.cell, draft.page, draft.store, draft.built
        findings: list[LinkFinding] = []
        self._cells(cell, findings)
        if draft.problem:
            findings.append(_finding("no_page", f"page: {draft.problem}", "page", page))
            return Link(held, _sorted(findings))
        if held and held != built.url:
            # What is said of an address is said of the one that is out there.
            findings.append(_made_otherwise(built.url))
            store, built = store_of(held, self._stores), Built(held)
        elif draft.slash_added:
            text = "the plan writes this page with a closing /: without it the site redirects"
            findings.append(_finding("missing_slash", text, "page", page))
        campaign = draft.campaign
        if campaign and campaign.state == DRAFT:
            text = f"{campaign.shown} is a draft: do not place it before it is approved in Plan"
            findings.append(_finding("draft_campaign", text, "campaign", cell["campaign"]))
        found = self._checker.check(_as_page(built.url) if store and store.scheme else built.url).findings
        if store:
            findings += _in_store(store, page)
            # Somebody else's host is no fault there.
            found = tuple(f for f in found if f.code != "foreign_host")
        place = self._places.get(fold(cell["placement"]))
        if place and place.longest and len(built.url.encode()) > place.longest:
            findings.append(too_long(built.url, place.longest))
            found = tuple(f for f in found if f.code != "too_long")
        missing = {parameter_of(name) for name in self._required if not draft.values[name]}
        return Link(built.url, _sorted([*findings, *built.findings, *_not_twice(found, missing, built.findings)]))

    def _draft(self, cells: Cells) -> _LinkDraft:
        """A row on its way to an address."""
        cell = self._filled(cells)
        page = as_browsers_read(self._pages.get(fold(cell["page"]), cell["page"]))
        store = store_of(page, self._stores)
        campaign, values = self._campaign(cell), self._values(cell)
        # An app's address is none that a browser opens; what can be wrong with it else shows on a page's.
        looked_at = _as_page(page) if store and store.scheme else page
        problem = "fill it: an address, or the name of a landing page" if not page else why_not_opened(looked_at)
        if problem:
            return _LinkDraft(cell, values, page, problem, False, store, campaign, Built(""))
        slash_added = page + "/" in self._slashed
        page += "/" if slash_added else ""
        pairs = [(f"utm_{name}", values[name]) for name in FIELDS] + [(n, values[n]) for n in self.extra_values]
        return _LinkDraft(cell, values, page, "", slash_added, store, campaign, build(page, pairs))

    def _campaign(self, cell: Cells) -> Campaign | None:
        return self._plan.campaign_of(cell["campaign"]) if cell["campaign"] else None

    def _values(self, cell: Cells) -> dict[str, str]:
        """What goes into the address: of a campaign the one value that all its links carry."""
        campaign = self._campaign(cell)
        return {**cell, "campaign": campaign.in_links if campaign else cell["campaign"]}

    def _filled(self, cells: Cells) -> dict[str, str]:
        """The cells of a row; what it does not say its place may."""
        cell = {name: collapse(cells.get(name, "")) for name in (*CELLS, *self.extra_values)}
        place = self._places.get(fold(cell["placement"]))
        said = place.cells if place else {}
        return {name: text or collapse(said.get(name, "")) for name, text in cell.items()}

    def _cells(self, cell: Cells, findings: list[LinkFinding]) -> None:
        missing = [name for name in self._required if not cell[name] and not (name == "campaign" and cell["id"])]
        findings += [
            LinkFinding("missing_required", "error", f"fill {name}: {why_required(name)}", name) for name in missing
        ]
        if cell["price"] and not _PRICE.fullmatch(cell["price"]):
            text = f"{cell['price']} is not a price: write it as 0.35"
            findings.append(_finding("bad_price", text, "price", cell["price"]))
        for name in ("placed_on", "due", "price_from", "price_to"):
            if cell[name] and not _DAY.fullmatch(cell[name]):
                text = f"{cell[name]} is not a day: write it as 2026-03-31"
                findings.append(_finding("bad_day", text, name, cell[name]))
        if cell["price_from"] and cell["price_to"] and cell["price_to"] < cell["price_from"]:
            text = f"the price ends on {cell['price_to']}, before it begins on {cell['price_from']}: swap the days"
            findings.append(_finding("bad_day", text, "price_to", cell["price_to"]))
        if cell["referrer"] and EARLIER_REFERRERS.get(cell["referrer"], cell["referrer"]) not in REFERRERS:
            text = f"{cell['referrer']}: what is done with the referrer is one of {', '.join(REFERRERS)}"
            findings.append(_finding("bad_referrer", text, "referrer", cell["referrer"]))
        if cell["rest"] and fold(cell["rest"]) not in map(fold, self.extra_values):
            there = ", ".join(self.extra_values) or "none: name one in Plan"
            text = f"{cell['rest']} is not an extra value; there are {there}"
            findings.append(_finding("bad_rest", text, "rest", cell["rest"]))
        if cell["short"] and not _SHORT.fullmatch(cell["short"]):
            text = f"{cell['short']} cannot stand in a short link: use letters, digits, - and _"
            findings.append(_finding("bad_short_code", text, "short", cell["short"]))


def tags_of(url: str) -> dict[str, str]:
    """What an address carries in each tag field, the first that is not empty; without fields that it has not."""
    fields = {parameter_of(name): name for name in FIELDS}
    out: dict[str, str] = {}
    for name, value, _ in parameters(split_address(url)[1]):
        field = fields.get(fold(name))
        if field and collapse(value):
            out.setdefault(field, collapse(value))
    return out


def _made_otherwise(url: str) -> LinkFinding:
    text = "it was placed with the address shown; its row now gives a different one: keep it, or place the new one"
    return _finding(OTHERWISE, text, "page", url)


def store_of(url: str, stores: Iterable[Store]) -> Store | None:
    """The place beyond the own site that an address leads to, where only clicks can be counted; None for our own."""
    scheme = url.strip().partition(":")[0]
    return next(
        (s for s in stores if (fold(s.scheme) == fold(scheme) if s.scheme else host_matcher([s.host])(host_of(url)))),
        None,
    )


def _as_page(url: str) -> str:
    """The address of an app as one of a page, to look at its query; its host is nobody's."""
    return "https://app.invalid/" + url.partition(":")[2].lstrip("/")


def between_rows(rows: Sequence[tuple[str, Cells]]) -> list[list[LinkFinding]]:
    """What is wrong with rows only because of other rows: one address twice, one short code twice.

    Parameters
    ----------
    rows : (address, cells) in the order of the sheet

    Returns
    -------
    list of findings per row
    """
    urls = Counter(url for url, _ in rows if url)
    codes = Counter(cells.get("short", "") for _, cells in rows if cells.get("short"))
    first: dict[str, int] = {}
    out = []
    for number, (url, cells) in enumerate(rows, 1):
        found = []
        if urls[url] > 1 and cells.get("shared"):
            found.append(_finding("shared_address", f"it shares its address on purpose: {cells['shared']}", "shared"))
        elif urls[url] > 1:
            other = first.setdefault(url, number)
            where = f"row {other} has" if other != number else f"{urls[url] - 1} other rows have"
            text = f"{where} the same address: their clicks cannot be told apart. Give them another content"
            text += ", or say under shared why"
            found.append(_finding("same_address", text, "content"))
        code = cells.get("short", "")
        if codes[code] > 1:
            found.append(_finding("short_code_taken", f"the short link {code} is in two rows", "short", code))
        out.append(found)
    return out


def _in_store(store: Store, page: str) -> list[LinkFinding]:
    base, query, _ = split_address(page)
    if store.id_in:
        ident = next((value for name, value, _ in parameters(query) if fold(name) == fold(store.id_in)), "")
        where = f"the parameter {store.id_in}"
    else:
        path = base.partition(":")[2] if store.scheme else urlsplit(base).path
        ident = path.rstrip("/").rpartition("/")[2].removeprefix("id")
        where = "the end of its path"
    kinds = {"number": ident.isascii() and ident.isdigit(), "reverse domain": bool(_REVERSE_DOMAIN.fullmatch(ident))}
    good = kinds.get(store.id_kind, bool(ident))
    out = [
        _finding(
            "only_clicks",
            f"{store.host or store.scheme} tells nobody who came: only clicks can be counted there",
            "page",
        )
    ]
    if not good:
        examples = {"number": "digits, such as 405111", "reverse domain": "such as example.lunnick.boats"}
        example = examples.get(store.id_kind, "not empty")
        text = f"{ident or 'nothing'} in {where} is not an id of this store: its ids are {example}"
        out.append(_finding("store_id", text, "page", ident))
    return out


def _not_twice(found: Iterable[LinkFinding], missing: set[str], built: Iterable[LinkFinding]) -> list[LinkFinding]:
    """What the check-up says besides what the cells said already."""
    conflicts = {f.field for f in built if f.code == "same_name"}
    return [
        f
        for f in found
        if not (f.code == "missing_required" and f.field in missing)
        and not (f.code == "repeated_name" and f.field in conflicts)
    ]


def _finding(code: str, message: str, field: str = "", value: str = "") -> LinkFinding:
    return LinkFinding(code, CODES[code], message, field, value)


def _sorted(findings: Iterable[LinkFinding]) -> tuple[LinkFinding, ...]:
    order = ("error", "warning", "note")
    return tuple(sorted(findings, key=lambda f: order.index(f.level)))
