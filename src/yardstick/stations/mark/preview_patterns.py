"""Patterns and mail senders of the plan, resolved and previewed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from typing import Any

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import Slots, fold
from yardstick.core.links import patterns
from yardstick.core.links.addresses import why_not_opened
from yardstick.core.links.checkup import Checker
from yardstick.core.links.mail import SAMPLES, tag_mail_link
from yardstick.core.links.patterns import LANDING, PATTERN_LEVELS, REFERRER, Resolved
from yardstick.core.plan.plan import Plan
from yardstick.core.reading.tags import FIELDS

from ..plan.change_plan import change_records, read_plan
from ..workspace.desk import Desk
from .place_links import ends_well, why_withheld
from .visit_link import Visit, visit


@dataclass(frozen=True)
class PatternChoices:
    """What patterns can be asked for: platforms, and the campaigns, groups, ads and kinds that anything is set for."""

    platforms: list[str]
    campaigns: list[str]
    groups: list[str]
    ads: list[str]
    kinds: list[str]
    senders: list[str]


def choices(plan: Plan) -> PatternChoices:
    """What there is to choose from under a plan."""
    links = plan.linking
    set_for = [(p.level, p.name) for p in links.patterns] + [(s.level, s.name) for s in links.own_slots]
    names = {level: [n for at, n in set_for if at == level and n] for level in ("campaign", "group", "ad")}
    return PatternChoices(
        platforms=_distinct([*(d.platform for d in links.dialects), *(p.platform for p in links.patterns)]),
        campaigns=_distinct([*names["campaign"], *(c.name for c in plan.campaigns)]),
        groups=_distinct([*names["group"], *(v.name for v in plan.levels if v.level == "group")]),
        ads=_distinct([*names["ad"], *(v.name for v in plan.levels if v.level == "ad")]),
        kinds=_distinct([p.kind for p in links.patterns]),
        senders=_distinct([s.name for s in links.senders]),
    )


@dataclass(frozen=True)
class For:
    """Whose pattern is meant; an empty name means whatever stands at that level."""

    platform: str
    campaign: str = ""
    group: str = ""
    ad: str = ""
    kind: str = ""


def visit_ad(plan: Plan, whose: For, click: str, through: Mapping[str, str]) -> Visit:
    """Open an ad as a person who clicks on it, and compare what arrives with what its pattern means.

    Parameters
    ----------
    plan : whose patterns hold
    whose : of which ad
    click : the address the platform gives for a click on the ad
    through : host -> host:port; see `test_visit.visit`

    Raises
    ------
    SettingsError
        If nothing is set for it, or the click address cannot be opened.
    """
    resolved = resolve(plan, whose, "")
    if not resolved.meant:
        raise SettingsError(f"no pattern is set for {whose.platform}: set one first")
    reading = plan.reading
    slots = Slots(reading.slot_pairs)
    return visit(click, through, slots, resolved.meant, reading.test_parameter, ends_well(plan))


def resolve(plan: Plan, whose: For, landing: str) -> Resolved:
    """The pattern of an ad under a plan; see `core.patterns.resolve`. The address is checked as every link is, but its
    slots are left alone.

    Without a landing page the first of the plan is taken, else the first own host.

    Raises
    ------
    SettingsError
        If the landing page is no address.
    """
    problem = why_not_opened(landing) if landing else ""
    if problem:
        raise SettingsError(f"landing page: {problem}")
    own_pages = [page.address for page in plan.reading.pages] + [f"https://{h}/" for h in plan.reading.own_hosts]
    landing = landing or next((page for page in own_pages if page.startswith("http")), LANDING)
    links = plan.linking
    dialect = next((d for d in links.dialects if fold(d.platform) == fold(whose.platform)), None)
    found = patterns.resolve(
        whose.platform, whose.campaign, whose.group, whose.kind, links.patterns, links.own_slots, dialect, landing,
        plan.reading.required_tags, whose.ad,
    )  # fmt: skip
    withheld = "no landing page is known yet" if landing == LANDING else why_withheld(landing, plan)
    found = replace(found, withheld=withheld)
    if not found.meant:
        return found
    known = {(f.code, f.field.removeprefix("utm_")) for f in found.findings}
    checked = Checker(plan).check(found.address, pattern=True).findings
    more = tuple(f for f in checked if (f.code, f.field.removeprefix("utm_")) not in known)
    return replace(found, findings=(*found.findings, *more))


def set_cell(desk: Desk, whose: For, level: str, field: str, text: str, basis: int) -> None:
    """Say what one level says of one part, as one change of the plan; an empty text takes it out.

    Parameters
    ----------
    desk : the workspace
    whose : the platform, the kind of campaign, and the name at that level; empty = any
    level : one of `core.patterns.PATTERN_LEVELS`
    field : a tag field, `referrer`, or any other parameter
    text : with slots written `(:name:)`
    basis : `PlanNow.basis` of the plan it was made on

    Raises
    ------
    SettingsError
        If there is no such level, or the plan does not take it.
    Overtaken
        If the plan was changed in the meantime.
    """
    if level not in PATTERN_LEVELS:
        raise SettingsError(f"there is no level {level!r}; there are {', '.join(PATTERN_LEVELS)}")
    name = "" if level == "account" else getattr(whose, level)
    records = read_plan(desk).sections["pattern"]
    meant = tuple(map(fold, (whose.platform, level, name, whose.kind)))
    said = ("platform", "level", "name", "kind")
    at = next((i for i, r in enumerate(records) if tuple(fold(str(r.get(k, ""))) for k in said) == meant), None)
    record: dict[str, Any] = dict(zip(said, (whose.platform, level, name, whose.kind), strict=True))
    if at is not None:
        record = dict(records[at])
    field = field.strip().removeprefix("utm_") if field.strip().removeprefix("utm_") in FIELDS else field.strip()
    if field in (*FIELDS, REFERRER):
        record[field] = text.strip()
    else:
        others = [p for p in record.get("parameters", []) if fold(p.get("name", "")) != fold(field)]
        record["parameters"] = [*others, {"name": field, "text": text.strip()}] if text.strip() else others
    says = any(record.get(k) for k in (*FIELDS, REFERRER, "parameters"))
    if at is None:
        records = [*records, record] if says else records
    else:
        records = [*records[:at], *([record] if says else []), *records[at + 1 :]]
    where = " ".join(part for part in (whose.platform, level, name, whose.kind) if part)
    change_records(desk, "pattern", records, basis, f"{field} of the pattern of {where}")


@dataclass(frozen=True)
class MailPreview:
    """A link of a mail before and after."""

    kind: str
    before: str
    after: str


def preview_mail(plan: Plan, sender: str, values: dict[str, str]) -> list[MailPreview]:
    """What a sender's mails make of an untagged link, a tagged one and one with a fragment."""
    mine = [s for s in plan.linking.senders if fold(s.name) == fold(sender)]
    return [MailPreview(s.kind, url, tag_mail_link(url, s, values)) for s in mine for url in SAMPLES]


def _distinct(names: list[str]) -> list[str]:
    return list(dict.fromkeys(name for name in names if name))
