"""Whose rows of spend and invoices are (R18): platforms and their accounts."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from ..base.columns import Ints
from ..base.tables import Table
from ..base.words import fold


@dataclass(frozen=True)
class Accounts:
    """Whose rows of spend and invoices are: an empty account is the platform's only one, if spend and invoices together
    name one.

    Attributes
    ----------
    spend, invoices : (n,) int64, number of each row's account
    names : platform and account by number, as they are written first
    keys : the same, folded
    """

    spend: Ints
    invoices: Ints
    names: list[tuple[str, str]]
    keys: list[tuple[str, str]]

    def number(self, platform: str, account: str) -> int:
        """Number of an account, -1 if it has neither rows nor invoices."""
        key = (fold(platform), fold(account))
        if key in self.keys:
            return self.keys.index(key)
        of_platform = [i for i, (p, _) in enumerate(self.keys) if p == key[0]]
        return of_platform[0] if not key[1] and len(of_platform) == 1 else -1


def accounts_of(spend: Table, invoices: Table) -> Accounts:
    """Whose each row of spend and each invoice is."""
    pairs: dict[tuple[str, str], tuple[str, str]] = {}
    coded = []
    for table in (spend, invoices):
        platform, account = table.text("platform"), table.text("account")
        both = np.stack([platform.codes, account.codes]).astype(np.int64)
        codes, which = np.unique(both, axis=1, return_inverse=True) if len(table) else (both, both[0])
        written = [(platform.values[p], account.values[a]) for p, a in codes.T.tolist()]
        for p, a in written:
            pairs.setdefault((fold(p), fold(a)), (p, a))
        coded.append((written, which.reshape(-1)))
    only = {p: [a for q, a in pairs if q == p and a] for p, _ in pairs}
    keys = [key for key in pairs if key[1] or len(only[key[0]]) != 1]
    place = {key: i for i, key in enumerate(keys)}
    for p, a in pairs:
        place.setdefault((p, a), place.get((p, only[p][0]), -1) if len(only[p]) == 1 else -1)
    numbers = [
        np.array([place[fold(p), fold(a)] for p, a in written] or [0], np.int64)[which] for written, which in coded
    ]
    return Accounts(numbers[0], numbers[1], [pairs[key] for key in keys], keys)
