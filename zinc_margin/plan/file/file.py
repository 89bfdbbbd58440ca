"""The File line of a plan: format, colours and predicted bytes."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.file import FileLine
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.formats import formats
from zinc_margin.plan.file.colours import goal_colours, is_srgb
from zinc_margin.plan.file.prediction import pixel_bytes
from zinc_margin.plan.finish.page import Pieces, Sheet
from zinc_margin.plan.model import Plan
from zinc_margin.plan.parts import FileParts, Pixels, PixelsPart, Sharpening
from zinc_margin.plan.photo.photo import PhotoPart

_DOCKET_BYTES = 12_000
"""About the most that an embedded docket takes."""


def file_part(
    line: FileLine,
    facts: Facts,
    photo: PhotoPart,
    resampled: PixelsPart,
    sharpen: Sharpening | None,
    sheet: Sheet | None,
    pieces: Pieces | None,
) -> FileParts:
    """Return the File line's part of a plan; a plain TIFF's bytes are exact except for metadata.

    Parameters
    ----------
    photo, resampled : PhotoPart, PixelsPart
        Parts of the previous lines.
    sheet : Sheet or None
        None if the print has no sheet.
    """
    assert line.format is not None  # the maker's format, if the docket leaves it open
    form = formats()[line.format]
    lossy = form.lossy(line.lossless, line.pdf_jpeg)
    bits = 8 if lossy or form.screen else line.bits or facts.working_bits
    colour, channels = goal_colours(facts, line)
    pixels = resampled.pixels
    count = _pixels_written(pixels, sheet, pieces)
    known = photo.measured.coded if photo.measured is not None else None
    quality = line.quality if lossy else None
    copied = facts.said.copied_bytes if line.metadata != "none" else 0
    return FileParts(
        format=line.format,
        bits=bits,
        quality=line.quality,
        unlimited_bytes=copied
        + (_DOCKET_BYTES if line.embed else 0)
        + pixel_bytes(
            form,
            count * channels,
            bits,
            known,
            float(pixels.scale),
            0.0 if sharpen is None else sharpen.amount,
            quality,
            line.compression,
            line.subsampling,
            channels,
        ),
        channels=channels,
        max_bytes=line.max_bytes,
        colour=colour,
        is_srgb=colour == "srgb" or (colour == "own" and is_srgb(facts)),
        lossy=lossy,
        compression=line.compression,
        subsampling=line.subsampling,
        progressive=line.progressive,
        lossless=line.lossless,
        pdf_jpeg=line.pdf_jpeg,
        profile=line.profile,
        intent=line.intent,
        black_point=line.black_point,
        metadata=line.metadata,
        places=line.places,
        embeds=line.embed,
        printing_notes=line.printing_notes,
        folder=line.folder,
        name=line.name,
        folder_rule=line.folder_rule,
        rule=line.rule,
        project=line.project,
        note=line.note,
    )


def _pixels_written(pixels: Pixels, sheet: Sheet | None, pieces: Pieces | None) -> int:
    """Return the total number of pixels in all files."""
    width, height = pixels.width, pixels.height
    if sheet is not None:
        width, height = sheet.page.width, sheet.page.height
    if pieces is None:
        return width * height
    total = sum(piece.page.width * piece.page.height for piece in pieces.each)
    # As if all pieces together formed one box as wide as the whole.
    return width * -(-total // width)


_LEAST_SIDE = 16  # px; a byte limit never makes a picture smaller than this


def docket_with_fewer_pixels(plan: Plan, times: float) -> Docket | None:
    """Return a docket with fewer pixels each way for a print of the same size.

    Parameters
    ----------
    times : float
        Factor on the plan's pixels each way, above 0.

    Returns
    -------
    Docket or None
        None if no picture would remain.
    """
    ppi = plan.pixels.ppi * Fraction(times).limit_denominator(10**6)
    sides = plan.pixels.width * times, plan.pixels.height * times
    if min(sides) < _LEAST_SIDE or ppi < 1:
        return None
    docket = plan.settled
    return replace(
        docket,
        size=docket.size.at(plan.size, ppi),
        pixels=replace(docket.pixels, choice="resample"),
    )
