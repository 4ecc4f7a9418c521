"""The seeded generator of the demo world: people, what they clicked, what they bought, what it cost."""

from __future__ import annotations

import math
import random
from collections import Counter
from dataclasses import dataclass, field
from datetime import date, datetime, timedelta
from urllib.parse import quote_plus
from zoneinfo import ZoneInfo

from .lives import DEAL, give_lives
from .places import CAMPAIGNS, FIRST_DAY, LAST_DAY, PLATFORMS, SITE, THEMES, UNPAID, DemoCampaign
from .plan import SITES, SITES_FROM, SPOKEN
from .reports import ads_of, invoices_of

SEED = 20_260
PEOPLE = 19_800
ZONE = ZoneInfo("Australia/Adelaide")
Row = dict[str, str]
BIKE = 900
"""What a bike's place costs, in cents."""


@dataclass
class World:
    """Tables as rows of text, in canonical columns."""

    visits: list[Row] = field(default_factory=list)
    leads: list[Row] = field(default_factory=list)
    conversions: list[Row] = field(default_factory=list)
    order_lines: list[Row] = field(default_factory=list)
    statuses: list[Row] = field(default_factory=list)
    refunds: list[Row] = field(default_factory=list)
    deal_contacts: list[Row] = field(default_factory=list)
    spend: list[Row] = field(default_factory=list)
    rates: list[Row] = field(default_factory=list)
    invoices: list[Row] = field(default_factory=list)
    ads: list[Row] = field(default_factory=list)

    def tables(self) -> dict[str, list[Row]]:
        """The tables by name."""
        return dict(vars(self))


def make_clean_world(seed: int = SEED, people: int = PEOPLE) -> World:
    """The demo world without any trouble.

    Parameters
    ----------
    seed : the same seed gives the same rows
    people : how many people come by; the usual number gives about 60,000 visits, 2,000 leads and 4,000 orders

    Returns
    -------
    World
    """
    return _Maker(random.Random(seed), people).make()


def season(day: date) -> float:
    """How busy the boats are: most in January, least in July."""
    return 1 + 0.45 * math.cos(2 * math.pi * (day.timetuple().tm_yday - 15) / 365)


@dataclass
class _Person:
    visitor: str
    email: str
    theme: str
    signed_in: bool


class _Maker:
    def __init__(self, chance: random.Random, people: int) -> None:
        self._chance, self._people = chance, people
        self._world = World()
        self._clicks: Counter[tuple[int, date]] = Counter()
        self._days = (LAST_DAY - FIRST_DAY).days + 1

    def make(self) -> World:
        days = [FIRST_DAY + timedelta(d) for d in range(self._days)]
        starts = self._chance.choices(days, [season(d) for d in days], k=self._people)
        for number, day in enumerate(sorted(starts)):
            self._journey(number, day)
        self._world.visits.sort(key=lambda r: (r["occurred_at"][:19], r["visitor_id"]))
        for table, column, prefix in (
            (self._world.visits, "visit_id", "v"),
            (self._world.leads, "lead_id", "l"),
            (self._world.conversions, "conversion_id", "o"),
        ):
            table.sort(key=lambda r: r["occurred_at"][:19])
            for i, row in enumerate(table, 1):
                row[column] = f"{prefix}{i:05d}"
        self._name_leads()
        self._lines()
        self._live()
        self._spend(days)
        self._rates(days)
        self._world.invoices = invoices_of(self._world.spend)
        self._world.ads = ads_of(self._world.spend)
        return self._world

    def _journey(self, number: int, day: date) -> None:
        chance = self._chance
        theme = chance.choices(THEMES, (4, 4, 3, 2, 1.6, 1.8, 5))[0]
        person = _Person(f"p{number:05d}", f"guest{number:05d}@mail.example", theme, chance.random() < 0.3)
        at = datetime.combine(day, datetime.min.time(), ZONE) + timedelta(minutes=self._minute())
        for _ in range(9):
            if at.date() > LAST_DAY:
                return
            pull = self._touch(person, at)
            if self._converts(person, at, pull) and chance.random() < 0.6:
                return
            if chance.random() > 0.62:
                return
            at += timedelta(days=chance.expovariate(1 / 4.5), minutes=chance.randrange(40, 300))

    def _minute(self) -> int:
        return min(1439, max(0, int(self._chance.gauss(14 * 60, 4 * 60))))

    def _touch(self, person: _Person, at: datetime) -> float:
        """One arrival with the pages after it; returns how much it helps to sell."""
        chance, day = self._chance, at.date()
        running = [i for i, c in enumerate(CAMPAIGNS) if c.first <= day <= c.last]
        weights = [CAMPAIGNS[i].draw * (5 if CAMPAIGNS[i].theme == person.theme else 0.5) for i in running]
        weights += [draw for _, _, draw, _ in UNPAID]
        pick = chance.choices(range(len(weights)), weights)[0]
        if pick < len(running):
            index = running[pick]
            campaign = CAMPAIGNS[index]
            self._clicks[index, day] += 1
            if campaign.platform == "Harnock" and chance.random() < 0.35:
                self._visit(person, at, campaign, "view")
                return 0.2
            self._visit(person, at, campaign, "click")
            pull = campaign.pull
        else:
            _, referrer, _, pull = UNPAID[pick - len(running)]
            self._page(person, at, SITE + "/", referrer)
        for _ in range(chance.choices((0, 1, 2), (74, 18, 8))[0]):
            at += timedelta(minutes=chance.randrange(1, 12))
            self._page(person, at, SITE + chance.choice(("/timetable", "/fares", "/book")), SITE + "/")
        return pull

    def _visit(self, person: _Person, at: datetime, campaign: DemoCampaign, kind: str) -> None:
        platform = PLATFORMS[campaign.platform]
        by_site = campaign.platform == "Tarvolin" and at.date() >= SITES_FROM
        tags = [
            ("utm_source", SITES[(at.day + at.minute) % len(SITES)] if by_site else platform.source),
            ("utm_medium", platform.medium),
            ("utm_campaign", campaign.name),
            ("utm_content", f"{campaign.theme}-{self._chance.choice('abc')}"),
        ]
        if by_site:
            tags.append(("net", platform.source))
        if campaign.platform == "Ostrel":
            tags.append(("utm_term", f"feed {campaign.theme}"))
        if campaign.id:
            tags.append(("utm_id", campaign.id))
        if platform.click_mark:
            tags.append(("ckid", f"{self._chance.getrandbits(48):012x}"))
        query = "&".join(f"{name}={quote_plus(value)}" for name, value in tags)
        self._page(person, at, f"{SITE}{campaign.page}?{query}", "", kind)

    def _page(self, person: _Person, at: datetime, url: str, referrer: str, kind: str = "click") -> None:
        self._world.visits.append(
            {
                "occurred_at": at.isoformat(timespec="seconds"),
                "visitor_id": person.visitor,
                "url": url,
                "referrer": referrer,
                "kind": "" if kind == "click" else kind,
                "email": person.email if person.signed_in else "",
                "device": self._chance.choice(("phone", "phone", "desktop", "tablet")),
            }
        )

    def _converts(self, person: _Person, at: datetime, pull: float) -> bool:
        chance = self._chance
        at += timedelta(minutes=chance.randrange(3, 25))
        if person.theme in ("freight", "group"):
            if chance.random() < 0.29 * pull:
                self._lead(person, at)
                return True
            return False
        if chance.random() < 0.088 * pull:
            self._order(person, at)
            return True
        return False

    def _lead(self, person: _Person, at: datetime) -> None:
        chance = self._chance
        good = chance.random() < (0.5 if person.theme == "freight" else 0.35)
        # One enquiry in twelve comes by telephone: no visitor id, only what the form or the clerk captured.
        by_phone = chance.random() < 0.08
        row = {
            "occurred_at": at.isoformat(timespec="seconds"),
            "visitor_id": "" if by_phone else person.visitor,
            "email": "" if by_phone else person.email,
            "phone": f"+61 8 5550 {chance.randrange(10_000):04d}" if by_phone else "",
            "form": person.theme,
            "stage": "signed" if good and chance.random() < 0.4 else "quoted" if good else "new",
            "is_good": "yes" if good else "",
        }
        if by_phone and chance.random() < 0.6:
            heard = chance.choice([c for c in CAMPAIGNS if c.theme == person.theme and c.first <= at.date() <= c.last])
            platform = PLATFORMS[heard.platform]
            row |= {"last_source": platform.source, "last_medium": platform.medium, "last_campaign": heard.name}
        elif by_phone and int(row["phone"][-4:]) % 3 == 0:
            row["code"] = SPOKEN
        self._world.leads.append(row)
        if good and row["stage"] == "signed":
            self._order(person, at + timedelta(days=chance.randrange(2, 20)), deal=True)

    def _order(self, person: _Person, at: datetime, deal: bool = False) -> None:
        chance = self._chance
        if at.date() > LAST_DAY:
            return
        card = person.theme == "card" and chance.random() < 0.55
        heads = 1 if card else chance.choices((1, 2, 3, 4), (22, 48, 14, 16))[0]
        fare = 12_900 if card else heads * chance.choice((2_450, 3_100, 3_650, 4_900))
        if deal:
            fare = chance.randrange(30_000, 140_000, 500)
        tax = 0 if card else heads * 410
        fee = 0 if card or deal else 350
        self._world.conversions.append(
            {
                "occurred_at": at.isoformat(timespec="seconds"),
                "goal": "year card" if card else "ticket",
                "visitor_id": person.visitor if chance.random() < 0.93 else "",
                "email": person.email,
                "total": _money(fare + tax + fee),
                "tax": _money(tax),
                "shipping": _money(fee),
                "refunded": "",
                "product": "Year card" if card else DEAL if deal else "Crossing",
                "status": "",
                "lead_id": "",
            }
        )

    def _name_leads(self) -> None:
        """Deals name the lead they grew from."""
        lead_of = {r["email"]: r["lead_id"] for r in self._world.leads if r["email"]}
        for row in self._world.conversions:
            if row["product"] == DEAL:
                row["lead_id"] = lead_of.get(row["email"], "")

    def _lines(self) -> None:
        """Every third crossing takes a bike along."""
        for row in self._world.conversions:
            if row["product"] == "Crossing" and int(row["conversion_id"][1:]) % 3 == 0:
                whole = round(float(row["total"]) * 100)
                for number, (product, part) in enumerate((("Crossing", whole - BIKE), ("Bike space", BIKE)), 1):
                    self._world.order_lines.append(
                        {
                            "conversion_id": row["conversion_id"],
                            "line": str(number),
                            "product": product,
                            "quantity": "1",
                            "total": _money(part),
                        }
                    )

    def _live(self) -> None:
        """Deals are signed or lost; draws of their own, so that what came before does not hang on them."""
        world = self._world
        lives = give_lives(world.leads, world.conversions, world.visits, random.Random(self._people))
        for table, rows in lives.items():
            world.tables()[table] += rows

    def _spend(self, days: list[date]) -> None:
        chance = self._chance
        for day in days:
            for index, campaign in enumerate(CAMPAIGNS):
                if not campaign.first <= day <= campaign.last:
                    continue
                platform = PLATFORMS[campaign.platform]
                came = self._clicks[index, day]
                clicks = came + chance.choices((0, 1, 2), (70, 22, 8))[0]
                cost = round(clicks * campaign.click_cost * chance.uniform(0.9, 1.12))
                if campaign.platform == "Brannoway":
                    cost = 2_900
                claimed = sum(chance.random() < 0.055 * campaign.pull for _ in range(clicks))
                self._world.spend.append(
                    {
                        "day": day.isoformat(),
                        "platform": platform.name,
                        "account": platform.account,
                        "campaign_id": campaign.id,
                        "campaign": campaign.name,
                        "ad_group": f"{campaign.theme} all" if platform.name == "Quorrin" else "",
                        "placement": "harbour panels" if platform.name == "Tarvolin" else "",
                        "impressions": str(clicks * chance.randrange(28, 60)),
                        "clicks": str(clicks),
                        "cost": str(cost // 100) if platform.currency == "JPY" else _money(cost),
                        "currency": platform.currency,
                        "claimed_conversions": str(claimed),
                        "claimed_value": str(claimed * 8800) if platform.currency == "JPY" else _money(claimed * 9_200),
                    }
                )

    def _rates(self, days: list[date]) -> None:
        """Working days only: at a weekend Friday's rate holds."""
        nzd, jpy = 0.9150, 0.01020
        for day in days:
            nzd *= 1 + self._chance.gauss(0, 0.002)
            jpy *= 1 + self._chance.gauss(0, 0.003)
            if day.weekday() < 5:
                for base, rate in (("NZD", f"{nzd:.4f}"), ("JPY", f"{jpy:.6f}")):
                    self._world.rates.append({"day": day.isoformat(), "base": base, "quote": "AUD", "rate": rate})


def _money(minor: int) -> str:
    return f"{minor // 100}.{minor % 100:02d}"
