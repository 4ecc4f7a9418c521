"""What becomes of the demo's enquiries and orders: quotes, deals of two people, lines, part refunds, baskets."""

from __future__ import annotations

import random
from collections.abc import Iterator
from datetime import datetime, timedelta
from decimal import Decimal

from .places import LAST_DAY

Row = dict[str, str]
DEAL = "Freight or group deal"
CLERKS = {"freight": "Idris", "group": "Maren"}
DESK = "Poster at the pier"
"""What people say at the desk who were asked where they had heard of it."""
HEARD = (DESK, "Newsletter", "A friend", "Searched for it", "")
BASKETS, PART_REFUNDS = 280, 14
_UNSAID = {"visitor_id": "", "email": "", "lead_id": "", "tax": "0.00", "shipping": "0.00", "refunded": ""}
MEALS, COACH = Decimal("0.2"), Decimal("0.1")
"""Which part of a group's booking is meals, and which the coach."""


def give_lives(
    leads: list[Row], conversions: list[Row], visits: list[Row], chance: random.Random
) -> dict[str, list[Row]]:
    """Let enquiries and orders go on living; the rows given are filled in where they are.

    Parameters
    ----------
    leads, conversions, visits : of the clean world, in order of time, with their ids
    chance : draws; nothing but lives hangs on it

    Returns
    -------
    dict of str to list of Row
        The tables `conversions` (those that are new: lost deals and abandoned baskets), `statuses`, `order_lines`,
        `refunds`, `deal_contacts`.
    """
    made: dict[str, list[Row]] = {t: [] for t in ("conversions", "statuses", "order_lines", "refunds", "deal_contacts")}
    lead_of = {lead["lead_id"]: lead for lead in leads}
    deals = [row for row in conversions if row["product"] == DEAL]
    _keep_books(leads, chance)
    freight = [lead for lead in leads if lead["form"] == "freight" and lead["email"]]
    for deal in deals:
        lead = lead_of.get(deal["lead_id"], {})
        form = lead.get("form", "freight")
        deal |= {"goal": "deal", "status": "open"}
        made["statuses"] += _signed(deal, lead, CLERKS[form], chance)
        if form == "freight":
            made["deal_contacts"] += _two_contacts(deal, lead, freight, chance)
        else:
            made["order_lines"] += _three_lines(deal)
    lost = list(_lost_deals(leads, chance))
    made["statuses"] += [
        _status(row["conversion_id"], _later(row, chance, 10, 50), chance, status="lost") for row in lost
    ]
    made["statuses"] = [row for row in made["statuses"] if row["occurred_at"][:10] <= LAST_DAY.isoformat()]
    made["conversions"] = [*lost, *_baskets(visits, chance)]
    groups = sorted({line["conversion_id"] for line in made["order_lines"]})
    made["refunds"] = list(_part_refunds([row for row in deals if row["conversion_id"] in groups], chance))
    return made


def _keep_books(leads: list[Row], chance: random.Random) -> None:
    """Who looks after an enquiry, what the person said at the desk, whether they may be written to."""
    for lead in leads:
        lead["owner"] = CLERKS[lead["form"]]
        # One in nine names the poster, whatever they clicked: most of them came by a search ad.
        lead["self_reported"] = chance.choices(HEARD, (1, 1, 1, 2, 4))[0]
        if lead["email"]:
            lead["consent"] = chance.choices(("yes", "no", ""), (6, 2, 1))[0]
        if lead.get("consent"):
            lead |= {"consent_at": lead["occurred_at"], "consent_base": f"{lead['form']} form"}


def _signed(deal: Row, lead: Row, clerk: str, chance: random.Random) -> Iterator[Row]:
    """An enquiry is quoted, then signed weeks later with its deal; what is not over by the last day is still open."""
    if lead:
        yield _status(lead["lead_id"], lead["occurred_at"], chance, stage="quoted", owner=clerk)
    signed = _later(deal, chance, 3, 40)
    if lead:
        yield _status(lead["lead_id"], signed, chance, stage="signed", owner=clerk)
        lead["stage"] = "new"
    yield _status(deal["conversion_id"], signed, chance, status="signed", owner=clerk, pipeline=lead.get("form", ""))


def _two_contacts(deal: Row, lead: Row, freight: list[Row], chance: random.Random) -> Iterator[Row]:
    """Who asks is not always who signs: a second person of the firm, who had enquired about freight before."""
    at = deal["occurred_at"]
    others = [o for o in freight if o["occurred_at"] < at and o["email"] != deal["email"]][-12:]
    if not lead or not others or chance.random() < 0.4:
        return
    yield {"deal_id": deal["conversion_id"], "lead_id": lead["lead_id"], "role": "asks"}
    yield {"deal_id": deal["conversion_id"], "email": chance.choice(others)["email"], "role": "signs"}


def _three_lines(deal: Row) -> Iterator[Row]:
    """A group books the crossing, meals and a place for its coach."""
    whole = Decimal(deal["total"])
    meals, coach = ((whole * part).quantize(Decimal("0.01")) for part in (MEALS, COACH))
    lines = (("Group crossing", whole - meals - coach), ("Meals on board", meals), ("Coach space", coach))
    for number, (product, total) in enumerate(lines, 1):
        line = {"line": str(number), "product": product, "quantity": "1", "total": str(total)}
        yield {"conversion_id": deal["conversion_id"], **line}


def _lost_deals(leads: list[Row], chance: random.Random) -> Iterator[Row]:
    """Every third enquiry that was quoted and not signed has a deal that came to nothing, or has not ended yet."""
    quoted = [lead for lead in leads if lead["stage"] == "quoted" and lead["email"]]
    for number, lead in enumerate(quoted[::3]):
        yield _UNSAID | {
            "conversion_id": f"d{number:04d}",
            "occurred_at": lead["occurred_at"],
            "goal": "deal",
            "email": lead["email"],
            "lead_id": lead["lead_id"],
            "total": f"{chance.randrange(300, 1_400, 5)}.00",
            "product": DEAL,
            "status": "open",
        }


def _baskets(visits: list[Row], chance: random.Random) -> Iterator[Row]:
    """Baskets that nobody paid for."""
    booking = [visit for visit in visits if visit["url"].endswith("/book")]
    for number, visit in enumerate(chance.sample(booking, min(BASKETS, len(booking)))):
        yield _UNSAID | {
            "conversion_id": f"b{number:04d}",
            "occurred_at": _moved(visit["occurred_at"], timedelta(minutes=2)),
            "goal": "ticket",
            "visitor_id": visit["visitor_id"],
            "total": f"{chance.randrange(28, 180)}.60",
            "product": "Crossing",
            "status": "abandoned",
        }


def _part_refunds(deals: list[Row], chance: random.Random) -> Iterator[Row]:
    """Groups that came with fewer heads got a part of their money back, some weeks after."""
    for number, deal in enumerate(chance.sample(deals, min(PART_REFUNDS, len(deals)))):
        amount = (Decimal(deal["total"]) * Decimal("0.15")).quantize(Decimal("0.01"))
        yield {
            "refund_id": f"r{number:03d}",
            "conversion_id": deal["conversion_id"],
            "occurred_at": _later(deal, chance, 5, 30),
            "amount": str(amount),
        }


def _status(record: str, at: str, chance: random.Random, **said: str) -> Row:
    return {"record_id": record, "occurred_at": _moved(at, timedelta(minutes=chance.randrange(10, 200))), **said}


def _later(row: Row, chance: random.Random, least: int, most: int) -> str:
    return _moved(row["occurred_at"], timedelta(days=chance.randrange(least, most)))


def _moved(at: str, by: timedelta) -> str:
    return (datetime.fromisoformat(at) + by).isoformat(timespec="seconds")
