"""A file being written, which remembers its bytes so the disk can be verified.

A full or failing disk does not always report an error. So everything is read back from the disk and
compared before the file is reported as written; this runs in parallel with the work.
"""

from __future__ import annotations

import errno
import io
import os
from concurrent.futures import Future, ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache
from itertools import accumulate
from pathlib import Path
from typing import Any

import imagecodecs

from zinc_margin.keeping.job import IDLE, Job

_AT_ONCE = 1 << 22


@dataclass(frozen=True)
class Received:
    """What the writer of a file received.

    Attributes
    ----------
    icc : bytes
        The profile to embed.
    samples : int or None
        The checksum of its bands; None if they were encoded elsewhere.
    """

    icc: bytes
    samples: int | None


class Outgoing(io.RawIOBase):
    """A new file; every written piece has a checksum (CRC-32, ITU-T V.42).

    Writers may rewrite earlier parts, as for a TIFF's offsets: such changes are kept in memory with
    the bytes that they replaced.

    Parameters
    ----------
    job : Job
        What it is written for; encoders that cannot be stopped run apart from it.

    Raises
    ------
    OSError
        If the file exists or cannot be created.
    """

    def __init__(self, path: Path, job: Job = IDLE) -> None:
        super().__init__()
        self.path, self.job = path, job
        self._file = path.open("xb+", buffering=0)
        self._end = 0
        self.received: Received | None = None
        """What its writer received, to compare the file with."""
        self._pieces: list[tuple[int, int]] = []
        self._mends: list[tuple[int, bytes, bytes]] = []
        self._pool = ThreadPoolExecutor(1, "read back")
        self._trail: Future[int] | None = None
        self._sure = 0
        """Number of pieces already verified on disk."""

    @property
    def size(self) -> int:
        """The length in bytes."""
        return self._end

    def writable(self) -> bool:
        """Return True."""
        return True

    def readable(self) -> bool:
        """Return True."""
        return True

    def seekable(self) -> bool:
        """Return True."""
        return True

    def write(self, data: Any, /) -> int:
        """Write all bytes of a buffer."""
        with memoryview(data) as view, view.cast("B") as raw:
            at = self._file.tell()
            if at > self._end:  # a gap reads as zeros
                self._file.seek(self._end)
                self.write(bytes(at - self._end))
            inside = min(len(raw), self._end - at)
            if inside:
                self._mends.append((at, os.pread(self.fd, inside, at), bytes(raw[:inside])))
            for start in range(inside, len(raw), _AT_ONCE):
                new = raw[start : start + _AT_ONCE]
                self._pieces.append((len(new), imagecodecs.deflate_crc32(bytes(new))))
                self._end += len(new)
            left = raw
            while len(left):
                left = left[self._file.write(left) :]
            return len(raw)

    def readinto(self, buffer: Any, /) -> int:
        """Read from the current position."""
        return self._file.readinto(buffer)

    def seek(self, offset: int, whence: int = os.SEEK_SET, /) -> int:
        """Change the position.

        Parameters
        ----------
        whence : int
            As in `io.IOBase.seek`.
        """
        return self._file.seek(offset, whence)

    def tell(self) -> int:
        """Return the position."""
        return self._file.tell()

    def clear(self) -> None:
        """Start over with an empty file."""
        self._caught_up()
        self._sure = 0
        self._file.seek(0)
        self._file.truncate()
        self._end = 0
        self.received = None
        self._pieces.clear()
        self._mends.clear()

    @property
    def fd(self) -> int:
        """The file descriptor; with the name `fileno`, writers would bypass this class."""
        return self._file.fileno()

    def let_go(self) -> None:
        """Start writing to the disk, and verify written pieces in parallel."""
        os.posix_fadvise(self.fd, 0, 0, os.POSIX_FADV_DONTNEED)
        if self._trail is None or self._trail.done():
            self._caught_up()
            own, upto = os.dup(self.fd), len(self._pieces)
            self._trail = self._pool.submit(self._followed, own, self._sure, upto)

    def _followed(self, fd: int, count: int, upto: int) -> int:
        """Flush pieces `count` to `upto`; return up to which one the disk matches.

        A mismatch may be a part about to be rewritten: it is checked again at the end. `fd` is
        closed here, so nobody has to wait for a slow disk.
        """
        try:
            _flush(fd)
            at = sum(length for length, _ in self._pieces[:count])
            for length, summed in self._pieces[count:upto]:
                if not self._stands(fd, at, length, summed):
                    break
                count, at = count + 1, at + length
        finally:
            os.close(fd)
        return count

    def _caught_up(self) -> None:
        """Wait for the verification in progress."""
        if self._trail is not None:
            self._sure, self._trail = self._trail.result(), None

    def _stands(self, fd: int, at: int, length: int, summed: int) -> bool:
        """Return whether a piece on disk matches its checksum."""
        piece = bytearray(os.pread(fd, length, at))
        return self._unmended(piece, at) and imagecodecs.deflate_crc32(piece) == summed

    def check(self) -> None:
        """Flush everything to the disk, and compare it with what was written.

        Raises
        ------
        OSError
            If the disk reports an error or returns other bytes.
        """
        self._caught_up()
        _flush(self.fd)
        at = 0
        for index, (length, summed) in enumerate(self._pieces):
            known = index < self._sure and not self._mended(at, length)
            if not known and not self._stands(self.fd, at, length, summed):
                raise _not_as_written(self.path)
            at += length
        if os.fstat(self.fd).st_size != at:
            raise _not_as_written(self.path)

    def checksum(self, start: int, end: int) -> int | None:
        """Return the checksum of written bytes without reading them again.

        Returns
        -------
        int or None
            None unless they were written as whole pieces and never changed.
        """
        if self._mended(start, end - start):
            return None
        at, total, reached = 0, 0, start
        for length, summed in self._pieces:
            if start <= at and at + length <= end:
                total, reached = _join(total, summed, length), at + length
            at += length
        starts = {0, *accumulate(length for length, _ in self._pieces)}
        return total if reached == end and start in starts else None

    def _mended(self, start: int, length: int) -> list[tuple[int, bytes, bytes]]:
        """Return the parts of a piece that were rewritten, possibly after verification."""
        return [
            mend
            for mend in self._mends
            if mend[0] < start + length and start < mend[0] + len(mend[2])
        ]

    def _unmended(self, piece: bytearray, start: int) -> bool:
        """Restore a piece's original bytes; return False if a rewritten part is not on disk."""
        for at, before, after in reversed(self._mended(start, len(piece))):
            first, last = max(at, start), min(at + len(after), start + len(piece))
            here, there = slice(first - start, last - start), slice(first - at, last - at)
            if piece[here] != after[there]:
                return False
            piece[here] = before[there]
        return True

    def close(self) -> None:
        """Close the file."""
        self._pool.shutdown(wait=False)
        self._file.close()
        super().close()


def _flush(fd: int) -> None:
    """Flush a file to the disk and drop its cache, so reading it reads the disk."""
    os.fsync(fd)
    os.posix_fadvise(fd, 0, 0, os.POSIX_FADV_DONTNEED)


_POLYNOMIAL = 0xEDB88320  # of CRC-32, lowest bit first


def _join(first: int, second: int, length: int) -> int:
    """Return the checksum of two parts, from theirs and the second one's length."""
    return _multiply(_zeros(length), first) ^ second


@cache
def _zeros(length: int) -> int:
    """Return x to the power of 8 x `length`, modulo the polynomial: the effect of zero bytes."""
    result, power, left = 1 << 31, 1 << 23, length  # 1, and x to the power of 8
    while left:
        if left & 1:
            result = _multiply(power, result)
        power, left = _multiply(power, power), left >> 1
    return result


def _multiply(one: int, other: int) -> int:
    """Return the product of two polynomials over GF(2), modulo CRC-32's."""
    result = 0
    for bit in range(31, -1, -1):
        if one >> bit & 1:
            result ^= other
        other = other >> 1 ^ (_POLYNOMIAL if other & 1 else 0)
    return result


def _not_as_written(path: Path) -> OSError:
    return OSError(errno.EIO, "the disk did not store all bytes", str(path))
