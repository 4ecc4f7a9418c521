"""The plan of Lunnick Sound Ferries: what its people wrote down before the first link went out. Nothing here is real."""

from __future__ import annotations

import tomllib
from datetime import date
from typing import Any

import tomli_w

from .places import CAMPAIGNS, LAST_DAY, PLATFORMS, SETTINGS, SITE
from .reports import REPORTS

OWNERS = {"Quorrin": "Maren", "Ostrel": "Tove", "Tarvolin": "Tove", "Harnock": "Idris"}
CODES = {
    "Spring Whale Boats": "swb-25",
    "Spring Whale Boats 26": "swb-26",
    "Two-Island Year Card": "tiyc",
    "Midnight Boat": "mnb",
    "Freight Fridays": "ff",
    "Pier Posters": "pier",
}
PLAIN = {
    "Year Card Search": "Year card, search ads",
    "Midnight Boat Search": "Night boat, search ads",
    "Bike Deck Panels": "Bike deck, site panels",
    "Freight Trade Panels": "Freight, site panels",
}
EXPECTED = {
    "Freight Fridays": {"expected_leads": "260", "expected_reason": "five enquiries a week"},
    "Group Sailings": {"expected_leads": "320", "expected_reason": "schools book early"},
    "Spring Whale Boats 26": {"expected_value": "60000.00", "expected_reason": "last spring and the new pier"},
    "Two-Island Year Card": {"expected_value": "45000.00", "expected_reason": "350 cards"},
}
SPOKEN = "PIERBOARD"
"""The word on the boards at the pier, for those who telephone."""
TWO_LEGENDS_FROM = "2026-05-01"
SITES_FROM = date(2026, 3, 1)
"""Since then the network of panels puts the site into the source, and itself into a parameter of its own."""
SITES = ("islandnotes", "pierguide", "tideboard")
PAGES = {
    "Whale boats": "/boats",
    "Year card": "/card",
    "Night boat": "/night",
    "Bike deck": "/bike",
    "Freight": "/freight",
    "Groups": "/groups",
    "Front page": "/",
    "Winter": "/winter/",
}
PLACES_OF = (
    ("Quorrin text ad", "address it leads to", "address as shown", 2_048),
    ("Ostrel feed ad", "Where people go", "the box Shown address", 1_024),
    ("Tarvolin harbour panel", "Click address", "the field Pixel", 2_048),
    ("Harnock film end card", "End card address", "the channel's own links", 1_024),
    ("Ellivane newsletter", "Button address", "the box Automatic tags", 2_048),
    ("Chirrock text", "Message text", "the sender's name", 160),
    ("Brannoway pier board", "Print file", "the margin of the code", 512),
)
DIALECTS = (
    ("Quorrin", "{=", "=}", (("camp", "campaign-name", "Spring Whale Boats"), ("grp", "group-name", "whale all"))),
    ("Ostrel", "[[", "]]", (("CAMPAIGN", "campaign-name", "Two-Island Year Card"), ("SET", "group-name", "feed card"))),
    ("Tarvolin", "{{", "}}", (("campaign.name", "campaign-name", "Bike Deck Panels"), ("site", "placement", "tide.example"))),
    ("Harnock", "(:", ":)", (("film", "ad-name", "Night crossing"), ("run", "campaign-name", "Midnight Boat"))),
)  # fmt: skip


def demo_settings() -> str:
    """settings.toml of the demo world: the settings, and the plan."""
    plan: dict[str, Any] = {
        "extra_values": ["size", "net"],
        "tag_parameters": ["net"],
        "campaign": [
            *(_campaign(i) for i in range(len(CAMPAIGNS))),
            {"name": "Winter Lights", "owner": "Maren", "state": "draft", "starts": "2026-12-01"},
        ],
        "legend": [
            {"source": "ostrel", "term": "group", "content": "ad"},
            {"source": "ostrel", "from": TWO_LEGENDS_FROM, "term": "item", "content": "ad"},
            {
                "when": [{"field": "parameter:net", "op": "is", "value": "tarvolin"}],
                "from": SITES_FROM.isoformat(),
                "utm_source": "placement",
                "fixed": {"source": "tarvolin"},
            },
        ],
        "naming": [{"field": "content", "separator": "-", "parts": [{"name": "theme"}, {"name": "picture"}]}],
        "allowed": [{"field": "source", "words": [*(p.source for p in PLATFORMS.values()), *SITES]}],
        "level": [
            {"campaign": "Spring Whale Boats", "level": "ad", "id": "whale-a", "name": "Humpback at dawn", "text": "See them from the foredeck", "picture": "humpback-dawn.jpg"},
            {"campaign": "Spring Whale Boats", "level": "ad", "id": "whale-b", "name": "Tail off the point", "text": "A tail as wide as the bridge", "picture": "tail-point.jpg"},
            {"campaign": "Spring Whale Boats", "level": "ad", "id": "whale-c", "name": "Children at the rail", "text": "Their first whale, at half fare", "picture": "rail-children.jpg"},
        ],
        "channel": [
            {
                "name": "Travel guides",
                "when": [
                    {"field": "medium", "op": "is empty"},
                    {"field": "referrer host", "op": "is one of", "value": ["islandnotes.example", "pierguide.example"]},
                ],
            }
        ],
        "shared_channel": [
            {"name": "Boards and posters", "when": [{"field": "source", "op": "is", "value": "brannoway"}]},
        ],
        "landing_page": [
            {"name": name, "address": SITE + path, "kind": "straight to the offer"} for name, path in PAGES.items()
        ],
        "other_cost": [
            {"campaign": "Pier Posters", "kind": "printing", "cost": "1480.00", "from": "2025-09-01", "to": "2026-10-31"},
            {"campaign": "Spring Whale Boats", "kind": "photographs", "cost": "900.00", "from": "2025-09-01", "to": "2025-11-30"},
        ],
        "place": [
            {"name": name, "box": box, "leave": leave, "longest": longest}
            for name, box, leave, longest in PLACES_OF
        ],
        "preset": [
            {"name": "Ostrel feed", "source": "ostrel", "medium": "paid-social", "placement": "Ostrel feed ad"},
            {"name": "Quorrin text", "source": "quorrin", "medium": "cpc", "placement": "Quorrin text ad"},
        ],
        "pattern": [
            {"platform": "Quorrin", "level": "account", "source": "quorrin", "medium": "cpc", "campaign": "(:campaign-name:)", "content": "(:group-name:)"},
            {"platform": "Quorrin", "level": "campaign", "name": "Midnight Boat Search", "campaign": "Midnight Boat Search", "term": "(:offer:)"},
            {"platform": "Quorrin", "level": "group", "name": "night all", "content": "night-(:offer:)"},
            {"platform": "Tarvolin", "level": "account", "source": "tarvolin", "medium": "display", "campaign": "(:campaign-name:)", "content": "(:placement:)"},
        ],
        "own_slot": [
            {"platform": "Quorrin", "level": "campaign", "name": "Midnight Boat Search", "slot": "offer", "value": "full-fare"},
            {"platform": "Quorrin", "level": "group", "name": "night all", "slot": "offer", "value": "half-fare"},
        ],
        "sender": [
            {"name": "Ellivane", "kind": "one-off", "source": "ellivane", "medium": "email", "campaign": "Crossing News", "content": "(:message:)"},
            {"name": "Ellivane", "kind": "series", "source": "ellivane", "medium": "email", "campaign": "Card Renewal Mail", "term": "(:list:)", "content": "(:series:)-(:message:)"},
        ],
        "source": [report.source() for report in REPORTS],
        "store": [{"host": "apps.tidegate.example", "id_in": "id", "id_kind": "reverse domain"}],
        "dialect": [
            {
                "platform": platform,
                "opens": opens,
                "closes": closes,
                **({"landing": "landing"} if platform == "Quorrin" else {}),
                "slots": [{"name": name, "means": means, "example": example} for name, means, example in slots],
            }
            for platform, opens, closes, slots in DIALECTS
        ],
    }  # fmt: skip
    head = SETTINGS.partition("\n")[0]
    return f"{head}\n{tomli_w.dumps(tomllib.loads(SETTINGS) | plan)}"


def _campaign(index: int) -> dict[str, Any]:
    campaign = CAMPAIGNS[index]
    record: dict[str, Any] = {
        "name": campaign.name,
        "state": "approved",
        "starts": campaign.first.isoformat(),
        "owner": OWNERS.get(campaign.platform, "Bo"),
        "budget": str(2_000 * (1 + index % 5)) + ".00",
        "goal": "lead" if campaign.theme in ("freight", "group") else "ticket",
    }
    if campaign.name in CODES:
        record["code"] = CODES[campaign.name]
    if campaign.name in PLAIN:
        record["plain_name"] = PLAIN[campaign.name]
    if campaign.last < LAST_DAY:
        record["ends"] = campaign.last.isoformat()
    if campaign.name == "Freight Fridays":
        record["host"] = "www.lunnick.example"
    if campaign.id:
        record["ids"] = [campaign.id]
    if campaign.name == "Pier Posters":
        record["vouchers"] = [SPOKEN]
    expected = EXPECTED.get(campaign.name)
    if expected:
        record |= expected | ({"locked_on": "2025-08-25"} if campaign.name != "Group Sailings" else {})
    return record
