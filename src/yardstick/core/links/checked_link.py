"""What was found in one address, and the address while it is being mended."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import NamedTuple

from ..reading.tags import parameters, split_address
from .addresses import LinkFinding
from .faults import CODES


class CheckUp(NamedTuple):
    """What was found in one address.

    Attributes
    ----------
    url : as it came
    findings : worst first
    mended : the address with everything mended that can be, the same as `url` where there is nothing to mend
    """

    url: str
    findings: tuple[LinkFinding, ...]
    mended: str

    @property
    def worst(self) -> str:
        """The level of the worst finding, empty if there is none."""
        return self.findings[0].level if self.findings else ""

    @property
    def base(self) -> str:
        """The address without query and fragment."""
        return split_address(self.url.strip())[0]

    @property
    def parameters(self) -> list[tuple[str, str]]:
        """Names and values of the query, decoded."""
        return [(name, value) for name, value, _ in parameters(split_address(self.url.strip())[1])]


@dataclass
class CheckDraft:
    """An address while it is being mended."""

    text: str
    findings: list[LinkFinding] = field(default_factory=list)

    def note(self, code: str, message: str, name: str = "", value: str = "") -> None:
        """Add a finding."""
        self.findings.append(LinkFinding(code, CODES[code], message, name, value))
