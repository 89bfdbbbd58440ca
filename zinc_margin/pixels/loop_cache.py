"""The cache of compiled loops, in a folder named after a digest of their sources.

Numba checks a loop's own file but not the files of functions that it calls, so an edited helper
would not be recompiled. The folder's name is a digest of the engine's sources and the processor's
features; old folders are removed.

A package brings loops that were compiled for levels of processors. They are copied into that folder
instead of being compiled.
"""

from __future__ import annotations

import atexit
import fcntl
import hashlib
import os
import shutil
import sys
import tempfile
import time
from collections.abc import Collection
from contextlib import suppress
from pathlib import Path
from typing import IO

from zinc_margin.keeping.folders import make_private, own_folder
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.pixels import processor

_KEPT = 2
"""Folders to keep: the current one, and one for people who switch between two versions."""
_SHIPPED = Path(sys.prefix) / "loops"
_READY, _LOCK, _KIND = "ready", "lock", "kind-"

TROUBLE: list[str] = []
"""What the user should know about the cache, as sentences."""


def engine_digest(sources: Path, made_for: str) -> str:
    """Return a digest of the engine: its sources, the processor, the interpreter.

    Parameters
    ----------
    sources : Path
        Folder of Python files.
    made_for : str
        The processor, or its level.

    Returns
    -------
    str
        Sixteen hexadecimal digits.
    """
    digest = hashlib.sha256(f"{sys.version}\0{made_for}".encode())
    for path in sorted(sources.glob("*.py")):
        digest.update(path.name.encode() + b"\0" + path.read_bytes())
    return digest.hexdigest()[:16]


def use_cache(sources: Path, caches: Path, shipped: Path = _SHIPPED) -> Path:
    """Set Numba's cache to this engine's folder; remove old ones.

    Parameters
    ----------
    sources : Path
        The engine's folder.
    caches : Path
        Parent of all engines' cache folders.
    shipped : Path
        A package's loops, in a folder for each level of processors; need not exist.
    """
    described = processor.description()
    level = next((one for one in processor.levels(described) if (shipped / one).is_dir()), None)
    digest = engine_digest(sources, level or described)
    inherited = os.environ.get("NUMBA_CACHE_DIR", "")
    # The parent process may keep its caches elsewhere, for the same engine.
    folder = Path(inherited) if inherited.endswith(digest) else caches / digest
    if not make_private(folder):
        folder = Path(tempfile.mkdtemp(prefix="zinc-margin-")) / digest
        atexit.register(shutil.rmtree, folder.parent, ignore_errors=True)
        TROUBLE.append(
            f"Others can write to {caches}, so no code is loaded from there, and it is compiled "
            "again. Make that folder yours alone."
        )
    chosen = {"CACHE_DIR": str(folder)}
    if level is not None:  # an unnamed processor's code would not be found in the cache
        chosen |= {"CPU_NAME": level, "CPU_FEATURES": ""}
        if not (folder / _READY).exists():
            with suppress(OSError, shutil.Error):
                shutil.copytree(shipped / level, folder, dirs_exist_ok=True)
    numba = sys.modules.get("numba")
    for name, value in chosen.items():
        os.environ[f"NUMBA_{name}"] = value
        if numba is not None:
            setattr(numba.config, name, value)
    _sweep(folder)
    return folder


def _sweep(folder: Path) -> None:
    with suppress(OSError):
        folder.mkdir(parents=True, exist_ok=True)
        os.utime(folder)
        others = [one for one in folder.parent.iterdir() if one.is_dir()]
        others.sort(key=lambda one: one.stat().st_mtime, reverse=True)
        for old in others[_KEPT:]:
            shutil.rmtree(old, ignore_errors=True)


FOLDER = use_cache(Path(__file__).parent, own_folder("cache") / "compiled")


PREPARING = "Preparing this machine, once"
"""What people are told while they wait for the loops."""
COMPILED = 40
"""Entries of the cache when all loops are compiled; only a prediction depends on it."""
_KNOWN_FROM = 0.1
"""Share of entries from which the time so far predicts the rest."""
_LOOK_S = 0.1
_ENGINE = __name__.rpartition(".")[0] + "."


def is_ready() -> bool:
    """Return whether every loop has been compiled on this machine."""
    return (FOLDER / _READY).exists()


def tell_ready() -> None:
    """Record that every loop has been compiled."""
    with suppress(OSError):
        (FOLDER / _READY).touch()


_claim: list[IO[str]] = []
_compiles = False


def compiles_itself() -> None:
    """Compile what is missing in this process, without waiting for another one."""
    global _compiles
    _compiles = True


def claim() -> bool:
    """Claim the compilation of all loops for this process.

    Returns
    -------
    bool
        False if another process has claimed it.
    """
    with suppress(OSError):
        lock = (FOLDER / _LOCK).open("a+")  # "a" alone would wait for a pipe
        fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        os.utime(lock.fileno())  # when it began
        _claim.append(lock)
        return True
    return False


def is_awaited() -> bool:
    """Return whether another process is compiling all loops."""
    if _claim or _compiles or is_ready():
        return False
    with suppress(OSError), (FOLDER / _LOCK).open("a+") as lock:
        try:
            fcntl.flock(lock, fcntl.LOCK_SH | fcntl.LOCK_NB)
        except BlockingIOError:
            return True
    return False


def note_ready(loops: Collection[str]) -> None:
    """Record that some kinds of loop have been compiled; see `Renderer.loops`."""
    with suppress(OSError):
        for name in loops:
            (FOLDER / (_KIND + name)).touch()


def wait(loops: Collection[str], job: Job = IDLE) -> None:
    """Wait until no other process has to compile some kinds of loop.

    Compiling them here as well would take longer, and make the window stutter.

    Parameters
    ----------
    loops : collection of str
        See `Renderer.loops`.

    Raises
    ------
    Cancelled
    """
    while is_awaited() and not all((FOLDER / (_KIND + name)).exists() for name in loops):
        job.report_waiting(seconds_left())
        job.wait(_LOOK_S)
        job.check()


def seconds_left() -> float | None:
    """Return the seconds until all loops are compiled, as the pace so far predicts; or None."""
    with suppress(OSError):
        done = sum(1 for _ in FOLDER.rglob("*.nbc")) / COMPILED
        gone = time.time() - (FOLDER / _LOCK).stat().st_mtime
        return None if done < _KNOWN_FROM else max(1.0, gone / done - gone)
    return None


def compiled_anew() -> bool:
    """Return whether this process had to compile a loop that was not cached."""
    engine = [module for name, module in list(sys.modules.items()) if name.startswith(_ENGINE)]
    ours = [one for module in engine for one in list(vars(module).values())]
    stats = [one.stats for one in ours if hasattr(one, "py_func")]
    return any(any(one.cache_misses.values()) for one in stats)
