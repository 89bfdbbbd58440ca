"""Find each format's writer by key, and check before writing."""

from __future__ import annotations

import struct
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path
from typing import Any, BinaryIO

from zinc_margin.handoff.formats.bands import Bands
from zinc_margin.handoff.outgoing import Outgoing, Received
from zinc_margin.handoff.verification import Checksum
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.formats import formats
from zinc_margin.measure.words import size_in_bytes
from zinc_margin.photo.limits import memory_available
from zinc_margin.plan.model import PrintPlan


def missing_writers() -> list[str]:
    """Return the table's formats without a writer, without importing writers."""
    return [key for key in formats() if find_spec(_module_of(key)) is None]


def _module_of(key: str) -> str:
    return f"{__package__}.{key}"


class Writer:
    """Checks, writes and verifies a plan's file in its format."""

    def __init__(self, plan: PrintPlan) -> None:
        self.plan = plan
        self.form = formats()[plan.file.format]

    def check(self) -> None:
        """Refuse a plan that the format cannot hold or this machine cannot write."""
        form, file, page = self.form, self.plan.file, self.plan.page
        samples = page.width * page.height * file.channels
        if form.key == "pdf":
            self._check_memory(file.bytes_estimate * 2 + (samples if file.pdf_jpeg else 0))
            return
        if file.channels == 4 and not form.cmyk:
            raise BadRequest(f"{form.key.upper()} cannot hold CMYK. Write a TIFF, a JPEG or a PDF.")
        if form.most_px is not None and max(page.width, page.height) > form.most_px:
            raise BadRequest(
                f"{form.key.upper()} can have at most {form.most_px} px per side; this print "
                f"is {page.width} × {page.height} px. Write a TIFF."
            )
        if form.whole:
            self._check_memory(samples * 2)

    def _check_memory(self, needed: int) -> None:
        if needed > 0.6 * memory_available():
            raise CannotDo(
                f"This {self.form.key.upper()} needs {size_in_bytes(needed)} of memory, more "
                "than this machine has free. Write a TIFF, which needs little."
            )

    def write(self, out: Outgoing, bands: Bands, icc: bytes, photo: Path) -> None:
        """Write the whole file with tags and metadata; may raise OSError.

        Parameters
        ----------
        bands : iterator of ndarray (rows, W, C), uint8 or uint16
            From the top, at the plan's size.
        icc : bytes
            Profile to embed.
        photo : Path
            The photo whose metadata is copied.
        """
        summed = Checksum(bands)
        self._module().write(out, iter(summed), self.plan, icc, photo)
        out.received = Received(icc, summed.value)

    def is_whole(self, file: BinaryIO) -> bool:
        """Return whether the file's structure is complete, without decoding it."""
        file.seek(0)
        try:
            return bool(self._module().is_whole(file, self.plan))
        except (ValueError, struct.error, IndexError):
            return False

    def _module(self) -> Any:
        """Return the format's module, imported on first use."""
        return import_module(_module_of(self.form.key))
