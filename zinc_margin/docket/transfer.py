"""Copy decisions from one print to another; some belong to the photo and stay."""

from __future__ import annotations

from collections.abc import Collection
from dataclasses import replace

from zinc_margin.docket.docket import Docket

PARTS: dict[str, str] = {
    "size": "Size",
    "paper": "Maker, paper, viewing distance and sharpening",
    "pixels": "Pixels",
    "finish": "Sheet and finish",
    "file": "File",
}
"""The parts that can be shared, with their names, in the order of the work."""


def with_parts(docket: Docket, source: Docket, parts: Collection[str] = ("size",)) -> Docket:
    """Return a docket with some of another docket's decisions.

    The photo keeps all others; see `for_photo`.

    Parameters
    ----------
    parts : collection of str
        Keys of `PARTS`.
    """
    size, file = docket.size, docket.file
    if "size" in parts:
        other = source.size
        size = replace(size, size=other.size, way=other.way, lie=other.lie)
        # The largest frame of the new shape, centred on the old one.
        docket = replace(docket, crop=replace(docket.crop, frame=None))
    if "paper" in parts:
        other = source.size
        size = replace(
            size,
            maker=other.maker,
            ppi=other.ppi,
            floor=other.floor,
            distance=other.distance,
            overspill_mm=other.overspill_mm,
            overspill_share=other.overspill_share,
        )
        docket = replace(docket, sharpen=source.sharpen)
    if "pixels" in parts:
        docket = replace(docket, pixels=source.pixels)
    if "finish" in parts:
        docket = replace(docket, finish=source.finish)
    if "file" in parts:
        file = replace(source.file, name=file.name, note=file.note)
    return replace(docket, size=size, file=file)


def for_photo(shared: Docket, own: Docket | None) -> Docket:
    """Return shared decisions, such as a preset's, for one photo.

    The photo keeps its measurements, background, rotation and mirroring; the frame becomes the
    largest one of the shared shape.

    Parameters
    ----------
    own : Docket or None
        The photo's own docket, if it has one.
    """
    before = own or Docket()
    crop = replace(shared.crop, frame=None, turn=before.crop.turn)
    if own is not None:
        crop = replace(crop, mirror=own.crop.mirror)
    return replace(shared, photo=before.photo, crop=crop)
