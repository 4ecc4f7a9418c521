"""Lunnick Sound Ferries, a made-up ferry line: its platforms, its campaigns, its sites. Nothing here is real."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date

FIRST_DAY, LAST_DAY = date(2025, 9, 1), date(2026, 10, 31)
SITE = "https://www.lunnick.example"
THEMES = ("whale", "card", "night", "bike", "freight", "group", "island")


@dataclass(frozen=True)
class DemoPlatform:
    """An ad platform or sender: how its links are tagged, in what money and zone it reports."""

    name: str
    account: str
    source: str
    medium: str
    currency: str
    zone: str
    click_mark: bool = False


PLATFORMS = {
    p.name: p
    for p in (
        DemoPlatform("Quorrin", "q-main", "quorrin", "cpc", "AUD", "Australia/Adelaide", click_mark=True),
        DemoPlatform("Ostrel", "o-main", "ostrel", "paid-social", "NZD", "Pacific/Auckland"),
        DemoPlatform("Tarvolin", "t-main", "tarvolin", "display", "JPY", "Asia/Tokyo"),
        DemoPlatform("Harnock", "h-main", "harnock", "video", "AUD", "Australia/Adelaide"),
        DemoPlatform("Ellivane", "list", "ellivane", "email", "AUD", "Australia/Adelaide"),
        DemoPlatform("Chirrock", "sms", "chirrock", "sms", "AUD", "Australia/Adelaide"),
        DemoPlatform("Brannoway", "boards", "brannoway", "poster", "AUD", "Australia/Adelaide"),
    )
}


@dataclass(frozen=True)
class DemoCampaign:
    """A campaign: where and when it runs, how much it draws, what a click costs, how well it sells.

    Attributes
    ----------
    draw : relative number of touches while it runs
    click_cost : price of a click in minor units of the platform's currency
    pull : how much better than usual a touch of it converts
    """

    name: str
    platform: str
    id: str
    theme: str
    draw: float
    click_cost: int
    pull: float
    first: date = FIRST_DAY
    last: date = LAST_DAY
    page: str = "/boats"


CAMPAIGNS = (
    DemoCampaign(
        "Spring Whale Boats", "Quorrin", "q-101", "whale", 5.0, 558, 1.5, date(2025, 9, 1), date(2025, 11, 30)
    ),
    DemoCampaign("Spring Whale Boats 26", "Quorrin", "q-102", "whale", 5.5, 576, 1.4, date(2026, 9, 1), LAST_DAY),
    DemoCampaign("Two-Island Year Card", "Ostrel", "", "card", 4.5, 461, 1.1, page="/card"),
    DemoCampaign("Year Card Search", "Quorrin", "q-110", "card", 3.0, 511, 1.6, page="/card"),
    DemoCampaign("Midnight Boat", "Harnock", "h-7", "night", 2.5, 346, 0.8, page="/night"),
    DemoCampaign("Midnight Boat Search", "Quorrin", "q-120", "night", 2.4, 425, 1.7, page="/night"),
    DemoCampaign("Two-Bike Deck", "Ostrel", "", "bike", 2.2, 302, 0.7, page="/bike"),
    DemoCampaign("Bike Deck Panels", "Tarvolin", "t-31", "bike", 2.0, 26640, 0.4, page="/bike"),
    DemoCampaign("Freight Fridays", "Quorrin", "q-130", "freight", 2.1, 846, 1.8, page="/freight"),
    DemoCampaign("Freight Trade Panels", "Tarvolin", "t-32", "freight", 1.2, 32760, 0.7, page="/freight"),
    DemoCampaign("Group Sailings", "Quorrin", "q-140", "group", 2.3, 684, 1.6, page="/groups"),
    DemoCampaign("School Crossings", "Ostrel", "", "group", 1.4, 317, 0.9, date(2026, 1, 20), page="/groups"),
    DemoCampaign("Market Day Returns", "Ostrel", "", "island", 2.6, 252, 0.9, page="/market"),
    DemoCampaign("Kelp Coast Weekender", "Tarvolin", "t-33", "island", 1.9, 23760, 0.6, page="/weekend"),
    DemoCampaign("Sunset Loop", "Harnock", "h-9", "whale", 1.7, 317, 0.6, date(2025, 11, 1), date(2026, 3, 31)),
    DemoCampaign(
        "Winter Half Fares", "Quorrin", "q-150", "island", 2.4, 374, 1.3, date(2026, 5, 15), date(2026, 8, 31)
    ),
    DemoCampaign("Car Deck Early Bird", "Quorrin", "q-160", "island", 2.0, 475, 1.5, page="/cars"),
    DemoCampaign("Lantern Night", "Ostrel", "", "night", 1.6, 331, 0.9, date(2026, 6, 1), date(2026, 7, 31), "/night"),
    DemoCampaign("Crossing News", "Ellivane", "", "island", 2.6, 32, 1.9, page="/news"),
    DemoCampaign("Card Renewal Mail", "Ellivane", "", "card", 1.5, 32, 2.6, page="/card"),
    DemoCampaign("Last Cabins Text", "Chirrock", "", "night", 0.7, 151, 2.2, page="/night"),
    DemoCampaign("Pier Posters", "Brannoway", "b-1", "whale", 0.8, 1116, 0.9, page="/boats"),
)

UNPAID = (
    # channel by nature, referrer, relative draw, pull
    ("search", "https://www.findery.example/search?q=lunnick+ferry", 7.5, 1.0),
    ("search", "https://askwell.example/?q=island+boat", 2.0, 0.9),
    ("direct", "", 7.0, 1.2),
    ("social", "https://gabboon.example/post/88", 2.2, 0.4),
    ("referral", "https://islandnotes.example/getting-there", 2.4, 1.1),
    ("referral", "https://pierguide.example/", 1.2, 0.8),
)

SETTINGS = """# Lunnick Sound Ferries, the demo world. Nothing in it is real.
home_currency = "AUD"
time_zone = "Australia/Adelaide"
short_base = "https://go.lunnick.example"
margin = "0.4"
target_roas = "4.0"
target_cost_per_lead = "60.00"
own_hosts = ["lunnick.example"]
pass_through_hosts = ["tillhouse.example"]
search_sites = ["findery.example", "askwell.example"]
social_sites = ["gabboon.example"]
click_marks = ["ckid"]

[[goal]]
name = "lead"

[[goal]]
name = "ticket"
kind = "sale"
count = "every"
value = "net"

[[goal]]
name = "year card"
kind = "sale"
count = "every"
value = "net"
click_days = 60

[[goal]]
name = "deal"
kind = "sale"
count = "every"
value = "net"
click_days = 60

[[status]]
word = "open"
means = "does not count"

[[status]]
word = "signed"
means = "counts"

[[status]]
word = "lost"
means = "does not count"

[[status]]
word = "abandoned"
means = "does not count"
""" + "".join(
    f"""
[[platform]]
name = "{p.name}"
source = "{p.source}"
medium = "{p.medium}"
time_zone = "{p.zone}"
"""
    for p in PLATFORMS.values()
)
