"""Regular expressions that cannot run away: matched in time linear in the text, and held to a size (R5)."""

from __future__ import annotations

from collections.abc import Callable

LONGEST = 1_000
"""Characters of an expression."""
MOST_STEPS = 5_000
"""States of the automaton that an expression becomes: what one character of a text may cost at worst."""


def expression(pattern: str, ignore_case: bool) -> Callable[[str], bool]:
    """A test whether an expression is found anywhere in a text.

    Parameters
    ----------
    pattern : RE2 syntax (no look-around, no back references), at most `LONGEST` characters
    ignore_case : whether case does not matter

    Raises
    ------
    ValueError
        If the pattern cannot be read, or is so large that every text would take long.

    Notes
    -----
    Python's own `re` tries alternatives one after the other and can take exponential time on a hostile pattern. RE2
    runs an automaton that cannot; it is compiled here, once, and loaded only when a rule needs it. Its time is linear
    in the text *times* the automaton, so a short pattern such as `\\p{L}{200}` is refused by what it becomes.
    """
    if len(pattern) > LONGEST:
        raise ValueError(f"it is longer than {LONGEST:,} characters; split it into several conditions")
    import re2

    options = re2.Options()
    options.log_errors = False
    options.case_sensitive = not ignore_case
    options.never_capture = True
    try:
        compiled = re2.compile(pattern, options)
    except re2.error as problem:
        said = problem.args[0] if problem.args else ""
        raise ValueError(said.decode("utf-8", "replace") if isinstance(said, bytes) else str(said)) from None
    except UnicodeError:
        raise ValueError("it holds half a character") from None
    if compiled.programsize > MOST_STEPS:
        raise ValueError("it is too large once its repetitions are written out; ask for fewer of them")

    def found(text: str) -> bool:
        try:
            return compiled.search(text) is not None
        except UnicodeError:
            # Half a character is no letter of any expression.
            return compiled.search(text.encode("utf-8", "replace").decode()) is not None

    return found
