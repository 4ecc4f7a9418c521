"""Patterns and mail senders of the plan, resolved and previewed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import Slots, fold
from yardstick.core.links import patterns
from yardstick.core.links.mail import SAMPLES, tag_mail_link
from yardstick.core.links.patterns import LANDING, Resolved
from yardstick.core.plan.plan import Plan
from yardstick.core.reading.tags import why_not_an_address

from .test_visit import Visit, visit


@dataclass(frozen=True)
class PatternChoices:
    """What patterns can be asked for: platforms, and the campaigns, groups and kinds that anything is set for."""

    platforms: list[str]
    campaigns: list[str]
    groups: list[str]
    kinds: list[str]
    senders: list[str]


def choices(plan: Plan) -> PatternChoices:
    """What there is to choose from under a plan."""
    links = plan.linking
    set_for = [(p.level, p.name) for p in links.patterns] + [(s.level, s.name) for s in links.own_slots]
    names = {level: [n for at, n in set_for if at == level and n] for level in ("campaign", "group")}
    return PatternChoices(
        platforms=_distinct([*(d.platform for d in links.dialects), *(p.platform for p in links.patterns)]),
        campaigns=_distinct([*names["campaign"], *(c.name for c in plan.campaigns)]),
        groups=_distinct([*names["group"], *(v.name for v in plan.levels if v.level == "group")]),
        kinds=_distinct([p.kind for p in links.patterns]),
        senders=_distinct([s.name for s in links.senders]),
    )


def visit_ad(
    plan: Plan, platform: str, campaign: str, group: str, kind: str, click: str, through: Mapping[str, str]
) -> Visit:
    """Open an ad as a person who clicks on it, and compare what arrives with what its pattern means.

    Parameters
    ----------
    plan : whose patterns hold
    platform, campaign, group, kind : whose pattern it is
    click : the address the platform gives for a click on the ad
    through : host -> host:port; see `test_visit.visit`

    Raises
    ------
    SettingsError
        If nothing is set for it, or the click address cannot be opened.
    """
    resolved = resolve(plan, platform, campaign, group, kind, "")
    if not resolved.meant:
        raise SettingsError(f"no pattern is set for {platform}: set one in Plan first")
    reading = plan.reading
    return visit(click, through, Slots(reading.slot_pairs), resolved.meant, reading.test_parameter)


def resolve(plan: Plan, platform: str, campaign: str, group: str, kind: str, landing: str) -> Resolved:
    """The pattern of a group under a plan; see `core.patterns.resolve`.

    Without a landing page the first of the plan is taken, else the first own host.

    Raises
    ------
    SettingsError
        If the landing page is no address.
    """
    problem = why_not_an_address(landing) if landing else ""
    if problem:
        raise SettingsError(f"landing page: {problem}")
    own_pages = [page.address for page in plan.reading.pages] + [f"https://{h}/" for h in plan.reading.own_hosts]
    landing = landing or next(iter(own_pages), LANDING)
    links = plan.linking
    dialect = next((d for d in links.dialects if fold(d.platform) == fold(platform)), None)
    return patterns.resolve(
        platform, campaign, group, kind, links.patterns, links.own_slots, dialect, landing, plan.reading.required_tags
    )


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
