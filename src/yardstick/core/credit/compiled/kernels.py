"""Credit under each rule, added up by place in one pass over all trails, as machine code (R14, R15, R17).

Each function does what a rule's module and `apportioning` do, to the last unit, without a share per touch in memory.
Numba compiles it into a cache beside this file, at set-up or when it is first asked for. Importing this module takes
most of a second, so only `summing` does, and only for many touches. All of it is one file, since the cache goes by the
file that a function stands in and would not see a change of another.

All take `offsets` (n_trails + 1,), `place` (n_elements,), -1 = added up nowhere, and `value` (n_trails,), minor units;
they add to `sums`, four numbers a place: parts of 2^-60 and how often these passed 2^64, minor units and how often.
Shares are worked out in binary fractions and set right in whole numbers, which wrap where they are large, while their
difference is small.
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
STRETCH = 1024
"""So many elements are worked on at a time, which the nearest memory holds."""
ONE_BY_ONE = 6
"""A guess that is off by no more is mended one by one."""
LN_2, SQRT_2 = 0.6931471805599453, 1.4142135623730951
C = numba.types.Array(numba.int64, 1, "C", readonly=True)
F = numba.types.Array(numba.boolean, 1, "C", readonly=True)
OUT = numba.types.Array(numba.int64, 1, "C")
SUMS = numba.types.Array(numba.uint64, 1, "C")
N = numba.int64


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
def _put(sums, place, part, worth):
    if place >= 0:
        at = np.uint64(place) << np.uint64(2)
        parts, money = sums[at] + np.uint64(part), sums[at + np.uint64(2)] + np.uint64(worth)
        sums[at], sums[at + np.uint64(2)] = parts, money
        if parts < np.uint64(part):
            sums[at + np.uint64(1)] += np.uint64(1)
        if money < np.uint64(worth):
            sums[at + np.uint64(3)] += np.uint64(1)


@numba.njit(inline="always")
def _put_alike(begin, end, sums, place, part, worth, more_parts, more_worth):
    """The same to each of some touches, one unit more to so many of the first."""
    for i in range(end - begin):
        _put(sums, place[begin + i], part + np.int64(i < more_parts), worth + np.int64(i < more_worth))


@numba.njit(inline="always")
def _put_evenly(begin, end, sums, place, worth):
    n = end - begin
    if n == 1:
        _put(sums, place[begin], WHOLE, worth)
        return
    inverse = 1.0 / float(n)
    part, more_parts = _divided(WHOLE, 1, n, inverse)
    worth, more_worth = _divided(worth, 1, n, inverse)
    _put_alike(begin, end, sums, place, part, worth, more_parts, more_worth)


@numba.njit(inline="always")
def _longest(offsets):
    most = 1
    for t in range(len(offsets) - 1):
        most = max(most, offsets[t + 1] - offsets[t])
    return most


@numba.njit([numba.void(C, C, C, SUMS)], nogil=True, cache=True)
def evenly(offsets, place, value, sums):
    """The same to every touch."""
    for t in range(len(offsets) - 1):
        if offsets[t + 1] > offsets[t]:
            _put_evenly(offsets[t], offsets[t + 1], sums, place, value[t])


@numba.njit([numba.void(C, C, C, C, F, N, SUMS)], nogil=True, cache=True)
def one_touch(offsets, place, value, touch, direct, which, sums):
    """All to the first touch (0), the last (1), or the last that is not direct, else the last (2)."""
    for t in range(len(offsets) - 1):
        first, end = offsets[t], offsets[t + 1]
        if end == first:
            continue
        e = first if which == 0 else end - 1
        if which == 2:
            while e >= first and direct[touch[e]]:
                e -= 1
            if e < first:
                e = end - 1
        _put(sums, place[e], WHOLE, value[t])


@numba.njit([numba.void(C, C, C, N, N, N, N, SUMS)], nogil=True, cache=True)
def by_position(offsets, place, value, first, middle, last, scaled, sums):
    """By a weight for the first touch, each between, and the last.

    `scaled`: the first and the last weigh so much against all between them together, and without any they stand alone;
    one touch has all. Where all weights are 0, the same to every touch.
    """
    weight, size, rest = np.zeros(3, np.int64), np.zeros(3, np.int64), np.zeros(3, np.int64)
    each, more = np.zeros((2, 3), np.int64), np.zeros((2, 3), np.int64)
    size[0], size[2] = 1, 1
    for t in range(len(offsets) - 1):
        begin, end = offsets[t], offsets[t + 1]
        n = end - begin
        if n == 0:
            continue
        scale = max(n - 2, 1) if scaled else 1
        weight[0], weight[1], weight[2], size[1] = first * scale, middle, last * scale, n - 2
        whole = weight[0] + middle * (n - 2) + weight[2]
        if n == 1 or whole == 0:
            _put_evenly(begin, end, sums, place, value[t])
            continue
        inverse = 1.0 / float(whole)
        for k in range(2):
            total = WHOLE if k == 0 else value[t]
            left = total
            for g in range(3):
                each[k, g], rest[g] = _divided(total, weight[g], whole, inverse)
                left -= each[k, g] * size[g]
                more[k, g] = 0
            while left > 0:
                best = -1
                for g in range(3):
                    if size[g] > 0 and more[k, g] == 0 and (best < 0 or rest[g] > rest[best]):
                        best = g
                more[k, best] = min(left, size[best])
                left -= more[k, best]
        _put(sums, place[begin], each[0, 0] + more[0, 0], each[1, 0] + more[1, 0])
        _put_alike(begin + 1, end - 1, sums, place, each[0, 1], each[1, 1], more[0, 1], more[1, 1])
        _put(sums, place[end - 1], each[0, 2] + more[0, 2], each[1, 2] + more[1, 2])


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
def _put_by_group(begin, n, sums, place, group, each, parts_left, worth_left):
    """To each touch what its group has, and to the first of groups that are too many for it one unit more."""
    for i in range(n):
        c = np.uint64(group[i]) << np.uint64(2)
        more_parts = each[c + np.uint64(2)] & np.int64(parts_left > 0)
        more_worth = each[c + np.uint64(3)] & np.int64(worth_left > 0)
        parts_left -= more_parts
        worth_left -= more_worth
        _put(sums, place[begin + i], each[c] + more_parts, each[c + np.uint64(1)] + more_worth)


@numba.njit([numba.boolean(C, C, C, C, C, N, SUMS)], nogil=True, cache=True)
def among_players(offsets, place, value, touch, player, players, sums):
    """Each conversion equally among the distinct players of its trail, a player's part equally to its touches.

    Touches whose players have equally many touches have equal shares. False, with `sums` half done, if a trail is too
    long.
    """
    longest = _longest(offsets)
    if longest > LONGEST:
        return False
    # Of a player the last trail that it was in, and its touches there, as one number.
    seen = np.zeros(players, np.int64)
    mine, among = np.zeros(longest, np.int64), np.zeros(longest, np.int64)
    members, groups = np.zeros(longest + 1, np.int64), np.zeros(longest + 1, np.int64)
    each = np.zeros(4 * (longest + 1), np.int64)  # parts, minor units, and whether the first of these get one more
    rest = np.zeros(longest + 1, np.int64)
    for t in range(len(offsets) - 1):
        begin, n = offsets[t], offsets[t + 1] - offsets[t]
        if n < 2:
            if n == 1:
                _put(sums, place[begin], WHOLE, value[t])
            continue
        most, distinct, trail = np.int64(1), np.int64(0), (t + 1) << COUNT_BITS
        for i in range(n):
            mine[i] = player[np.uint64(touch[np.uint64(begin + i)])]
        for i in range(n):
            p = np.uint64(mine[i])
            before = seen[p]
            among[distinct] = p
            distinct += np.int64(before < trail)
            now = max(before, trail) + 1
            seen[p] = now
            most = max(most, now - trail)
        if distinct * most == n:
            _put_evenly(begin, begin + n, sums, place, value[t])
            continue
        found = 0
        for i in range(distinct):
            c = seen[np.uint64(among[i])] - trail
            if members[c] == 0:
                groups[found] = c
                found += 1
            members[c] += c
        parts_left, worth_left = np.int64(0), np.int64(0)
        for k in range(2):
            total = WHOLE if k == 0 else value[t]
            left = total
            for g in range(found):
                c = groups[g]
                whole = distinct * c
                each[4 * c + k], rest[c] = _divided(total, 1, whole, 1.0 / float(whole))
                each[4 * c + 2 + k] = 0
                left -= each[4 * c + k] * members[c]
            left = _give_to_groups(groups, found, members, rest, True, each, k, left)
            if k == 0:
                parts_left = left
            else:
                worth_left = left
        for i in range(n):
            mine[i] = seen[np.uint64(mine[i])] - trail
        _put_by_group(begin, n, sums, place, mine, each, parts_left, worth_left)
        for g in range(found):
            members[groups[g]] = 0
    return True


@numba.njit(inline="always")
def _guess(rest, n, low, above_low, high, above_high, left):
    """A bound between two others that about so many rests lie above, and how many do. Rests lie about evenly, and
    counting takes no branch that a processor could guess wrong."""
    bound = high - np.int64(float(high - low) * (float(left - above_high) / float(above_low - above_high)))
    bound = min(max(bound, low + 1), high - 1)
    above = np.int64(0)
    for i in range(n):
        above += np.int64(rest[i] > bound)
    return bound, above


@numba.njit(inline="always")
def _one_by_one(rest, units, n, whole, bound, above, left):
    """One unit to those above a bound; until it is so many, also to the largest other, or not to the smallest."""
    for i in range(n):
        units[i] += np.int64(rest[i] > bound)
    while above < left:
        largest = np.int64(-1)
        for i in range(n):
            largest = max(largest, rest[i] if rest[i] <= bound else np.int64(-1))
        i = 0
        while rest[i] != largest:
            i += 1
        units[i] += 1
        rest[i] = -1
        above += 1
    while above > left:
        smallest = whole
        for i in range(n):
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
def _give_to_largest(rest, units, n, whole, left):
    """One unit more to so many of those with the largest rests, 0 < left < n; of equal ones to the first."""
    bound, above = _guess(rest, n, np.int64(-1), n, whole, np.int64(0), left)
    if abs(above - left) <= ONE_BY_ONE:
        _one_by_one(rest, units, n, whole, bound, above, left)
    else:
        _give_among_many(rest, units, n, whole, left)


@numba.njit(inline="always")
def _quotients(weight, first, n, total, whole, inverse, units, rest):
    """Into `units` and `rest` what some weights get of totals, rounded down, and the remainders."""
    for i in range(n):
        w, all_of_it = weight[np.uint64(first) + np.uint64(i)], whole[i]
        q = np.int64(float(w) * (float(total[i]) * inverse[i]))
        r = total[i] * w - q * all_of_it
        more = np.int64(float(r) * inverse[i])
        q += more
        r -= more * all_of_it
        off = np.int64(r >= all_of_it) - np.int64(r < 0)
        units[i], rest[i] = q + off, r - off * all_of_it


@numba.njit(inline="always")
def _give_what_is_left(offsets, begin, end, total, whole, rest, units):
    for t in range(begin, end):
        first, n = offsets[t] - offsets[begin], offsets[t + 1] - offsets[t]
        if n > 1:
            mine = units[first : first + n]
            left = total[first]
            for i in range(n):
                left -= mine[i]
            if left > 0:
                _give_to_largest(rest[first : first + n], mine, n, whole[first], left)


@numba.njit([numba.boolean(C, C, C, C, SUMS)], nogil=True, cache=True)
def by_weight(offsets, place, value, weight, sums):
    """In proportion to whole numbers (n_elements,). False, with `sums` half done, if those of a trail are too large.

    Some trails at a time, so that the divisions are one long row, which a processor does several of at once.
    """
    room = max(_longest(offsets), STRETCH)
    parts, worths, rest = np.zeros(room, np.int64), np.zeros(room, np.int64), np.zeros(room, np.int64)
    whole, total, all_parts = np.ones(room, np.int64), np.zeros(room, np.int64), np.full(room, WHOLE)
    inverse = np.ones(room)
    begin, trails = 0, len(offsets) - 1
    while begin < trails:
        end = begin + 1
        while end < trails and offsets[end + 1] - offsets[begin] <= room:
            end += 1
        first, n = offsets[begin], offsets[end] - offsets[begin]
        for t in range(begin, end):
            some = np.int64(0)
            for e in range(offsets[t], offsets[t + 1]):
                some += weight[np.uint64(e)]
            if some >= WIDEST:
                return False
            one = 1.0 / float(max(some, 1))
            for i in range(offsets[t] - first, offsets[t + 1] - first):
                whole[np.uint64(i)], inverse[np.uint64(i)], total[np.uint64(i)] = some, one, value[t]
        _quotients(weight, first, n, all_parts, whole, inverse, parts, rest)
        _give_what_is_left(offsets, begin, end, all_parts, whole, rest, parts)
        _quotients(weight, first, n, total, whole, inverse, worths, rest)
        _give_what_is_left(offsets, begin, end, total, whole, rest, worths)
        for i in range(n):
            _put(sums, place[first + i], parts[i], worths[i])
        begin = end
    return True


@numba.njit([numba.boolean(C, C, C, C, C, C, C, SUMS)], nogil=True, cache=True)
def by_position_and_channel(offsets, place, value, touch, channel, group, weight, sums):
    """By the weights of groups: `group` (3 x channels,), of the first, middle and last touches of each channel, and
    `weight` (groups,). Where all of a trail weigh nothing, the same to every touch. False if sums are too large."""
    size = len(weight)
    mine = np.zeros(_longest(offsets), np.int64)
    members, groups, rest = np.zeros(size, np.int64), np.zeros(size + 1, np.int64), np.zeros(size, np.int64)
    each = np.zeros(4 * size, np.int64)
    for t in range(len(offsets) - 1):
        begin, n = offsets[t], offsets[t + 1] - offsets[t]
        if n == 0:
            continue
        whole, found = np.int64(0), 0
        for i in range(n):
            at = 0 if i == 0 else (2 if i == n - 1 else 1)
            c = group[3 * channel[touch[begin + i]] + at]
            mine[i] = c
            groups[found] = c
            found += np.int64(members[c] == 0)
            members[c] += 1
            whole += weight[c]
        if whole >= WIDEST:
            return False
        if whole == 0 or found == 1:
            _put_evenly(begin, begin + n, sums, place, value[t])
        else:
            parts_left, worth_left, inverse = np.int64(0), np.int64(0), 1.0 / float(whole)
            for k in range(2):
                total = WHOLE if k == 0 else value[t]
                left = total
                for g in range(found):
                    c = groups[g]
                    each[4 * c + k], rest[c] = _divided(total, weight[c], whole, inverse)
                    each[4 * c + 2 + k] = 0
                    left -= each[4 * c + k] * members[c]
                left = _give_to_groups(groups, found, members, rest, False, each, k, left)
                if k == 0:
                    parts_left = left
                else:
                    worth_left = left
            _put_by_group(begin, n, sums, place, mine, each, parts_left, worth_left)
        for g in range(found):
            members[groups[g]] = 0
    return True


@numba.njit([numba.int64(C, C, C, numba.float64, numba.float64, OUT, OUT)], nogil=True, cache=True)
def decay_weights(offsets, touch, at, half_life, unsure_within, weight, unsure):
    """Weights 2^(40 - older / half-life), and the elements whose weight lies too near to a half to be told here.

    A power of 2 is that of its whole part times a polynomial of the rest, the exponential series to a term below 2^-56:
    off by less than 4 units in the last place.
    """
    for t in range(len(offsets) - 1):
        if offsets[t + 1] > offsets[t]:
            newest = at[touch[offsets[t + 1] - 1]]
            for e in range(offsets[t], offsets[t + 1]):
                weight[np.uint64(e)] = newest - at[touch[np.uint64(e)]]
    many = 0
    bits = np.zeros(STRETCH, np.int64)
    power, rest = bits.view(np.float64), np.zeros(STRETCH)
    for begin in range(0, len(weight), STRETCH):
        n = min(STRETCH, len(weight) - begin)
        some = weight[begin : begin + n]
        for i in range(n):
            x = -(float(some[i]) / half_life)
            down = np.floor(x)
            z = (x - down - 0.5) * LN_2
            y = 1.0 / 13.0
            for k in range(12, 0, -1):
                y = (1.0 + z * y) / float(k) if k == 1 else (1.0 + z * y) * (1.0 / float(k))
            rest[i] = SQRT_2 * (1.0 + z * y)
            bits[i] = (np.int64(max(down, -900.0)) + 40 + 1023) << 52
        near = np.int64(0)
        for i in range(n):
            exact = power[i] * rest[i]
            below = np.floor(exact)
            some[i] = np.int64(below) + np.int64(exact - below > 0.5)
            rest[i] = abs(exact - below - 0.5)
            near += np.int64(rest[i] < unsure_within)
        if near:
            for i in range(n):
                if rest[i] < unsure_within:
                    unsure[many] = begin + i
                    many += 1
    return many


@numba.njit([numba.void(C, C, C, C, N, N, N, N, OUT)], nogil=True, cache=True)
def count_moves(offsets, touch, state, goal, states, before, after, end, counts):
    """Steps of paths from state to state, and from their last one to `end`.

    `counts` (goals x (states + before) x (states + after),): so many numbers stand before those of the states where a
    step comes from and where it goes to; a path starts from 0.
    """
    for t in range(len(offsets) - 1):
        if offsets[t + 1] > offsets[t]:
            row = goal[t] * (states + before)
            at = row * (states + after)
            for e in range(offsets[t], offsets[t + 1]):
                s = state[np.uint64(touch[np.uint64(e)])]
                counts[np.uint64(at + after + s)] += 1
                at = (row + before + s) * (states + after)
            counts[np.uint64(at + end)] += 1
