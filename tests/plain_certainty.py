"""Intervals, maturity and verdicts read plainly (R24, R25, R28), from what the plain reading found."""

from __future__ import annotations

from collections import defaultdict
from datetime import date, timedelta
from decimal import Decimal, localcontext
from fractions import Fraction
from functools import cache
from hashlib import sha256

from numpy.random import PCG64

KINDS = ["visitor", "email", "phone", "lead", "mark"]


@cache
def weights():
    """400 lists of how often each of 2,048 buckets is drawn."""
    with localcontext() as context:
        context.prec = 80
        steps, so_far, term = [], Decimal(0), Decimal(-1).exp()
        for k in range(30):
            so_far += term
            steps.append(round(so_far * 2**64))
            term /= k + 1
    draws = iter(PCG64(1).random_raw(400 * 2048).tolist())
    return [
        [sum(1 for step in steps if step <= u) if (u := next(draws)) >= steps[0] else 0 for _ in range(2048)]
        for _ in range(400)
    ]


def buckets(known):
    """Person -> bucket."""
    smallest = {}
    for r in known["records"]:
        for kind, value in r["ids"]:
            if (kind, value) not in known["shared"]:
                this = (KINDS.index(kind), value)
                smallest[r["person"]] = min(smallest.get(r["person"], this), this)

    def of(conv):
        text = (
            "{}:{}".format(*smallest[conv["person"]]) if conv["person"] in smallest else f"{conv['table']}:{conv['id']}"
        )
        return int(sha256(text.encode()).hexdigest()[:16], 16) % 2048

    return of


def percentile(ordered, share):
    at = share * (len(ordered) - 1)
    one, two = ordered[int(at)], ordered[int(at) + 1]
    return None if two is None else one + (at - int(at)) * (two - one)


def drawn_plainly(rows, known, yardsticks):
    """{(yardstick, values): {"leads", "conversions", "value": 400 numbers}} of named rows with spend."""
    of, out = buckets(known), {}
    for name in yardsticks:
        sums = defaultdict(lambda: defaultdict(int))
        for conv, t, x, u in known["parts"][name]:
            bucket, values = known["place"](conv, t)
            if bucket == "named" and rows[name, bucket, values]["spend"] > 0:
                kind = "leads" if conv["kind"] == "lead" else "conversions"
                sums[values, kind][of(conv)] += int(x * 2**60)
                sums[values, "value"][of(conv)] += u
        for n, bucket, values in list(rows):
            spend = rows[n, bucket, values]["spend"]
            if n != name or bucket != "named" or spend <= 0:
                continue
            drawn = {}
            for kind in ("leads", "conversions", "value"):
                mine = sums[values, kind]
                if kind != "value":
                    mine = {b: (x + 2**39) >> 40 for b, x in mine.items()}
                drawn[kind] = [sum(w[b] * x for b, x in mine.items()) for w in weights()]
            out[name, values] = drawn
    return out


def intervals_plainly(rows, known, yardsticks):
    """{(yardstick, values, figure): (low, high)} of named rows with spend."""
    out = {}
    for (name, values), drawn in drawn_plainly(rows, known, yardsticks).items():
        spend = rows[name, "named", values]["spend"]
        for figure, numbers in (
            ("conversions", sorted(Fraction(x, 2**20) for x in drawn["conversions"])),
            ("leads", sorted(Fraction(x, 2**20) for x in drawn["leads"])),
            ("roas", sorted(Fraction(x, spend) for x in drawn["value"])),
            (
                "cost_per_lead",
                [Fraction(spend, 100) * 2**20 / x if x else None for x in sorted(drawn["leads"], reverse=True)],
            ),
        ):
            out[name, values, figure] = percentile(numbers, Fraction(1, 20)), percentile(numbers, Fraction(19, 20))
    return out


def flips_plainly(kind, code, panel, worths, draws, each, points, bounds, even, credited, spent):
    """What a verdict depends on: in how many redraws it pays and loses, which yardstick flips it, up to which price of a
    click it pays, how many conversions would settle it.

    `worths` are minor units by yardstick of the panel, `draws` 400 numbers of each that has intervals, each worth so much.
    """
    spend, other, clicks = spent
    pays = loses = None
    if code not in ("too_few", "too_early") and draws:
        sides = [[x * each >= spend for x in of_one] for of_one in draws]
        pays = sum(all(one) for one in zip(*sides, strict=True))
        loses = sum(not any(one) for one in zip(*sides, strict=True))
    chosen = "linear" if "linear" in panel else panel[0]
    across = [n for n in panel if (worths[n] >= spend) != (worths[chosen] >= spend)]
    under = min(across, key=lambda n: abs(worths[n] - spend)) if across else ""
    left = min(worths.values()) - other
    click = left / clicks / 100 if clicks > 0 and left >= 0 else None
    needed = ""
    if code == "unsure":
        numbers = []
        for point, bound in zip(points, bounds, strict=True):
            if bound is None:
                continue
            if point is None or None in bound or point == even:
                numbers.append(None)
            else:
                wanted = credited * ((bound[1] - bound[0]) / 2 / (point - even)) ** 2
                numbers.append(None if wanted > 100 * credited else -(-wanted // 1))
        needed = "none" if None in numbers else str(max(n for n in numbers if n is not None))
    return pays, loses, under, click, needed


def maturity_plainly(known, minimum):
    """kind -> (end, M) with M(days) a fraction, or None."""
    out = {}
    for kind in ("sale", "lead"):
        mine = [(c, ts) for c, ts in known["every"] if (c["kind"] == "lead") == (kind == "lead")]
        if not mine or known["last_visit"] is None:
            out[kind] = (None, None)
            continue
        end = min(max(known["day"](c["at"]) for c, _ in mine), known["last_visit"])
        longest = known["longest"][kind]
        credit = []
        for c, ts in mine:
            units = shares(len(ts))
            for t, part in zip(ts, units, strict=True):
                if "set" not in t and midnight(t["day"]) + longest < midnight(end):
                    credit.append((c["at"] - t["at"], part))
        whole = sum(part for _, part in credit)
        if not whole or whole < minimum * 2**60:
            out[kind] = (end, None)
            continue

        def share(days, credit=credit, whole=whole):
            return Fraction(sum(part for age, part in credit if age <= timedelta(days=days)), whole)

        out[kind] = (end, share)
    return out


def shares(n):
    """2^60 equally, the rest to the earlier."""
    return [2**60 // n + (i < 2**60 % n) for i in range(n)] if n else []


def midnight(day):
    return date.fromisoformat(day).toordinal() * timedelta(days=1)


def come_plainly(end, share, days):
    """The mean of M over (day, weight)."""
    whole = sum(w for _, w in days)
    if share is None or not whole:
        return None
    ages = [((midnight(end) - midnight(d)) // timedelta(days=1), w) for d, w in days]
    return sum((share(age) * w for age, w in ages if age >= 0), Fraction(0)) / whole


def verdict_plainly(kind, points, bounds, credited, minimum, even, target, come, mature):
    """The rule's list, in its order. Costs are turned round, so that more is better; None of a cost is as bad as can be."""
    worst = -(10**30)

    def better(x):
        return x if kind == "sale" else (worst if x is None else -x)

    even, target = better(even), None if target is None else better(target)
    points = [better(p) for p in points]
    lows = [better(b[0] if kind == "sale" else b[1]) for b in bounds]
    highs = [better(b[1] if kind == "sale" else b[0]) for b in bounds]
    if credited < minimum:
        return "too_few"
    if come is not None and come < mature:
        return "too_early"
    if min(points) < even <= max(points):
        return "depends"
    if target is not None and min(lows) > target:
        return "grow"
    if max(highs) < even:
        return "cut"
    if any(low < even <= high for low, high in zip(lows, highs, strict=True)):
        return "unsure"
    return "keep"
