"""Ads of the demo world, put up on the stand-in of its ad platforms, over HTTP as people would."""

from __future__ import annotations

import json
import urllib.request
from urllib.parse import quote

from yardstick.core.plan.plan import Plan
from yardstick.stations.mark.preview_patterns import For, resolve

from .places import SITE

WHALES, NIGHT, BIKES, FREIGHT = (
    "Spring Whale Boats 26",
    "Midnight Boat Search",
    "Bike Deck Panels",
    "Freight Trade Panels",
)
ADS = (
    # name, platform, campaign, group, page, what the platform knows at the click
    ("whale-search", "Quorrin", WHALES, "whale all", "/boats", {"camp": WHALES, "grp": "whale all"}),
    ("night-search", "Quorrin", NIGHT, "night all", "/old/night", {"camp": NIGHT, "grp": "night all"}),
    # Its placement is a slot that the platform does not fill there.
    ("bike-panel", "Tarvolin", BIKES, "", "/bike", {"campaign.name": BIKES}),
    # The page has moved, and the redirect loses the query.
    (
        "freight-panel",
        "Tarvolin",
        FREIGHT,
        "",
        "/forgetful/freight",
        {"campaign.name": FREIGHT, "site": "tide.example"},
    ),
)


def put_up_ads(plan: Plan, platform: str) -> None:
    """Put the ads up.

    Parameters
    ----------
    plan : whose patterns the ads use
    platform : host:port of the stand-in
    """
    dialects = {d.platform: d for d in plan.linking.dialects}
    for name, where, campaign, group, page, values in ADS:
        dialect = dialects[where]
        made = resolve(plan, For(where, campaign, group), SITE + page)
        ad = {"address": made.address, "opens": dialect.opens, "closes": dialect.closes, "values": values}
        request = urllib.request.Request(f"http://{platform}/ads/{quote(name)}", json.dumps(ad).encode(), method="PUT")
        with urllib.request.urlopen(request, timeout=10):
            pass
