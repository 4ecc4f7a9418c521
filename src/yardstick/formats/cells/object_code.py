"""Functions of machine code on plain memory, loaded without the package that compiles them.

That package takes most of a second to load, what it made of a function a twentieth. Set-up compiles each module once
for this machine's processor and puts the object beside its cache; a module is one whose `KERNELS` are functions of
pointers and whole numbers that allocate nothing and raise nothing.
"""

from __future__ import annotations

import contextlib
import ctypes
import hashlib
import importlib
import json
import os
import tempfile
from collections.abc import Callable, Mapping
from functools import cache
from importlib.util import find_spec
from pathlib import Path
from typing import Any

Kernels = Mapping[str, Callable[..., None]]
_ENDS = ".object"
_POINTER, _NUMBER = "pointer", "number"
_TYPES: Mapping[str, Any] = {_POINTER: ctypes.c_void_p, _NUMBER: ctypes.c_int64}
_alive: list[Any] = []
"""Engines own the code; whoever lets go of one takes its functions away."""


@cache
def object_code(module: str) -> Kernels | None:
    """The functions of a module as set-up compiled them for this processor; None where it did not.

    Parameters
    ----------
    module : its full name; it is not imported
    """
    try:
        if not any(_folder(module).glob(f"*{_ENDS}")):
            return None
        return _loaded(_place(module).read_bytes())
    except Exception:
        # No such package, another processor, a torn file: everything is the same without, and slower.
        return None


def build(module: str) -> Kernels | None:
    """Compile the functions of a module for this processor and keep them, if there is a place to.

    Returns
    -------
    the functions; None where they cannot be compiled
    """
    try:
        content = _compiled(module)
        found = _loaded(content)
    except Exception:
        return None
    with contextlib.suppress(OSError):
        _keep(_place(module), content)
    object_code.cache_clear()
    return found


def _compiled(module: str) -> bytes:
    """A line that says what is in it, a checksum, and the object."""
    import llvmlite.binding as llvm

    kernels = importlib.import_module(module).KERNELS
    together = None
    said = {}
    for name, kernel in kernels.items():
        text = kernel.inspect_llvm()
        outside = [line for line in text.splitlines() if line.startswith("declare") and "@llvm." not in line]
        if outside:
            raise ValueError(f"{module}.{name} calls what is not in it: {outside[0]}")
        said[name] = [kernel.native_name, *(_kind(kind) for kind in kernel._sig.args)]
        part = llvm.parse_assembly(text)
        if together is None:
            together = part
        else:
            together.link_in(part)
    content: bytes = _machine(llvm).emit_object(together)
    return json.dumps(said).encode() + b"\n" + hashlib.sha256(content).digest() + content


def _kind(kind: Any) -> str:
    return _POINTER if "*" in kind.name else _NUMBER


def _loaded(content: bytes) -> Kernels:
    import llvmlite.binding as llvm

    head, _, rest = content.partition(b"\n")
    if hashlib.sha256(rest[32:]).digest() != rest[:32]:
        raise ValueError("the object is torn")
    engine = llvm.create_mcjit_compiler(llvm.parse_assembly(""), _machine(llvm))
    engine.add_object_file(llvm.ObjectFileRef.from_data(rest[32:]))
    engine.finalize_object()
    found = {}
    for name, (native, *kinds) in json.loads(head).items():
        # Called so, a function does not hold the interpreter.
        kind = ctypes.CFUNCTYPE(None, *(_TYPES[k] for k in kinds))
        found[name] = kind(engine.get_function_address(native))
    _alive.append(engine)
    return found


def _machine(llvm: Any) -> Any:
    llvm.initialize_native_target()
    llvm.initialize_native_asmprinter()
    return llvm.Target.from_triple(llvm.get_process_triple()).create_target_machine(
        opt=3,
        cpu=llvm.get_host_cpu_name(),
        features=llvm.get_host_cpu_features().flatten(),
        reloc="pic",
        codemodel="jitdefault",
    )


def _folder(module: str) -> Path:
    return _source(module).parent / "__pycache__"


def _source(module: str) -> Path:
    spec = find_spec(module)
    if spec is None or spec.origin is None:
        raise ModuleNotFoundError(module)
    return Path(spec.origin)


def _place(module: str) -> Path:
    """Where the object of this source, processor and compiler is."""
    import llvmlite
    import llvmlite.binding as llvm

    source = _source(module)
    of = (llvmlite.__version__, llvm.get_process_triple(), llvm.get_host_cpu_name())
    said = json.dumps([*of, llvm.get_host_cpu_features().flatten()]).encode() + b"\0" + source.read_bytes()
    return _folder(module) / f"{source.stem}.{hashlib.sha256(said).hexdigest()[:16]}{_ENDS}"


def _keep(place: Path, content: bytes) -> None:
    """Whole or not at all; those of earlier sources go."""
    place.parent.mkdir(exist_ok=True)
    handle, name = tempfile.mkstemp(dir=place.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(content)
        os.chmod(name, 0o644)
        os.replace(name, place)
    except OSError:
        with contextlib.suppress(OSError):
            os.unlink(name)
        raise
    stem = place.name.partition(".")[0]
    for other in place.parent.glob(f"{stem}.*{_ENDS}"):
        if other != place:
            with contextlib.suppress(OSError):
                other.unlink()
