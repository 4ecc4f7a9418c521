"""What is declared of a file format: all of it in one place, its module (decision 0041)."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import BinaryIO, Protocol

from .raw import FileLayout, TableFile


@dataclass
class Layout:
    """How a file is laid out, as far as its beginning tells.

    Attributes
    ----------
    laid : see `FileLayout`
    above : texts of the lines above the header
    encodings : others that it may be in, the one taken first; empty where one alone can be it
    hints : under each the first words that read otherwise
    """

    laid: FileLayout
    above: list[str] = field(default_factory=list)
    encodings: list[str] = field(default_factory=list)
    hints: list[str] = field(default_factory=list)


class Reader(Protocol):
    """Opens a file of the format.

    Parameters
    ----------
    file : name for messages; its beginning may say which table it holds
    stream : the bytes
    table : which table it must hold, or `headers.AS_WRITTEN`; without it the columns decide, then the file's name
    laid : how it is laid out, as far as that is known

    Raises
    ------
    FileProblem
        If it cannot be read as a whole: every refusal of the format is its reader's.
    """

    def __call__(self, file: str, stream: BinaryIO, table: str | None, laid: FileLayout, /) -> TableFile:
        """The file being read."""


def _nothing_to_see(_: str, __: BinaryIO, ___: str) -> Layout:
    return Layout(FileLayout())


@dataclass(frozen=True)
class FileFormat:
    """A format that rows come in.

    Attributes
    ----------
    label : what it is called in sentences
    suffixes : how names of such files end, with the point, in small letters
    open : the reader
    look : how a file that nobody has described is laid out, by its name, its bytes from the beginning, and the encoding
        if somebody said so
    bears : fields of `FileLayout` that bear on it
    begins : whether a file whose name does not tell begins as such a file does
    offered : whether a sentence about what to save as names it
    """

    label: str
    suffixes: tuple[str, ...]
    open: Reader
    look: Callable[[str, BinaryIO, str], Layout] = _nothing_to_see
    bears: tuple[str, ...] = ()
    begins: Callable[[bytes], bool] | None = None
    offered: bool = True

    def that_matters(self, laid: FileLayout) -> FileLayout:
        """What of a layout bears on the format."""
        return FileLayout(**{name: getattr(laid, name) for name in self.bears})
