"""Decisions of one print taken over by another, part by part; what is the photo's own stays."""

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
"""What can go along, in the order of the work, and what it is called."""


def applied(docket: Docket, source: Docket, parts: Collection[str] = ("size",)) -> Docket:
    """Return a docket with parts of another one's decisions.

    Where the frame lies, how the picture is turned, what was measured of it, its file's name and
    its version are the photo's own.

    Parameters
    ----------
    parts : collection of str
        Keys of `PARTS`.
    """
    size, file = docket.size, docket.file
    if "size" in parts:
        other = source.size
        size = replace(size, size=other.size, way=other.way, lie=other.lie)
        # the largest frame of the new shape, kept where the old one sat
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
