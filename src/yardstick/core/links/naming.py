"""Names built from parts, with the next running number."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence

from ..base.errors import SettingsError
from ..plan.name_rules import why_not_named
from ..plan.reading_phase import Naming

NUMBER = "#"
"""Written in place of a part: the next number that no known name has there."""
LEAST_DIGITS = 2


def next_name(naming: Naming, parts: Mapping[str, str], known: Iterable[str]) -> str:
    """A name by a naming pattern.

    Parameters
    ----------
    naming : its parts and what stands between them
    parts : text by part; `NUMBER` for one of them is counted
    known : names that are there already

    Raises
    ------
    SettingsError
        If a part is missing, two are counted, or the name does not follow the pattern; says which.

    Examples
    --------
    >>> next_name(Naming("content", "-", ("offer", "n")), {"offer": "half", "n": "#"}, ["half-01", "half-07"])
    'half-08'
    """
    texts = []
    for part in naming.parts:
        text = parts.get(part, "").strip()
        if not text:
            raise SettingsError(f"{part}: fill this part of the name")
        if naming.separator in text:
            raise SettingsError(f"{part}: {naming.separator!r} separates the parts: write {text!r} without it")
        texts.append(text)
    if texts.count(NUMBER) > 1:
        raise SettingsError("one part of a name is counted: write the others")
    if NUMBER in texts:
        texts[texts.index(NUMBER)] = _next(naming, texts, known)
    name = naming.separator.join(texts)
    problem = why_not_named(naming, name)
    if problem:
        raise SettingsError(f"{name}: {problem}")
    return name


def _next(naming: Naming, texts: Sequence[str], known: Iterable[str]) -> str:
    """The number after the highest that stands there in names of the same parts, as wide as those."""
    pattern = naming.separator.join(r"(\d{1,9})" if text == NUMBER else re.escape(text) for text in texts)
    found = [m.group(1) for name in known if (m := re.fullmatch(pattern, name.strip(), re.IGNORECASE))]
    width = max((len(number) for number in found), default=LEAST_DIGITS)
    return str(max((int(number) for number in found), default=0) + 1).rjust(width, "0")
