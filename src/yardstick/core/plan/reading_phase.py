"""How what comes is read: the records of it, and their phase (R1-R5, R8, R9)."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from functools import cached_property

from .campaign_records import CampaignNames, Level, Rename
from .campaigns import Names


@dataclass(frozen=True)
class Condition:
    """One condition of a channel rule: a field, an operator, and the value or values it is held against."""

    field: str
    op: str
    values: tuple[str, ...] = ()


@dataclass(frozen=True)
class ChannelRule:
    """A channel's name and the conditions that must all hold (R5)."""

    name: str
    when: tuple[Condition, ...]


@dataclass(frozen=True)
class Legend:
    """How the tags of some arrivals are to be read from a day on (R3).

    Attributes
    ----------
    when : conditions that must all hold; none = every arrival
    since : its first day; None = from the beginning. Of legends with equal conditions the latest that has begun holds
    roles : pairs of field or extra value, and role
    fixed : pairs of role and the text that fills it
    until : its last day; a version that has ended ends its legend
    """

    when: tuple[Condition, ...]
    since: date | None
    roles: tuple[tuple[str, str], ...]
    fixed: tuple[tuple[str, str], ...] = ()
    until: date | None = None


@dataclass(frozen=True)
class Naming:
    """How the values of a field are put together: parts with a separator, each a column `extra:NAME` of its own.

    Attributes
    ----------
    field : source, medium, campaign, term, content, id or an extra value
    parts : names of the parts, in order
    allowed : per part, the words it may be; empty = any
    """

    field: str
    separator: str
    parts: tuple[str, ...]
    allowed: tuple[tuple[str, ...], ...] = ()


@dataclass(frozen=True)
class Page:
    """A landing page, or a variant of one: its address without query, and the name reports show."""

    name: str
    address: str
    variant: bool = False


@dataclass(frozen=True)
class QuarantineRule:
    """Conditions under which a record is a test record (R9); all must hold."""

    when: tuple[Condition, ...]


@dataclass(frozen=True)
class RecordState:
    """A record that was taken out or put back by hand (R9): "quarantined" or "counted"."""

    table: str
    id: str
    state: str


@dataclass(frozen=True)
class Separation:
    """Two identifiers that are not one person: on rows that carry both, from a day on, the second is none (R33).

    `first` and `second` are written `kind:value`, see `base.identifiers.stated_identifier`.
    """

    first: str
    second: str
    since: date | None = None


USUALLY_REQUIRED = ("source", "medium", "campaign")
"""Tags that every link of ours must have, unless the settings say otherwise."""


@dataclass(frozen=True)
class Reading:
    """How what comes is read: hosts, parameters, legends, channels, names (R1-R5, R8)."""

    time_zone: str = "UTC"
    fold: bool = True
    own_hosts: tuple[str, ...] = ()
    pass_through_hosts: tuple[str, ...] = ()
    search_sites: tuple[str, ...] = ()
    social_sites: tuple[str, ...] = ()
    click_marks: tuple[str, ...] = ()
    extra_values: tuple[str, ...] = ()
    tag_parameters: tuple[str, ...] = ()
    required_tags: tuple[str, ...] = USUALLY_REQUIRED
    slot_pairs: tuple[tuple[str, str], ...] = ()
    channels: tuple[ChannelRule, ...] = ()
    shared_channels: tuple[ChannelRule, ...] = ()
    legends: tuple[Legend, ...] = ()
    renames: tuple[Rename, ...] = ()
    namings: tuple[Naming, ...] = ()
    allowed: tuple[tuple[str, tuple[str, ...]], ...] = ()
    value_case: str = "any"
    value_spaces: str = "any"
    named_campaigns: tuple[CampaignNames, ...] = ()
    platform_kinds: tuple[tuple[str, str, str], ...] = ()
    named_levels: tuple[Level, ...] = ()
    pages: tuple[Page, ...] = ()
    quarantine: tuple[QuarantineRule, ...] = ()
    records: tuple[RecordState, ...] = ()
    separations: tuple[Separation, ...] = ()
    test_parameter: str = "yt-test"

    @cached_property
    def names(self) -> Names:
        """Which campaign, source, group... a text means on a day."""
        return Names(self.fold, self.renames, self.named_campaigns, self.named_levels)
