"""The records of the plan that make and read links. Each field says in one line what goes in it, with an example."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from yardstick.core.base.errors import SettingsError
from yardstick.core.base.words import fold
from yardstick.core.plan.linking_phase import (
    Dialect,
    DialectSlot,
    OwnSlot,
    Pattern,
    Place,
    Preset,
    Sender,
    Store,
)

from .part_fields import Name, Referrer, SettingsPart, Word, described_field
from .section import MARK, RecordPart, Section
from .what_changes import FIGURES, LINKS


class SlotPart(RecordPart):
    """One slot an ad platform fills at the click."""

    core = DialectSlot

    name: Name = described_field("Its name in the platform's own spelling.", "adgroup")
    means: Name = described_field("What it stands for; our patterns name it so.", "group-name")
    levels: list[Literal["account", "campaign", "group", "ad"]] = described_field(
        "Where it may be used; empty for anywhere.", "group", default=[]
    )
    example: Word = described_field("A value to preview with.", "Whale search", default="")


class DialectPart(RecordPart):
    """How one ad platform writes its slots. Text in them that was never filled is read as empty."""

    core = Dialect

    platform: Name = described_field("The ad platform.", "Quorrin")
    opens: Name = described_field("What stands before a slot's name.", "{=")
    closes: Name = described_field("What stands after it.", "=}")
    landing: Word = described_field(
        "The name of its slot for the landing page itself; empty: it has none.", "landing", default=""
    )
    slots: list[SlotPart] = described_field("The slots it knows.", default=[])


class CellPart(SettingsPart):
    """A further column of the link sheet, such as an extra value, and what goes into it."""

    name: Name = described_field("The column.", "size")
    text: Name = described_field("What goes into it.", "wide")


def by_name(described_field: Iterable[tuple[str, str]], taken: Iterable[str]) -> dict[str, str]:
    """Texts by the name of their column or parameter.

    Raises
    ------
    ValueError
        If one appears twice, or has a field of its own.
    """
    out: dict[str, str] = {}
    own = {fold(name) for name in taken}
    for name, text in described_field:
        if fold(name) in own:
            raise ValueError(f"{name} has a field of its own: write it there")
        if name in out:
            raise ValueError(f"{name} appears twice: keep one")
        out[name] = text
    return out


class RowFields(SettingsPart):
    """What rows of the link sheet may be given."""

    source: Word = described_field("Source.", "ostrel", default="")
    medium: Word = described_field("Medium.", "paid-social", default="")
    campaign: Word = described_field("Campaign.", "Midnight Boat", default="")
    term: Word = described_field("Term.", "feed night", default="")
    content: Word = described_field("Content.", "night-a", default="")
    page: Word = described_field("Landing page.", "Night boat", default="")
    cells: list[CellPart] = described_field("Any other column of the link sheet.", default=[])

    @model_validator(mode="after")
    def _once(self) -> Self:
        self.row_cells()
        return self

    def row_cells(self) -> dict[str, str]:
        """By column, those that are filled."""
        named = {name: getattr(self, name) for name in ROW_FIELDS}
        others = by_name(((cell.name, cell.text) for cell in self.cells), ROW_FIELDS)
        return {name: text for name, text in named.items() if text} | others


ROW_FIELDS = ("source", "medium", "campaign", "term", "content", "page")


class PlacePart(RowFields):
    """A place where links are put: which box takes them, and how long they may be there. What else it says holds for
    its links where their rows say nothing."""

    name: Name = described_field("The place, as the link sheet names it.", "Ostrel feed ad")
    box: Word = described_field("Which box of it takes the address.", "Destination", default="")
    leave: Word = described_field("What must not be touched there.", "the box Display address", default="")
    longest: Annotated[int, Field(gt=20, le=100_000)] | None = described_field(
        "How many bytes an address may have there.", "1024", default=None
    )
    asked_by: Word = described_field("Who puts it there.", "Tove", default="")

    def plain(self) -> Place:
        """The place."""
        return Place(self.name, self.box, self.leave, self.longest, self.asked_by, self.row_cells())


class PresetPart(RowFields):
    """Cells to fill rows of the link sheet with."""

    name: Name = described_field("What it is called.", "Ostrel feed")
    placement: Word = described_field("Place.", "Ostrel feed ad", default="")

    def plain(self) -> Preset:
        """The preset."""
        where = {"placement": self.placement} if self.placement else {}
        return Preset(self.name, {**self.row_cells(), **where})


class StorePart(RecordPart):
    """A shop for apps, an app or another place beyond your site, where a link ends; only clicks can be counted
    there."""

    core = Store

    host: Word = described_field("Its host; empty for an app.", "apps.tidegate.example", default="")
    scheme: Annotated[Word, Field(pattern=r"^([A-Za-z][A-Za-z0-9+.-]*)?$")] = described_field(
        "Of an app: the scheme of addresses that open it.", "lunnick-boats", default=""
    )
    id_in: Word = described_field(
        "The parameter that holds the app's id; empty: the last part of the path.", "id", default=""
    )
    id_kind: Literal["number", "reverse domain", "any"] = described_field(
        "How its ids look.", "reverse domain", default="number"
    )

    @model_validator(mode="after")
    def _either(self) -> Self:
        if bool(self.host) == bool(self.scheme):
            raise ValueError("name a host or the scheme of an app, one of them")
        if fold(self.scheme) in WEB_SCHEMES:
            raise ValueError(f"scheme: {self.scheme} opens pages or runs something: an app has a scheme of its own")
        return self


WEB_SCHEMES = (
    "http",
    "https",
    "javascript",
    "data",
    "file",
    "blob",
    "about",
    "vbscript",
    "mailto",
    "tel",
    "ftp",
    "ws",
    "wss",
)


class TagFields(SettingsPart):
    """Texts for the tag fields; slots are written (:name:)."""

    source: Word = described_field("Source.", "quorrin", default="")
    medium: Word = described_field("Medium.", "cpc", default="")
    campaign: Word = described_field("Campaign.", "(:campaign-name:)", default="")
    term: Word = described_field("Term.", "(:keyword:)", default="")
    content: Word = described_field("Content.", "(:group-name:)-(:ad-name:)", default="")
    id: Word = described_field("Id.", "(:campaign-id:)", default="")

    def texts(self) -> dict[str, str]:
        """By field, those that are filled."""
        texts = {name: getattr(self, name) for name in TagFields.model_fields}
        return {name: text for name, text in texts.items() if text}


class ParameterPart(SettingsPart):
    """A parameter besides the tag fields."""

    name: Name = described_field("The parameter.", "size")
    text: Name = described_field("Its text; slots are written (:name:).", "(:group-name:)")


class TagsAndParameters(TagFields):
    """Texts for the tag fields and for any other parameter."""

    parameters: list[ParameterPart] = described_field("Any other parameter.", default=[])

    @model_validator(mode="after")
    def _once(self) -> Self:
        self.others()
        return self

    def others(self) -> dict[str, str]:
        """By parameter, those that are no tag fields."""
        tags = tuple(TagFields.model_fields)
        return by_name(((p.name, p.text) for p in self.parameters), (*tags, *(f"utm_{t}" for t in tags), "referrer"))


class PatternPart(TagsAndParameters):
    """An address pattern of an ad platform's account, campaign, group or ad; the nearer level wins field by field."""

    platform: Name = described_field("The ad platform.", "Quorrin")
    level: Literal["account", "campaign", "group", "ad"] = described_field("Which level it is set at.", "account")
    name: Word = described_field(
        "The campaign, group or ad it is for; empty for any.", "Midnight Boat Search", default=""
    )
    kind: Word = described_field("The kind of campaign it is for; empty for any.", "search", default="")
    referrer: Referrer | None = described_field(
        "What pages may learn about where the visitor comes from.", "host", default=None
    )

    def plain(self) -> Pattern:
        """The pattern."""
        fields = self.texts() | self.others()
        return Pattern(self.platform, self.level, self.name, self.kind, fields, self.referrer or "")


class OwnSlotPart(RecordPart):
    """A slot of your own: what it stands for in one campaign, group or ad."""

    core = OwnSlot

    platform: Name = described_field("The ad platform.", "Quorrin")
    level: Literal["campaign", "group", "ad"] = described_field("Which level it is set at.", "campaign")
    name: Name = described_field("The campaign, group or ad.", "Midnight Boat Search")
    slot: Name = described_field("Its name; patterns write it (:offer:).", "offer")
    value: Name = described_field("What it stands for.", "half-fare")


class SenderPart(TagsAndParameters):
    """How the mails of one sender are tagged: slots are (:list:), (:series:) and (:message:)."""

    name: Name = described_field("The mail sender.", "Ellivane")
    kind: Literal["one-off", "series"] = described_field(
        "One-off mails, or automated series.", "one-off", default="one-off"
    )
    parameters: list[ParameterPart] = described_field(
        "Parameters of your own; links that are tagged already get these, and nothing else.", default=[]
    )

    def plain(self) -> Sender:
        """The sender."""
        return Sender(self.name, self.kind, self.texts(), self.others())


def _check_dialects(parts: Sequence[DialectPart], _: Sequence[str]) -> None:
    for one in parts:
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


DIALECT = Section(
    "dialect",
    DialectPart,
    plan_field="dialects",
    title="Dialects",
    one="dialect",
    purpose="How an ad platform writes its slots. One that arrives unfilled is read as empty.",
    columns=("platform", "opens", "closes", "landing", "slots"),
    place=MARK,
    changes=LINKS,
    except_for=dict.fromkeys(("opens", "closes"), FIGURES),
    once=(("dialect", lambda part: [fold(part.platform)]),),
    check=_check_dialects,
)

PLACE = Section(
    "place",
    PlacePart,
    plan_field="places",
    title="Places",
    one="place",
    purpose="Where links are put: which box takes them, what to leave alone, how long an address may be.",
    columns=("name", "box", "leave", "longest", "asked_by", "source", "medium", "cells"),
    place=MARK,
    changes=LINKS,
    once=(("place", lambda part: [fold(part.name)]),),
)

STORE = Section(
    "store",
    StorePart,
    plan_field="stores",
    title="Stores",
    one="store",
    purpose="Shops for apps, apps and the like, where a link ends and only clicks can be counted.",
    columns=("host", "scheme", "id_in", "id_kind"),
    place=MARK,
    changes=LINKS,
    once=(("store", lambda part: [fold(part.host or part.scheme)]),),
)

PRESET = Section(
    "preset",
    PresetPart,
    plan_field="presets",
    title="Presets",
    one="preset",
    purpose="Cells that fill rows of the link sheet in one go.",
    columns=("name", "source", "medium", "campaign", "content", "placement", "page", "cells"),
    place=MARK,
    changes=LINKS,
    once=(("preset", lambda part: [fold(part.name)]),),
)

PATTERN = Section(
    "pattern",
    PatternPart,
    plan_field="patterns",
    title="Address patterns",
    one="pattern",
    purpose="What addresses of ads carry, by platform and level; drawn level by level in Mark.",
    place="",
    changes=LINKS,
    once=(("the pattern of", lambda part: [fold(f"{part.platform} {part.level} {part.name} {part.kind}")]),),
)

OWN_SLOT = Section(
    "own_slot",
    OwnSlotPart,
    plan_field="own_slots",
    title="Own slots",
    one="slot",
    purpose="Slots of your own, and what they stand for in a campaign or group.",
    columns=("slot", "platform", "level", "name", "value"),
    place=MARK,
    changes=LINKS,
    once=(("the own slot", lambda part: [fold(f"{part.platform} {part.level} {part.name} {part.slot}")]),),
)

SENDER = Section(
    "sender",
    SenderPart,
    plan_field="senders",
    title="Mail senders",
    one="sender",
    purpose="How list, series and message come into the links of mails. Links that have tags get its own "
    "parameters alone.",
    columns=("name", "kind", "source", "medium", "campaign", "content", "parameters"),
    place=MARK,
    changes=LINKS,
    once=(("the mail sender", lambda part: [fold(f"{part.name} {part.kind}")]),),
)
