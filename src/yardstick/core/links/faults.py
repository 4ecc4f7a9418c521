"""What a check-up may find, and how bad it is."""

from __future__ import annotations

from typing import Protocol

CODES: dict[str, str] = {
    "not_an_address": "error",
    "login_in_host": "error",
    "tags_after_fragment": "error",
    "second_question_mark": "error",
    "target_inside": "error",
    "no_question_mark": "error",
    "wrong_separator": "error",
    "no_equals": "error",
    "split_value": "warning",
    "html_entity": "error",
    "raw_character": "warning",
    "bad_encoding": "warning",
    "doubly_encoded": "warning",
    "mojibake": "warning",
    "misspelt_name": "error",
    "wrong_case_name": "warning",
    "repeated_name": "warning",
    "empty_value": "note",
    "edge_space": "note",
    "placeholder": "warning",
    "missing_required": "error",
    "unfilled_slot": "error",
    "slot_inside": "warning",
    "slot_in_path": "warning",
    "half_slot": "warning",
    "unknown_slot": "warning",
    "other_spelling": "warning",
    "near_miss": "warning",
    "perhaps_meant": "warning",
    "another_name": "note",
    "not_allowed": "warning",
    "naming_pattern": "warning",
    "value_spelling": "warning",
    "unknown_campaign": "warning",
    "campaign_ended": "warning",
    "personal_data": "error",
    "own_as_outside": "error",
    "foreign_host": "warning",
    "wrong_host": "warning",
    "international_host": "note",
    "no_path": "note",
    "too_long": "error",
}
"""Every finding of a check-up and its level."""


class Note(Protocol):
    """Takes a finding down: its code, what it is and what to do, the parameter and the value it is about."""

    def __call__(self, code: str, message: str, name: str = "", value: str = "") -> None: ...
