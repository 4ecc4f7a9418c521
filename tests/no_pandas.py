"""Keeps pandas out of a process, as where the app runs: there it is for the library's tests alone, and Arrow loads it by
itself where it finds it, at the cost of a hundred megabytes."""

from __future__ import annotations


class NoPandas:
    """A finder that finds none."""

    @staticmethod
    def find_spec(name, *_):
        if name.partition(".")[0] == "pandas":
            raise ImportError(name)
