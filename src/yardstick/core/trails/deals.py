"""People of one deal (R10): the touches of all its contacts form its trail, though they stay different people."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from ..base.columns import Flags, Ints, Text
from ..base.identifiers import EMAIL, LEAD, email_id, plain_id
from ..base.tables import Table
from .people import Identified, People
from .trails import Trails


@dataclass(frozen=True)
class Contacts:
    """Further people of conversions.

    Attributes
    ----------
    conversion, person : (m,) int64, distinct pairs by conversion; the owner of a deal is not among its contacts
    """

    conversion: Ints
    person: Ints

    def people_of(self, conversions: Flags) -> Ints:
        """Contacts of some conversions."""
        return self.person[conversions[self.conversion]] if len(self.person) else self.person


def find_contacts(
    contacts: Table, ids: Text, is_lead_row: Flags, owner: Ints, groups: Sequence[Identified], people: People
) -> Contacts:
    """Who else a deal is of.

    Parameters
    ----------
    contacts : rows of `deal_contacts`
    ids, is_lead_row, owner : (c,) of the conversions: id, whether it is a lead's row, and person
    groups, people : the rows and identifiers, and whose they are

    Notes
    -----
    A contact is found by lead id or e-mail; one that no row carries, or that joins nobody (R6), has no touches to add.
    """
    none = np.empty(0, np.int64)
    if not len(contacts):
        return Contacts(none, none)
    deals = {ids[row]: row for row in np.flatnonzero(~is_lead_row).tolist()}
    asked: dict[int, dict[str, set[int]]] = {LEAD: {}, EMAIL: {}}
    for kind, name, normal in ((LEAD, "lead_id", plain_id), (EMAIL, "email", email_id)):
        column = contacts.text(name)
        for row, deal in enumerate(contacts.text("deal_id").strings()):
            value = normal(column[row])
            if value and deal.strip() in deals:
                asked[kind].setdefault(value, set()).add(deals[deal.strip()])
    shared = {value for _, value, _ in people.shared}
    pairs: set[tuple[int, int]] = set()
    for group, person in zip(groups, people.person, strict=True):
        for kind, wanted in asked.items():
            if not wanted or kind not in group.columns:
                continue
            column = group.columns[kind]
            of_code = {code: value for code, value in enumerate(column.values) if value in wanted}
            rows = np.flatnonzero(group.joins & np.isin(column.codes, list(of_code)))
            for row in rows.tolist():
                value = of_code[int(column.codes[row])]
                if value not in shared:
                    pairs |= {(deal, int(person[row])) for deal in wanted[value]}
    found = np.array(sorted(pair for pair in pairs if owner[pair[0]] != pair[1]), np.int64).reshape(-1, 2)
    return Contacts(found[:, 0], found[:, 1])


def with_contacts(trails: Trails, further: Trails, at: Ints, visit_id: Text, visit: Ints) -> Trails:
    """Trails with the touches of contacts among their own, in order of time, then visit id (R11).

    Parameters
    ----------
    trails : of the owners
    further : what contacts add; `conversion` are positions in `trails`
    at : (n_touches,) int64
    visit_id, visit : ids of visits, and the first visit of each touch
    """
    added: dict[int, list[int]] = {}
    for place, begin, end in zip(
        further.conversion.tolist(), further.offsets[:-1].tolist(), further.offsets[1:].tolist(), strict=True
    ):
        if end > begin:
            added.setdefault(place, []).extend(further.touch[begin:end].tolist())
    if not added:
        return trails
    pieces: list[Ints] = []
    lengths = trails.lengths.copy()
    done = 0
    for place in sorted(added):
        begin, end = int(trails.offsets[place]), int(trails.offsets[place + 1])
        pieces.append(trails.touch[done:begin])
        mine = [*trails.touch[begin:end].tolist(), *added[place]]
        mine.sort(key=lambda touch: (int(at[touch]), visit_id[int(visit[touch])]))
        pieces.append(np.array(mine, np.int64))
        lengths[place] = len(mine)
        done = end
    pieces.append(trails.touch[done:])
    return Trails(trails.conversion, np.concatenate([[0], np.cumsum(lengths)]).astype(np.int64), np.concatenate(pieces))
