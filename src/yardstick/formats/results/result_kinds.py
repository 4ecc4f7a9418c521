"""The formats that results are written in. It loads nothing, so that whoever only names them is quick."""

from __future__ import annotations

FORMATS = ("csv", "jsonl", "parquet", "xlsx")
