"""Patterns and mail senders of the plan, resolved and previewed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from yardstick.core import patterns
from yardstick.core.mail import SAMPLES, tag_mail_link
from yardstick.core.patterns import LANDINGS, Resolved
from yardstick.core.settings import SettingsError
from yardstick.core.tags import why_not_an_address
from yardstick.core.words import Slots, fold
from yardstick.formats.plan_document import Document

from .test_visit import Visit, visit


@dataclass(frozen=True)
class PatternChoices:
    """What patterns can be asked for: platforms, and the campaigns, groups and kinds that anything is set for."""

    platforms: list[str]
    campaigns: list[str]
    groups: list[str]
    kinds: list[str]
    senders: list[str]


def choices(text: str) -> PatternChoices:
    """What there is to choose from under a plan."""
    read = Document(text).read()
    set_for = [(p.level, p.name) for p in read.pattern] + [(s.level, s.name) for s in read.own_slot]
    names = {level: [n for at, n in set_for if at == level and n] for level in ("campaign", "group")}
    return PatternChoices(
        platforms=_distinct([*(d.platform for d in read.dialect), *(p.platform for p in read.pattern)]),
        campaigns=_distinct([*names["campaign"], *(c.name for c in read.campaign)]),
        groups=_distinct([*names["group"], *(v.name for v in read.level if v.level == "group")]),
        kinds=_distinct([p.kind for p in read.pattern]),
        senders=_distinct([s.name for s in read.sender]),
    )


def visit_ad(
    text: str, platform: str, campaign: str, group: str, kind: str, click: str, through: Mapping[str, str]
) -> Visit:
    """Open an ad as a person who clicks on it, and compare what arrives with what its pattern means.

    Parameters
    ----------
    text : the plan
    platform, campaign, group, kind : whose pattern it is
    click : the address the platform gives for a click on the ad
    through : host -> host:port; see `test_visit.visit`

    Raises
    ------
    SettingsError
        If nothing is set for it, or the click address cannot be opened.
    """
    resolved = resolve(text, platform, campaign, group, kind, "")
    if not resolved.meant:
        raise SettingsError(f"no pattern is set for {platform}: set one in Plan first")
    return visit(click, through, Slots(Document(text).settings().slot_pairs), resolved.meant)


def resolve(text: str, platform: str, campaign: str, group: str, kind: str, landing: str) -> Resolved:
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
    read = Document(text).read()
    own_pages = [p.address for p in read.landing_page] + [f"https://{host}/" for host in read.own_hosts]
    landing = landing or next(iter(own_pages), LANDINGS[0])
    dialect = next((d.plain() for d in read.dialect if fold(d.platform) == fold(platform)), None)
    plain = [p.plain() for p in read.pattern], [s.plain() for s in read.own_slot]
    return patterns.resolve(platform, campaign, group, kind, *plain, dialect, landing)


@dataclass(frozen=True)
class MailPreview:
    """A link of a mail before and after."""

    kind: str
    before: str
    after: str


def preview_mail(text: str, sender: str, values: dict[str, str]) -> list[MailPreview]:
    """What a sender's mails make of an untagged link, a tagged one and one with a fragment."""
    read = Document(text).read()
    mine = [s.plain() for s in read.sender if fold(s.name) == fold(sender)]
    return [MailPreview(s.kind, url, tag_mail_link(url, s, values)) for s in mine for url in SAMPLES]


def _distinct(names: list[str]) -> list[str]:
    return list(dict.fromkeys(name for name in names if name))
