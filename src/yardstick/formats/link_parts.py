"""The records of the plan that make and read links. Each field says in one line what goes in it, with an example."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from yardstick.core.plan.link_records import (
    Dialect,
    DialectSlot,
    OwnSlot,
    Pattern,
    Place,
    Preset,
    Sender,
    Store,
)

from .part_fields import Name, Part, Word, said


class SlotPart(Part):
    """One slot an ad platform fills at the click."""

    name: Name = said("Its name in the platform's own spelling.", "adgroup")
    means: Name = said("What it stands for; our patterns name it so.", "group-name")
    levels: list[Literal["account", "campaign", "group", "ad"]] = said(
        "Where it may be used; empty for anywhere.", "group", default=[]
    )
    example: Word = said("A value to preview with.", "Whale search", default="")


class DialectPart(Part):
    """How one ad platform writes its slots. Text in them that was never filled is read as empty."""

    platform: Name = said("The ad platform.", "Quorrin")
    opens: Name = said("What stands before a slot's name.", "{=")
    closes: Name = said("What stands after it.", "=}")
    slots: list[SlotPart] = said("The slots it knows.", default=[])

    def plain(self) -> Dialect:
        """The dialect."""
        slots = (DialectSlot(s.name, s.means, tuple(s.levels), s.example) for s in self.slots)
        return Dialect(self.platform, self.opens, self.closes, tuple(slots))


class PlacePart(Part):
    """A place where links are put: which box takes them, and how long they may be there."""

    name: Name = said("The place, as the link sheet names it.", "Ostrel feed ad")
    box: Word = said("Which box of it takes the address.", "Destination", default="")
    leave: Word = said("What must not be touched there.", "the box Display address", default="")
    longest: Annotated[int, Field(gt=20, le=100_000)] | None = said(
        "How many bytes an address may have there.", "1024", default=None
    )
    asked_by: Word = said("Who puts it there.", "Tove", default="")

    def plain(self) -> Place:
        """The place."""
        return Place(self.name, self.box, self.leave, self.longest, self.asked_by)


class PresetPart(Part):
    """Cells to fill rows of the link sheet with."""

    name: Name = said("What it is called.", "Ostrel feed")
    source: Word = said("Source.", "ostrel", default="")
    medium: Word = said("Medium.", "paid-social", default="")
    campaign: Word = said("Campaign.", "Midnight Boat", default="")
    term: Word = said("Term.", "feed night", default="")
    content: Word = said("Content.", "night-a", default="")
    placement: Word = said("Place.", "Ostrel feed ad", default="")
    page: Word = said("Landing page.", "Night boat", default="")

    def plain(self) -> Preset:
        """The preset."""
        return Preset(self.name, {k: v for k, v in self.model_dump().items() if k != "name" and v})


class StorePart(Part):
    """A shop for apps or other place beyond your site, where a link ends; only clicks can be counted there."""

    host: Name = said("Its host.", "apps.tidegate.example")
    id_in: Word = said("The parameter that holds the app's id; empty: the last part of the path.", "id", default="")
    id_kind: Literal["number", "reverse domain"] = said("How its ids look.", "reverse domain", default="number")

    def plain(self) -> Store:
        """The store."""
        return Store(self.host, self.id_in, self.id_kind)


class TagFields(Part):
    """Texts for the tag fields; slots are written (:name:)."""

    source: Word = said("Source.", "quorrin", default="")
    medium: Word = said("Medium.", "cpc", default="")
    campaign: Word = said("Campaign.", "(:campaign-name:)", default="")
    term: Word = said("Term.", "(:keyword:)", default="")
    content: Word = said("Content.", "(:group-name:)-(:ad-name:)", default="")
    id: Word = said("Id.", "(:campaign-id:)", default="")

    def texts(self) -> dict[str, str]:
        """By field, those that are filled."""
        texts = {name: getattr(self, name) for name in ("source", "medium", "campaign", "term", "content", "id")}
        return {name: text for name, text in texts.items() if text}


class PatternPart(TagFields):
    """An address pattern of an ad platform's account, campaign or group; the nearer level wins field by field."""

    platform: Name = said("The ad platform.", "Quorrin")
    level: Literal["account", "campaign", "group"] = said("Which level it is set at.", "account")
    name: Word = said("The campaign or group it is for; empty for any.", "Midnight Boat Search", default="")
    kind: Word = said("The kind of campaign it is for; empty for any.", "search", default="")

    def plain(self) -> Pattern:
        """The pattern."""
        return Pattern(self.platform, self.level, self.name, self.kind, self.texts())


class OwnSlotPart(Part):
    """A slot of your own: what it stands for in one campaign or group."""

    platform: Name = said("The ad platform.", "Quorrin")
    level: Literal["campaign", "group"] = said("Which level it is set at.", "campaign")
    name: Name = said("The campaign or group.", "Midnight Boat Search")
    slot: Name = said("Its name; patterns write it (:offer:).", "offer")
    value: Name = said("What it stands for.", "half-fare")

    def plain(self) -> OwnSlot:
        """The slot."""
        return OwnSlot(self.platform, self.level, self.name, self.slot, self.value)


class SenderPart(TagFields):
    """How the mails of one sender are tagged: slots are (:list:), (:series:) and (:message:)."""

    name: Name = said("The mail sender.", "Ellivane")
    kind: Literal["one-off", "series"] = said("One-off mails, or automated series.", "one-off", default="one-off")

    def plain(self) -> Sender:
        """The sender."""
        return Sender(self.name, self.kind, self.texts())
