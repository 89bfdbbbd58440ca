"""Every format's writer, found by its key; and what is refused beforehand."""

from __future__ import annotations

import struct
from collections.abc import Callable
from functools import cache
from importlib import import_module
from importlib.util import find_spec
from pathlib import Path
from typing import BinaryIO, cast

from zinc_margin.handoff.formats.bands import Bands
from zinc_margin.handoff.outgoing import Outgoing
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.formats import Format, formats
from zinc_margin.measure.words import size_in_bytes
from zinc_margin.photo.limits import memory_available
from zinc_margin.plan.model import PrintPlan

Walk = Callable[[BinaryIO, PrintPlan], bool]
Write = Callable[[Outgoing, Bands, PrintPlan, bytes, Path], None]


def missing_writers() -> list[str]:
    """Return the formats of the table that nothing writes; their writers are not loaded."""
    return [key for key in formats() if find_spec(_module_of(key)) is None]


def _module_of(key: str) -> str:
    return f"{__package__}.{key}"


@cache
def writer(key: str) -> Write:
    """Return what writes a format, which is loaded when it is first used."""
    write: Write = import_module(_module_of(key)).write
    return write


def write(out: Outgoing, bands: Bands, plan: PrintPlan, icc: bytes, photo: Path) -> None:
    """Write a whole file, its tags and metadata in it.

    Parameters
    ----------
    bands : iterator of ndarray (rows, W, C), uint8 or uint16
        From the top, of the plan's size.
    icc : bytes
        Profile to embed.
    photo : Path
        Whose metadata is carried.

    Raises
    ------
    OSError
        When the disk refuses.
    """
    writer(plan.file.format)(out, bands, plan, icc, photo)


def is_whole(key: str, file: BinaryIO, plan: PrintPlan) -> bool:
    """Tell whether a file can be walked to its end, from part to part, without decoding it.

    Parameters
    ----------
    key : str
        Its format's.
    file : BinaryIO
        Open for reading.
    plan : PrintPlan
        What it has to hold.
    """
    walk = cast(Walk, import_module(_module_of(key)).is_whole)
    file.seek(0)
    try:
        return walk(file, plan)
    except (ValueError, struct.error, IndexError):
        return False


def check(plan: PrintPlan) -> None:
    """Refuse beforehand what a format cannot hold or this machine cannot write."""
    form, file = formats()[plan.file.format], plan.file
    width, height = plan.page.width, plan.page.height
    if file.format == "pdf":
        raw = width * height * file.channels if file.pdf_jpeg else 0
        _check_memory(plan, form, file.bytes_estimate * 2 + raw)
        return
    if file.channels == 4 and not form.cmyk:
        raise BadRequest(f"{form.key.upper()} holds no CMYK; write a TIFF, a JPEG or a PDF.")
    if form.most_px is not None and max(width, height) > form.most_px:
        raise BadRequest(
            f"{form.key.upper()} ends at {form.most_px} px a side and this print is "
            f"{width} × {height} px; write a TIFF."
        )
    if form.whole:
        _check_memory(plan, form, width * height * file.channels * 2)


def _check_memory(plan: PrintPlan, form: Format, needed: int) -> None:
    if needed > 0.6 * memory_available():
        raise CannotDo(
            f"A {form.key.upper()} of {plan.page.width} × {plan.page.height} px needs "
            f"{size_in_bytes(needed)} of memory, more than this machine can spare; write a TIFF, "
            "which needs little."
        )
