"""The check-up of tagged addresses: what will go wrong with a link, and the address that will not.

What nobody can have meant is mended. Where a value would be lost by it, or moved to where it was not meant, the address
is left as it came, and it is asked. Addresses are read piece by piece, and every distinct piece once: in a long list
most pieces repeat.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import NamedTuple
from urllib.parse import unquote

from ..base.words import Slots, fold
from ..plan.campaign_records import Campaign
from ..plan.name_rules import NameRules
from ..plan.plan import Plan
from ..reading.channels import BY_MEDIUM, PAID
from ..reading.hosts import host_matcher
from ..reading.tags import FIELDS, host_of, parameter_of, parameters, split_address
from .addresses import (
    LONGEST_BYTES,
    LinkFinding,
    as_browsers_read,
    join_address,
    too_long,
    why_not_opened,
    with_ascii_host,
    with_path,
)
from .faults import CODES
from .nearness import How, KnownValues
from .personal_data import has_email
from .pieces import HELD, Piece, PieceReader
from .shape import Shape

_WHY = {
    "source": "it tells which site or sender the visitor came from",
    "medium": "it tells which kind of advertising it was, and so the channel",
    "campaign": "without it the visit belongs to no campaign and its sales are untagged",
}


def why_required(name: str) -> str:
    """Why a workspace wants a tag in every link of its own."""
    return _WHY.get(name, "this workspace requires it in every link")


_CLEAN = re.compile(r"https?://[a-z0-9.-]+(?::\d+)?/[A-Za-z0-9/._~-]*\?[A-Za-z0-9=&._~+%-]*(?:#[A-Za-z0-9._~/-]*)?")
_IS_HELD = re.compile(HELD + r"(\d+)z")
KEPT_PIECES = 200_000
_NOBODYS = "https://app.invalid/"
"""In the place of the scheme of an app."""


class CheckUp(NamedTuple):
    """What was found in one address.

    Attributes
    ----------
    url : as it came
    findings : worst first
    mended : the address with everything mended that can be, the same as `url` where there is nothing to mend
    """

    url: str
    findings: tuple[LinkFinding, ...]
    mended: str

    @property
    def worst(self) -> str:
        """The level of the worst finding, empty if there is none."""
        return self.findings[0].level if self.findings else ""

    @property
    def base(self) -> str:
        """The address without query and fragment."""
        return split_address(self.url.strip())[0]

    @property
    def parameters(self) -> list[tuple[str, str]]:
        """Names and values of the query, decoded."""
        return [(name, value) for name, value, _ in parameters(split_address(self.url.strip())[1])]


@dataclass
class _CheckDraft:
    """An address while it is being mended."""

    text: str
    findings: list[LinkFinding] = field(default_factory=list)

    def note(self, code: str, message: str, name: str = "", value: str = "") -> None:
        """Add a finding."""
        self.findings.append(LinkFinding(code, CODES[code], message, name, value))


class Checker:
    """Checks addresses against the plan of a workspace.

    Parameters
    ----------
    plan : allowed words, naming patterns, hosts, click marks, dialects, and the campaigns links may name; without any,
        every campaign will do
    known : further known values per field: those of the link sheet
    arrived : values per field with which so many visits came that they are names
    today : campaigns that ended before are a finding; None = no campaign has ended
    limit : bytes an address may have
    """

    def __init__(
        self,
        plan: Plan | None = None,
        known: Mapping[str, Iterable[str]] | None = None,
        today: date | None = None,
        limit: int = LONGEST_BYTES,
        arrived: Mapping[str, Iterable[str]] | None = None,
    ) -> None:
        self._plan = plan or Plan()
        self._reading = reading = self._plan.reading
        self._slots, self._rules = Slots(reading.slot_pairs), NameRules(reading)
        self._same, self._today, self._limit = reading.names.same, today, limit
        self._marks = {fold(mark) for mark in reading.click_marks}
        self._extras = {fold(name) for name in (*reading.extra_values, *reading.tag_parameters)}
        self._required = {name: fold(parameter_of(name)) for name in reading.required_tags}
        self._own = host_matcher(reading.own_hosts)
        self._own_seen: dict[str, bool] = {}
        self._opened: dict[str, bool] = {}
        campaigns = self._plan.campaigns
        self._have_hosts = any(c.host for c in campaigns)
        self._ids = {self._same(i) for c in campaigns for i in c.ids}
        self._known = self._known_values(campaigns, known or {}, arrived or {})
        self._pieces: dict[str, Piece] = {}
        written = (*reading.extra_values, *reading.tag_parameters, *reading.click_marks)
        self._shape = Shape(self._slots, lambda n: n.startswith("utm") or n in self._marks or n in self._extras)
        self._reader = PieceReader(
            self._slots, self._plan.linking.dialects, self._marks, self._extras, set(written), self._value
        )
        self._schemes = {fold(store.scheme) for store in self._plan.linking.stores if store.scheme}

    def _may_be_linked(self, value: str) -> bool:
        """Whether a campaign of the plan may go by this in a link; plain names stay inside."""
        found = self._plan.campaign_of(value)
        return found is not None and (not found.plain_name or self._same(value) != self._same(found.plain_name))

    def _known_values(
        self,
        campaigns: Sequence[Campaign],
        known: Mapping[str, Iterable[str]],
        arrived: Mapping[str, Iterable[str]],
    ) -> dict[str, KnownValues]:
        values = {name: list(self._rules.words(name).values()) for name in FIELDS}
        values["campaign"] += [value for c in campaigns for value in (c.code, c.name) if value]
        if not self._rules.words("medium"):
            values["medium"] += [*PAID, *(word for words in BY_MEDIUM.values() for word in words)]
        return {name: KnownValues(words, arrived.get(name, ()), known.get(name, ())) for name, words in values.items()}

    def check(self, url: str, *, pattern: bool = False) -> CheckUp:
        """Check one address.

        Parameters
        ----------
        url : as it came
        pattern : it is one of an ad platform's, whose slots are yet to be filled: they are left alone
        """
        if pattern:
            return self._of_pattern(url)
        if self._schemes and fold(url.strip().partition(":")[0]) in self._schemes:
            return self._of_app(url)
        front = url.partition("#")[0]
        if _CLEAN.fullmatch(url) and front.count("?") == 1 and len(url) <= self._limit and self._opens(front):
            base, _, query = front.partition("?")
            keys, known = [], self._pieces
            for text in query.split("&"):
                piece = known.get(text) or self._piece(text)
                if piece.findings or "=" not in text:
                    break
                if piece.key:
                    keys.append(piece.key)
            else:
                if self._all_well(keys, base):
                    return CheckUp(url, (), url)
        return self._thoroughly(url)

    def _of_pattern(self, url: str) -> CheckUp:
        """The check-up with a word that nobody uses in the place of each slot."""
        held: list[str] = []

        def hold(match: re.Match[str]) -> str:
            held.append(match.group())
            return f"{HELD}{len(held) - 1}z"

        def filled(text: str) -> str:
            return _IS_HELD.sub(lambda m: held[int(m.group(1))], text)

        found = self._thoroughly(self._slots.in_addresses.sub(hold, url.strip()))
        findings = tuple(replace(f, message=filled(f.message), value=filled(f.value)) for f in found.findings)
        return CheckUp(url, findings, filled(found.mended) if findings else url)

    def _of_app(self, url: str) -> CheckUp:
        """The check-up of an address that an app of the plan opens: of all but its host, for it has none."""
        scheme, _, rest = url.strip().partition(":")
        there = rest.lstrip("/")
        front = f"{scheme}:{rest[: len(rest) - len(there)]}"
        found = self._thoroughly(_NOBODYS + there)
        findings = tuple(f for f in found.findings if f.code not in ("foreign_host", "wrong_host"))
        mended = front + found.mended.removeprefix(_NOBODYS)
        return CheckUp(url, findings, mended if findings else url)

    def _all_well(self, keys: list[str], base: str) -> bool:
        """Whether pieces that are well each for itself are well together."""
        distinct = set(keys)
        if len(distinct) != len(keys) or not distinct.issuperset(self._required.values()):
            return False
        if self._have_hosts:
            return False
        if not self._reading.own_hosts:
            return True
        host = base.split("/", 3)[2]
        if host not in self._own_seen:
            self._own_seen[host] = self._own(host.partition(":")[0])
        return self._own_seen[host]

    def _opens(self, front: str) -> bool:
        """Whether a browser opens what stands before the path, asked once for each."""
        site = "/".join(front.split("/", 3)[:3])
        if site not in self._opened:
            self._opened[site] = not why_not_opened(site + "/")
        return self._opened[site]

    def _thoroughly(self, url: str) -> CheckUp:
        draft = _CheckDraft(url.strip())
        if not self._address(draft):
            return CheckUp(url, tuple(draft.findings), url)
        draft.text = self._shape.mended(draft.text, draft.note)
        base, query, fragment = split_address(draft.text)
        self._around(base, fragment, draft)
        texts = [text for text in query.split("&") if text]
        kept = self._together(texts, draft)
        if kept != texts:
            query = "&".join(kept)
        base = self._base(base, bool(query), draft)
        mended = join_address(base, query, fragment, has_fragment="#" in draft.text and bool(fragment))
        size = len(mended.encode("utf-8", "surrogatepass"))
        if size > self._limit:
            draft.findings.append(too_long(mended, self._limit))
        order = {"error": 0, "warning": 1, "note": 2}
        findings = sorted(draft.findings, key=lambda f: order[f.level])
        return CheckUp(url, tuple(findings), mended if findings else url)

    def _address(self, draft: _CheckDraft) -> bool:
        """Whether it is an address at all; what only lacks its scheme, or is written oddly, is mended."""
        guess = as_browsers_read(draft.text)
        problem = why_not_opened(guess)
        if not problem and guess != draft.text:
            problem = "browsers guess what is meant, other programs do not: write it with https:// and without \\"
        if not problem:
            return True
        draft.note("not_an_address", problem)
        if guess == draft.text and re.match(r"[a-z0-9-]+(\.[a-z0-9-]+)+([/?#:]|$)", guess, re.IGNORECASE):
            guess = "https://" + guess
        if why_not_opened(guess):
            return False
        draft.text = guess
        return True

    def _around(self, base: str, fragment: str, draft: _CheckDraft) -> None:
        """What stands before and behind the query and belongs in no link."""
        authority = base.partition("//")[2].partition("/")[0]
        path = base[base.find(authority) + len(authority) :] if authority else base
        if "@" in authority:
            who = authority.rpartition("@")[0].partition(":")[0]
            text = f"{who}@ before the host logs somebody in, and whoever sees the link can: remove it"
            draft.note("login_in_host", text, "", who)
        for part, where in ((path, "path"), (fragment, "part after #")):
            if has_email(unquote(part)):
                draft.note("personal_data", f"the {where} carries personal data: remove it before anybody sees it")
        slot = self._slots.in_addresses.search(path)
        if slot and not slot.group().startswith(("~", "%")):
            text = f"{slot.group()} in the path: make sure it is filled, else the page does not exist"
            draft.note("slot_in_path", text, "", slot.group())

    def _base(self, base: str, has_query: bool, draft: _CheckDraft) -> str:
        host = host_of(base)
        if self._reading.own_hosts and host and not self._own(host):
            text = f"{host} is not one of your hosts: the visits would not be seen. Check the landing page"
            draft.note("foreign_host", text, "", host)
        ascii_base = with_ascii_host(base)
        if ascii_base != base:
            draft.note("international_host", f"{host} is written {host_of(ascii_base)} in links", "", host)
        if has_query and with_path(base) != base:
            draft.note("no_path", "put a / after the host: without it some sites redirect and may lose the tags")
            ascii_base = with_path(ascii_base)
        return ascii_base

    def _host_of_campaign(self, base: str, named: str, draft: _CheckDraft) -> None:
        planned = self._plan.campaign_of(named) if named else None
        host = host_of(base)
        if planned and planned.host and host and not host_matcher([planned.host])(host):
            text = f"links of {named} lead to {planned.host}, this one to {host}: check the landing page"
            draft.note("wrong_host", text, "", host)

    def _together(self, texts: Sequence[str], draft: _CheckDraft) -> list[str]:
        """What only shows when all pieces of a query are seen; the pieces that stay, as they should be written."""
        pieces = [self._piece(text) for text in texts]
        named = {p.key for p in pieces if p.key and not p.came}
        kept: list[str] = []
        first: dict[str, Piece] = {}
        begun = 0
        for number, (text, piece) in enumerate(zip(texts, pieces, strict=True)):
            draft.findings += piece.findings
            before_it, begun = begun, len(kept)
            if piece.came and (piece.key in named or piece.key in first):
                # The tag that was meant is there already: under its name this one would be a second one.
                kept += [piece.came] if piece.text is not None else []
                continue
            if "=" not in text and number and pieces[number - 1].key.startswith("utm_") and not piece.findings:
                before = pieces[number - 1]
                # The value goes on: what was said of its first half, and mended in it, is not so.
                kept[before_it:] = [texts[number - 1]]
                begun = len(kept)
                draft.findings = [f for f in draft.findings if f not in before.findings]
                said = f"behind & of {before.key} stands {text} without a =: write %26 if it belongs to the value"
                draft.note("split_value", said, before.key, text)
            earlier = first.get(piece.key) if piece.key else None
            if earlier is not None:
                if piece.text in (None, earlier.text) or (piece.value and piece.value == earlier.value):
                    draft.note("repeated_name", f"{piece.key} appears twice with one value", piece.key, piece.value)
                    continue
                if piece.value and earlier.value:
                    said = f"{piece.key} appears twice: {earlier.value} counts, {piece.value} does not: remove one"
                    draft.note("repeated_name", said, piece.key, piece.value)
                elif not earlier.value:
                    draft.note(
                        "repeated_name", f"{piece.key} appears twice: {piece.value} counts", piece.key, piece.value
                    )
                    first[piece.key] = piece
            elif piece.key:
                first[piece.key] = piece
            if piece.text is not None:
                kept.append(piece.text)
        values = {name: first[f"utm_{name}"].value if f"utm_{name}" in first else "" for name in FIELDS}
        self._host_of_campaign(split_address(draft.text)[0], values["campaign"], draft)
        if values["id"] and self._same(values["id"]) in self._ids:
            values["campaign"] = values["campaign"] or values["id"]
        for name, key in self._required.items():
            there = values[name] if name in values else key in first and first[key].value
            if not there:
                draft.note("missing_required", f"{key} is missing: {why_required(name)}", key)
        return kept

    def _piece(self, text: str) -> Piece:
        found = self._pieces.get(text)
        if found is None:
            name, _, raw = text.partition("=")
            if name in self._marks and raw.isalnum():
                # Click marks are all different: nothing is gained by keeping them.
                return Piece(text, name, raw)
            found = self._reader.read(text)
            if len(self._pieces) < KEPT_PIECES:
                self._pieces[text] = found
        return found

    def _value(self, name: str, value: str, note: Callable[..., None]) -> str:
        """What is wrong with the value of a tag, and what it should be."""
        known = self._known.get(name)
        if name == "source" and host_of("https://" + value) and self._own(fold(value)):
            note("own_as_outside", f"{value} is your own site: links on it must not carry tags", value)
        near = known.near(value) if known else None
        is_known = name == "campaign" and self._plan.campaign_of(value) is not None
        if near is not None and near.how is How.SPELLING:
            note(
                "other_spelling", f"{value} is written {near.known} elsewhere: they may not be counted together", value
            )
            value = near.known
        elif near is not None and near.how is How.MISTYPED and not is_known:
            note("near_miss", f"{value} is almost {near.known}: it looks mistyped", value)
            value = near.known
        elif name == "campaign" and self._plan.campaigns and not self._may_be_linked(value):
            nearest = f"; {near.known} is the nearest" if near else ""
            text = f"no campaign of the plan is called {value}{nearest}: register it, or correct the link"
            note("unknown_campaign", text, value)
        elif near is not None and near.how is How.PERHAPS and not is_known:
            note("perhaps_meant", f"{value} is new here: write {near.known} if that was meant", value)
        elif near is not None and name in ("source", "medium", "campaign") and not is_known:
            text = f"{value} is new beside {near.known}: good if it is another one, else correct it"
            note("another_name", text, value)
        if name == "campaign":
            planned = self._plan.campaign_of(value)
            if planned and planned.ends and self._today and planned.ends < self._today:
                note("campaign_ended", f"{value} ended on {planned.ends}: take the link down or extend it", value)
        for blemish in self._rules.blemishes({name: value}):
            note(blemish.code, blemish.message, value)
            value = blemish.mended or value
        return value
