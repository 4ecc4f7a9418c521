"""The lists of records in settings.toml, by name."""

from __future__ import annotations

from pydantic import BaseModel

from .link_parts import DialectPart, OwnSlotPart, PatternPart, PlacePart, PresetPart, SenderPart, StorePart
from .plan_parts import (
    AllowedPart,
    CampaignPart,
    ChannelPart,
    ClickPricePart,
    GoalPart,
    LandingPagePart,
    LegendPart,
    LevelPart,
    NamingPart,
    OtherCostPart,
    PlatformPart,
    QuarantinePart,
    RecordPart,
    RenamePart,
    StatusPart,
)
from .source_parts import SourcePart
from .yardstick_parts import YardstickPart

SECTIONS: dict[str, type[BaseModel]] = {
    "campaign": CampaignPart,
    "level": LevelPart,
    "goal": GoalPart,
    "status": StatusPart,
    "quarantine": QuarantinePart,
    "record": RecordPart,
    "channel": ChannelPart,
    "shared_channel": ChannelPart,
    "legend": LegendPart,
    "rename": RenamePart,
    "naming": NamingPart,
    "allowed": AllowedPart,
    "landing_page": LandingPagePart,
    "other_cost": OtherCostPart,
    "click_price": ClickPricePart,
    "platform": PlatformPart,
    "yardstick": YardstickPart,
    "dialect": DialectPart,
    "place": PlacePart,
    "store": StorePart,
    "preset": PresetPart,
    "pattern": PatternPart,
    "own_slot": OwnSlotPart,
    "sender": SenderPart,
    "source": SourcePart,
}
"""Lists of records in settings.toml."""
