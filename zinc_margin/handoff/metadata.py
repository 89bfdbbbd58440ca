"""Metadata carried from the photo to the file, with Exiv2."""

from __future__ import annotations

import io
import struct
from contextlib import suppress
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np
import pyexiv2
from PIL import Image

from zinc_margin import __version__
from zinc_margin.handoff.places import old_pixels, place_keys
from zinc_margin.measure.tables import table
from zinc_margin.photo.metadata import ONE_AT_A_TIME, fields, metadata_of
from zinc_margin.plan.model import PrintPlan

_STRUCTURE = tuple(table("metadata")["structure"])
_STALE_XMP = tuple(table("metadata")["stale_xmp"])


NAMESPACE, PREFIX = "https://zinc-margin.example/ns/docket/1.0/", "zincmargin"
"""Our own XMP: one property, `docket`, the docket as JSON; see docs/json.md."""

_RIGHTS = frozenset(
    (
        "Exif.Image.Copyright",
        "Exif.Image.Artist",
        "Iptc.Application2.Copyright",
        "Iptc.Application2.Byline",
        "Iptc.Application2.Credit",
        "Xmp.dc.rights",
        "Xmp.dc.creator",
        "Xmp.xmpRights.Marked",
        "Xmp.xmpRights.WebStatement",
        "Xmp.xmpRights.UsageTerms",
        "Xmp.xmpRights.Owner",
        "Xmp.photoshop.Credit",
    )
)


def _carrier(photo: Path, plan: PrintPlan, form: str) -> bytes:
    """Return a tiny picture with the photo's EXIF, IPTC and XMP, corrected for a plan's file.

    Orientation is reset, pixel sizes and resolution are the file's own, and the thumbnail and the
    description of the old pixels are removed. If the photo's metadata is unreadable, the file has
    only its own. Exiv2 never processes the real file, because it rewrites files whole and ignores a
    full disk.
    """
    import tifffile

    tiny = io.BytesIO()
    if form == "TIFF":
        tifffile.imwrite(tiny, np.zeros((8, 8), np.uint8), metadata=None, software=False)
    else:
        Image.new("L", (8, 8)).save(tiny, form)
    with ONE_AT_A_TIME, pyexiv2.ImageData(tiny.getvalue()) as image:
        if plan.file.metadata != "none":
            with (
                suppress(RuntimeError, ValueError, UnicodeDecodeError),
                metadata_of(photo) as source,
            ):
                source.copy_to_another_image(
                    image, exif=True, iptc=True, xmp=True, comment=False, icc=False, thumbnail=False
                )
        try:
            _make_true(image, plan)
            result = bytes(image.get_bytes())
        except (RuntimeError, ValueError):
            result = b""
    if result and not _tells(result, plan):
        return result
    # If a part cannot be removed from the rest, remove the rest too.
    with ONE_AT_A_TIME, pyexiv2.ImageData(result or tiny.getvalue()) as image:
        _clear(image)
        _make_true(image, plan)
        return bytes(image.get_bytes())


def _tells(raw: bytes, plan: PrintPlan) -> bool:
    """Return whether forbidden metadata remains: Exiv2 does not always report a failed removal."""
    with ONE_AT_A_TIME, pyexiv2.ImageData(raw) as image:
        exif, iptc, xmp = (
            fields(read) for read in (image.read_exif, image.read_iptc, image.read_xmp)
        )
    if old_pixels(xmp):
        return True
    return not plan.file.places and bool(place_keys(exif, iptc, xmp))


def _make_true(image: pyexiv2.Image, plan: PrintPlan) -> None:
    """Remove metadata that must not be carried, and write the file's true values."""
    _kept_back(image, plan)
    _take_out_old_pixels(image)
    _write_tags(image, plan)


def _take_out_old_pixels(image: pyexiv2.Image) -> None:
    held = fields(image.read_xmp)
    stale = {key: None for key in held if key in _STALE_XMP} | old_pixels(held)
    if stale:
        image.modify_xmp(stale)


def _write_tags(image: pyexiv2.Image, plan: PrintPlan) -> None:
    tags: dict[str, str | None] = {
        key: None
        for key in fields(image.read_exif)
        if key.startswith(("Exif.Thumbnail.", "Exif.SubImage", "Exif.Image2.", "Exif.Iop."))
        or (key.startswith("Exif.Image.") and key.split(".")[2] in _STRUCTURE)
    }
    tags |= {
        "Exif.Image.Orientation": "1",
        "Exif.Image.XResolution": "/".join(map(str, plan.page.tag_x)),
        "Exif.Image.YResolution": "/".join(map(str, plan.page.tag_y)),
        "Exif.Image.ResolutionUnit": "2",
        "Exif.Image.Software": f"Zinc Margin {__version__}",
        # Some readers use this instead of the profile: 1 is sRGB, 65535 another space.
        "Exif.Photo.ColorSpace": "1" if plan.file.is_srgb else "65535",
        "Exif.Photo.PixelXDimension": str(plan.page.width),
        "Exif.Photo.PixelYDimension": str(plan.page.height),
    }
    image.modify_exif(tags)
    if plan.file.embeds:
        pyexiv2.registerNs(NAMESPACE, PREFIX)
        image.modify_xmp({f"Xmp.{PREFIX}.docket": plan.record.text()})


def _kept_back(image: pyexiv2.Image, plan: PrintPlan) -> None:
    """Remove metadata that must not be carried."""
    held = tuple(fields(read) for read in (image.read_exif, image.read_iptc, image.read_xmp))
    changes: list[dict[str, Any]]
    if plan.file.metadata == "copyright":
        changes = [{key: None for key in each if key not in _RIGHTS} for each in held]
        # Exiv2 cannot always remove nested properties.
        image.clear_xmp()
        changes[2] = {key: held[2][key] for key in held[2] if key in _RIGHTS}
    elif not plan.file.places:
        gone = place_keys(*held)
        changes = [{key: gone[key] for key in each if key in gone} for each in held]
    else:
        return
    for changed, modify in zip(
        changes, (image.modify_exif, image.modify_iptc, image.modify_xmp), strict=True
    ):
        if changed:
            modify(changed)


def _clear(image: pyexiv2.Image) -> None:
    image.clear_exif()
    image.clear_iptc()
    image.clear_xmp()


def blocks_of(photo: Path, plan: PrintPlan) -> tuple[bytes, bytes]:
    """Return the EXIF and XMP of a plan's file, for formats that Exiv2 cannot write."""
    with Image.open(io.BytesIO(_carrier(photo, plan, "JPEG"))) as image:
        return image.info.get("exif", b"").removeprefix(b"Exif\0\0"), image.info.get("xmp", b"")


_APP1, _APP13, _SCAN = 0xE1, 0xED, 0xDA


def segments(photo: Path, plan: PrintPlan) -> bytes:
    """Return EXIF, XMP and IPTC as JPEG segments to insert after the first segment."""
    raw, at, result = _carrier(photo, plan, "JPEG"), 2, b""
    while raw[at + 1] != _SCAN:
        end = at + 2 + struct.unpack_from(">H", raw, at + 2)[0]
        if raw[at + 1] in (_APP1, _APP13):
            result += raw[at:end]
        at = end
    return result


def chunks(photo: Path, plan: PrintPlan) -> bytes:
    """Return EXIF, XMP and IPTC as PNG chunks to insert after the header."""
    raw, at, result = _carrier(photo, plan, "PNG"), 8, b""
    while at < len(raw):
        end = at + 12 + struct.unpack_from(">I", raw, at)[0]
        if raw[at + 4 : at + 8] in (b"eXIf", b"iTXt", b"zTXt", b"tEXt"):
            result += raw[at:end]
        at = end
    return result


@dataclass(frozen=True)
class Tag:
    """One TIFF tag as stored in a file.

    Attributes
    ----------
    code, kind, count : int
    data : bytes
        Little-endian.
    """

    code: int
    kind: int
    count: int
    data: bytes


_SIZES = {1: 1, 2: 1, 3: 2, 4: 4, 5: 8, 6: 1, 7: 1, 8: 2, 9: 4, 10: 8, 11: 4, 12: 8, 13: 4}
_CARRIED = (270, 271, 272, 305, 306, 315, 700, 33432, 33723)
EXIF_IFD, GPS_IFD = 34665, 34853


def tiff_tags(photo: Path, plan: PrintPlan) -> tuple[list[Tag], dict[int, list[Tag]]]:
    """Return the tags and directories for a TIFF of this plan.

    Returns
    -------
    tags : list of Tag
        Tags of the picture's directory.
    directories : dict
        Tags of the EXIF and GPS directories.
    """
    raw = _carrier(photo, plan, "TIFF")
    if raw[:4] != b"II*\0":
        return [], {}
    top = _directory(raw, struct.unpack_from("<I", raw, 4)[0])
    own = [tag for tag in top if tag.code in _CARRIED]
    directories = {}
    for tag in top:
        if tag.code in (EXIF_IFD, GPS_IFD):
            inner = _directory(raw, struct.unpack("<I", tag.data)[0])
            # A nested pointer (interoperability) would be invalid in the new file.
            directories[tag.code] = [entry for entry in inner if entry.code != 40965]
    return own, directories


def _directory(raw: bytes, start: int) -> list[Tag]:
    (count,) = struct.unpack_from("<H", raw, start)
    rows = []
    for index in range(count):
        place = start + 2 + 12 * index
        code, kind, number = struct.unpack_from("<HHI", raw, place)
        size = _SIZES.get(kind, 0) * number
        at = place + 8 if size <= 4 else struct.unpack_from("<I", raw, place + 8)[0]
        data = raw[at : at + size]
        if data and len(data) == size:  # others are damaged, or of no kind that TIFF knows
            rows.append(Tag(code, kind, number, data))
    return rows


def pack_directory(tags: list[Tag], start: int, big: bool) -> bytes:
    """Lay out a directory at offset `start` of a little-endian TIFF (or BigTIFF).

    Parameters
    ----------
    big : bool
        Whether it is a BigTIFF, with 64-bit offsets.
    """
    head, entry, inline = ("<Q", "<HHQ", 8) if big else ("<H", "<HHI", 4)
    tags = sorted(tags, key=lambda tag: tag.code)
    size = struct.calcsize(head) + len(tags) * (struct.calcsize(entry) + inline) + inline
    table, values = struct.pack(head, len(tags)), b""
    for tag in tags:
        table += struct.pack(entry, tag.code, tag.kind, tag.count)
        if len(tag.data) <= inline:
            table += tag.data.ljust(inline, b"\0")
        else:
            table += struct.pack("<Q" if big else "<I", start + size + len(values))
            values += tag.data + bytes(len(tag.data) % 2)
    return table + bytes(inline) + values


def per_metre(tag: tuple[int, int]) -> int:
    """Return a resolution tag in whole pixels per metre, as PNG stores it.

    Parameters
    ----------
    tag : (int, int)
        Pixels per inch as a rational.
    """
    return round(Fraction(*tag) * Fraction(5000, 127))
