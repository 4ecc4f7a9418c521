"""Checks of the plan that go across records: names that appear twice, codes that two campaigns own."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date
from typing import TYPE_CHECKING

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.schema import CANCELLED, TEST
from yardstick.core.base.words import fold
from yardstick.core.costs.further_costs import LONGEST_DAYS
from yardstick.core.reading.pages import page_key
from yardstick.core.reading.tags import FIELDS

if TYPE_CHECKING:
    from .plan_parts import CampaignPart, GoalPart
    from .settings_toml import SettingsFile


def check_plan(read: SettingsFile, yardsticks: list[str]) -> None:
    """See that the records of a plan do not contradict each other.

    Raises
    ------
    SettingsError
        Says which two do, and what to do.
    """
    _once("yardstick", yardsticks)
    _once("the yardstick of the panel", read.panel)
    for name in read.panel:
        if name not in yardsticks:
            raise SettingsError(f"panel: there is no yardstick {name!r}; there are {', '.join(yardsticks)}")
    _once("platform", (fold(p.name) for p in read.platform))
    _once("the required tag", map(fold, read.required_tags))
    kept = {fold(name) for name in (*FIELDS, *read.extra_values, *read.tag_parameters)}
    for name in read.required_tags:
        if fold(name) not in kept:
            fields = ", ".join(FIELDS)
            raise SettingsError(f"required_tags: unknown tag {name!r}; tags are {fields} and those of tag_parameters")
    _once("the status word", (fold(s.word) for s in read.status))
    for said in read.status:
        if fold(said.word) in (CANCELLED, TEST):
            raise SettingsError(f"status: {said.word!r} has its meaning already: it never counts")
    _once("the record", (f"{r.table} {r.id}" for r in read.record))
    _once("dialect", (fold(d.platform) for d in read.dialect))
    for one in read.dialect:
        for sign in (one.opens, one.closes):
            if sign.isalnum():
                raise SettingsError(
                    f"dialect of {one.platform}: {sign!r} is a word like any other, so no slot is told by it: "
                    "check how the platform writes its slots"
                )
            if sign == "=" or set(sign) & set("#&?"):
                raise SettingsError(
                    f"dialect of {one.platform}: {sign!r} parts an address, so no slot can be written with it: "
                    "check how the platform writes its slots"
                )
    _once("place", (fold(p.name) for p in read.place))
    _once("preset", (fold(p.name) for p in read.preset))
    _once("the pattern of", (fold(f"{p.platform} {p.level} {p.name} {p.kind}") for p in read.pattern))
    _once("the own slot", (fold(f"{s.platform} {s.level} {s.name} {s.slot}") for s in read.own_slot))
    _once("the mail sender", (fold(f"{s.name} {s.kind}") for s in read.sender))
    _once("store", (fold(s.host or s.scheme) for s in read.store))
    _goals(read.goal, yardsticks)
    _campaigns(read.campaign)
    pages = [(page_key(p.address), p.name) for p in read.landing_page]
    pages += [(page_key(v.address), f"{p.name}: {v.name}") for p in read.landing_page for v in p.variants]
    _once("landing page", (name for _, name in pages))
    _once("the address of a landing page", (key for key, _ in pages))
    _once("the allowed words of", (fold(a.field) for a in read.allowed))
    _once("the naming pattern of", (fold(n.field) for n in read.naming))
    for cost in read.other_cost:
        if cost.last < cost.first:
            raise SettingsError(f"other cost of {cost.campaign}: it ends before it begins: swap from and to")
        if (cost.last - cost.first).days >= LONGEST_DAYS:
            raise SettingsError(f"other cost of {cost.campaign}: it runs for more than ten years: shorten it")
    for price in read.click_price:
        if price.first and price.last and price.last < price.first:
            raise SettingsError(f"price per click of {price.campaign}: it ends before it begins: swap from and to")


def _once(what: str, names: Iterable[str]) -> None:
    seen: set[str] = set()
    for name in names:
        if name in seen:
            raise SettingsError(f"{what} {name!r} appears twice: give each a name of its own")
        seen.add(name)


def _goals(goals: list[GoalPart], yardsticks: list[str]) -> None:
    kinds: dict[str, str] = {}
    seen: set[tuple[str, date | None]] = set()
    for goal in goals:
        if (goal.name, goal.since) in seen:
            when = f" from {goal.since}" if goal.since else ""
            raise SettingsError(
                f"goal {goal.name!r}{when} appears twice: give each a name of its own, or a day of its own"
            )
        seen.add((goal.name, goal.since))
        kind = goal.plain().kind
        if kinds.setdefault(goal.name, kind) != kind:
            raise SettingsError(f"goal {goal.name!r} is a lead in one version and a sale in another: choose one")
        if goal.yardstick and goal.yardstick not in yardsticks:
            known = ", ".join(yardsticks)
            raise SettingsError(f"goal {goal.name!r}: there is no yardstick {goal.yardstick!r}; there are {known}")


def _campaigns(campaigns: list[CampaignPart]) -> None:
    _once("campaign", (fold(c.name) for c in campaigns))
    _once("the code", (fold(c.code) for c in campaigns if c.code))
    _once("the plain name", (fold(c.plain_name) for c in campaigns if c.plain_name))
    _once("the campaign id", (fold(i) for c in campaigns for i in c.ids if i))
    _once("the voucher code", (fold(v) for c in campaigns for v in c.vouchers if v))
    names = {fold(c.name): c.name for c in campaigns}
    for c in campaigns:
        for what, other in (("code", c.code), ("plain name", c.plain_name)):
            owner = names.get(fold(other)) if other else None
            if owner is not None and owner != c.name:
                raise SettingsError(f"campaign {c.name!r}: its {what} is the name of {owner!r}: choose another")
        if c.starts and c.ends and c.ends < c.starts:
            raise SettingsError(f"campaign {c.name!r} ends before it starts: swap its days")
