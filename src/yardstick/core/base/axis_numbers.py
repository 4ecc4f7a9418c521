"""Numbers that stand on the axis of a field, or in place of a row of a report, for what has none.

Values of a field count from 1 on its axis, rows of a report from 0. All others are here, in one number space: no two of
them can be taken for each other, nor for a value.
"""

from __future__ import annotations

EMPTY = 0
"""No value of the field, and no tag either (R12)."""
NOWHERE = -1
"""In no row of a report; in a list of rows with one more at its end it names that one."""
LEFT = -2
"""Left out by filters: on every axis."""
TAGGED = -3
"""No value of the first field, but some tag (R12)."""
NO_AXIS = -4
"""On every axis of touches, where only conversions have a value of a field."""
UNKNOWN = -5
"""Which value a spend row has cannot be told from its own columns (R18)."""
