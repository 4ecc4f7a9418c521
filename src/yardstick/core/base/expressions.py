"""Regular expressions that cannot run away: matched in time linear in the text (R5)."""

from __future__ import annotations

from collections.abc import Callable


def expression(pattern: str, ignore_case: bool) -> Callable[[str], bool]:
    """A test whether an expression is found anywhere in a text.

    Parameters
    ----------
    pattern : RE2 syntax (no look-around, no back references)
    ignore_case : whether case does not matter

    Raises
    ------
    ValueError
        If the pattern cannot be read.

    Notes
    -----
    Python's own `re` tries alternatives one after the other and can take exponential time on a hostile pattern. Arrow
    brings an automaton that cannot, and is here anyway for the columnar files; it is loaded only when a rule needs it.
    """
    import pyarrow as pa
    import pyarrow.compute as pc

    def found(text: str) -> bool:
        answer = pc.match_substring_regex(pa.array([text]), pattern, ignore_case=ignore_case)
        return bool(answer[0].as_py())

    found("")
    return found
