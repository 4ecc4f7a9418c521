"""The records of a plan that links are made of."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field

AS_BROWSERS = "as browsers do"
REFERRERS = (AS_BROWSERS, "none", "host", "whole")
"""What a page may learn of where the visitor comes from."""
EARLIER_REFERRERS = {"withhold": "none", "host only": "host", "pass on": "whole"}
"""What the same was called before; still read."""


@dataclass(frozen=True)
class Pattern:
    """What one level says.

    Attributes
    ----------
    platform : the ad platform
    level : account, campaign, group or ad
    name : the campaign, group or ad it is for; empty = any
    kind : the kind of campaign it is for; empty = any
    fields : text by field or parameter, with slots written `(:name:)`
    referrer : what pages may learn of where the visitor comes from, one of `REFERRERS`; empty = nothing said here
    """

    platform: str
    level: str
    name: str = ""
    kind: str = ""
    fields: Mapping[str, str] = field(default_factory=dict)
    referrer: str = ""


@dataclass(frozen=True)
class OwnSlot:
    """A slot of the workspace's own: what it stands for in one campaign, group or ad."""

    platform: str
    level: str
    name: str
    slot: str
    value: str


@dataclass(frozen=True)
class DialectSlot:
    """A slot as a platform knows it. `levels` = where it may be used, empty = anywhere."""

    name: str
    means: str
    levels: tuple[str, ...] = ()
    example: str = ""


@dataclass(frozen=True)
class Dialect:
    """How a platform writes its slots. `landing` names the one that holds the landing page; empty = it has none."""

    platform: str
    opens: str
    closes: str
    slots: tuple[DialectSlot, ...] = ()
    landing: str = ""


@dataclass(frozen=True)
class Sender:
    """How one kind of mail of one sender is tagged. `fields` are texts with the slots of `SLOTS`; `own` are parameters
    by name, which links get that are tagged already, too."""

    name: str
    kind: str
    fields: Mapping[str, str] = field(default_factory=dict)
    own: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Place:
    """A place for links. `longest` is in bytes, None = the general limit; `asked_by` puts links there; `cells` are what
    its links have where their rows say nothing else."""

    name: str
    box: str = ""
    leave: str = ""
    longest: int | None = None
    asked_by: str = ""
    cells: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Preset:
    """Cells to fill rows of the link sheet with, by column."""

    name: str
    cells: Mapping[str, str] = field(default_factory=dict)


@dataclass(frozen=True)
class Store:
    """A place beyond the own site where a link ends: a host, or an app that opens addresses of a scheme. `id_in` is a
    parameter; empty = the last part of the path."""

    host: str
    id_in: str
    id_kind: str
    scheme: str = ""


@dataclass(frozen=True)
class Linking:
    """What links are built from."""

    referrer: str = AS_BROWSERS
    short_base: str = ""
    dialects: tuple[Dialect, ...] = ()
    places: tuple[Place, ...] = ()
    stores: tuple[Store, ...] = ()
    presets: tuple[Preset, ...] = ()
    patterns: tuple[Pattern, ...] = ()
    own_slots: tuple[OwnSlot, ...] = ()
    senders: tuple[Sender, ...] = ()
