"""Regular expressions that cannot run away: matched in time linear in the text, and held to a size (R5)."""

from __future__ import annotations

import re
from collections.abc import Iterable

from .patience import go_on

LONGEST = 1_000
"""Characters of an expression."""
MOST_STEPS = 10_000
"""About as many states may the automaton have that an expression becomes: what a character of a text costs at worst."""
AT_ONCE = 20_000
"""Texts that are matched in one go."""
_MOST_KNOWN = 500_000
_BY_NAME, _ALL_BUT, _ANY, _OTHER = 1_200, 16, 8, 1
# A class by its name, a class in brackets, a repetition in figures, an escape, what opens a group, everything else.
_PIECE = re.compile(
    r"\\[pP](?:\{[^}]*\}|.)|\[\^?\]?(?:\\.|\[:\^?\w+:\]|[^\]\\])*\]|\{(\d+)(?:,(\d*))?\}|\\.|\(\?[^:>)]*[:>)]?|.",
    re.DOTALL,
)


class Expression:
    """Whether an expression is found anywhere in a text.

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
    Python's own `re` tries alternatives one after the other and can take exponential time on a hostile pattern. Arrow
    brings an automaton (RE2) that cannot, and is here anyway for the columnar files; it is loaded only when a rule
    needs it. It compiles a pattern at each call, so texts are matched together wherever there are several (`learn`),
    and each distinct one once. Its time is linear in the text *times* the automaton, so that a short pattern such as
    `\\p{L}{200}` is refused by what it becomes.
    """

    def __init__(self, pattern: str, ignore_case: bool) -> None:
        if len(pattern) > LONGEST:
            raise ValueError(f"it is longer than {LONGEST:,} characters; split it into several conditions")
        if steps_of(pattern) > MOST_STEPS:
            raise ValueError("it is too large once its repetitions are written out; ask for fewer of them")
        self._pattern, self._ignore_case = pattern, ignore_case
        self._known: dict[str, bool] = {}
        try:
            self.learn([""])
        except ValueError as problem:
            raise ValueError(str(problem).removeprefix("Invalid regular expression: ")) from None

    def __call__(self, text: str) -> bool:
        """Whether it is found in a text."""
        if text not in self._known:
            self.learn([text])
        return self._known[text]

    def learn(self, texts: Iterable[str]) -> None:
        """Match texts together, each distinct one once, so that each is at hand when it is asked for."""
        import pyarrow as pa
        import pyarrow.compute as pc

        fresh = [text for text in dict.fromkeys(texts) if text not in self._known]
        if not fresh:
            return
        if len(self._known) + len(fresh) > _MOST_KNOWN:
            self._known.clear()
        for begin in range(0, len(fresh), AT_ONCE):
            go_on()
            some = fresh[begin : begin + AT_ONCE]
            # Half a character is no letter of any expression.
            whole = pa.array([text.encode("utf-8", "replace") for text in some], pa.binary()).cast(pa.string())
            found = pc.match_substring_regex(whole, self._pattern, ignore_case=self._ignore_case)
            self._known |= dict(zip(some, found.to_pylist(), strict=True))


def steps_of(pattern: str) -> int:
    """About how many states the automaton of an expression has, its repetitions written out.

    Parameters
    ----------
    pattern : RE2 syntax; what is none is counted somehow, and refused by whoever reads it
    """
    # Of each group that is open: what stood before it, and what stands in it so far.
    outer: list[int] = []
    total = last = 0
    for piece in _PIECE.finditer(pattern):
        said = piece.group()
        if piece[1] is not None:
            times = max(int(piece[1][:4]), int(piece[2][:4]) if piece[2] else 0, 1)
            total, last = total - last + last * times, last * times
            continue
        if said.startswith("("):
            outer.append(total)
            total = last = 0
            continue
        if said == ")" and outer:
            last = total + _OTHER
            total = outer.pop() + last
            continue
        last = _ANY + len(said) if said.startswith("[") else _ANY if said == "." else _OTHER
        last += _BY_NAME * len(re.findall(r"\\[pP]", said)) + _ALL_BUT * len(re.findall(r"\\[DWS]", said))
        total += last
    return total + sum(outer)
