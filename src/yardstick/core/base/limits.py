"""What is too large or too far away to be weighed (R29). The limits are the same at every door."""

from __future__ import annotations

from datetime import date

FIRST_DAY, LAST_DAY = date(1900, 1, 1), date(2199, 12, 31)
FIRST_INSTANT = (FIRST_DAY - date(1970, 1, 1)).days * 86_400_000_000
"""Microseconds since 1970 in UTC."""
LAST_INSTANT = ((LAST_DAY - date(1970, 1, 1)).days + 1) * 86_400_000_000 - 1
AMOUNT_BELOW = 10**12
"""An amount of this size or more, in whole units of its currency, rejects its row."""
PRICE_BELOW = 10**9
"""So does a rate or a price of this size."""
COUNT_BELOW = 10**12
"""So does a count of this size."""
