"""What each touch gets under rules that compare the touches of a trail, as machine code (R14, R15, R17).

Each function does what a rule's module and `apportioning` do, to the last unit. Numba compiles it into a cache beside
this file, at set-up or when it is first asked for. The cache goes by the file that a function stands in and would not
see a change of another, so nothing here is from another file.

All take `offsets` (n_trails + 1,), which need not begin at 0, and `value` (n_trails,), minor units below 2^50, and fill
`part` and `worth`, parts of 2^-60 and minor units of each touch of these trails. Shares are worked out in binary
fractions and set right in whole numbers, which wrap where they are large, while their difference is small.
"""

from __future__ import annotations

import numba
import numpy as np

WHOLE = 2**60
WIDEST = 2**52
"""Of weights that add up to this or more in one trail, quotients are not exact here."""
COUNT_BITS = 20
LONGEST = 2**COUNT_BITS - 1
"""In a longer trail, fractions compared crosswise could pass 64 bits."""
KEPT = 4096
"""Quotients of a whole conversion are worked out once for each divisor below this."""
ROW = 16
"""So many numbers are compared in one turn of a loop."""
FEW = 8
"""Of so few touches those with the largest rests are looked for one by one."""
NEAR, TRIES = 1, 3
"""Of more a bound is guessed, so often, until about so many too many or too few are above it."""
ONE_BY_ONE = 6
"""A guess that is off by no more is mended one by one."""
C = numba.types.Array(numba.int64, 1, "C", readonly=True)
CODES = numba.types.Array(numba.int32, 1, "C", readonly=True)
OUT = numba.types.Array(numba.int64, 1, "C")
N = numba.int64
U = np.uint64


@numba.njit(inline="always")
def _divided(total, weight, whole, inverse):
    """total x weight // whole and the remainder, for weight <= whole < 2^52; `inverse` is 1 / whole."""
    q = np.int64(float(total) * (float(weight) * inverse))
    r = total * weight - q * whole
    more = np.int64(float(r) * inverse)
    q += more
    r -= more * whole
    off = np.int64(r >= whole) - np.int64(r < 0)
    return q + off, r - off * whole


@numba.njit(inline="always")
def _units(total, weight, whole, inverse):
    """The same for total < 2^50: its quotient is off by less than one at once."""
    q = np.int64(float(total) * (float(weight) * inverse))
    r = total * weight - q * whole
    off = np.int64(r >= whole) - np.int64(r < 0)
    return q + off, r - off * whole


@numba.njit(inline="always")
def _evenly(begin, n, part, worth, total):
    """The same to each of some touches, what is left over to the first."""
    inverse = 1.0 / float(n)
    parts, more_parts = _divided(WHOLE, 1, n, inverse)
    units, more_units = _units(total, 1, n, inverse)
    for i in range(n):
        part[U(begin + i)] = parts + np.int64(i < more_parts)
        worth[U(begin + i)] = units + np.int64(i < more_units)


@numba.njit(inline="always")
def _of_two(total, weight, whole, inverse):
    """What the first of two touches gets: rounded to the nearest unit, a half up, since a tie is the earlier one's."""
    q, r = _divided(total, weight, whole, inverse)
    return q + np.int64(2 * r >= whole)


@numba.njit(inline="always")
def _put_three(out, at, left, q, r, s, u, v, w):
    """To three touches what they get rounded down, q, s, v, and what is left by their remainders, r, u, w: the largest
    first, of equal ones the earlier. No branch that a processor could guess wrong."""
    first, early, late = np.int64(r >= u), np.int64(r >= w), np.int64(u >= w)
    out[U(at)] = q + np.int64(2 - first - early < left)
    out[U(at + 1)] = s + np.int64(first + 1 - late < left)
    out[U(at + 2)] = v + np.int64(early + late < left)


@numba.njit(inline="always")
def _three_by_weight(at, part, worth, total, one, two, three, whole):
    """Shares of three touches by their weights."""
    inverse = 1.0 / float(whole)
    q, r = _divided(WHOLE, one, whole, inverse)
    s, u = _divided(WHOLE, two, whole, inverse)
    v, w = _divided(WHOLE, three, whole, inverse)
    _put_three(part, at, WHOLE - q - s - v, q, r, s, u, v, w)
    q, r = _units(total, one, whole, inverse)
    s, u = _units(total, two, whole, inverse)
    v, w = _units(total, three, whole, inverse)
    _put_three(worth, at, total - q - s - v, q, r, s, u, v, w)


@numba.njit(inline="always")
def _three_among_players(at, part, worth, total, first, middle, last):
    """Shares of three touches of one player or of three: a third each; of two, half to the one with one touch."""
    alike = np.int64(first == middle) + np.int64(first == last) + np.int64(middle == last)
    if alike != 1:
        _three_by_weight(at, part, worth, total, 1, 1, 1, 3)
    else:
        one, two, three = 1 + np.int64(middle == last), 1 + np.int64(first == last), 1 + np.int64(first == middle)
        _three_by_weight(at, part, worth, total, one, two, three, 4)


@numba.njit(inline="always")
def _longest(offsets):
    most = 1
    for t in range(len(offsets) - 1):
        most = max(most, offsets[t + 1] - offsets[t])
    return most


@numba.njit(inline="always")
def _give_to_groups(groups, found, members, rest, crosswise, each, k, left):
    """One unit more to as many touches as are left, by group, the largest rest (`crosswise`: rest / group) first; how
    many are left for the first touches of groups that are equal and too many."""
    for g in range(1, found):
        c, h = groups[g], g - 1
        while h >= 0 and rest[groups[h]] * (c if crosswise else 1) < rest[c] * (groups[h] if crosswise else 1):
            groups[h + 1] = groups[h]
            h -= 1
        groups[h + 1] = c
    g = 0
    while left > 0:
        h, size, c = g, np.int64(0), groups[g]
        while h < found and rest[groups[h]] * (c if crosswise else 1) == rest[c] * (groups[h] if crosswise else 1):
            size += members[groups[h]]
            h += 1
        for i in range(g, h):
            each[4 * groups[i] + k] += np.int64(left >= size)
            each[4 * groups[i] + 2 + k] = np.int64(left < size)
        if left < size:
            return left
        left -= size
        g = h
    return np.int64(0)


@numba.njit(inline="always")
def _by_group(begin, n, part, worth, group, each, parts_left, worth_left):
    """To each touch what its group has, and to the first of groups that are too many for it one unit more."""
    for i in range(n):
        c = U(group[U(i)]) << U(2)
        more_parts = each[c + U(2)] & np.int64(parts_left > 0)
        more_worth = each[c + U(3)] & np.int64(worth_left > 0)
        parts_left -= more_parts
        worth_left -= more_worth
        part[U(begin + i)] = each[c] + more_parts
        worth[U(begin + i)] = each[c + U(1)] + more_worth


@numba.njit([numba.boolean(C, C, C, CODES, N, OUT, OUT)], nogil=True, cache=True)
def among_players(offsets, value, touch, player, players, part, worth):
    """Each conversion equally among the distinct players of its trail, a player's part equally to its touches.

    Touches whose players have equally many touches have equal shares. False, with shares half done, if a trail is too
    long.
    """
    longest = _longest(offsets)
    if longest > LONGEST:
        return False
    # Of a player the last trail that it was in, and its touches there, as one number.
    seen = np.zeros(players, np.int64)
    mine, groups = np.zeros(longest, np.int64), np.zeros(longest + 1, np.int64)
    # Players with so many touches or more, and touches of players with just so many.
    players_of, members = np.zeros(longest + 2, np.int64), np.zeros(longest + 1, np.int64)
    each = np.zeros(4 * (longest + 1), np.int64)  # parts, minor units, and whether the first of these get one more
    rest, rest_of_worth = np.zeros(longest + 1, np.int64), np.zeros(longest + 1, np.int64)
    known = np.zeros(2 * KEPT, np.int64)
    for t in range(len(offsets) - 1):
        begin, n, trail = offsets[t], offsets[t + 1] - offsets[t], (t + 1) << COUNT_BITS
        to = begin - offsets[0]
        if n < 3:
            # Two touches of one player or of two: half to each.
            if n == 1:
                part[U(to)], worth[U(to)] = WHOLE, value[t]
            elif n == 2:
                part[U(to)] = part[U(to + 1)] = WHOLE >> 1
                worth[U(to)], worth[U(to + 1)] = value[t] - (value[t] >> 1), value[t] >> 1
            continue
        if n == 3:
            one, two, three = player[U(touch[U(begin)])], player[U(touch[U(begin + 1)])], player[U(touch[U(begin + 2)])]
            _three_among_players(to, part, worth, value[t], one, two, three)
            continue
        for i in range(n):
            p = U(player[U(touch[U(begin + i)])])
            mine[U(i)] = p
            now = max(seen[p], trail) + 1
            seen[p] = now
            players_of[U(now - trail)] += 1
        distinct, found, c = players_of[1], 0, np.int64(1)
        while players_of[U(c)] > 0:
            just = players_of[U(c)] - players_of[U(c + 1)]
            groups[U(found)] = c
            members[U(c)] = just * c
            found += np.int64(just > 0)
            players_of[U(c)] = 0
            c += 1
        if found == 1:
            _evenly(to, n, part, worth, value[t])
            continue
        parts_left, worth_left = np.int64(WHOLE), value[t]
        for g in range(found):
            c = groups[g]
            whole = distinct * c
            inverse = 1.0 / float(whole)
            if whole >= KEPT:
                quotient, rest[c] = _divided(WHOLE, 1, whole, inverse)
            else:
                if known[2 * whole] == 0:
                    known[2 * whole], known[2 * whole + 1] = WHOLE // whole, WHOLE % whole
                quotient, rest[c] = known[2 * whole], known[2 * whole + 1]
            units, rest_of_worth[c] = _units(value[t], 1, whole, inverse)
            each[4 * c], each[4 * c + 1], each[4 * c + 2], each[4 * c + 3] = quotient, units, 0, 0
            parts_left -= quotient * members[c]
            worth_left -= units * members[c]
        if parts_left > 0:
            parts_left = _give_to_groups(groups, found, members, rest, True, each, 0, parts_left)
        if worth_left > 0:
            worth_left = _give_to_groups(groups, found, members, rest_of_worth, True, each, 1, worth_left)
        for i in range(n):
            mine[U(i)] = seen[U(mine[U(i)])] - trail
        _by_group(to, n, part, worth, mine, each, parts_left, worth_left)
    return True


@numba.njit(inline="always")
def _guess(rest, m, low, above_low, high, above_high, left):
    """A bound between two others that about so many rests lie above, and how many do. Rests lie about evenly, and
    counting takes no branch that a processor could guess wrong."""
    bound = high - np.int64(float(high - low) * (float(left - above_high) / float(above_low - above_high)))
    bound = min(max(bound, low + 1), high - 1)
    above = np.int64(0)
    for i in range(m):
        above += np.int64(rest[i] > bound)
    return bound, above


@numba.njit(inline="always")
def _one_by_one(rest, units, n, m, whole, bound, above, left):
    """One unit to those above a bound; until it is so many, also to the largest other, or not to the smallest."""
    for i in range(n):
        units[i] += np.int64(rest[i] > bound)
    while above < left:
        largest = np.int64(-1)
        for i in range(m):
            largest = max(largest, rest[i] if rest[i] <= bound else np.int64(-1))
        i = 0
        while rest[i] != largest:
            i += 1
        units[i] += 1
        rest[i] = -1
        above += 1
    while above > left:
        smallest = whole
        for i in range(m):
            smallest = min(smallest, rest[i] if rest[i] > bound else whole)
        i = n - 1
        while rest[i] != smallest:
            i -= 1
        units[i] -= 1
        rest[i] = -1
        above -= 1


@numba.njit
def _give_among_many(rest, units, n, whole, left):
    """As `_give_to_largest`, by a bound exactly: guessed, then the next smaller rest, by turns."""
    low, high, above_low, above_high, ties = np.int64(-1), whole, n, np.int64(0), np.int64(0)
    while True:
        bound, above = _guess(rest, n, low, above_low, high, above_high, left)
        if above == left:
            break
        if above > left:
            low, above_low = bound, above
        else:
            high, above_high = bound, above
        largest, equal = np.int64(-1), np.int64(0)
        for i in range(n):
            largest = max(largest, rest[i] if rest[i] <= high else np.int64(-1))
        for i in range(n):
            equal += np.int64(rest[i] == largest)
        if above_high + equal >= left:
            bound, ties = largest, left - above_high
            break
        high, above_high = largest - 1, above_high + equal
    for i in range(n):
        units[i] += np.int64(rest[i] > bound)
    i = 0
    while ties > 0:
        if rest[i] == bound:
            units[i] += 1
            ties -= 1
        i += 1


@numba.njit(inline="always")
def _give_among_few(rest, units, n, left):
    for _ in range(left):
        best, largest = 0, rest[0]
        for i in range(1, n):
            larger = rest[U(i)] > largest
            best = i if larger else best
            largest = rest[U(i)] if larger else largest
        units[U(best)] += 1
        rest[U(best)] = -1


@numba.njit(inline="always")
def _give_to_largest(rest, units, n, whole, left):
    """One unit more to so many of those with the largest rests, 0 < left < n; of equal ones to the first."""
    if n <= FEW:
        _give_among_few(rest, units, n, left)
        return
    # Filled up with what is above no bound, so that loops end where a processor's long rows do.
    m = (n + ROW - 1) // ROW * ROW
    for i in range(n, m):
        rest[U(i)] = -1
    low, above_low, high, above_high, tries = np.int64(-1), n, whole, np.int64(0), 0
    bound, above = _guess(rest, m, low, above_low, high, above_high, left)
    while abs(above - left) > NEAR and tries < TRIES:
        if above > left:
            low, above_low = bound, above
        else:
            high, above_high = bound, above
        bound, above = _guess(rest, m, low, above_low, high, above_high, left)
        tries += 1
    if abs(above - left) <= ONE_BY_ONE:
        _one_by_one(rest, units, n, m, whole, bound, above, left)
    else:
        _give_among_many(rest, units, n, whole, left)


@numba.njit([numba.boolean(C, C, C, OUT, OUT)], nogil=True, cache=True)
def by_weight(offsets, value, weight, part, worth):
    """In proportion to whole numbers, one a touch of these trails. False, with shares half done, if too large."""
    longest = _longest(offsets)
    rest, rest_of_worth = np.zeros(longest + ROW, np.int64), np.zeros(longest + ROW, np.int64)
    for t in range(len(offsets) - 1):
        first, n, total = offsets[t] - offsets[0], offsets[t + 1] - offsets[t], value[t]
        if n < 2:
            if n == 1:
                part[first], worth[first] = WHOLE, total
            continue
        whole = np.int64(0)
        for i in range(n):
            whole += weight[U(first + i)]
        if whole >= WIDEST:
            return False
        inverse = 1.0 / float(whole)
        if n == 2:
            q, u = _of_two(WHOLE, weight[U(first)], whole, inverse), _of_two(total, weight[U(first)], whole, inverse)
            part[U(first)], part[U(first + 1)] = q, WHOLE - q
            worth[U(first)], worth[U(first + 1)] = u, total - u
            continue
        if n == 3:
            of = weight[U(first)], weight[U(first + 1)], weight[U(first + 2)]
            _three_by_weight(first, part, worth, total, of[0], of[1], of[2], whole)
            continue
        parts_left, worth_left = np.int64(WHOLE), total
        for i in range(n):
            w = weight[U(first + i)]
            e = U(first + i)
            q, r = _divided(WHOLE, w, whole, inverse)
            part[e], rest[U(i)] = q, r
            parts_left -= q
            u, s = _units(total, w, whole, inverse)
            worth[e], rest_of_worth[U(i)] = u, s
            worth_left -= u
        if parts_left > 0:
            _give_to_largest(rest, part[first : first + n], n, whole, parts_left)
        if worth_left > 0:
            _give_to_largest(rest_of_worth, worth[first : first + n], n, whole, worth_left)
    return True


@numba.njit([numba.boolean(C, C, C, CODES, C, C, OUT, OUT)], nogil=True, cache=True)
def by_position_and_channel(offsets, value, touch, channel, group, weight, part, worth):
    """By the weights of groups: `group` (3 x channels,), of the first, middle and last touches of each channel, and
    `weight` (groups,). Where all of a trail weigh nothing, the same to every touch. False if sums are too large."""
    size = len(weight)
    mine = np.zeros(_longest(offsets), np.int64)
    members, groups = np.zeros(size, np.int64), np.zeros(size + 1, np.int64)
    rest, rest_of_worth = np.zeros(size, np.int64), np.zeros(size, np.int64)
    each = np.zeros(4 * size, np.int64)
    for t in range(len(offsets) - 1):
        begin, n = offsets[t], offsets[t + 1] - offsets[t]
        if n == 0:
            continue
        to, whole, found = begin - offsets[0], np.int64(0), 0
        if n == 1:
            part[U(to)], worth[U(to)] = WHOLE, value[t]
            continue
        if n == 2:
            mine_of_it = weight[U(group[U(3 * channel[U(touch[U(begin)])])])]
            whole = mine_of_it + weight[U(group[U(3 * channel[U(touch[U(begin + 1)])] + 2)])]
            if whole == 0:
                mine_of_it, whole = np.int64(1), np.int64(2)
            if whole >= WIDEST:
                return False
            inverse = 1.0 / float(whole)
            q, u = _of_two(WHOLE, mine_of_it, whole, inverse), _of_two(value[t], mine_of_it, whole, inverse)
            part[U(to)], part[U(to + 1)] = q, WHOLE - q
            worth[U(to)], worth[U(to + 1)] = u, value[t] - u
            continue
        if n == 3:
            one = weight[U(group[U(3 * channel[U(touch[U(begin)])])])]
            two = weight[U(group[U(3 * channel[U(touch[U(begin + 1)])] + 1)])]
            three = weight[U(group[U(3 * channel[U(touch[U(begin + 2)])] + 2)])]
            whole = one + two + three
            if whole >= WIDEST:
                return False
            if whole == 0:
                one, two, three, whole = np.int64(1), np.int64(1), np.int64(1), np.int64(3)
            _three_by_weight(to, part, worth, value[t], one, two, three, whole)
            continue
        for i in range(n):
            at = 0 if i == 0 else (2 if i == n - 1 else 1)
            c = group[U(3 * channel[U(touch[U(begin + i)])] + at)]
            mine[U(i)] = c
            groups[U(found)] = c
            found += np.int64(members[U(c)] == 0)
            members[U(c)] += 1
            whole += weight[U(c)]
        if whole >= WIDEST:
            return False
        if whole == 0 or found == 1:
            _evenly(to, n, part, worth, value[t])
        else:
            parts_left, worth_left, inverse = np.int64(WHOLE), value[t], 1.0 / float(whole)
            for g in range(found):
                c = groups[g]
                parts, rest[c] = _divided(WHOLE, weight[c], whole, inverse)
                units, rest_of_worth[c] = _units(value[t], weight[c], whole, inverse)
                each[4 * c], each[4 * c + 1], each[4 * c + 2], each[4 * c + 3] = parts, units, 0, 0
                parts_left -= parts * members[c]
                worth_left -= units * members[c]
            if parts_left > 0:
                parts_left = _give_to_groups(groups, found, members, rest, False, each, 0, parts_left)
            if worth_left > 0:
                worth_left = _give_to_groups(groups, found, members, rest_of_worth, False, each, 1, worth_left)
            _by_group(to, n, part, worth, mine, each, parts_left, worth_left)
        for g in range(found):
            members[groups[g]] = 0
    return True
