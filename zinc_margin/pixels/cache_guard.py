"""Discard damaged entries of Numba's cache, and compile each loop in one process only.

Numba loads whatever its cache holds: noise in a file raises anything, or ends the process. So each
data file has a digest next to it. Processes that need the same loop would each compile it, so the
first one locks it; the others wait and load the result.
"""

from __future__ import annotations

import fcntl
import hashlib
import os
from contextlib import suppress
from pathlib import Path
from typing import IO, Any

from numba.core.caching import FunctionCache, IndexDataCacheFile

_END, _LOCK = ".sum", ".lock"


def _digest(path: str) -> bytes:
    return hashlib.blake2b(Path(path).read_bytes(), digest_size=20).digest()


def guard() -> None:
    """Check every cached loop before it is loaded."""
    load_index, load_data = IndexDataCacheFile._load_index, IndexDataCacheFile._load_data
    save_data, save = IndexDataCacheFile._save_data, IndexDataCacheFile.save

    def checked_index(self: Any) -> Any:
        try:
            return load_index(self)
        except Exception:  # a damaged pickle raises whatever its bytes happen to mean
            with suppress(OSError):
                os.unlink(self._index_path)
            return {}

    def checked_data(self: Any, name: str) -> Any:
        path = self._data_path(name)
        if Path(path + _END).read_bytes() != _digest(path):
            raise OSError(f"{path} is damaged")  # for Numba the same as a file that has gone
        return load_data(self, name)

    def summed_data(self: Any, name: str, data: Any) -> None:
        save_data(self, name, data)
        path = self._data_path(name)
        with self._open_for_write(path + _END) as file:
            file.write(_digest(path))

    def saved_if_possible(self: Any, key: Any, data: Any) -> None:
        # A full disk under the cache must not fail a print: the loop is compiled already.
        with suppress(OSError):
            save(self, key, data)

    load, keep = FunctionCache.load_overload, FunctionCache.save_overload
    locks: dict[int, IO[str]] = {}

    def locked_load(self: Any, sig: Any, target_context: Any) -> Any:
        found = load(self, sig, target_context)
        if found is not None or id(self) in locks:
            return found
        with suppress(OSError):
            # "a" alone would wait for a pipe
            lock = open(self._cache_file._index_path + _LOCK, "a+")  # noqa: SIM115 - held until it is saved
            fcntl.flock(lock, fcntl.LOCK_EX)
            # A loop calls others while it is being compiled, but never in a circle.
            locks[id(self)] = lock
            found = load(self, sig, target_context)
            if found is not None:
                locks.pop(id(self)).close()
        return found

    def unlocked_save(self: Any, sig: Any, data: Any) -> None:
        try:
            keep(self, sig, data)
        finally:
            lock = locks.pop(id(self), None)
            if lock is not None:
                lock.close()

    FunctionCache.load_overload = locked_load  # type: ignore[method-assign]
    FunctionCache.save_overload = unlocked_save  # type: ignore[method-assign]
    IndexDataCacheFile.save = saved_if_possible  # type: ignore[method-assign]
    IndexDataCacheFile._load_index = checked_index  # type: ignore[method-assign]
    IndexDataCacheFile._load_data = checked_data  # type: ignore[method-assign]
    IndexDataCacheFile._save_data = summed_data  # type: ignore[method-assign]
