"""A plug-in of pytest that says to `coverage` which test runs, so that a line knows the tests that reach it.

python -m coverage run --data-file F --source src -m pytest -p reached ...
"""

from __future__ import annotations

from collections.abc import Iterator

import coverage
import pytest


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Iterator[None]:
    """What runs from here on, fixtures included, is this test's."""
    current = coverage.Coverage.current()
    if current is not None:
        current.switch_context(item.nodeid)
    yield
