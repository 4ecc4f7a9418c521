"""Small random worlds for the property tests, as rows of text, and the way from there into the core."""

from __future__ import annotations

import re
from datetime import UTC, date, datetime, timedelta
from decimal import Decimal

from hypothesis import strategies as st

from yardstick.core.base.schema import SCHEMA
from yardstick.core.base.tables import Tables
from yardstick.core.plan.campaign_records import Campaign, Rename
from yardstick.core.plan.costing_phase import ClickPrice, OtherCost, Platform
from yardstick.core.plan.counting_phase import Goal, StatusWord, Window
from yardstick.core.plan.crediting_phase import Yardstick
from yardstick.core.plan.plan import plan_of
from yardstick.core.plan.reading_phase import Condition, Legend, QuarantineRule, RecordState, Separation
from yardstick.formats.files.csv_in import csv_of
from yardstick.formats.results.csv_out import table_text
from yardstick.formats.rows.input_tables import read_file, tables_of

START = datetime(2026, 4, 3, 12, tzinfo=UTC)  # Adelaide's clocks go back on the 5th
HOSTS = [
    "",
    "https://shop.example/a",
    "https://Find.example:80/s?q=x",
    "https://pay.bank.example",
    "https://blog.example/p",
    "https://www.xn--ndrel-iua.example/a",
    "https://Öndrel.example",
    "nonsense",
]
CAMPAIGNS = ["", "Whale", "whale", "WHALE ", "Card", "{campaign}", "%25id%25", "Straße", "strasse", "night+boat"]
_ids = st.sampled_from(["", "", "p", "q", "r", "null", "P"])


def _instant(minutes):
    return (START + timedelta(minutes=minutes)).isoformat()


@st.composite
def urls(draw):
    parts = []
    if draw(st.booleans()):
        parts.append("utm_campaign=" + draw(st.sampled_from(CAMPAIGNS)))
        parts.append("utm_source=" + draw(st.sampled_from(["quorrin", "Quorrin", "ostrel", ""])))
        parts.append(
            draw(st.sampled_from(["utm_medium", "UTM_Medium"]))
            + "="
            + draw(st.sampled_from(["cpc", "CPC", "ppc", "paid", "email", "odd", ""]))
        )
    if draw(st.integers(0, 3)) == 0:
        parts.append("utm_id=" + draw(st.sampled_from(["7", " 7", "8", "9"])))
    if draw(st.integers(0, 4)) == 0:
        parts.append("ckid=" + draw(st.sampled_from(["k1", "k2", "{ckid}", "0"])))
    if draw(st.integers(0, 5)) == 0:
        parts.append("utm_place=" + draw(st.sampled_from(["top", "Top"])))
    if draw(st.integers(0, 2)) == 0:
        parts.append("size=" + draw(st.sampled_from(["wide", "Wide", "", "{size}"])))
    if draw(st.integers(0, 4)) == 0:
        parts.append("source=" + draw(st.sampled_from(["house", "quorrin"])))
    if draw(st.integers(0, 4)) == 0:
        parts.append("utm_term=" + draw(st.sampled_from(["boats", "8"])))
    base = draw(st.sampled_from(["/", "https://shop.example/x", "https://www.blog.example/y"]))
    return base + ("?" + "&".join(draw(st.permutations(parts))) if parts else "")


_minutes = st.one_of(st.integers(0, 90), st.integers(0, 6000), st.sampled_from([0, 30, 60, 1440, 2880]))
_money = st.sampled_from(["", "0", "0.01", "0.04", "10", "100.00", "66.67", "7.005", "3"])
_flag = st.sampled_from(["", "", "", "", "", "", "true"])


@st.composite
def worlds(draw):
    """Tables as lists of dictionaries of text, canonical columns."""

    def many(most, columns):
        rows = draw(st.lists(st.fixed_dictionaries(columns), max_size=most))
        return rows

    visits = many(
        14,
        {
            "occurred_at": _minutes.map(_instant),
            "visitor_id": _ids,
            "url": urls(),
            "referrer": st.sampled_from(HOSTS),
            "kind": st.sampled_from(["click", "click", "click", "view", "watch"]),
            "email": st.sampled_from(["", "", "A@x.example", "a@x.example"]),
            "click_id": st.sampled_from(["", "", "", "k1", "K1"]),
            "is_test": _flag,
        },
    )
    tag = st.sampled_from(["", "", "", "Whale", "card", "{x}", "8"])
    leads = many(
        5,
        {
            "occurred_at": _minutes.map(_instant),
            "visitor_id": _ids,
            "email": st.sampled_from(["", "a@x.example", "b@x.example"]),
            "phone": st.sampled_from(["", "", "+61 8 1", "0"]),
            "click_id": st.sampled_from(["", "", "k2"]),
            "first_seen_at": st.one_of(st.just(""), _minutes.map(_instant)),
            **{
                f"{w}_{f}": tag
                for w in ("first", "last")
                for f in ("source", "medium", "campaign", "term", "content", "id")
            },
            "name": st.sampled_from(["", "Test Person", "Maren"]),
            "status": st.sampled_from(["", "", "", "", "cancelled", "test", "Lost", "won"]),
            "updated_at": st.one_of(st.just(""), _minutes.map(_instant)),
            "is_good": _flag,
            "is_test": _flag,
            "stage": st.sampled_from(["", "", "", "talk", "Offer"]),
            "code": st.sampled_from(["", "", "PIER", "pier ", "other"]),
        },
    )
    conversions = many(
        7,
        {
            "occurred_at": _minutes.map(_instant),
            "goal": st.sampled_from(["sale", "card", "lead"]),
            "visitor_id": _ids,
            "email": st.sampled_from(["", "", "b@x.example"]),
            "phone": st.sampled_from(["", "", "+6181"]),
            "lead_id": st.sampled_from(["", "", "lead0", "lead1", "null"]),
            "click_id": st.sampled_from(["", "", "k1"]),
            "total": _money,
            "tax": _money,
            "shipping": st.sampled_from(["", "1"]),
            "refunded": st.sampled_from(["", "", "2.5", "-2.5"]),
            "product": st.sampled_from(["", "", "ticket"]),
            "currency": st.sampled_from(["", "", "AUD", "NZD", "JPY"]),
            "status": st.sampled_from(["", "", "", "", "cancelled", "test", "lost", "open"]),
            "code": st.sampled_from(["", "", "Pier", "whale26"]),
        },
    )
    days = st.sampled_from(["2026-04-03", "2026-04-04", "2026-04-05", "2026-04-06"])
    spend = many(
        8,
        {
            "day": days,
            "platform": st.sampled_from(["Quorrin", "quorrin", "Ostrel"]),
            "account": st.sampled_from(["", "a"]),
            "campaign_id": st.sampled_from(["", "7", "8"]),
            "campaign": st.sampled_from(["Whale", "WHALE", "Card", "Straße", "Unseen"]),
            "ad_group": st.sampled_from(["", "", "g"]),
            "ad": st.sampled_from(["", "", "", "b"]),
            "keyword": st.sampled_from(["", "", "", "k"]),
            "placement": st.sampled_from(["", "", "", "", "p"]),
            "impressions": st.sampled_from(["", "50", "51"]),
            "clicks": st.sampled_from(["3", "10"]),
            "cost": st.sampled_from(["", "10.00", "10.01", "0", "3.335", "-4"]),
            "click_price": st.just("0.15"),
            "claimed_conversions": st.sampled_from(["", "1", "1.5"]),
            "claimed_value": st.sampled_from(["", "20", "19.99"]),
            "currency": st.sampled_from(["", "AUD", "NZD"]),
        },
    )
    rates = many(
        4,
        {
            "day": st.sampled_from(["2026-03-27", "2026-03-30", "2026-04-04"]),
            "base": st.sampled_from(["NZD", "JPY"]),
            "quote": st.sampled_from(["AUD", "AUD", "EUR"]),
            "rate": st.sampled_from(["0.915", "0.0101", "1.1"]),
        },
    )
    for name, rows, prefix in (
        ("visit_id", visits, "v"),
        ("lead_id", leads, "lead"),
        ("conversion_id", conversions, "c"),
    ):
        order = draw(st.permutations(range(len(rows))))
        for number, row in zip(order, rows, strict=True):
            row[name] = f"{prefix}{number}"
    # A mended row: what came before it, or after it, in a currency that has no rate, stands nowhere.
    for row in list(conversions):
        if draw(st.integers(0, 4)) == 0:
            other = row | {"total": "9000", "currency": draw(st.sampled_from(["XAF", "XAF", "AUD"]))}
            conversions.insert(draw(st.integers(0, len(conversions))), other)
    ids = st.sampled_from(["lead0", "lead1", "c0", "c1 ", "c2", "nobody"])
    statuses = many(
        4,
        {
            "record_id": ids,
            "occurred_at": _minutes.map(_instant),
            "status": st.sampled_from(["", "Lost", "won", "ok", "test", "cancelled"]),
            "value": st.sampled_from(["", "", "60", "0"]),
            "stage": st.sampled_from(["", "", "TALK", "lost"]),
        },
    )
    refunds = many(
        3,
        {
            "conversion_id": ids,
            "occurred_at": _minutes.map(_instant),
            "amount": st.sampled_from(["1", "0.5", "-30", "7.25"]),
            "currency": st.sampled_from(["", "", "AUD", "NZD"]),
        },
    )
    for number, row in enumerate(refunds):
        row["refund_id"] = f"r{number}"
    contacts = many(
        3,
        {
            "deal_id": ids,
            "lead_id": st.sampled_from(["lead0", "lead1", "null", "lead7"]),
            "email": st.sampled_from(["", "A@x.example", "b@x.example"]),
            "role": st.just(""),
        },
    )
    lines = many(
        5,
        {
            "conversion_id": ids,
            "line": st.sampled_from(["1", "2", "10", " 2"]),
            "product": st.sampled_from(["Boat", "card", " Card ", "bike"]),
            "quantity": st.sampled_from(["", "2", "1.5"]),
            "total": st.sampled_from(["0", "0.00", "10", "6.66", "20.005", "-1"]),
            "tax": st.sampled_from(["", "1"]),
        },
    )
    extra = {"statuses": statuses, "refunds": refunds, "deal_contacts": contacts, "order_lines": lines}
    return extra | {"visits": visits, "leads": leads, "conversions": conversions, "spend": spend, "rates": rates}


@st.composite
def buyers(draw):
    """Rows of people who came a few times and bought: (visits, conversions)."""
    visits, conversions = [], []
    for person in range(draw(st.integers(1, 3))):
        for n in range(draw(st.integers(1, 5))):
            url = f"/?utm_source=ostrel&utm_medium=cpc&utm_campaign={draw(st.sampled_from('ABC'))}"
            row = {"visit_id": f"b{person}-{n}", "visitor_id": f"b{person}", "url": url}
            visits.append(row | {"occurred_at": f"2026-04-0{4 - n % 2}T1{n}:00:00Z"})
        amount = {"total": draw(st.decimals("0.01", 9999, places=2).map(str))}
        row = {"conversion_id": f"b{person}", "goal": "sale", "visitor_id": f"b{person}"}
        conversions.append(row | amount | {"occurred_at": "2026-04-04T20:00:00Z"})
    return visits, conversions


ALWAYS = "0001-01-01"


def version(kind, count, value="net", default=None, since=ALWAYS, **more):
    """One version of a goal, as the plain reading takes it; windows by kind of touch, in days."""
    usual = {"fixed": None, "good_goal": None, "good_days": None, "stages": (), "windows": {}}
    return {"kind": kind, "count": count, "value": value, "default": default, "since": since} | usual | more


GOALS = {
    "plain": {},
    "defaults": {"lead": [version("lead", "every", default="5")], "sale": [version("sale", "one_per_touch", "total")]},
    "later": {
        "lead": [version("lead", "one", default="1", good_goal="sale", good_days=2)],
        "sale": [version("sale", "every", fixed="9.99")],
        "card": [version("lead", "every", good_goal="lead", good_days=0)],
    },
    "days": {
        "sale": [version("sale", "one_per_day", windows={"click": "1.5"})],
        "card": [version("sale", "one", default="2.345")],
    },
    "windows": {
        "lead": [version("lead", "every", stages=("Talk", "offer"), windows={"click": "0.125", "view": "0.5"})],
        "sale": [version("sale", "every", windows={"click": "0.25", "watch": "0.0625"})],
    },
    "versions": {
        "lead": [
            version("lead", "one", default="3", since="2026-04-04", stages=("talk",)),
            version("lead", "every", default="4", since="2026-04-05", good_goal="sale", good_days=1),
        ],
        "sale": [
            version("sale", "every", "total", windows={"click": "0.5"}),
            version("sale", "one", "net", since="2026-04-04", windows={"click": "0.125"}),
            version("lead", "one_per_day", fixed="2.50", since="2026-04-05"),
            version("sale", "one_per_touch", since="2026-04-06", default="7"),
        ],
    },
}
YARDSTICKS = {
    "first": "first",
    "last": "last",
    "last_marked": "last_marked",
    "linear": "linear",
    "fair_share": "fair_share",
    "by channel": "fair_share channel",
    "position": "position 0.4 0.4",
    "ends": "position 0.25 0.75",
    "late": "position 0 0.3333",
    "decay": "decay 7",
    "quick": "decay 0.0625",
    "custom": "custom 2 0.5 1 email=0.25 direct=0",
    "nothing first": "custom 0 1 1 paid_search=0",
    "removal": "removal",
    "removal by channel": "removal channel",
}


def yardstick_of(name, rule):
    """The record of a yardstick that is written as the plain reading takes it."""
    word, *rest = rule.split()
    names = {"position": ("first", "last"), "decay": ("half_life_days",), "custom": ("first", "middle", "last")}
    params = tuple((n, Decimal(v)) for n, v in zip(names.get(word, ()), rest, strict=False))
    channels = tuple((c.replace("_", " "), Decimal(v)) for c, _, v in (r.partition("=") for r in rest) if v)
    by = "channel" if rest == ["channel"] else "campaign"
    return Yardstick(name, word, by, params, channels)


STATUS_WORDS = [{}, {"lost": "does not count", "won": "good"}, {"ok": "does not count", "lost": "counts"}]
SEPARATIONS = [
    [],
    [],
    [(("visitor", "p"), ("email", "a@x.example"), ALWAYS)],
    [(("lead", "lead0"), ("visitor", "p"), "2026-04-03"), (("email", "b@x.example"), ("phone", "+6181"), ALWAYS)],
    [(("email", "a@x.example"), ("mark", "K1"), "2026-04-04"), (("visitor", "q"), ("email", "b@x.example"), ALWAYS)],
]
"""Pairs of identifiers that are not one person, and from which day on."""
_CALLED = {"visitor": "visitor_id", "email": "email", "phone": "phone", "lead": "lead_id", "mark": "click_id"}


def _stated(identifier):
    kind, value = identifier
    return f"{_CALLED[kind]}:{value}"


QUARANTINE = [
    [],
    [[("email_host", "is", ["X.example"])], [("value", "is", ["0.010"])]],
    [[("name", "contains", ["test"]), ("lead_id", "ends with", ["1"])], [("parameter:ckid", "is there", [])]],
    [[("conversion_id", "begins with", ["c1"]), ("product", "is not empty", [])], [("form", "is", ["x"])]],
]


def goal_of(name, said):
    """The record of a version of a goal that is written as the plain reading takes it."""
    default, fixed = (None if said[name] is None else Decimal(said[name]) for name in ("default", "fixed"))
    later = {} if said["good_goal"] is None else {"good_goal": said["good_goal"], "good_days": said["good_days"]}
    later |= {f"{kind}_days": Decimal(days) for kind, days in said["windows"].items()}
    later |= {"good_stages": said["stages"], "since": _day(said["since"])}
    return Goal(name, said["kind"], said["count"], said["value"], default, fixed_value=fixed, **later)


def of(source):
    """The condition that most legends have."""
    return [("source", "is", [source])]


NO_PLAN = {"legends": [], "renames": [], "plan_ids": {}, "vouchers": {}, "other_costs": [], "prices": []}
PLANS = {
    "none": NO_PLAN,
    "legends": NO_PLAN
    | {
        "legends": [
            (of("quorrin"), ALWAYS, {"term": "group", "content": "keyword"}, {}),
            (of("QUORRIN"), "2026-04-05", {"medium": "campaign", "campaign": "ad"}, {}),
            (of("ostrel"), "2026-04-04", {"id": "audience", "term": "channel"}, {}),
            (of("8"), ALWAYS, {"source": "placement", "content": "source"}, {}),
        ]
    },
    "legends by condition": NO_PLAN
    | {
        "legends": [
            (of("quorrin"), "2026-04-04", {"term": "campaign", "campaign": "group"}, {}),
            ([("parameter:size", "is there", [])], ALWAYS, {"content": "group"}, {"source": "Ostrel"}),
            (
                [("source", "in list", ["Quorrin", "x"]), ("medium", "is not", ["email"])],
                ALWAYS,
                {"size": "keyword"},
                {},
            ),
            (of("Quorrin"), "2026-04-05", {"size": "campaign", "campaign": "ad"}, {"channel": "Partners"}),
            ([("referrer_host", "begins with", ["find"])], ALWAYS, {}, {"campaign": "Found"}),
            (
                [("click_mark", "is empty", []), ("landing_host", "is not there", [])],
                ALWAYS,
                {"extra:source": "ad"},
                {},
            ),
        ]
    },
    "legends that end": NO_PLAN
    | {
        "legends": [
            (of("quorrin"), ALWAYS, {"term": "group", "campaign": "ad"}, {}, "2026-04-04"),
            (
                [("landing_page", "is", ["SHOP.example/*"])],
                "2026-04-04",
                {"term": "item"},
                {"campaign": "Found"},
                "2026-04-05",
            ),
            ([("landing_page", "not in list", ["/", "blog.example/*"])], ALWAYS, {"size": "campaign"}, {}),
            (of("quorrin"), "2026-04-06", {"medium": "campaign"}, {}),
        ],
        "prices": [("Whale", "", "0.335", "")],
    },
    "prices": NO_PLAN
    | {
        "prices": [("Whale", "Quorrin", "0.125", "NZD"), ("card", "", "0.05", ""), ("Whale", "", "0.335", "")],
        "plan_ids": {"8": "Card"},
        "renames": [("campaign", "Card", "Cards", "2026-04-05"), ("source", "ostrel", "quorrin", "2026-04-04")],
        "other_costs": [("Card", "0.07", "2026-04-03", "2026-04-05")],
    },
    "every arrival": NO_PLAN | {"legends": [([], "2026-04-04", {"size": "source"}, {"medium": "cpc"})]},
    "renames": NO_PLAN
    | {
        "renames": [
            ("campaign", "whale", "Whales", ALWAYS),
            ("campaign", "Whales", "card", "2026-04-05"),
            ("campaign", "WHALE", "Straße", "2026-04-06"),
            ("source", "quorrin", "ostrel", "2026-04-04"),
            ("group", "g", "Gee", "2026-04-04"),
            ("channel", "Direct", "Nothing known", ALWAYS),
        ],
        "other_costs": [("Whale", "10.00", "2026-04-03", "2026-04-05"), ("Unseen", "0.01", "2026-04-04", "2026-04-06")],
    },
    "codes": NO_PLAN
    | {
        "plan_ids": {"7": "Seven", "8": "Card"},
        "vouchers": {"pier": "Pier Posters", "whale26": "Whale"},
        "legends": [(of("ostrel"), ALWAYS, {"content": "campaign"}, {})],
    },
}
"""What a plan may say: legends and when they end, renames, ids and codes of campaigns, other costs, prices per click."""


def _day(text):
    return None if text == ALWAYS else datetime.fromisoformat(text).date()


PLATFORMS = [
    {},
    {"quorrin": ("quorrin", "cpc", "")},
    {"quorrin": ("quorrin", "cpc", "social")},
    {"quorrin": ("quorrin", "ppc", "video"), "gabboon": ("quorrin", "cpc", "panels"), "nobody": ("", "cpc", "social")},
    {"gabboon": ("Quorrin", "email", ""), "quorrin": ("quorrin", "paid", "search")},
]


ELSEWHERE = [("Australia/Adelaide", 0), ("America/Santiago", 0), ("Asia/Beirut", -7), ("America/Havana", -28)]
"""Zones, and how many days a world is moved for its second midnight: one whose clocks are put back in the night, one
where the day ends at 24:00 and then at 23:00 once more, two where 0:00 is 1:00 and no midnight comes."""


def moved(thing, days):
    """Anything that is made of text, with the days of its world so many later."""
    if isinstance(thing, str):
        return re.sub("2026-0[34]-[0-9]{2}", lambda d: (date.fromisoformat(d[0]) + timedelta(days)).isoformat(), thing)
    if isinstance(thing, dict):
        return {moved(key, days): moved(value, days) for key, value in thing.items()}
    return type(thing)(moved(one, days) for one in thing) if isinstance(thing, list | tuple) else thing


@st.composite
def choices(draw, elsewhere=("Australia/Adelaide", 0)):
    """Settings for both sides: a plain dictionary, and the core's own; of a zone, for worlds moved by so many days."""
    platforms = draw(st.sampled_from(PLATFORMS))
    levels = draw(st.sampled_from([{}, {"quorrin": "add"}]))
    planned = PLANS[draw(st.sampled_from(sorted(PLANS)))]
    plain = {
        "home": "AUD",
        "digits": 2,
        "time_zone": elsewhere[0],
        "fold": draw(st.booleans()),
        "from": draw(st.sampled_from(["2000-01-01", "2026-04-04"])),
        "to": draw(st.sampled_from(["2026-04-05", "2100-01-01"])),
        "basis": draw(st.sampled_from(["conversion", "touch", "event:lost", "event:updated"])),
        "gap": draw(st.sampled_from([30, 0])),
        "direct": draw(st.sampled_from(["keep", "yield"])),
        "views": draw(st.sampled_from(["keep", "yield"])),
        "cut_at_previous": draw(st.booleans()),
        "click_days": draw(st.sampled_from([30, 1])),
        "view_days": 1,
        "watch_days": 3,
        "own_hosts": ["shop.example", "öndrel.example"],
        "pass_through_hosts": ["bank.example"],
        "search_sites": ["find.example"],
        "social_sites": [],
        "click_marks": ["ckid"],
        "extra_values": ["source", "size"],
        "tag_parameters": draw(st.sampled_from([[], ["size"]])),
        "goals": GOALS[draw(st.sampled_from([*GOALS, "versions"]))],
        "platforms": platforms,
        "levels": levels,
        "yardsticks": YARDSTICKS,
        "most_together": draw(st.sampled_from([50, 50, 2])),
        "rate_days": draw(st.sampled_from([7, 7, 3])),
        "status_words": draw(st.sampled_from(STATUS_WORDS)),
        "quarantine": draw(st.sampled_from(QUARANTINE)),
        "records": draw(st.sampled_from([{}, {("visits", "v0"): "quarantined", ("leads", "lead0"): "counted"}])),
        "separations": draw(st.sampled_from(SEPARATIONS)),
        "test_parameter": draw(st.sampled_from(["yt-test", "size"])),
        **planned,
    }
    plain = moved(plain, elsewhere[1])
    core = plan_of(
        home_currency="AUD",
        time_zone=plain["time_zone"],
        fold=plain["fold"],
        report_from=datetime.fromisoformat(plain["from"]).date(),
        report_to=datetime.fromisoformat(plain["to"]).date(),
        date_basis=plain["basis"],
        session_gap_minutes=Decimal(plain["gap"]),
        direct=plain["direct"],
        views=plain["views"],
        cut_at_previous=plain["cut_at_previous"],
        window=Window(click_days=Decimal(plain["click_days"])),
        own_hosts=("shop.example", "öndrel.example"),
        rate_days=plain["rate_days"],
        identifier_limit=plain["most_together"],
        click_prices=tuple(
            ClickPrice(name, Decimal(price), source, currency=currency)
            for name, source, price, currency in plain["prices"]
        ),
        pass_through_hosts=("bank.example",),
        search_sites=("find.example",),
        click_marks=("ckid",),
        goals=tuple(goal_of(name, said) for name, versions in plain["goals"].items() for said in versions),
        status_words=tuple(StatusWord(*pair) for pair in plain["status_words"].items()),
        quarantine=tuple(
            QuarantineRule(tuple(Condition(f, op, tuple(values)) for f, op, values in when))
            for when in plain["quarantine"]
        ),
        records=tuple(RecordState(at[0], at[1], state) for at, state in plain["records"].items()),
        separations=tuple(
            Separation(_stated(first), _stated(second), _day(since)) for first, second, since in plain["separations"]
        ),
        test_parameter=plain["test_parameter"],
        legends=tuple(
            Legend(
                tuple(Condition(f, op, tuple(values)) for f, op, values in when),
                _day(first),
                tuple(roles.items()),
                tuple(fixed.items()),
                _day(until[0]) if until else None,
            )
            for when, first, roles, fixed, *until in plain["legends"]
        ),
        extra_values=tuple(plain["extra_values"]),
        tag_parameters=tuple(plain["tag_parameters"]),
        renames=tuple(Rename(field, old, new, _day(first)) for field, old, new, first in plain["renames"]),
        campaigns=tuple(
            Campaign(
                name,
                ids=tuple(i for i, n in plain["plan_ids"].items() if n == name),
                vouchers=tuple(v for v, n in plain["vouchers"].items() if n == name),
            )
            for name in dict.fromkeys([*plain["plan_ids"].values(), *plain["vouchers"].values()])
        ),
        other_costs=tuple(
            OtherCost(_day(first), _day(last), name, "", Decimal(cost))
            for name, cost, first, last in plain["other_costs"]
        ),
        platforms=tuple(
            Platform(
                n.title(),
                source=platforms.get(n, ("", ""))[0],
                medium=platforms.get(n, ("", ""))[1],
                kind=platforms.get(n, ("", "", ""))[2],
                levels=levels.get(n, "repeat"),
            )
            for n in dict.fromkeys([*platforms, *levels])
        ),
        yardsticks=tuple(yardstick_of(name, rule) for name, rule in YARDSTICKS.items()),
    )
    return plain, core


def csv_bytes(table: str, rows: list[dict[str, str]]) -> bytes:
    """Rows as a CSV file with all canonical columns that any of them has."""
    columns = [c.called for c in SCHEMA[table] if c.required or any(c.called in r for r in rows)]
    return table_text(columns, [[r.get(c, "") for c in columns] for r in rows]).encode()


def into_core(world: dict[str, list[dict[str, str]]], zone: str = "UTC") -> Tables:
    """The world's rows through the CSV reader into the core's tables."""
    given = tables_of(read_file(csv_of(f"{name}.csv", csv_bytes(name, rows)), zone) for name, rows in world.items())
    assert not given.rejected, given.rejected
    return given.tables
