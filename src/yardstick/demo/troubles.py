"""The troubled twin of the demo world, and the ledger of what was done to it: kind, rows, money."""

from __future__ import annotations

import copy
import random
import re
from collections.abc import Callable
from decimal import Decimal

from .ledger import Trouble
from .places import CAMPAIGNS
from .plan import TWO_LEGENDS_FROM
from .record_troubles import RECORD_TROUBLES
from .world import SEED, Row, World


def make_troubled_world(clean: World, seed: int = SEED) -> tuple[World, list[Trouble]]:
    """Copy a clean world and bring the troubles of daily work into it.

    Parameters
    ----------
    clean : left as it is
    seed : the same seed gives the same troubles

    Returns
    -------
    world : the troubled twin
    ledger : every change that was made
    """
    world = copy.deepcopy(clean)
    maker = _Troubles(world, random.Random(seed + 1))
    for step in (
        maker.untagged_month,
        maker.misspelt_source,
        maker.unfilled_slots,
        maker.lost_on_redirect,
        maker.refunds,
        maker.duplicate_orders,
        maker.test_orders,
        maker.test_visits,
        maker.clock_change,
        maker.missing_spend_day,
        maker.over_claim,
        maker.under_claim,
        maker.two_legends,
        maker.lost_parameter,
        maker.several_levels,
        maker.credit_note,
        maker.three_currencies,
    ):
        step()
    chance = random.Random(seed + 3)
    return world, [*maker.ledger, *(bring(world, chance) for bring in RECORD_TROUBLES)]


def spend_id(row: Row) -> str:
    """How the ledger names a spend row."""
    return f"{row['day']} {row['platform']} {row['campaign']}"


class _Troubles:
    def __init__(self, world: World, chance: random.Random) -> None:
        self._world, self._chance = world, chance
        self.ledger: list[Trouble] = []

    def _note(self, kind: str, table: str, rows: list[str], money: Decimal, story: str, currency: str = "AUD") -> None:
        self.ledger.append(Trouble(kind, table, tuple(rows), money, currency, story))

    def _visits(self, holds: Callable[[Row], bool]) -> list[Row]:
        return [r for r in self._world.visits if holds(r)]

    def _spent(self, platform: str, month: str, campaigns: set[str] | None = None) -> Decimal:
        rows = (r for r in self._world.spend if r["platform"] == platform and r["day"].startswith(month))
        return sum((Decimal(r["cost"]) for r in rows if not campaigns or r["campaign"] in campaigns), Decimal(0))

    def untagged_month(self) -> None:
        """One platform's links went out without tags for a month."""
        rows = self._visits(lambda r: "utm_source=ostrel" in r["url"] and r["occurred_at"].startswith("2026-02"))
        for row in rows:
            row["url"] = row["url"].partition("?")[0]
        story = "In February 2026 Ostrel's ads were rebuilt and their links went out untagged."
        self._note("untagged_month", "visits", _ids(rows, "visit_id"), self._spent("Ostrel", "2026-02"), story, "NZD")

    def misspelt_source(self) -> None:
        """A new hand typed the source wrong for some weeks."""
        rows = self._visits(
            lambda r: (
                "utm_source=quorrin" in r["url"] and "q-160" in r["url"] and r["occurred_at"].startswith("2026-06")
            )
        )
        for row in rows:
            row["url"] = row["url"].replace("utm_source=quorrin", "utm_source=qourrin")
        money = self._spent("Quorrin", "2026-06", {"Car Deck Early Bird"})
        story = "In June 2026 the links of Car Deck Early Bird said qourrin."
        self._note("misspelt_source", "visits", _ids(rows, "visit_id"), money, story)

    def unfilled_slots(self) -> None:
        """Slots the platform never filled."""
        rows = self._visits(lambda r: "utm_source=tarvolin" in r["url"] and r["occurred_at"].startswith("2025-12"))
        for row in rows:
            for campaign in CAMPAIGNS:
                if campaign.platform == "Tarvolin":
                    name = campaign.name.replace(" ", "+")
                    row["url"] = row["url"].replace(f"utm_campaign={name}", "utm_campaign={{campaign.name}}")
                    row["url"] = row["url"].replace(f"&utm_id={campaign.id}", "&utm_id={{campaign.id}}")
        story = "In December 2025 Tarvolin's template changed and its slots stayed unfilled."
        self._note("unfilled_slots", "visits", _ids(rows, "visit_id"), self._spent("Tarvolin", "2025-12"), story, "JPY")

    def lost_on_redirect(self) -> None:
        """A redirect that drops the query."""
        rows = self._visits(lambda r: "utm_id=b-1" in r["url"] and r["occurred_at"] >= "2026-03-10")
        for row in rows:
            row["url"] = row["url"].partition("?")[0]
        money = sum(
            (Decimal(r["cost"]) for r in self._world.spend if r["campaign_id"] == "b-1" and r["day"] >= "2026-03-10"),
            Decimal(0),
        )
        story = "Since 10 March 2026 the posters' short address loses the query on its way."
        self._note("lost_on_redirect", "visits", _ids(rows, "visit_id"), money, story)

    def refunds(self) -> None:
        """Cancelled sailings are refunded, some in part."""
        tickets = [r for r in self._world.conversions if r["goal"] == "ticket" and not r["status"]]
        rows = self._chance.sample(tickets, len(tickets) // 28)
        money = Decimal(0)
        for row in rows:
            whole = Decimal(row["total"])
            row["refunded"] = str(whole if self._chance.random() < 0.8 else (whole / 2).quantize(Decimal("0.01")))
            money += Decimal(row["refunded"])
        self._note("refunds", "conversions", _ids(rows, "conversion_id"), money, "Sailings that were called off.")

    def duplicate_orders(self) -> None:
        """The shop sent some orders twice: word for word, or with a corrected total."""
        rows = self._chance.sample(self._world.conversions, 45)
        extra = []
        for i, row in enumerate(rows):
            twin = dict(row)
            if i % 3 == 0:
                twin["total"] = str(Decimal(row["total"]) + Decimal("3.50"))
                twin["shipping"] = str(Decimal(row["shipping"]) + Decimal("3.50"))
            extra.append(twin)
        self._world.conversions += extra
        money = sum((Decimal(r["total"]) for r in extra), Decimal(0))
        self._note("duplicate_orders", "conversions", _ids(rows, "conversion_id"), money, "Orders sent twice.")

    def test_orders(self) -> None:
        """Orders of the people who tried out the till."""
        extra = []
        for i in range(30):
            like = self._chance.choice(self._world.conversions)
            row = dict(like, conversion_id=f"test{i:03d}", status="test", email="till@lunnick.example", lead_id="")
            row |= {"visitor_id": "", "refunded": "", "total": "999.00", "tax": "0.00", "shipping": "0.00"}
            extra.append(row)
        self._world.conversions += extra
        self._note(
            "test_orders", "conversions", _ids(extra, "conversion_id"), Decimal(999 * 30), "The till was tried out."
        )

    def test_visits(self) -> None:
        """Clicks of the own office on the own ads."""
        rows = self._chance.sample([r for r in self._world.visits if "ckid=" in r["url"]], 60)
        extra = [
            dict(r, visit_id=f"office{i:03d}", visitor_id="office", email="", is_test="true")
            for i, r in enumerate(rows)
        ]
        self._world.visits += extra
        self._note("test_visits", "visits", _ids(extra, "visit_id"), Decimal(0), "The office looked at its own ads.")

    def clock_change(self) -> None:
        """On the day the clocks went back one export left the offset out; the hour from two to three appears twice."""
        rows = [r for r in self._world.conversions if r["occurred_at"].startswith("2026-04-05")]
        for row in rows:
            row["occurred_at"] = row["occurred_at"][:19]
        if rows:
            rows[0]["occurred_at"] = "2026-04-05T02:30:00"
        money = sum((Decimal(r["total"]) for r in rows), Decimal(0))
        story = "On 5 April 2026 the clocks went back; that day's orders came without offset."
        self._note("clock_change", "conversions", _ids(rows, "conversion_id"), money, story)

    def missing_spend_day(self) -> None:
        """A day the platform's export skipped."""
        gone = [r for r in self._world.spend if r["platform"] == "Harnock" and r["day"] == "2026-01-17"]
        self._world.spend = [r for r in self._world.spend if r not in gone]
        money = sum((Decimal(r["cost"]) for r in gone), Decimal(0))
        story = "Harnock's export skipped 17 January 2026."
        self._note("missing_spend_day", "spend", [spend_id(r) for r in gone], money, story)

    def over_claim(self) -> None:
        """A platform that claims far more than it brought."""
        self._claim("over_claim", "Ostrel", Decimal("3.2"), "Ostrel counts everyone who scrolled past.", "NZD")

    def under_claim(self) -> None:
        """A platform that claims too little."""
        self._claim("under_claim", "Quorrin", Decimal("0.6"), "Quorrin misses those who change devices.", "AUD")

    def _claim(self, kind: str, platform: str, factor: Decimal, story: str, currency: str) -> None:
        rows = [r for r in self._world.spend if r["platform"] == platform and r["claimed_conversions"] != "0"]
        before = sum((Decimal(r["claimed_value"]) for r in rows), Decimal(0))
        for row in rows:
            row["claimed_conversions"] = str((Decimal(row["claimed_conversions"]) * factor).normalize())
            row["claimed_value"] = str((Decimal(row["claimed_value"]) * factor).quantize(Decimal("0.01")))
        after = sum((Decimal(r["claimed_value"]) for r in rows), Decimal(0))
        self._note(kind, "spend", [spend_id(r) for r in rows], abs(after - before), story, currency)

    def two_legends(self) -> None:
        """A source that puts something else into a field from one day on."""
        rows = self._visits(lambda r: "utm_source=ostrel" in r["url"] and r["occurred_at"] >= TWO_LEGENDS_FROM)
        for row in rows:
            page = row["url"].partition("?")[0].rpartition("/")[2]
            row["url"] = re.sub(r"utm_term=[^&]*", f"utm_term={page}", row["url"])
        money = sum(
            (
                Decimal(r["cost"])
                for r in self._world.spend
                if r["platform"] == "Ostrel" and r["day"] >= TWO_LEGENDS_FROM
            ),
            Decimal(0),
        )
        story = "From May 2026 Ostrel's links carry what is advertised in the term, where the ad group stood before."
        self._note("two_legends", "visits", _ids(rows, "visit_id"), money, story, "NZD")

    def lost_parameter(self) -> None:
        """A week in which the network's own parameter was missing, so that its sites stand as sources."""
        rows = self._visits(lambda r: "&net=tarvolin" in r["url"] and "2026-04-13" <= r["occurred_at"] < "2026-04-20")
        for row in rows:
            row["url"] = row["url"].replace("&net=tarvolin", "")
        spent = (
            Decimal(r["cost"])
            for r in self._world.spend
            if r["platform"] == "Tarvolin" and "2026-04-13" <= r["day"] < "2026-04-20"
        )
        story = "From 13 to 19 April 2026 Tarvolin's links lacked the parameter net: its sites look like sources."
        self._note("lost_parameter", "visits", _ids(rows, "visit_id"), sum(spent, Decimal(0)), story, "JPY")

    def several_levels(self) -> None:
        """A week that came twice: once by ad group, once by campaign, which reports a little more."""
        week = [r for r in self._world.spend if r["platform"] == "Quorrin" and "2026-05-04" <= r["day"] <= "2026-05-10"]
        beyond = Decimal("1.50")
        for row in week:
            cost = Decimal(row["cost"]) + beyond
            self._world.spend.append(row | {"ad_group": "", "placement": "", "cost": str(cost)})
        story = "Quorrin's export of one week held campaigns beside their groups, with 1.50 a day that no group has."
        self._note("several_levels", "spend", [spend_id(r) for r in week], beyond * len(week), story)

    def credit_note(self) -> None:
        """Money that a platform gave back."""
        row = next(r for r in self._world.spend if r["platform"] == "Tarvolin" and r["day"] == "2026-05-20")
        none = dict.fromkeys(("impressions", "clicks", "claimed_conversions", "claimed_value"), "0")
        self._world.spend.append(row | none | {"cost": "-5000"})
        self._note(
            "credit_note", "spend", [spend_id(row)], Decimal(5000), "Tarvolin gave back what bots had clicked.", "JPY"
        )

    def three_currencies(self) -> None:
        """Spend comes in three currencies; nothing is changed, but nobody may add them up as they are."""
        for currency in ("AUD", "NZD", "JPY"):
            rows = [r for r in self._world.spend if r["currency"] == currency]
            money = sum((Decimal(r["cost"]) for r in rows), Decimal(0))
            ids = [spend_id(r) for r in rows]
            self._note("three_currencies", "spend", ids, money, f"Spend reported in {currency}.", currency)


def _ids(rows: list[Row], column: str) -> list[str]:
    return [r[column] for r in rows]
