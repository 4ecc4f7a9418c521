"""What is wrong with the values of tags: against the words of the plan, its campaigns, and what arrived."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Mapping
from datetime import date

from ..base.words import fold
from ..plan.name_rules import NameRules
from ..plan.plan import Plan
from ..reading.channels import BY_MEDIUM, PAID
from ..reading.tags import FIELDS, host_of
from .nearness import How, KnownValues


class ValueCheck:
    """Checks the value of a tag.

    Parameters
    ----------
    plan : allowed words, naming patterns, campaigns
    known : further known values per field: those of the link sheet
    arrived : values per field with which so many visits came that they are names
    today : campaigns that ended before are a finding; None = no campaign has ended
    own : tells whether a host is one of ours
    """

    def __init__(
        self,
        plan: Plan,
        known: Mapping[str, Iterable[str]],
        arrived: Mapping[str, Iterable[str]],
        today: date | None,
        own: Callable[[str], bool],
    ) -> None:
        self._plan, self._today, self._own = plan, today, own
        self._same, self._rules = plan.reading.names.same, NameRules(plan.reading)
        values = {name: list(self._rules.words(name).values()) for name in FIELDS}
        values["campaign"] += [value for c in plan.campaigns for value in (c.code, c.name) if value]
        if not self._rules.words("medium"):
            values["medium"] += [*PAID, *(word for words in BY_MEDIUM.values() for word in words)]
        self._known = {
            name: KnownValues(words, arrived.get(name, ()), known.get(name, ())) for name, words in values.items()
        }

    def mended(self, name: str, value: str, note: Callable[..., None]) -> str:
        """The value of a tag as it should be.

        Parameters
        ----------
        name, value : of the tag
        note : told (code, message, value) of each thing that is wrong with it
        """
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

    def near(self, name: str, value: str) -> str:
        """The known value that a value of a tag may have been meant as, empty where none is near."""
        known = self._known.get(name)
        found = known.near(value) if known else None
        return found.known if found else ""

    def _may_be_linked(self, value: str) -> bool:
        """Whether a campaign of the plan may go by this in a link; plain names stay inside."""
        found = self._plan.campaign_of(value)
        return found is not None and (not found.plain_name or self._same(value) != self._same(found.plain_name))
