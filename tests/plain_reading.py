# mypy: disable-error-code="index, call-overload, dict-item, arg-type, attr-defined"
# Rows are dictionaries here, and one name goes from step to step: plain on purpose.
"""The rules read plainly: loops over rows, whole fractions, nothing shared with the core.

Slow and short on purpose. The property tests hold the core against it on small random worlds.
"""

from __future__ import annotations

import re
import unicodedata
from collections import Counter, defaultdict
from datetime import UTC, datetime, timedelta
from decimal import Decimal, localcontext
from fractions import Fraction
from itertools import count
from urllib.parse import parse_qsl, urlsplit
from zoneinfo import ZoneInfo

SIX = ["source", "medium", "campaign", "term", "content", "id"]
SLOTS = [
    r"\{[^{}]*\}",
    r"\{\{[^{}]*\}\}",
    "<[^<>]*>",
    r"\[[^\[\]]*\]",
    r"\[\[[^\[\]]*\]\]",
    "%[^%]*%",
    "%%[^%]*%%",
    "~[^~]*~",
    r"\(:[^(:)]*:\)",
]
MEDIUMS = {
    "paid-search paidsearch paid_+search": "Paid search",
    "paid-social paidsocial paid_social paid_+social": "Paid social",
    "affiliate partner": "Affiliate",
    "display banner cpm": "Display",
    "video": "Video",
    "email e-mail newsletter": "Email",
    "sms text text-message": "Text message",
    "print qr poster offline": "Offline",
    "social": "Social",
    "organic": "Organic search",
    "referral": "Referral",
}
ROLES = ["channel", "source", "medium", "campaign", "group", "ad", "keyword", "placement", "item", "audience"]
FINER = ["ad_group", "ad", "keyword", "placement"]
OWN = {"group": "ad_group", "ad": "ad", "keyword": "keyword", "placement": "placement"}
QUANTITIES = ["minor", "clicks", "impressions", "claimed_conversions", "claimed"]
CHANNEL_OF = {m.replace("_+", " "): channel for words, channel in MEDIUMS.items() for m in words.split()}


def squeeze(text):
    return " ".join(text.split())


def fold(text):
    text = unicodedata.normalize("NFKC", squeeze(text)).casefold()
    return squeeze(unicodedata.normalize("NFKC", text))


def unfilled(value):
    return any(re.fullmatch(slot, value, re.DOTALL) for slot in SLOTS)


def tags_of(url, marks, extra_values=(), tag_parameters=()):
    """Six fields, further tags, click mark, extra values, and every parameter of the address."""
    query = url.split("#")[0].partition("?")[2]
    got, mark, there = {}, "", {}
    pieces = [p for p in query.split("&") if p]
    for piece, (name, value) in zip(pieces, parse_qsl(query, keep_blank_values=True, errors="replace"), strict=True):
        raw = piece.partition("=")[2]
        name, value = fold(name), squeeze(value)
        if unfilled(value) or re.fullmatch("%[^%]*%|%%[^%]*%%", raw):
            value = ""
        there[name] = there.get(name) or value
        if value and name.startswith("utm_"):
            got.setdefault(name, value)
        if name in marks and not mark and identifier("mark", value):
            mark = value
    values = {name: there[fold(name)] for name in [*extra_values, *tag_parameters] if there.get(fold(name))}
    further = [*got.items(), *((name, values[name]) for name in tag_parameters if name in values)]
    tags = [got.get("utm_" + f, "") for f in SIX]
    return tags, sorted(pair for pair in further if pair[0] not in {"utm_" + f for f in SIX}), mark, values, there


def from_outside(referrer, landed, s):
    """The host that sent a visit from outside, empty where it came from inside."""
    name, landing = host(referrer), host(landed)
    bare = name[4:] if name.startswith("www.") else name
    inside = bare == (landing[4:] if landing.startswith("www.") else landing)
    return "" if inside or listed(name, s["pass_through_hosts"]) or listed(name, s["own_hosts"]) else name


def number_text(text):
    """0.010 is 0.01."""
    return format(Decimal(text).normalize(), "f") if text else ""


def all_hold(when, seen, same):
    """Whether all conditions hold for what is seen: field or parameter -> value, missing where it does not stand."""
    for field, op, values in when:
        text = seen.get(field)
        clean = fold if field in ("medium", "referrer_host", "landing_host", "landing_page") else same
        clean = number_text if field == "value" else clean
        value, wanted = clean(text or ""), [clean(v) for v in values]
        negated = op.startswith(("is not", "not "))
        listed_there = any(is_page(value, w) for w in wanted) if field == "landing_page" else value in wanted
        holds = {
            "there": text is not None,
            "empty": not value,
            "is": listed_there,
            "list": listed_there,
            "with": wanted and (value.startswith if "begins" in op else value.endswith)(wanted[0]),
            "contains": wanted and wanted[0] in value,
        }[op.split()[-1] if op not in ("is", "is not") else "is"]
        if holds == negated:
            return False
    return True


def host(referrer):
    try:
        return in_ascii((urlsplit(referrer).hostname or "").lower())
    except ValueError:
        return ""


def in_ascii(name):
    return name.encode("idna").decode() if name else ""


def listed(name, hosts):
    return bool(name) and any(name == h or name.endswith("." + h) for h in map(in_ascii, hosts))


def landing_page(url):
    """Host without port and path, no query, no closing slash; a path alone stays one."""
    bare = re.split("[?#]", url)[0]
    if "://" in bare:
        name, _, path = bare.partition("://")[2].partition("/")
        bare = name.split(":")[0] + "/" + path
    return fold(bare.rstrip("/") or "/")


def is_page(page, wanted):
    """A closing star stands for any rest; before it a slash may be missing."""
    if not wanted.endswith("*"):
        return page == (wanted.rstrip("/") or "/")
    return page.startswith(wanted[:-1]) or page == wanted[:-1].rstrip("/")


def channel_of(tags, extras, mark, referrer, landed, s):
    name = outside = from_outside(referrer, landed, s)
    tagged = any(tags) or bool(extras)
    direct = not (tagged or mark or outside)
    medium = fold(tags[1])
    if medium in ("cpc", "ppc", "paid"):
        same = fold if s["fold"] else squeeze
        mine = [p for p in s["platforms"].values() if p[0] and same(p[0]) == same(tags[0])]
        for _, _, kind in [p for p in mine if fold(p[1]) == medium] + mine:
            if kind:
                return {"search": "Paid search", "social": "Paid social", "panels": "Display", "video": "Video"}[
                    kind
                ], direct
            break
        return "Paid, kind unknown" if medium == "paid" else "Paid search", direct
    if medium in CHANNEL_OF:
        return CHANNEL_OF[medium], direct
    if tagged:
        return "Tagged, no rule", direct
    if mark:
        return "Paid, untagged", direct
    if listed(name, s["search_sites"]):
        return "Organic search", direct
    if listed(name, s["social_sites"]):
        return "Social", direct
    return ("Referral" if outside else "Direct"), direct


def identifier(kind, text):
    if fold(text) in {"", "null", "undefined", "none", "nan", "n/a", "0", "-"} or unfilled(text.strip()):
        return None
    if kind == "email":
        return (kind, fold(text))
    if kind == "phone":
        digits = re.sub("[^0-9]", "", text)
        plus = "+" if re.match(r"[^0-9]*\+", text) else ""
        return (kind, plus + digits) if digits and digits != "0" else None
    return (kind, text.strip())


def half_even(x, digits):
    return round(x * 10**digits)  # Fraction rounds half to even


def shares_in_units(total, shares):
    """Largest remainder; ties to the earlier."""
    quotas = [total * s for s in shares]
    units = [int(q) for q in quotas]
    left = total - sum(units)
    for i in sorted(range(len(shares)), key=lambda i: (-(quotas[i] - units[i]), i))[:left]:
        units[i] += 1
    return units


def quantity(r, what, home):
    """What a spend row states of one quantity, None where it is silent."""
    if what == "minor":
        return r["minor"]
    if what == "claimed":
        return home(Fraction(r["claimed_value"]), r["currency"], r["day"]) if r["claimed_value"] else None
    return Fraction(r[what]) if r[what] else None


def decayed(ages, half_life):
    """Weights 2^(-age / half-life) as whole 2^-40 parts of the newest one's, then shares."""
    with localcontext() as context:
        context.prec = 60
        days = [Decimal((age - min(ages)) // timedelta(microseconds=1)) / 86_400_000_000 for age in ages]
        weights = [int((2**40 * Decimal(2) ** (-d / half_life)).to_integral_value()) for d in days]
    return [Fraction(w, sum(weights)) for w in weights]


def removal_effects(paths):
    """Path -> ..., True (converts) or False: by state 10^12 times 1 - P(convert | its inflow is lost) / P(convert)."""
    moves = defaultdict(Counter)
    for path in paths:
        for one, two in zip(["start", *path], path, strict=False):
            moves[one][two] += 1
    states = sorted({x for path in paths for x in path[:-1]}, key=str)

    def convert(gone=None):
        """P(convert) from the start, by elimination."""
        left = [x for x in ["start", *states] if x != gone]
        rows = {x: {y: Fraction(n, sum(moves[x].values())) for y, n in moves[x].items()} for x in left}
        for x in left[:0:-1]:
            stay = rows[x].pop(x, 0)
            rows[x] = {y: p / (1 - stay) for y, p in rows[x].items()}
            for y in left[: left.index(x)]:
                p = rows[y].pop(x, 0)
                for z, q in rows[x].items() if p else ():
                    rows[y][z] = rows[y].get(z, 0) + p * q
        stay = rows["start"].pop("start", 0)
        assert not stay
        return rows["start"].get(True, Fraction(0))

    base = convert()
    return {x: round((1 - convert(x) / base) * 10**12) for x in states}


def nested(amount, weights):
    """(path, units): an amount shared over the first part of each path, then inside it over the next."""
    if () in weights:
        return [((), amount)]
    groups = defaultdict(dict)
    for path, weight in weights.items():
        groups[path[0]][path[1:]] = weight
    order = sorted(groups)
    sums = [sum(groups[k].values()) for k in order]
    units = shares_in_units(amount, [Fraction(w, sum(sums)) for w in sums])
    return [((k, *rest), got) for k, unit in zip(order, units, strict=True) for rest, got in nested(unit, groups[k])]


OF_CONVERSIONS = {"goal", "product", "customer"}
"""Fields that a touch alone has no value of."""


def weigh_plainly(tables, s, by):
    """rows: {(yardstick, bucket, values): {figure: number}} and credits: {(yardstick, conversion): [(visit, share, value)]}."""
    return read_plainly(tables, s, by)[:2]


def read_plainly(tables, s, by):
    """As `weigh_plainly`, and all that `plain_certainty.py` goes on from."""
    same = fold if s["fold"] else squeeze
    zone = ZoneInfo(s["time_zone"])

    def when(text):
        return datetime.fromisoformat(text).astimezone(UTC)

    def day(at):
        return at.astimezone(zone).date().isoformat()

    def home(amount, currency, on):
        """Minor units, or None without a rate (R20)."""
        if amount == 0 or (currency or s["home"]) == s["home"]:
            return half_even(amount, s["digits"])
        found = None
        for r in tables["rates"]:
            if r["base"] == currency and r["quote"] == s["home"] and r["day"] <= on:
                age = (datetime.fromisoformat(on) - datetime.fromisoformat(r["day"])).days
                if age <= s["rate_days"] and (found is None or r["day"] >= found["day"]):
                    found = r
        return None if found is None else half_even(amount * Fraction(found["rate"]), s["digits"])

    def in_range(d):
        return s["from"] <= d <= s["to"]

    # Names of the plan
    def latest(entries, on):
        """Of (first day, thing) those that have begun, the latest."""
        begun = [e for e in entries if e[0] <= on]
        return max(begun, key=lambda e: e[0])[1] if begun else None

    def renamed(role, value, on):
        passed = set()
        while same(value) not in passed:
            passed.add(same(value))
            found = latest([(r[3], r[2]) for r in s["renames"] if r[0] == role and same(r[1]) == same(value)], on)
            value = value if found is None else found
        return value

    def legend_of(seen, on):
        lots = {}
        for when, first, given, fixed, *until in s["legends"]:
            key = frozenset((f, op, tuple(sorted(map(same, values)))) for f, op, values in when)
            lots.setdefault(key, (when, []))[1].append((first, given, fixed, *until))
        for when, versions in lots.values():
            begun = [v for v in versions if v[0] <= on]
            if begun and all_hold(when, seen, same):
                _, given, fixed, *until = max(begun, key=lambda v: v[0])
                # A version that has ended ends its legend: the ones after it are asked.
                if not until or on <= until[0]:
                    return given, fixed
        return {}, {}

    def roles(tags, on, values=None, seen=None):
        """`values`: extra values of an address; None where there was no address."""
        given, fixed = legend_of(seen or {f: t for f, t in zip(SIX, tags, strict=True) if t}, on)
        if values is None:
            given = {field: role for field, role in given.items() if field in SIX}
        usual = {"source": "source", "medium": "medium", "campaign": "campaign", "term": "keyword", "content": "ad"}
        usual |= {name: "extra:" + name for name in (values or {}) if name not in SIX}
        out = dict.fromkeys(ROLES, "")
        # An extra value named like a field is never the field.
        stand = [
            *zip(SIX, tags, strict=True),
            *(("extra:" + n if n in SIX else n, v) for n, v in (values or {}).items()),
        ]
        for field, value in stand:
            role = field if field.startswith("extra:") else usual.get(field)
            if field in given:
                out[given[field]] = value
            elif role and role not in given.values() and role not in fixed:
                out[role] = value
        return out | fixed, "" if "id" in given else tags[5]

    # Spend
    spend = []
    seen = set()
    for r in tables["spend"]:
        if tuple(sorted(r.items())) in seen:
            continue
        seen.add(tuple(sorted(r.items())))
        cost = Fraction(r["cost"]) if r["cost"] else Fraction(r["click_price"]) * int(r["clicks"])
        minor = home(cost, r["currency"], r["day"])
        claimed = home(Fraction(r["claimed_value"] or 0), r["currency"], r["day"])
        if None not in (minor, claimed):
            spend.append(dict(r, minor=minor))
    # An empty account is the platform's only one; a row without id takes the only one its name has there.
    accounts, ids_of = defaultdict(set), defaultdict(set)
    for r in spend:
        accounts[same(r["platform"])].add(same(r["account"]))
        ids_of[same(r["platform"]), same(r["campaign"])].add(same(r["campaign_id"]))
    for r in spend:
        found = accounts[same(r["platform"])] - {""}
        r["whose"] = same(r["account"]) or (found.pop() if len(found) == 1 else "")
        found = ids_of[same(r["platform"]), same(r["campaign"])] - {""}
        r["key"] = same(r["campaign_id"]) or (found.pop() if len(found) == 1 else "")
    name_of_id = {}
    for r in sorted(spend, key=lambda r: (r["day"], [-ord(c) for c in squeeze(r["campaign"])] + [0])):
        if same(r["campaign_id"]):
            name_of_id[same(r["campaign_id"])] = squeeze(r["campaign"])
    name_of_id |= s["plan_ids"]
    groups = defaultdict(list)
    for r in spend:
        key = ("id", r["key"]) if r["key"] else ("name", same(r["campaign"]))
        groups[r["day"], same(r["platform"]), r["whose"], key].append(r)
        r["name"] = renamed("campaign", name_of_id.get(r["key"]) or squeeze(r["campaign"]), r["day"])
    counted_spend = []
    for rows in groups.values():
        adds = s["levels"].get(fold(rows[0]["platform"])) == "add"
        levels = defaultdict(list)
        for r in rows:
            levels[tuple(bool(squeeze(r[f])) for f in FINER)].append(r)
        rest = dict(rows[0], **dict.fromkeys(FINER, ""), counts={}, cost="")
        for r in rows:
            r["counts"] = {}
        for what in QUANTITIES:
            stated = {}
            for level, some in levels.items():
                some = [(r, quantity(r, what, home)) for r in some]
                stated[level] = [(r, x) for r, x in some if x is not None]
            stated = {level: some for level, some in stated.items() if some}
            if what == "minor" and not adds:
                reported = {k: v for k, v in stated.items() if any(r["cost"] for r, _ in v)}
                stated = reported or stated
            if not stated:
                continue
            sums = {level: sum(x for _, x in some) for level, some in stated.items()}
            deepest = max(stated, key=lambda level: (sum(level), sums[level], level[::-1]))
            for level in stated if adds else [deepest]:
                for r, x in stated[level]:
                    r["counts"][what] = x
            if not adds:
                most = max(stated, key=lambda level: (sums[level], sum(level), level[::-1]))
                gap = sums[most] - sums[deepest]
                slack = max(len(stated[most]), len(stated[deepest])) if what in ("minor", "claimed") else 0
                if gap > slack:
                    rest["counts"][what] = gap
        counted_spend += [r for r in [*rows, rest] if r["counts"] and in_range(r["day"])]

    for name, cost, first, last in s["other_costs"]:
        one = datetime.fromisoformat(first)
        number = (datetime.fromisoformat(last) - one).days + 1
        for i in range(number):
            cents = int(Fraction(cost) * 100)
            on = (one + timedelta(days=i)).date().isoformat()
            row = {
                "day": on,
                "platform": "Other costs",
                "name": renamed("campaign", name, on),
                "campaign": name,
                **dict.fromkeys(FINER, ""),
                "other": True,
            }
            if in_range(on):
                counted_spend.append(row | {"counts": {"minor": cents // number + (i < cents % number)}})

    # Records and people
    records = []
    latest_status = {}
    for r in tables["statuses"]:
        latest_status[r["record_id"].strip(), when(r["occurred_at"])] = r
    refunded = defaultdict(list)
    for r in tables["refunds"]:
        refunded[r["conversion_id"].strip()].append(r)

    def versions_of(name):
        """The versions of a goal, the earliest first; the one of a goal that nobody set up."""
        usual = {"since": "", "value": "net", "default": None, "fixed": None, "good_goal": None, "good_days": None}
        usual |= {"windows": {}, "stages": ()}
        lead = name == "lead"
        mine = s["goals"].get(name, [{"kind": "lead" if lead else "sale", "count": "one" if lead else "every"} | usual])
        return sorted(mine, key=lambda v: v["since"])

    def now(r, name, own):
        """The latest filled cell of a record's statuses, its own standing among them where it was updated."""
        updated = when(r["updated_at"]) if r.get("updated_at") else datetime.min.replace(tzinfo=UTC)
        found = [(at, 1, x[name]) for (i, at), x in latest_status.items() if i == r["id"].strip() and x[name]]
        found += [(updated, 0, own)] if own else []
        return max(found, key=lambda f: f[:2])[2] if found else ""

    def quarantined(r, word):
        said = {f: r[f] for f in ("email", "name", "form", "lead_id", "conversion_id", "product") if f in r}
        said |= {"email_host": r["email"].rpartition("@")[2]} if "email" in r else {}
        said |= {"value": r["total"]} if "total" in r else {}
        found = r.get("is_test") == "true" or word == "test"
        if r["table"] == "visits":
            said |= {"parameter:" + name: value for name, value in r["there"].items()}
            found |= fold(s["test_parameter"]) in r["there"]
        for rule in s["quarantine"]:
            # A rule on a field that the table does not have does not apply; an address may lack a parameter.
            if all(f in said or (f.startswith("parameter:") and r["table"] == "visits") for f, _, _ in rule):
                found |= all_hold(rule, said, fold)
        return {"quarantined": True, "counted": False}.get(s["records"].get((r["table"], r["id"].strip())), found)

    standing = {}
    for table, key in (("visits", "visit_id"), ("leads", "lead_id"), ("conversions", "conversion_id")):
        for r in tables[table]:
            r = dict(r, table=table, id=r[key], at=when(r["occurred_at"]))
            word = ""
            if table == "visits":
                r["tags"], r["extras"], r["mark"], r["values"], there = tags_of(
                    r["url"], s["click_marks"], s["extra_values"], s["tag_parameters"]
                )
                r["there"] = there
                seen = {"parameter:" + name: value for name, value in there.items()}
                seen |= {f: there["utm_" + f] for f in SIX if "utm_" + f in there}
                came, landed = from_outside(r["referrer"], r["url"], s), host(r["url"])
                seen |= {"referrer_host": came} if came else {}
                seen |= {"landing_host": landed} if landed else {}
                seen["landing_page"] = landing_page(r["url"])
                r["mark"] = r["mark"] or (identifier("mark", r["click_id"]) or ("", ""))[1]
                r["seen"] = seen | ({"click_mark": "yes"} if r["mark"] else {})
                r["channel"], r["direct"] = channel_of(r["tags"], r["extras"], r["mark"], r["referrer"], r["url"], s)
            else:
                word = fold(now(r, "status", r["status"]))
                means = s["status_words"].get(word, "counts")
                r["out"] = word == "cancelled" or means == "does not count"
                r["goal"] = "lead" if table == "leads" else r["goal"]
                versions = versions_of(r["goal"])
                goal = [v for v in versions if v["since"] <= day(r["at"])][-1:] or versions
                goal = goal[0]
                r["kind"], r["count"], r["good_goal"], r["good_days"], r["windows"] = (
                    goal[f] for f in ("kind", "count", "good_goal", "good_days", "windows")
                )
                basis, default, fixed = goal["value"], goal["default"], goal["fixed"]
                currency = r.get("currency", "")
                said = now(r, "value", r.get("total", ""))
                amounts = [Fraction(r.get(k) or 0) for k in ("refunded", "tax", "shipping")]
                back = abs(amounts[0]) + sum(
                    abs(Fraction(x["amount"]))
                    for x in (refunded[r["id"].strip()] if table == "conversions" else [])
                    if (x["currency"] or currency or s["home"]) == (currency or s["home"])
                )
                value = Fraction(said or 0) - back - (amounts[1] + amounts[2] if basis == "net" else 0)
                r["value"] = home(max(Fraction(0), value), currency, day(r["at"]))
                if fixed is not None or not said:
                    r["value"] = half_even(Fraction((default if fixed is None else fixed) or 0), s["digits"])
                r["good"] = r.get("is_good") == "true" or means == "good"
                if table == "leads":
                    r["good"] |= fold(now(r, "stage", r["stage"])) in {fold(stage) for stage in goal["stages"]}
                r["event"] = None
                if s["basis"].startswith("event:"):
                    wanted = fold(s["basis"].partition(":")[2])
                    about = [(at, x) for (i, at), x in latest_status.items() if i == r["id"].strip()]
                    if wanted == "updated":
                        own = [when(r["updated_at"])] if r.get("updated_at") else []
                        found = [at for at, _ in about] or own
                    else:
                        own = wanted in (fold(r["status"]), fold(r.get("stage", "")))
                        found = [at for at, x in about if wanted in (fold(x["status"]), fold(x.get("stage", "")))]
                        found += [when(r["updated_at"]) if r.get("updated_at") else r["at"]] if own else []
                        r["out"] &= word != wanted
                    r["event"] = max(found, default=None)
            # Of several rows with one id the last that is not rejected stands.
            if r.get("value", 0) is not None:
                standing[table, r["id"].strip()] = (r, word)
    records += [r for r, word in standing.values() if not quarantined(r, word)]
    names = {"visitor_id": "visitor", "email": "email", "phone": "phone", "lead_id": "lead"}
    together = defaultdict(set)
    for r in records:
        marks = r["mark"] if r["table"] == "visits" else r.get("click_id", "")
        found = [identifier(kind, r.get(column, "")) for column, kind in names.items()] + [identifier("mark", marks)]
        # On a row with both of a pair that is no one person, the second is none.
        apart = {
            tuple(second)
            for first, second, since in s.get("separations", [])
            if tuple(first) in found and tuple(second) in found and day(r["at"]) >= since
        }
        r["ids"] = [i for i in found if i and i not in apart]
        for i in r["ids"]:
            together[i] |= {j for j in r["ids"] if j != i and j[0] != "mark"}
    boss = {}

    def top(x):
        while boss.get(x, x) != x:
            x = boss[x]
        return x

    for n, r in enumerate(records):
        for i in r["ids"]:
            if len(together[i]) <= s["most_together"]:
                boss[top(i)] = top(("row", n))
    for n, r in enumerate(records):
        r["person"] = top(("row", n))

    contacts = defaultdict(set)
    for r in tables.get("deal_contacts", []):
        for kind, column in (("lead", "lead_id"), ("email", "email")):
            wanted = identifier(kind, r[column])
            if wanted and len(together[wanted]) <= s["most_together"]:
                contacts[r["deal_id"].strip()] |= {x["person"] for x in records if wanted in x["ids"]}

    # Touches
    touches = []
    by_person = defaultdict(list)
    for r in records:
        if r["table"] == "visits":
            by_person[r["person"]].append(r)
    for visits in by_person.values():
        current = previous = None
        for r in sorted(visits, key=lambda r: (r["at"], r["id"])):
            if r["kind"] in ("view", "watch"):
                touches.append(r)
                continue
            mine = ([same(t) for t in r["tags"]], [(k, same(v)) for k, v in r["extras"]], r["mark"])
            differs = (any(r["tags"]) or r["extras"] or r["mark"]) and mine != current
            if previous is None or s["gap"] == 0 or r["at"] - previous > timedelta(minutes=s["gap"]) or differs:
                touches.append(r)
                current, newest = mine, r
                r["visits"] = 0
            newest["visits"] += 1
            previous = r["at"]

    def carried(tags, channel, on, values=None, seen=None):
        """All fields of a touch of that day."""
        c, ident = roles(tags, on, values, seen)
        c["campaign"] = (name_of_id.get(same(ident)) if ident else None) or c["campaign"]
        c["channel"] = c["channel"] or channel
        return {role: renamed(role, value, on) if value else "" for role, value in c.items()}

    for t in touches:
        t["day"] = day(t["at"])
        t["tagged"] = any(t["tags"]) or bool(t["extras"])
        t["c"] = carried(t["tags"], t["channel"], t["day"], t["values"], t["seen"])

    # Clicks at a price: an estimate, which yields to what a platform of the touch's source reports of that day.
    reported = set()
    for r in counted_spend:
        told = s["platforms"].get(fold(r["platform"]))
        if told and squeeze(told[0]) and r.get("cost") and r["counts"].get("minor"):
            reported.add((same(r["name"]), r["day"], same(told[0])))
    at_a_price = defaultdict(list)
    for t in sorted((t for t in touches if t["kind"] == "click"), key=lambda t: (t["at"], t["id"])):
        campaign = same(t["c"]["campaign"])
        for number, (name, source, _, _) in enumerate(s["prices"]):
            if same(renamed("campaign", name, t["day"])) == campaign and same(source) in ("", same(t["tags"][0])):
                if (campaign, t["day"], same(t["c"]["source"])) not in reported:
                    at_a_price[number, t["day"], campaign].append(t)
                break
    for (number, on, _), some in at_a_price.items():
        _, _, price, currency = s["prices"][number]
        minor = home(Fraction(price) * len(some), currency, on)
        if minor is not None and in_range(on):
            for i, t in enumerate(some):
                part = minor // len(some) + (i < minor % len(some))
                row = {"day": on, "platform": "Price per click", "name": t["c"]["campaign"], "touch": t}
                counted_spend.append(row | {"counts": {"minor": part, "clicks": 1}})

    # Trails
    conversions = [r for r in records if r["table"] != "visits" and not r["out"]]
    conversions.sort(key=lambda r: (r["at"], r["id"], r["table"] == "conversions"))
    leads = {r["id"]: r for r in conversions if r["table"] == "leads"}

    def back(version, kind):
        return timedelta(days=float(version["windows"].get(kind, s[f"{kind}_days"])))

    named = {r["goal"] for r in tables["conversions"]} | ({"lead"} if tables["leads"] else set())
    longest = {
        of: max((back(v, kind) for kind in ("click", "view", "watch") for v in mine), default=None)
        for of in ("sale", "lead")
        for mine in [[v for name in named for v in versions_of(name) if (v["kind"] == "lead") == (of == "lead")]]
    }

    def captured(lead, conv, after):
        sets, found = [], []
        if lead:
            for which, seen_at in (
                ("first", lead["first_seen_at"] or lead["occurred_at"]),
                ("last", lead["occurred_at"]),
            ):
                tags = [squeeze(lead[f"{which}_{f}"]) for f in SIX]
                found.append((["" if unfilled(t) else t for t in tags], when(seen_at), (lead["id"], which)))
        for r in (lead, conv if conv["table"] == "conversions" else None):
            owner = s["vouchers"].get(fold(r["code"])) if r else None
            if owner:
                found.append((["", "", owner, "", "", ""], r["at"], (r["id"], "code")))
        for tags, at, whose in found:
            if any(tags) and conv["at"] - back(conv, "click") <= at <= conv["at"] and (not after or at > after):
                channel, _ = channel_of(tags, [], "", "", "", s)
                c = carried(tags, channel, day(at))
                sets.append(
                    {
                        "at": at,
                        "id": "",
                        "set": whose,
                        "kind": "click",
                        "direct": False,
                        "tagged": True,
                        "c": c,
                        "folded": [same(t) for t in tags],
                    }
                )
        sets.sort(key=lambda t: t["at"])
        return [t for i, t in enumerate(sets) if t["folded"] not in [u["folded"] for u in sets[:i]]]

    def people_of(conv):
        return {conv["person"]} | (contacts[conv["id"].strip()] if conv["table"] == "conversions" else set())

    def trail(conv, after=None):
        mine = [
            t
            for t in touches
            if t["person"] in people_of(conv)
            and conv["at"] - back(conv, t["kind"]) <= t["at"] <= conv["at"]
            and (after is None or t["at"] > after)
        ]
        mine.sort(key=lambda t: (t["at"], t["id"]))
        lead = conv if conv["table"] == "leads" else leads.get(conv["lead_id"])
        if not mine:
            mine = captured(lead, conv, after)
        for choice, weak in (("direct", lambda t: t["direct"]), ("views", lambda t: t["kind"] != "click")):
            if s[choice] == "yield":
                mine = [t for t in mine if not weak(t)] or mine
        return mine

    used = set()
    counted = []
    lone = count()
    for conv in conversions:
        last = trail(conv)[-1:]
        groups = {
            "every": next(lone),
            "one": conv["person"],
            "one_per_day": (conv["person"], day(conv["at"])),
            "one_per_touch": (last[0].get("set") or id(last[0])) if last else next(lone),
        }
        # The rule of its own version, over all conversions of the goal, whatever the rule of theirs.
        if (conv["goal"], conv["count"], groups[conv["count"]]) not in used:
            counted.append(conv)
        used |= {(conv["goal"], *group) for group in groups.items()}
    for conv in counted:
        if conv["kind"] == "lead" and not conv["good"] and conv["good_goal"]:
            later = [c for c in counted if c["goal"] == conv["good_goal"]]
            within = timedelta(days=conv["good_days"])
            conv["good"] = any(
                c["person"] == conv["person"] and conv["at"] <= c["at"] <= conv["at"] + within for c in later
            )
            kind = versions_of(conv["good_goal"])[0]["kind"]
            ends = [
                max((day(c["at"]) for c in counted if c["kind"] == kind), default=""),
                max((day(r["at"]) for r in records if r["table"] == "visits"), default=""),
            ]
            until = (datetime.fromisoformat(day(conv["at"])) + within).date().isoformat()
            if not conv["good"] and until > min(ends):
                conv["good"] = None

    def stands_at(conv):
        return conv["event"] if s["basis"].startswith("event:") else conv["at"]

    def in_sight(conv):
        return stands_at(conv) is not None and in_range(day(stands_at(conv)))

    previous, bought = {}, set()
    trails, every = [], []
    for conv in counted:
        conv["new"] = conv["kind"] != "lead" and conv["person"] not in bought
        if conv["new"]:
            bought.add(conv["person"])
        after = previous.get((conv["person"], conv["goal"])) if s["cut_at_previous"] else None
        previous[conv["person"], conv["goal"]] = conv["at"]
        found = trail(conv, after)
        every.append((conv, found))
        # Under `touch` a credit stands on its touch's day, a conversion without a trail on its own.
        if in_sight(conv) or (s["basis"] == "touch" and found):
            trails.append((conv, found))

    # Shares
    def state(t, of):
        c = t["c"]
        if of == "channel":
            return fold(c["channel"])
        return ("campaign", same(c["campaign"])) if c["campaign"] else ("untagged", fold(c["channel"]))

    def shares(rule, ts, ages):
        n = len(ts)
        one = [Fraction(0)] * n
        if rule == "first":
            one[0] = Fraction(1)
        elif rule == "last":
            one[-1] = Fraction(1)
        elif rule == "last_marked":
            one[max([i for i in range(n) if not ts[i]["direct"]] or [n - 1])] = Fraction(1)
        elif rule == "linear":
            one = [Fraction(1, n)] * n
        elif rule.startswith("position"):
            a, b = map(Fraction, rule.split()[1:])
            one = [a, *[(1 - a - b) / (n - 2)] * (n - 2), b] if n > 2 else [a / (a + b), b / (a + b)]
            one = [Fraction(1)] if n == 1 else one
        elif rule.startswith("decay"):
            one = decayed(ages, Decimal(rule.split()[1]))
        elif rule.startswith("custom"):
            a, m, b = map(Fraction, rule.split()[1:4])
            of = dict(pair.replace("_", " ").split("=") for pair in rule.split()[4:])
            places = [a] if n == 1 else [a, *[m] * (n - 2), b]
            weights = [p * Fraction(of.get(fold(t["c"]["channel"]), 1)) for p, t in zip(places, ts, strict=True)]
            one = [w / sum(weights) for w in weights] if any(weights) else [Fraction(1, n)] * n
        else:
            states = [state(t, "channel" if rule == "fair_share channel" else "campaign") for t in ts]
            one = [Fraction(1, len(set(states)) * states.count(x)) for x in states]
        return one

    credits, parts = {}, defaultdict(list)
    for name, rule in s["yardsticks"].items():
        if rule.startswith("removal"):
            continue
        for conv, ts in trails:
            if not ts:
                continue
            exact = shares(rule, ts, [conv["at"] - t["at"] for t in ts])
            units = shares_in_units(conv["value"], exact)
            share = [Fraction(p, 2**60) for p in shares_in_units(2**60, exact)]
            given = [(t, x, u) for t, x, u in zip(ts, share, units, strict=True) if x]
            if s["basis"] == "touch":
                given = [(t, x, u) for t, x, u in given if in_range(day(t["at"]))]
            if given:
                credits[name, conv["table"], conv["id"]] = [(t["id"], x, u) for t, x, u in given]
            parts[name] += [(conv, t, x, u) for t, x, u in given]

    # Lines of orders: the later row of a number holds, numbers in their order.
    lines = defaultdict(dict)
    for r in tables.get("order_lines", []):
        number = r["line"].strip()
        lines[r["conversion_id"].strip()][len(number), number] = (squeeze(r["product"]), Fraction(r["total"]))

    def by_line(conv, part, worth):
        """(conversion with the product of one line, its part, its minor units): a touch's credit by line, if asked for."""
        mine = [line for _, line in sorted(lines[conv["id"].strip()].items())] if conv["table"] == "conversions" else []
        if "product" not in by or not mine:
            return [(conv, part, worth)]
        totals = [total for _, total in mine]
        if min(totals) < 0 or not any(totals):
            totals = [1] * len(mine)
        shares = [Fraction(total, sum(totals)) for total in totals]
        units = shares_in_units(part, shares), shares_in_units(worth, shares)
        return [(conv | {"product": p}, x, u) for (p, _), x, u in zip(mine, *units, strict=True) if x or u]

    for name, of_name in parts.items():
        parts[name] = [
            (one, t, Fraction(x, 2**60), u)
            for conv, t, part, worth in of_name
            for one, x, u in by_line(conv, int(part * 2**60), worth)
        ]

    # Breakdown
    def key(field, conv, t):
        if field == "product":
            return squeeze(conv.get("product", "")) if conv else ""
        if field == "customer":
            sale = conv is not None and conv.get("kind") == "sale"
            return ("new" if conv["new"] else "returning") if sale else ""
        if field == "goal":
            return conv["goal"]
        if field == "day":
            return day(stands_at(conv)) if conv and s["basis"] != "touch" else day(t["at"])
        return (fold if field == "channel" else same)(t["c"].get(field, ""))

    shown_touches = [t for t in touches if in_range(t["day"])]

    def removal(of):
        """(place inside the range) -> what removal credits there."""
        out = defaultdict(Counter)
        whole = s["basis"] != "conversion"
        learn = touches if whole else shown_touches
        for goal in sorted({conv["goal"] for conv, _ in trails}):
            mine = [(conv, ts) for conv, ts in trails if conv["goal"] == goal and ts]
            bought = {p for conv in counted if conv["goal"] == goal for p in people_of(conv)}
            if not whole:
                bought = {p for c in counted if c["goal"] == goal and in_sight(c) for p in people_of(c)}
            lost = defaultdict(list)
            for t in sorted(learn, key=lambda t: (t["at"], t["id"])):
                if t["person"] not in bought:
                    lost[t["person"]].append(t)
            losing = []
            for path in lost.values():
                for choice, weak in (("direct", lambda t: t["direct"]), ("views", lambda t: t["kind"] != "click")):
                    if s[choice] == "yield":
                        path = [t for t in path if not weak(t)] or path
                losing.append(path)
            if not mine:
                continue
            taught = [(conv, ts) for conv, ts in every if conv["goal"] == goal and ts] if whole else mine
            paths = [[state(t, of) for t in ts] + [True] for _, ts in taught]
            paths += [[state(t, of) for t in path] + [False] for path in losing]
            effects = removal_effects(paths)
            weight = defaultdict(lambda: defaultdict(int))
            for conv, ts in mine:
                for t, part in zip(ts, shares_in_units(2**60, [Fraction(1, len(ts))] * len(ts)), strict=True):
                    for one, some, _ in by_line(conv, part, 0):
                        weight[state(t, of)][inside(t), *split(one, t)] += some
            if not any(effects.values()):
                effects = {x: sum(w.values()) for x, w in weight.items()}
            alone = {x for x in effects if x not in weight}
            # States that only conversions outside the range came by: where these have them.
            for conv, ts in taught:
                for t, part in zip(ts, shares_in_units(2**60, [Fraction(1, len(ts))] * len(ts)), strict=True):
                    if state(t, of) in alone:
                        for one, some, _ in by_line(conv | {"at": t["at"], "event": t["at"]}, part, 0):
                            weight[state(t, of)][inside(t), *split(one, t)] += some
            alone = {x for x in effects if x not in weight}
            for t in [t for path in losing for t in path]:
                if state(t, of) in alone:
                    weight[state(t, of)][inside(t), *split({"goal": goal, "at": t["at"], "event": t["at"]}, t)] += 1
            lead = mine[0][0]["kind"] == "lead"
            amounts = {
                "leads" if lead else "conversions": len(mine) * 2**60,
                "value": sum(conv["value"] for conv, _ in mine),
            }
            if lead:
                amounts["good_leads"] = sum(conv["good"] is True for conv, _ in mine) * 2**60
                amounts["open_leads"] = sum(conv["good"] is None for conv, _ in mine) * 2**60
            else:
                amounts["new_customers"] = sum(conv["new"] for conv, _ in mine) * 2**60
                amounts["sales_value"] = amounts["value"]
            order = sorted(effects, key=lambda x: (x[1], x[0]) if isinstance(x, tuple) else (x, ""))
            all_effects = sum(effects.values())
            for what, amount in amounts.items():
                units = shares_in_units(amount, [Fraction(effects[x], all_effects) for x in order])
                for x, unit in zip(order, units, strict=True):
                    for path, got in nested(unit, weight[x]):
                        if path[0] == 0:
                            out[path[1:]][what] += got if "value" in what else Fraction(got, 2**60)
        return out

    def inside(t):
        return 0 if s["basis"] != "touch" or in_range(day(t["at"])) else 1

    def split(conv, t):
        """The places of a touch in the first field, with its bucket, and in the second."""
        bucket, values = place(conv, t)
        return (values[0], bucket), *values[1:]

    def spend_key(field, r):
        if field == "campaign":
            return same(r["name"])
        if field == "day":
            return r["day"]
        if field in OF_CONVERSIONS:
            return None
        if "touch" in r:
            return key(field, None, r["touch"])
        if field in OWN:
            own = squeeze(r[OWN[field]])
            return same(renamed(field, own, r["day"])) if own else None
        told = s["platforms"].get(fold(r["platform"]))
        if told:
            tags = [told[0], told[1], squeeze(r["campaign"]), "", "", ""]
            own = carried(tags, channel_of(tags, [], "", "", "", s)[0], r["day"]).get(field)
            if own:
                return (fold if field == "channel" else same)(own)
        values = {key(field, None, t) for t in shown_touches if same(t["c"]["campaign"]) == same(r["name"])}
        return values.pop() if len(values) == 1 else None

    def place(conv, t):
        values = tuple(key(f, conv, t) for f in by)
        if by[0] in ("product", "customer") and not values[0]:
            return "no_value", values
        return ("named" if values[0] else "no_value" if t["tagged"] else "untagged"), values

    by_removal = {
        name: removal("channel" if "channel" in rule else "campaign")
        for name, rule in s["yardsticks"].items()
        if rule.startswith("removal")
    }
    met = {place(c, t) for name in parts for c, t, _, _ in parts[name]}
    met |= {
        (path[0][1], (path[0][0], *path[1:]))
        for found in by_removal.values()
        for path, got in found.items()
        if any(got.values())
    }
    if not OF_CONVERSIONS & set(by):
        met |= {place(None, t) for t in shown_touches}
    rows, spend_days = defaultdict(Counter), defaultdict(set)

    for name in s["yardsticks"]:
        for where in met:
            rows[name, *where]["touches"] += 0
        for path, got in by_removal.get(name, {}).items():
            for what, amount in got.items():
                if amount:
                    rows[name, path[0][1], (path[0][0], *path[1:])][what] += amount
        for conv, t, x, u in parts[name]:
            row = rows[name, *place(conv, t)]
            row["leads" if conv["kind"] == "lead" else "conversions"] += x
            if conv["kind"] == "lead":
                row["good_leads"] += x if conv["good"] else 0
                row["open_leads"] += x if conv["good"] is None else 0
            row["value"] += u
            row["sales_value"] += u if conv["kind"] != "lead" else 0
            row["new_customers"] += x if conv["new"] else 0
        for conv, ts in trails:
            if not ts:
                row = rows[name, "no_trail", ("",) * len(by)]
                row["leads" if conv["kind"] == "lead" else "conversions"] += 1
                if conv["kind"] == "lead":
                    row["good_leads"] += bool(conv["good"])
                    row["open_leads"] += conv["good"] is None
                row["value"] += conv["value"]
                row["sales_value"] += conv["value"] if conv["kind"] != "lead" else 0
                row["new_customers"] += conv["new"]
        if not OF_CONVERSIONS & set(by):
            for t in shown_touches:
                row = rows[name, *place(None, t)]
                row["touches"] += 1
                row["click_touches"] += t["kind"] == "click"
                row["bounces"] += t["kind"] == "click" and t["visits"] == 1
        for r in counted_spend:
            values = tuple(spend_key(f, r) for f in by)
            if None in values or not values[0]:
                row = rows[name, "undivided", tuple(v or "" for v in values)]
            elif ("named", values) in met:
                row = rows[name, "named", values]
            else:
                row = rows[name, "no_touch_spend", values]
            row["spend"] += r["counts"].get("minor", 0)
            spend_days[next(k[1:] for k in rows if rows[k] is row)].add((r["day"], id(r), r["counts"].get("minor", 0)))
            row["ad_cost"] += 0 if r.get("other") else r["counts"].get("minor", 0)
            for what in ("clicks", "impressions", "claimed_conversions", "claimed"):
                row[what] += r["counts"].get(what, 0)
    last = max((day(r["at"]) for r in records if r["table"] == "visits"), default=None)
    known = {
        "every": every,
        "parts": parts,
        "place": place,
        "day": day,
        "longest": longest,
        "last_visit": last,
        "touches": shown_touches,
        "records": records,
        "shared": {i for i in together if len(together[i]) > s["most_together"]},
        "spend_days": spend_days,
    }
    return rows, credits, known
