"""Memory: what is free, what is given back, and limits against pictures that claim too much."""

from __future__ import annotations

import ctypes
import os
from contextlib import suppress
from pathlib import Path

from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.words import size_in_bytes

_MOST_PER_BYTE = 3000
"""Pixels per byte that no open format exceeds: deflate reaches 1030, JPEG about 700."""

_SMALL_ENOUGH = 200_000_000  # bytes; below this a wrong size can do no harm


def memory_available() -> int:
    """Return the memory, in bytes, that is available without swapping."""
    try:
        for line in Path("/proc/meminfo").read_text("ascii").splitlines():
            if line.startswith("MemAvailable:"):
                return int(line.split()[1]) * 1024
    except (OSError, ValueError):
        pass
    return os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES") // 2


def return_memory() -> None:
    """Return freed memory to the system; the C library would keep a fifth of the window's."""
    with suppress(OSError, AttributeError):  # another C library may have no such function
        ctypes.CDLL(None).malloc_trim(0)


def check_declared(path: Path, width: int, height: int, sample_bytes: int, file_bytes: int) -> None:
    """Refuse a picture whose declared size is false or does not fit in memory.

    Parameters
    ----------
    sample_bytes : int
        Bytes of one pixel, all channels.
    file_bytes : int
        Size of the file.
    """
    declared = width * height * sample_bytes
    if declared > _SMALL_ENOUGH and declared > file_bytes * _MOST_PER_BYTE:
        raise CannotDo(
            f"{path.name} claims to be {width} × {height} px, but the file has only "
            f"{size_in_bytes(file_bytes)}. It is damaged or forged, and was not opened."
        )
    # Decoding needs one copy, rotating upright another.
    needed = declared * 2 + width * 4096
    if needed > 0.7 * memory_available():
        raise CannotDo(
            f"{path.name} is {width} × {height} px and needs {size_in_bytes(needed)} of "
            f"memory, but this machine has only {size_in_bytes(memory_available())} free; it "
            "was not opened."
        )
