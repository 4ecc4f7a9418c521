"""How what comes is read, as written in settings.toml: channels, legends, renames, patterns of names, pages."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import collapse, fold
from yardstick.core.plan.campaign_records import Rename
from yardstick.core.plan.reading_phase import ChannelRule, Condition, Legend, Naming, Page
from yardstick.core.reading.legends import ROLES
from yardstick.core.reading.pages import page_key
from yardstick.core.reading.tags import FIELDS

from .condition_parts import ConditionPart, when_as_written
from .part_fields import Day, Name, OpenDay, Separator, SettingsPart, Word, described_field
from .section import MARK, RecordPart, Section
from .what_changes import FINDINGS, SHOWN


class NamePartPart(SettingsPart):
    """One part of a naming pattern."""

    name: Name = described_field("Its name; a breakdown by extra:NAME shows it.", "audience")
    allowed: list[Word] = described_field("The words it may be; empty for any.", "families", default=[])


class NamingPart(SettingsPart):
    """How values of a field are put together; its parts become columns."""

    field: Name = described_field("source, medium, campaign, term, content, id or an extra value.", "content")
    separator: Separator = described_field("What stands between the parts; write space for a space.", "_", default="_")
    parts: Annotated[list[NamePartPart], Field(min_length=1)] = described_field("The parts in order.")

    def plain(self) -> Naming:
        """The pattern."""
        return Naming(
            self.field.removeprefix("utm_"),
            self.separator,
            tuple(p.name for p in self.parts),
            tuple(tuple(w for w in p.allowed if w) for p in self.parts),
        )


class AllowedPart(SettingsPart):
    """The words a field may be. Any other word in a link or an arrival is a finding."""

    field: Name = described_field("source, medium, campaign, term, content, id or an extra value.", "source")
    words: Annotated[list[Name], Field(min_length=1)] = described_field("The words.", "quorrin")

    def plain(self) -> tuple[str, tuple[str, ...]]:
        """The field, and its words."""
        return self.field.removeprefix("utm_"), tuple(self.words)


class ChannelPart(RecordPart):
    """A channel rule of the workspace's own, or one it shares with others; the first that fits wins."""

    core = ChannelRule

    name: Name = described_field("The channel it gives.", "Partners")
    when: Annotated[list[ConditionPart], Field(min_length=1)] = described_field("Conditions; all must be met.")


class FixedPart(BaseModel):
    """Roles that a legend fills with one text, whatever the address says; `extra:NAME` too."""

    model_config = ConfigDict(extra="allow")

    channel: Word = described_field("The channel.", "Paid social", default="")
    source: Word = described_field("The source.", "ostrel", default="")
    medium: Word = described_field("The medium.", "cpc", default="")
    campaign: Word = described_field("The campaign.", "Spring Whale Boats", default="")
    group: Word = described_field("The group.", "Families", default="")
    ad: Word = described_field("The ad.", "Humpback", default="")
    keyword: Word = described_field("The keyword.", "ferry", default="")
    placement: Word = described_field("The placement.", "feed", default="")
    item: Word = described_field("What the ad promotes.", "year card", default="")
    audience: Word = described_field("Whom it is shown to.", "families", default="")

    def plain(self) -> tuple[tuple[str, str], ...]:
        """Pairs of role and text."""
        given = {name: getattr(self, name) for name in type(self).model_fields} | (self.model_extra or {})
        for role, text in given.items():
            if not isinstance(text, str):
                raise ValueError(f"{role}: a role is filled with a text")
        return tuple((role, collapse(text)) for role, text in given.items() if text.strip())


class LegendPart(BaseModel):
    """How the tags of a source, or of arrivals that fit conditions, are to be read from a day on."""

    model_config = ConfigDict(extra="allow", populate_by_name=True, serialize_by_alias=True)

    source: Word = described_field(
        "The source, as its links carry it; empty where conditions say more.", "ostrel", default=""
    )
    when: list[ConditionPart] = described_field(
        "Conditions; all must be met. None and no source: every arrival.", default=[]
    )
    since: Day | None = described_field(
        "First day it holds; empty for always.", "2026-01-01", default=None, alias="from"
    )
    until: OpenDay = described_field(
        "Last day it holds; empty for as long as nothing else is said.", "2026-03-31", default=None
    )
    fixed: FixedPart = described_field(
        "Roles that one text fills, whatever the address says.", default_factory=FixedPart
    )

    def plain(self) -> Legend:
        """The legend."""
        roles = []
        for field, role in (self.model_extra or {}).items():
            if not isinstance(role, str):
                raise ValueError(f"{field}: a role is one of {', '.join(ROLES)}, or extra:NAME")
            if role.strip():
                roles.append((_field_of(field.strip()), role.strip()))
        when = [Condition("source", "is", (self.source,))] if self.source else []
        when += [stated.plain() for stated in self.when]
        return Legend(tuple(when), self.since, tuple(roles), self.fixed.plain(), self.until)


class RenamePart(RecordPart):
    """A value that is another from a day on; two values renamed to one are merged. Raw values stay."""

    core = Rename

    field: Name = described_field(
        "campaign, source, medium, group, ad, keyword, placement, item, audience, goal or extra:NAME.", "source"
    )
    old: Name = described_field("The value as it came.", "ostrell")
    new: Name = described_field("The value it becomes.", "ostrel")
    since: Day | None = described_field(
        "First day it holds; empty for always.", "2026-03-01", default=None, alias="from"
    )


def _field_of(name: str) -> str:
    """A tag of the six goes by its field, every other name by itself."""
    short = name.removeprefix("utm_")
    return short if short in FIELDS else name


class VariantPart(SettingsPart):
    """A variant of a split test."""

    name: Name = described_field("What tells it apart.", "B, short form")
    address: Name = described_field("Its own address.", "https://www.lunnick.example/boats-b")


class LandingPagePart(SettingsPart):
    """A landing page; reports show its name in place of its address."""

    name: Name = described_field("The name reports show.", "Boats")
    address: Name = described_field(
        "Where it is; query and closing slash do not matter.", "https://www.lunnick.example/boats"
    )
    kind: Literal["straight to the offer", "one page", "several steps"] = described_field(
        "How the visitor comes to the offer.", "one page", default="one page"
    )
    variants: list[VariantPart] = described_field("Variants of a split test, each a row of its own.", default=[])

    def plain(self) -> tuple[Page, ...]:
        """The page and its variants."""
        variants = (Page(f"{self.name}: {v.name}", v.address, True) for v in self.variants)
        return (Page(self.name, self.address), *variants)


CHANNEL = Section(
    "channel",
    ChannelPart,
    plan_field="channels",
    title="Channel rules",
    one="rule",
    purpose="Asked in this order, before the shared and the built-in ones; the first that fits wins. Drag "
    "a row to move it.",
    columns=("name", "when"),
    ordered=True,
    used=when_as_written,
)

SHARED_CHANNEL = Section(
    "shared_channel",
    ChannelPart,
    plan_field="shared_channels",
    title="Shared rules",
    one="shared rule",
    purpose="Asked after the own rules. This workspace keeps its copy: a list shared elsewhere changes its "
    "figures only when you take it over.",
    columns=("name", "when"),
    ordered=True,
    used=when_as_written,
)


def _legends(parts: Sequence[LegendPart]) -> tuple[Legend, ...]:
    out = []
    for part in parts:
        try:
            out.append(part.plain())
        except ValueError as problem:
            who = f"legend {part.source!r}" if part.source else "legend"
            raise SettingsError(f"{who}: {problem}") from None
    return tuple(out)


def _legend_as_written(record: dict[str, Any]) -> dict[str, Any]:
    kept = when_as_written(record)
    roles = {f"utm_{name}" if name in FIELDS else name: role for name, role in kept.pop("roles")}
    return kept | {"fixed": dict(kept["fixed"])} | roles


LEGEND = Section(
    "legend",
    LegendPart,
    plan_field="legends",
    title="Legends",
    one="legend",
    purpose="How a source, or arrivals that fit conditions, use the tag fields from a day on; of several the first "
    "that fits holds.",
    columns=(
        *("source", "when", "from", "fixed"),
        *("utm_term", "utm_content", "utm_medium", "utm_campaign", "utm_id"),
    ),
    plain=_legends,
    used=_legend_as_written,
)


RENAME = Section(
    "rename",
    RenamePart,
    plan_field="renames",
    title="Renames and merges",
    one="rename",
    purpose="A value that is another from a day on; two renamed to one are merged. Raw values stay.",
    columns=("field", "old", "new", "from"),
)

NAMING = Section(
    "naming",
    NamingPart,
    plan_field="namings",
    title="Naming patterns",
    one="naming pattern",
    purpose="Parts a name is put together from; each part is a breakdown of its own.",
    columns=("field", "separator", "parts"),
    once=(("the naming pattern of", lambda part: [fold(part.field)]),),
)

ALLOWED = Section(
    "allowed",
    AllowedPart,
    plan_field="allowed",
    title="Allowed words",
    one="list",
    purpose="Any other word in a link or an arrival is a finding.",
    columns=("field", "words"),
    changes=FINDINGS,
    once=(("the allowed words of", lambda part: [fold(part.field)]),),
)

LANDING_PAGE = Section(
    "landing_page",
    LandingPagePart,
    plan_field="pages",
    title="Landing pages",
    one="page",
    purpose="Names for addresses, and the variants of split tests.",
    columns=("name", "address", "kind", "variants"),
    place=MARK,
    except_for={"kind": SHOWN},
    once=(
        ("landing page", lambda part: [part.name, *(f"{part.name}: {v.name}" for v in part.variants)]),
        (
            "the address of a landing page",
            lambda part: map(page_key, [part.address, *(v.address for v in part.variants)]),
        ),
    ),
    plain=lambda parts: tuple(page for part in parts for page in part.plain()),
)
