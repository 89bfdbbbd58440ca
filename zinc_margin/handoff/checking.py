"""Check a file against a lab's terms, with other readers than the libraries that wrote it."""

from __future__ import annotations

import io
import math
import re
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

from PIL import Image

from zinc_margin.gate.files import check_is_file
from zinc_margin.handoff.labs import Lab
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, CannotDo, ZincError
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo import jpeg_xl, psd
from zinc_margin.photo.limits import check_declared
from zinc_margin.plan.file.colours import profile_name
from zinc_margin.plan.model import PrintPlan


@dataclass(frozen=True)
class Finding:
    """A lab's objection to a file, and its remedy."""

    code: str
    text: str
    way: str


@dataclass(frozen=True)
class Seen:
    """A file's properties as read by a lab.

    Attributes
    ----------
    format : str
    width, height, bits, bytes : int
    profile : str or None
    space : str
    ppi : float or None
        From its tag.
    """

    format: str
    width: int
    height: int
    bits: int
    bytes: int
    profile: str | None
    space: str
    ppi: float | None


_JPEG_XL = (b"\xff\x0a", b"\0\0\0\x0cJXL ")
_AVIF = (b"avif", b"avis")
_FORMS = {"mpo": "jpeg"}
"""Formats whose reader uses another name."""
_PNG_DEPTH = 24
"""Offset of the bit depth in a PNG's first chunk (ISO/IEC 15948, 11.2.2)."""


def read_as_lab(path: Path) -> Seen:
    """Read a file completely, as a lab does, with the libraries' own readers.

    Raises
    ------
    BadRequest
        If it is incomplete or damaged.
    """
    import pikepdf

    try:
        check_is_file(path)
        size = path.stat().st_size
        with path.open("rb") as file:
            head = file.read(26)
        if head[:4] in (b"II*\0", b"MM\0*", b"II+\0", b"MM\0+"):
            return _seen_tiff(path, size)
        if head[:5] == b"%PDF-":
            with pikepdf.open(path, attempt_recovery=False) as pages:
                pages.pages[0]
            return Seen("pdf", 0, 0, 8, size, None, "", None)
        if head.startswith(psd.MARK):
            held = psd.master_of(path)
            check_declared(path, held.width, held.height, 8, size)
            try:
                psd.composite(path, held)
            except CannotDo as why:
                raise CannotDo(f"{path.name}: {why}.") from None
            return Seen(
                "psd",
                held.width,
                held.height,
                held.bits,
                size,
                _profile_name(held.icc),
                held.kind,
                _ppi(held.ppi[0]),
            )
        if head.startswith(_JPEG_XL):
            import pillow_jxl  # noqa: F401 - Pillow then reads JPEG XL, whole as soon as it opens it

            stream = jpeg_xl.stream_of(path)
            check_declared(path, stream.width, stream.height, 4, size)
        if head[4:8] == b"ftyp" and head[8:12] not in _AVIF:
            import pillow_heif  # as for HEIF

            pillow_heif.register_heif_opener()
        with Image.open(path) as image:
            check_declared(path, *image.size, 4, size)
            image.load()
            form = str(image.format or "").lower()
            form = _FORMS.get(form, form)
            bits = 16 if image.mode.startswith("I") else 8
            if form == "png":
                # the file's own depth, even if the reader reduced it
                bits = 16 if head[_PNG_DEPTH] == 16 else 8
            icc = image.info.get("icc_profile")
            noted = image.info.get("dpi")
            space = {"L": "grey", "I": "grey", "CMYK": "CMYK"}.get(
                image.mode.partition(";")[0], "RGB"
            )
            return Seen(
                form,
                image.width,
                image.height,
                bits,
                size,
                _profile_name(icc),
                space,
                _ppi(*noted) if noted else None,
            )
    except ZincError:
        raise
    except FileNotFoundError:
        raise BadRequest(f"There is no file {path}.") from None
    except MemoryError:
        raise CannotDo(
            f"{path.name} needs more memory than this machine has; it was not read."
        ) from None
    except Exception as why:  # readers fail in their own ways on damaged files
        raise BadRequest(f"{path.name} is incomplete or damaged ({type(why).__name__}).") from None


def _ppi(value: Any, *more: Any) -> float | None:
    """Return a stored resolution, or None for nonsense."""
    try:
        ppi = float(value)
    except (TypeError, ValueError, ZeroDivisionError, OverflowError):
        return None
    return ppi if 0 < ppi < 1e6 else None


def _seen_tiff(path: Path, size: int) -> Seen:
    import tifffile

    with tifffile.TiffFile(path) as file:
        page = file.pages[0]
        assert isinstance(page, tifffile.TiffPage)
        wide, high = int(page.imagewidth), int(page.imagelength)
        if wide < 1 or high < 1 or math.prod(page.chunked) > size:
            raise ValueError("more than the file can hold")
        check_declared(path, wide, high, page.samplesperpixel * page.bitspersample // 8 or 1, size)
        for _ in page.segments():  # to the last strip
            pass
        tags = page.tags
        icc = tags.valueof(34675)
        noted = tags.valueof(282)
        ppi = None
        if isinstance(noted, tuple) and len(noted) == 2 and noted[1]:
            ppi = _ppi(noted[0] / noted[1] * (2.54 if tags.valueof(296) == 3 else 1))
        space = {5: "CMYK", 0: "grey", 1: "grey"}.get(int(page.photometric), "RGB")
        bits = int(page.dtype.itemsize * 8) if page.dtype is not None else 8
        return Seen(
            "tiff", page.imagewidth, page.imagelength, bits, size, _profile_name(icc), space, ppi
        )


def _profile_name(icc: bytes | None) -> str | None:
    from PIL import ImageCms

    if not icc:
        return None
    try:
        profile = ImageCms.ImageCmsProfile(io.BytesIO(icc))
        return str(ImageCms.getProfileDescription(profile)).strip() or "unnamed"
    except Exception:  # a damaged profile can raise almost anything
        return "unreadable"


def check(path: Path, lab: Lab, ordered: PrintSize | None = None) -> list[Finding]:
    """Return a lab's objections to a file; empty if it is accepted.

    Parameters
    ----------
    ordered : PrintSize, optional
        The ordered size; by default from the file's tag.
    """
    try:
        file = read_as_lab(path)
    except ZincError as why:
        return [Finding("unreadable", str(why), "Make the file again.")]
    return findings_of(file, path.stem, lab, ordered)


def check_plan(plan: PrintPlan, name: str, lab: Lab) -> list[Finding]:
    """Return a lab's objections to a planned file.

    Parameters
    ----------
    name : str
        The file's name without suffix.
    """
    page, file = plan.page, plan.file
    space = {1: "grey", 3: "RGB", 4: "CMYK"}[file.channels]
    will = Seen(
        file.format,
        page.width,
        page.height,
        file.bits,
        file.bytes_estimate,
        profile_name(plan),
        space,
        float(page.ppi),
    )
    bleed = plan.sheet.bleed_mm if plan.sheet is not None else 0
    ordered = plan.size
    if plan.sheet is not None and not bleed:
        ordered = PrintSize("", page.width_mm, page.height_mm)
    findings = findings_of(will, name, lab, ordered)
    if lab.enlarges and (plan.pixels.choice != "keep" or plan.sharpen is not None):
        done = "sharpened" if plan.pixels.choice == "keep" else "resampled"
        findings.append(
            Finding(
                "not-own-pixels",
                f"It is {done}; {lab.name} needs the photo's own pixels.",
                "Choose the lab that enlarges as the maker.",
            )
        )
    return findings


def findings_of(file: Seen, stem: str, lab: Lab, ordered: PrintSize | None) -> list[Finding]:
    """Return the objections to a file that has been read.

    Parameters
    ----------
    stem : str
        The file's name without suffix.
    """
    rows = []
    if file.format not in lab.formats:
        takes = " or ".join(form.upper() for form in lab.formats)
        rows.append(
            Finding(
                "format",
                f"It is a {file.format.upper()}; {lab.name} accepts {takes}.",
                f"Write a {lab.formats[0].upper()}.",
            )
        )
    if file.bytes > lab.most_bytes:
        most = words.size_in_bytes(lab.most_bytes)
        rows.append(
            Finding(
                "bytes",
                f"It has {words.size_in_bytes(file.bytes)}; the limit is {most}.",
                f"Limit the file to {most}.",
            )
        )
    if re.fullmatch(lab.name_rule, stem) is None:
        rows.append(
            Finding(
                "name",
                f"{lab.name} does not accept the name “{stem}”.",
                "Use only letters, digits and hyphens.",
            )
        )
    if file.format == "pdf":
        return rows
    if file.bits not in lab.bits:
        depth = " or ".join(str(bits) for bits in lab.bits)
        rows.append(
            Finding(
                "bits",
                f"It has {file.bits} bits per sample; {depth} are accepted.",
                f"Write it with {lab.bits[0]} bits.",
            )
        )
    longest = max(file.width, file.height)
    if lab.most_px is not None and longest > lab.most_px:
        rows.append(
            Finding(
                "too-large",
                f"It is {longest} px long; the limit is {lab.most_px} px.",
                f"Limit it to {lab.most_px} px.",
            )
        )
    rows += _short_findings(file, lab)
    rows += _profile_findings(file, lab)
    rows += _size_findings(file, lab, ordered)
    return rows


def _short_findings(file: Seen, lab: Lab) -> list[Finding]:
    """Return by how much a file is below the lab's lower limits."""
    rows, longest = [], max(file.width, file.height)
    if lab.least_px is not None and longest < lab.least_px:
        text = (
            f"It is {longest} px long; at least {lab.least_px} px are required, "
            f"{lab.least_px - longest} px more."
        )
        rows.append(Finding("too-short", text, f"Resample it to {lab.least_px} px (long edge)."))
    least = lab.least_megapixels
    if least is not None and Fraction(file.width * file.height, 10**6) < least:
        own = Fraction(file.width * file.height, 10**6)
        wanted = words.trimmed_zeros(least, 2)
        text = (
            f"It has {words.trimmed_zeros(own, 2)} MP; at least {wanted} MP are required, "
            f"{words.trimmed_zeros(least - own, 2)} MP more."
        )
        rows.append(Finding("too-few-megapixels", text, f"Resample it to {wanted} MP."))
    if lab.least_bytes is not None and file.bytes < lab.least_bytes:
        own_size, wanted = (words.size_in_bytes(n) for n in (file.bytes, lab.least_bytes))
        more = words.size_in_bytes(lab.least_bytes - file.bytes)
        text = f"It has {own_size}; at least {wanted} are required, {more} more."
        way = "Raise the quality to 100." if file.format == "jpeg" else "Write more pixels."
        rows.append(Finding("too-light", text, way))
    return rows


def remedy(code: str, lab: Lab) -> dict[str, Any]:
    """Return the fields of the File line that resolve a finding; empty if it is impossible.

    Parameters
    ----------
    code : str
        A finding's code.
    """
    if code == "format":
        return {"format": lab.formats[0]}
    if code == "bits":
        return {"bits": lab.bits[0]}
    if code == "bytes":
        return {"max_bytes": lab.most_bytes}
    if code in ("profile", "no-profile") and lab.profiles:
        colour = {"sRGB": "srgb", "Wide RGB": "wide"}.get(lab.profiles[0])
        return {"colour": colour} if colour else {}
    return {}


def _profile_findings(file: Seen, lab: Lab) -> list[Finding]:
    accepted = " or ".join(lab.profiles)
    if file.profile is None:
        text = f"It has no colour profile; {accepted or 'one'} is required."
        return [Finding("no-profile", text, "Embed the profile.")]
    taken = not lab.profiles or any(name.lower() in file.profile.lower() for name in lab.profiles)
    taken = taken or (file.space == "CMYK" and "CMYK" in lab.profiles)
    if taken or (file.space == "grey" and "sRGB" in lab.profiles):
        return []
    text = f"Its colours are {file.profile}; {lab.name} prints only {accepted} correctly."
    return [Finding("profile", text, f"Convert it to {lab.profiles[0]}.")]


def _size_findings(file: Seen, lab: Lab, ordered: PrintSize | None) -> list[Finding]:
    if ordered is None:
        if file.ppi is None:
            return []
        width = Fraction(file.width) / Fraction(file.ppi).limit_denominator(1000) * MM_PER_INCH
        height = width * file.height / file.width
        ordered = PrintSize("", width, height)
    lying = ordered.lying(file.height > file.width)
    bleed = 2 * lab.bleed_mm
    wide, high = lying.width_mm + bleed, lying.height_mm + bleed
    rows = []
    off = abs(Fraction(file.width, file.height) / (wide / high) - 1)
    shown = words.pair(lying.width_mm, lying.height_mm, "cm")
    if off > lab.tolerance:
        with_bleed = f" with {words.small(lab.bleed_mm, 'cm')} of bleed" if bleed else ""
        rows.append(
            Finding(
                "shape",
                f"Its shape differs from {shown}{with_bleed} by {words.share(off)}.",
                "Crop it to the ordered size.",
            )
        )
    ppi = min(file.width / float(wide), file.height / float(high)) * 25.4
    least = lab.floor
    if ppi < float(least) * 0.999:
        rows.append(
            Finding(
                "pixels",
                f"It has {ppi:.0f} ppi at {shown}; the minimum is {float(least):g}.",
                f"Enlarge it to {float(lab.ppi):g} ppi, or order a smaller print.",
            )
        )
    return rows
