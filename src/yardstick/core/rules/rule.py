"""What is declared of a rule for sharing credit: all of it in one place, its module (R14-R16, decision 0040)."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from decimal import Decimal
from enum import Enum

from .allocation import Allocation
from .kernel import Kernel
from .trail_context import TrailContext


class Need(Enum):
    """What a rule asks besides which touches there are, in which order, and which are direct."""

    TIMES = "times"
    DAYS = "days"
    PLAYERS = "players"
    CHANNELS = "channels"
    LOSING_PATHS = "losing paths"


class ParameterKind(Enum):
    """What may be stated: a number from 0 to 1000 with at most four decimals, what a player or state is, or a number by
    channel."""

    NUMBER = "number"
    PLAYER = "player"
    BY_CHANNEL = "by channel"


@dataclass(frozen=True)
class RuleParameter:
    """A number or word that settings may state for a rule.

    Attributes
    ----------
    name : in the settings; rules may share one
    text, example : the line that says what it is to this rule, and an example
    """

    name: str
    text: str
    example: str
    kind: ParameterKind = ParameterKind.NUMBER


def _fine(_: Mapping[str, Decimal]) -> str:
    return ""


@dataclass(frozen=True)
class Rule:
    """A rule for sharing a conversion.

    Attributes
    ----------
    word : in the settings
    label : as it is shown
    shown : where it stands among the others, which are shown by this number
    shares : gives the shares of every trail; None where states are credited, not touches (R16)
    to_all : whether every touch of a trail gets something
    needs : what it asks for
    parameters : what settings may state
    wrong : what is wrong with numbers that are stated, empty if nothing is
    kernel : how machine code makes its sums, which must be those of its shares; None = they are added up from these
    """

    word: str
    label: str
    shown: int
    shares: Callable[[TrailContext], Allocation] | None
    to_all: bool = False
    needs: frozenset[Need] = frozenset()
    parameters: tuple[RuleParameter, ...] = ()
    wrong: Callable[[Mapping[str, Decimal]], str] = _fine
    kernel: Kernel | None = None
