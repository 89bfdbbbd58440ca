"""A file on its way out: it remembers what went into it, so the disk can be held against it.

A disk that is full or failing does not always say so. What was written is therefore read back from
the disk and compared before anybody is told that it is there: while the rest is still being made,
as far as it has got there.
"""

from __future__ import annotations

import errno
import io
import os
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import Any

import imagecodecs

_AT_ONCE = 1 << 22


class Outgoing(io.RawIOBase):
    """A new file; every piece is summed (CRC-32, ITU-T V.42) as it goes out.

    Writers may go back and mend what they wrote, as TIFF's do with their offsets: such mends are
    kept in memory with what stood there before.

    Raises
    ------
    OSError
        When the file is there, or cannot be made.
    """

    def __init__(self, path: Path) -> None:
        super().__init__()
        self.path = path
        self._file = path.open("xb+", buffering=0)
        self._end = 0
        self._pieces: list[tuple[int, int]] = []
        self._mends: list[tuple[int, bytes, bytes]] = []
        self._pool = ThreadPoolExecutor(1, "read back")
        self._trail: Future[int] | None = None
        self._sure = 0
        """So many pieces were found on the disk as they went out."""

    @property
    def size(self) -> int:
        """How many bytes it has."""
        return self._end

    def writable(self) -> bool:
        """Tell that it can be written to."""
        return True

    def readable(self) -> bool:
        """Tell that it can be read."""
        return True

    def seekable(self) -> bool:
        """Tell that there is a way back."""
        return True

    def write(self, data: Any, /) -> int:
        """Write all of some bytes.

        Parameters
        ----------
        data : bytes-like
            In one piece.
        """
        with memoryview(data) as view, view.cast("B") as raw:
            at = self._file.tell()
            if at > self._end:  # a gap is read as zeros
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
        """Read on from where it stands.

        Parameters
        ----------
        buffer : bytearray-like
            It is filled.
        """
        return self._file.readinto(buffer)

    def seek(self, offset: int, whence: int = os.SEEK_SET, /) -> int:
        """Go to a place.

        Parameters
        ----------
        whence : int
            As `io.IOBase.seek` has it.
        """
        return self._file.seek(offset, whence)

    def tell(self) -> int:
        """Return the place."""
        return self._file.tell()

    def clear(self) -> None:
        """Begin again."""
        self._caught_up()
        self._sure = 0
        self._file.seek(0)
        self._file.truncate()
        self._end = 0
        self._pieces.clear()
        self._mends.clear()

    @property
    def fd(self) -> int:
        """The system's number of the file; not `fileno`, by which writers would pass us by."""
        return self._file.fileno()

    def let_go(self) -> None:
        """Start writing to the disk, and verify written pieces meanwhile."""
        os.posix_fadvise(self.fd, 0, 0, os.POSIX_FADV_DONTNEED)
        if self._trail is None or self._trail.done():
            self._caught_up()
            own, upto = os.dup(self.fd), len(self._pieces)
            self._trail = self._pool.submit(self._followed, own, self._sure, upto)

    def _followed(self, fd: int, count: int, upto: int) -> int:
        """Have pieces on the disk, `count` to `upto`; return up to where they stand there.

        One that does not may be about to be mended: it is looked at again in the end. `fd` is
        closed: whoever gives the file up does not wait for a slow disk.
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
        """Wait for the verification under way."""
        if self._trail is not None:
            self._sure, self._trail = self._trail.result(), None

    def _stands(self, fd: int, at: int, length: int, summed: int) -> bool:
        """Return whether a piece is on the disk as it went out."""
        piece = bytearray(os.pread(fd, length, at))
        return self._unmended(piece, at) and imagecodecs.deflate_crc32(piece) == summed

    def check(self) -> None:
        """Have everything on the disk, and compare it with what went out.

        Raises
        ------
        OSError
            When the disk refuses, or what is there is not what was written.
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

    def _mended(self, start: int, length: int) -> list[tuple[int, bytes, bytes]]:
        """Return the parts of a piece that were rewritten, perhaps after verification."""
        return [
            mend
            for mend in self._mends
            if mend[0] < start + length and start < mend[0] + len(mend[2])
        ]

    def _unmended(self, piece: bytearray, start: int) -> bool:
        """Put back what stood in a piece at first; False where a mend does not stand in it."""
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
    """Flush a file to the disk and drop its cache, so that reading it reads the disk."""
    os.fsync(fd)
    os.posix_fadvise(fd, 0, 0, os.POSIX_FADV_DONTNEED)


def _not_as_written(path: Path) -> OSError:
    return OSError(errno.EIO, "the disk does not hold what was written to it", str(path))
