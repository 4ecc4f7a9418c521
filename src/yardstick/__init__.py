"""Yardstick Trail: what each campaign cost and what it earned, under every rule at once."""

from importlib import import_module
from typing import TYPE_CHECKING, Any

from .core.base.version import VERSION

if TYPE_CHECKING:
    from .library import Weighed, weigh

__version__ = VERSION
__all__ = ["Weighed", "__version__", "weigh"]


def __getattr__(name: str) -> Any:
    # Only a notebook asks for it: whoever wants the version alone does not wait for the core.
    if name in ("weigh", "Weighed"):
        return getattr(import_module("yardstick.library"), name)
    raise AttributeError(f"module 'yardstick' has no attribute {name!r}")
