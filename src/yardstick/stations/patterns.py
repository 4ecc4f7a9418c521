"""Patterns and mail senders of the plan, resolved and previewed."""

from __future__ import annotations

from dataclasses import dataclass

from yardstick.core import patterns
from yardstick.core.mail import SAMPLES, tag_mail_link
from yardstick.core.patterns import LANDINGS, Resolved
from yardstick.core.settings import SettingsError
from yardstick.core.tags import why_not_an_address
from yardstick.core.words import fold
from yardstick.formats.plan_document import Document


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


def resolve(text: str, platform: str, campaign: str, group: str, kind: str, landing: str) -> Resolved:
    """The pattern of a group under a plan; see `core.patterns.resolve`.

    Raises
    ------
    SettingsError
        If the landing page is no address.
    """
    problem = why_not_an_address(landing) if landing else ""
    if problem:
        raise SettingsError(f"landing page: {problem}")
    read = Document(text).read()
    dialect = next((d.plain() for d in read.dialect if fold(d.platform) == fold(platform)), None)
    plain = [p.plain() for p in read.pattern], [s.plain() for s in read.own_slot]
    return patterns.resolve(platform, campaign, group, kind, *plain, dialect, landing or LANDINGS[0])


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
