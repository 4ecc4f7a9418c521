"""The check-up of tagged addresses: what will go wrong with a link, and the address that will not.

Whole addresses are read piece by piece, and every distinct piece once: in a long list most pieces repeat.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import date
from typing import NamedTuple

from ..base.words import Slots, collapse, fold
from ..plan.name_rules import NameRules
from ..plan.plan import Plan
from ..plan.records import Campaign
from ..reading.channels import BY_MEDIUM, PAID
from ..reading.hosts import host_matcher
from ..reading.tags import FIELDS, INSIDE, UNFILLED, host_of, parameter_of, parameters, read_value, split_address
from .addresses import (
    LONGEST_BYTES,
    LinkFinding,
    as_browsers_read,
    encode,
    has_broken_percents,
    has_raw_characters,
    join_address,
    strip_tags,
    too_long,
    why_not_opened,
    with_ascii_host,
    with_path,
    without_broken_percents,
    without_raw_characters,
)
from .nearness import How, KnownValues, bare, distance
from .personal_data import is_personal

_WHY = {
    "source": "it tells which site or sender the visitor came from",
    "medium": "it tells which kind of advertising it was, and so the channel",
    "campaign": "without it the visit is nobody's and its sales are untagged",
}


def why_required(name: str) -> str:
    """Why a workspace wants a tag in every link of its own."""
    return _WHY.get(name, "this workspace wants it in every link")


CODES: dict[str, str] = {
    "not_an_address": "error",
    "tags_after_fragment": "error",
    "second_question_mark": "error",
    "no_question_mark": "error",
    "wrong_separator": "error",
    "html_entity": "error",
    "raw_character": "warning",
    "bad_encoding": "warning",
    "doubly_encoded": "warning",
    "misspelt_name": "error",
    "wrong_case_name": "warning",
    "repeated_name": "warning",
    "empty_value": "note",
    "missing_required": "error",
    "unfilled_slot": "error",
    "slot_inside": "warning",
    "other_spelling": "warning",
    "near_miss": "warning",
    "perhaps_meant": "warning",
    "another_name": "note",
    "not_allowed": "warning",
    "naming_pattern": "warning",
    "value_spelling": "warning",
    "unknown_campaign": "warning",
    "campaign_ended": "warning",
    "personal_data": "error",
    "own_as_outside": "error",
    "foreign_host": "warning",
    "wrong_host": "warning",
    "international_host": "note",
    "no_path": "note",
    "too_long": "error",
}
"""Every finding of a check-up and its level."""

_CLEAN = re.compile(r"https?://[a-z0-9.-]+(?::\d+)?/[A-Za-z0-9/._~-]*\?[A-Za-z0-9=&._~+%-]*(?:#[A-Za-z0-9._~/-]*)?")
_TAGS_IN = re.compile(r"[?&#](?=utm[_-]?[a-z]+=)", re.IGNORECASE)
_TAGS_IN_PATH = re.compile(r"[&;?/](?=utm[_-]?[a-z]+=)", re.IGNORECASE)
_PAIR = re.compile(r"&[\w.-]+=[^&/]*")
_SEMICOLON = re.compile(r";(?:amp;)?(?=utm[_-]?[a-z]+=)", re.IGNORECASE)
_SECOND = re.compile(r"\?(?=[A-Za-z][\w.-]*=)")
_ESCAPE = re.compile(r"%[0-9A-Fa-f]{2}")
_HIGH = re.compile(r"%[89A-Fa-f][0-9A-Fa-f]")
_ENTITY = re.compile(r"&amp;|&#38;|&#x26;", re.IGNORECASE)
_SUSPECT = re.compile(r"@|%40|%2B\d|\+\d|utm|%25[0-9A-Fa-f]{2}|(?:^|[=(]|%28)0\d|;", re.IGNORECASE)
_TAG_NAMES = tuple(f"utm_{name}" for name in FIELDS)
_LIKE_TAG = re.compile(r"utm", re.IGNORECASE)
_HELD = "zyqslot"
_IS_HELD = re.compile(_HELD + r"(\d+)z")
KEPT_PIECES = 200_000


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


class _Piece(NamedTuple):
    """One `name=value` of a query as read, and what is wrong with it alone. `text` is mended; None = leave it out."""

    text: str | None
    key: str
    value: str
    findings: tuple[LinkFinding, ...] = ()


@dataclass
class _Draft:
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
        self._pieces: dict[str, _Piece] = {}

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
        front = url.partition("#")[0]
        if _CLEAN.fullmatch(url) and front.count("?") == 1 and len(url) <= self._limit and self._opens(front):
            base, _, query = front.partition("?")
            keys, known = [], self._pieces
            for text in query.split("&"):
                piece = known.get(text) or self._piece(text)
                if piece.findings:
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
            return f"{_HELD}{len(held) - 1}z"

        def filled(text: str) -> str:
            return _IS_HELD.sub(lambda m: held[int(m.group(1))], text)

        found = self._thoroughly(self._slots.in_addresses.sub(hold, url.strip()))
        findings = tuple(replace(f, message=filled(f.message), value=filled(f.value)) for f in found.findings)
        return CheckUp(url, findings, filled(found.mended) if findings else url)

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
        draft = _Draft(url.strip())
        if not self._address(draft):
            return CheckUp(url, tuple(draft.findings), url)
        self._structure(draft)
        base, query, fragment = split_address(draft.text)
        pieces = [self._piece(text) for text in query.split("&") if text]
        kept = self._together(pieces, draft)
        untouched = all(p.text == text for p, text in zip(pieces, [t for t in query.split("&") if t], strict=True))
        if not untouched or len(kept) != len(pieces):
            query = "&".join(p.text for p in kept if p.text is not None)
        self._host_of_campaign(base, kept, draft)
        base = self._base(base, bool(query), draft)
        mended = join_address(base, query, fragment, has_fragment="#" in draft.text and bool(fragment))
        size = len(mended.encode("utf-8", "surrogatepass"))
        if size > self._limit:
            draft.findings.append(too_long(mended, self._limit))
        if any(f.code == "own_as_outside" for f in draft.findings):
            mended = strip_tags(mended, self._marks)
        order = {"error": 0, "warning": 1, "note": 2}
        findings = sorted(draft.findings, key=lambda f: order[f.level])
        return CheckUp(url, tuple(findings), mended if findings else url)

    def _address(self, draft: _Draft) -> bool:
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

    def _structure(self, draft: _Draft) -> None:
        """Faults of the address as a whole, mended one after the other."""
        text = draft.text
        if _ENTITY.search(text):
            draft.note("html_entity", "&amp; was copied from a page's source: write & instead")
            text = _ENTITY.sub("&", text)
        front, mark, fragment = text.partition("#")
        if mark and _TAGS_IN.search("#" + fragment):
            draft.note("tags_after_fragment", "tags after # never reach the site: move them before it")
            head, _, tail = _split_at_tags(fragment)
            front += ("&" if "?" in front else "?") + tail
            fragment = head
        base, ask, query = front.partition("?")
        begins = _TAGS_IN_PATH.search(base, base.find("//") + 2)
        if not ask and begins:
            draft.note("no_question_mark", "tags begin after a ?: without it they are part of the path")
            at = begins.start() + (begins.group() == "/")
            # Pairs before them belong into the query as well; from behind, so that each is looked at once.
            while (earlier := base.rfind("&", 0, at)) >= 0 and _PAIR.fullmatch(base, earlier, at):
                at = earlier
            base, ask, query = base[:at], "?", base[at:].lstrip("&;?")
            query = _SEMICOLON.sub("&", query)
        if _SEMICOLON.search(query):
            draft.note("wrong_separator", "& stands between pairs: after ; the rest is part of the value before")
            query = _SEMICOLON.sub("&", query)
        if ask and _SECOND.search(query) and self._is_second(query):
            draft.note("second_question_mark", "an address has one ?: write & before the later pairs")
            query = _SECOND.sub("&", query)
        if has_raw_characters(base + query + fragment):
            # Slots are spoken of where they stand, an international host name too.
            checked = base.replace(host_of(base), "", 1) + query + fragment
            raw = next((c for c in checked if c not in "{}<>" and has_raw_characters(c)), "")
            if raw:
                draft.note("raw_character", f"{raw!r} must be percent-encoded: some programs cut the address there")
        scheme, slashes, rest = base.partition("//")
        authority, slash, path = rest.partition("/")
        base = (
            scheme + slashes + authority + slash + without_raw_characters(path)
            if slashes
            else without_raw_characters(base)
        )
        query, fragment = without_raw_characters(query), without_raw_characters(fragment)
        draft.text = join_address(base, query, fragment, has_fragment=bool(fragment))

    def _is_second(self, query: str) -> bool:
        """A `?` may stand in a value; it is a second one only where a parameter we know begins after it."""
        for match in _SECOND.finditer(query):
            name = fold(query[match.end() :].partition("=")[0])
            if name.startswith("utm") or name in self._marks or name in self._extras:
                return True
        return False

    def _base(self, base: str, has_query: bool, draft: _Draft) -> str:
        host = host_of(base)
        if self._reading.own_hosts and host and not self._own(host):
            text = f"{host} is none of your hosts: the visits would not be seen. Check the landing page"
            draft.note("foreign_host", text, "", host)
        ascii_base = with_ascii_host(base)
        if ascii_base != base:
            draft.note("international_host", f"{host} is written {host_of(ascii_base)} in links", "", host)
        if has_query and with_path(base) != base:
            draft.note("no_path", "put a / after the host: without it some sites redirect and may lose the tags")
            ascii_base = with_path(ascii_base)
        return ascii_base

    def _host_of_campaign(self, base: str, pieces: list[_Piece], draft: _Draft) -> None:
        named = next((p.value for p in pieces if p.key == "utm_campaign"), "")
        planned = self._plan.campaign_of(named) if named else None
        host = host_of(base)
        if planned and planned.host and host and not host_matcher([planned.host])(host):
            text = f"links of {named} lead to {planned.host}, this one to {host}: check the landing page"
            draft.note("wrong_host", text, "", host)

    def _together(self, pieces: list[_Piece], draft: _Draft) -> list[_Piece]:
        """What only shows when all pieces are seen; the pieces that stay."""
        kept: list[_Piece] = []
        first: dict[str, _Piece] = {}
        for piece in pieces:
            draft.findings += piece.findings
            if piece.key and piece.key in first:
                earlier = first[piece.key]
                text = f"{piece.key} stands twice: {earlier.value or 'the empty one'} is kept"
                if not earlier.value and piece.value:
                    kept[kept.index(earlier)] = piece
                    first[piece.key] = piece
                    text = f"{piece.key} stands twice: {piece.value} is kept"
                draft.note("repeated_name", text, piece.key, piece.value)
                continue
            if piece.key:
                first[piece.key] = piece
            kept.append(piece)
        values = {name: first[f"utm_{name}"].value if f"utm_{name}" in first else "" for name in FIELDS}
        if values["id"] and self._same(values["id"]) in self._ids:
            values["campaign"] = values["campaign"] or values["id"]
        for name, key in self._required.items():
            there = values[name] if name in values else key in first and first[key].value
            if not there:
                draft.note("missing_required", f"{key} is missing: {why_required(name)}", key)
        return [p for p in kept if p.text is not None]

    def _piece(self, text: str) -> _Piece:
        found = self._pieces.get(text)
        if found is None:
            name, _, raw = text.partition("=")
            if name in self._marks and raw.isalnum():
                # Click marks are all different: nothing is gained by keeping them.
                return _Piece(text, name, raw)
            found = self._read_piece(text)
            if len(self._pieces) < KEPT_PIECES:
                self._pieces[text] = found
        return found

    def _read_piece(self, text: str) -> _Piece:
        raw_name, equals, raw = text.partition("=")
        key = raw_name if raw_name in _TAG_NAMES else fold(raw_name)
        is_ours = key in self._marks or key in self._extras
        if not is_ours and not _SUSPECT.search(text) and not has_broken_percents(text):
            return _Piece(text, "", "")
        findings: list[LinkFinding] = []

        def note(code: str, message: str, value: str = "") -> None:
            findings.append(LinkFinding(code, CODES[code], message, key, value))

        name, decoded, _ = (parameters(text) or [("", "", "")])[0]
        counts, slot = read_value(decoded, raw, self._slots)
        held = _HELD in raw
        if not slot and not held:
            name, raw, decoded = self._decoded(raw_name, raw, note)
            counts = collapse(decoded)
        key = fold(name)
        if _LIKE_TAG.match(key) and key not in _TAG_NAMES:
            meant, sure = _meant_name(key) if key not in self._extras else ("", False)
            if sure:
                note("misspelt_name", f"{name} is no tag: {meant} was meant", name)
                key = name = meant
            elif meant:
                note("perhaps_meant", f"{name} is kept as a tag of its own: write {meant} if that was meant", name)
        value = collapse(decoded)
        if not slot and is_personal(value, raw):
            note("personal_data", f"{key} carries personal data: remove it before anybody sees it", value)
            return _Piece(None, key if key.startswith("utm_") else "", "", tuple(findings))
        if not key.startswith("utm_") and not is_ours:
            same = name == raw_name and raw == text.partition("=")[2]
            return _Piece(text if same else f"{name}{equals}{raw}", "", value, tuple(findings))
        if name != key and name not in self._reading.extra_values and name not in self._reading.click_marks:
            note("wrong_case_name", f"{name} is written {key}: other programs may not read it", name)
            name = key
        if slot == UNFILLED:
            shown = raw if self._slots.is_slot("", raw) else value
            note("unfilled_slot", f"{key} holds {shown}, a slot that nobody filled: it is read as empty", shown)
            return _Piece(None, key, "", tuple(findings))
        if not counts:
            if key.startswith("utm_"):
                note("empty_value", f"{key} is empty: fill it or remove it")
            return _Piece(None if key.startswith("utm_") else text, key, "", tuple(findings))
        if slot == INSIDE:
            note("slot_inside", f"{key} holds a slot inside {raw}: see that it is filled", raw)
        mended = value
        if key.startswith("utm_") and not slot and not held:
            mended = self._value(key.removeprefix("utm_"), value, note)
        if mended == value and name == raw_name and raw == text.partition("=")[2]:
            return _Piece(text, key, value, tuple(findings))
        written = raw if mended == value else encode(mended)
        return _Piece(f"{name}={written}", key, mended, tuple(findings))

    def _decoded(self, raw_name: str, raw: str, note: Callable[..., None]) -> tuple[str, str, str]:
        """Name, raw value and decoded value of a piece, its escapes mended."""
        if has_broken_percents(raw):
            note("bad_encoding", f"% in {raw} begins no escape: write %25", raw)
            raw = without_broken_percents(raw)
        name, decoded, _ = (parameters(f"{raw_name}={raw}") or [("", "", "")])[0]
        if "\ufffd" in decoded and "%EF%BF%BD" not in raw.upper():
            note("bad_encoding", f"{raw} is not UTF-8: it would be read as {decoded}", decoded)
            latin = _HIGH.sub(lambda m: encode(bytes([int(m.group()[1:], 16)]).decode("latin-1")), raw)
            raw, decoded = latin, parameters(f"x={latin}")[0][1]
        if fold(name).startswith("utm") and _was_encoded(decoded):
            once = parameters(f"x={decoded}")[0][1]
            if "\ufffd" not in once:
                note("doubly_encoded", f"{raw} is encoded twice: reports would show {decoded}", decoded)
                decoded, raw = once, encode(once)
        return name, raw, decoded

    def _value(self, name: str, value: str, note: Callable[..., None]) -> str:
        """What is wrong with the value of a tag, and what it should be."""
        known = self._known.get(name)
        if name == "source" and host_of("https://" + value) and self._own(fold(value)):
            note("own_as_outside", f"{value} is your own site: links on it must not carry tags", value)
        near = known.near(value) if known else None
        is_known = name == "campaign" and self._plan.campaign_of(value) is not None
        if near is not None and near.how is How.SPELLING:
            note("other_spelling", f"{value} is written {near.known} elsewhere: they may not be added up", value)
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


def _split_at_tags(fragment: str) -> tuple[str, str, str]:
    """A fragment as (what stays, separator, the pairs that belong into the query)."""
    match = _TAGS_IN.search("#" + fragment)
    assert match is not None
    at, ask = max(0, match.start() - 1), fragment.find("?")
    # The pairs before the tags belong to them, but for the route of a page that keeps its own in the fragment.
    if 0 <= ask < at and not fragment.startswith(("/", "!")):
        at = ask
    head, rest = fragment[:at], fragment[at:]
    return head, rest[:1], rest.lstrip("?&")


def _meant_name(key: str) -> tuple[str, bool]:
    """The tag that a name beginning like one was meant to be, and whether that is sure; empty for a tag of its own."""
    letters = bare(key)
    for name in _TAG_NAMES:
        tag = bare(name)
        most = 0 if len(name) < 8 else 1 if len(name) < 10 else 2
        off = distance(letters, tag, most)
        if off <= most:
            # A letter in the place of another makes another word too easily where a tag is short: team, term.
            other_word = off == 1 and len(letters) == len(tag) and sorted(letters) != sorted(tag)
            return name, not (other_word and len(name) < 10)
    return "", False


def _was_encoded(decoded: str) -> bool:
    """Whether a decoded value is still encoded: it has escapes, and none of a character that no program encodes
    (RFC 3986, 2.3: letters, digits, - . _ ~)."""
    escaped = [chr(int(escape[1:], 16)) for escape in _ESCAPE.findall(decoded)]
    return bool(escaped) and not any(c.isascii() and (c.isalnum() or c in "-._~") for c in escaped)
