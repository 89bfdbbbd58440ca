"""Facts from a file's header, without decoding its pixels."""

from __future__ import annotations

import math
import warnings
from dataclasses import dataclass, replace
from fractions import Fraction
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PIL import Image, PngImagePlugin

from zinc_margin.facts.facts import SAMPLES, Facts
from zinc_margin.gate.files import check_is_file
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.resolution import HIGHEST_PPI
from zinc_margin.photo import avif, jpeg_xl, psd
from zinc_margin.photo.colour import profile_use
from zinc_margin.photo.jpeg_traces import quality_of
from zinc_margin.photo.limits import check_declared
from zinc_margin.photo.metadata import words_of
from zinc_margin.photo.named_colours import camera_profile, coded_profile
from zinc_margin.photo.subject import chosen_page

if TYPE_CHECKING:
    import tifffile

Image.MAX_IMAGE_PIXELS = None  # limits.py has our own limit
# A warning about a text chunk does not mean that the picture is damaged.
PngImagePlugin.MAX_TEXT_CHUNK = PngImagePlugin.MAX_TEXT_MEMORY = 256 * 2**20

_ORIENTATION, _X_RESOLUTION, _Y_RESOLUTION, _UNIT = 274, 282, 283, 296
_HEIF = tuple(b"ftyp" + brand for brand in (b"heic", b"heix", b"heim", b"heis", b"mif1", b"msf1"))
_AVIF = (b"ftypavif", b"ftypavis")
_NAMES = {"WEBP": "WebP", "MPO": "JPEG"}
"""Our names where Pillow's differ; an MPO is a JPEG with a second picture after the first."""
_GREY_WITH_ALPHA = 4
"""PNG's colour type for grey with alpha (ISO/IEC 15948, 11.2.2)."""
_MULTIPLIED, _STRAIGHT = 1, 2
"""TIFF's extra samples that are alpha (TIFF 6.0, page 31)."""
_SUBFILE = 254
_LAYERS = 37724
"""The TIFF tag for layers, which accompany the composite picture."""
_MOST_PAGES = 500  # a TIFF with more pages is refused rather than searched for minutes
_PER_INCH = {2: Fraction(1), 3: Fraction(254, 100)}
_KINDS = {
    "1": "grey",
    "L": "grey",
    "LA": "grey",
    "I;16": "grey",
    "I;16B": "grey",
    "I": "grey",
    "P": "RGB",
    "PA": "RGB",
    "RGB": "RGB",
    "RGBA": "RGB",
    "YCbCr": "RGB",
    "CMYK": "CMYK",
}


@dataclass(frozen=True)
class Header:
    """Facts, and the data needed to decode the pixels.

    Attributes
    ----------
    facts : Facts
    icc : bytes or None
    mode : str
    frame : int
        Index among all pages of the file, from 0.
    alpha_at : int or None
        Index of the alpha sample in a TIFF pixel.
    multiplied : bool
        Whether the colours are premultiplied by alpha.
    """

    facts: Facts
    icc: bytes | None
    mode: str
    frame: int = 0
    alpha_at: int | None = None
    multiplied: bool = False


def read_header(path: str | Path, page: int | None = None) -> Header:
    """Read a photo's header.

    Parameters
    ----------
    page : int, optional
        Page of a multi-page file, from 1; by default the one chosen before, else the first.

    Raises
    ------
    BadRequest
        If the file or page does not exist, or it is a folder.
    CannotDo
        If it is unsupported, damaged, or reading is not permitted.
    """
    path = Path(path)
    try:
        check_is_file(path)
        file_bytes = path.stat().st_size
        with path.open("rb") as file:
            start = file.read(16)
    except FileNotFoundError:
        raise BadRequest(f"There is no file {path}.") from None
    except PermissionError:
        raise CannotDo(f"You don't have permission to read {path}.") from None
    except OSError as why:
        raise CannotDo(f"{path} could not be read: {why.strerror or why}.") from None
    if not start:
        raise CannotDo(f"{path.name} is empty (0 bytes). Copy it again from its source.")
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            if start[:2] in (b"II", b"MM") and start[2:4] in (b"*\0", b"\0*", b"+\0", b"\0+"):
                return _with_words(_tiff(path, file_bytes, page))
            if page not in (None, 1):
                raise BadRequest(f"{path.name} has only one page, so there is no page {page}.")
            webp = start[:4] == b"RIFF" and start[8:12] == b"WEBP"
            if start.startswith((b"\xff\x0a", b"\0\0\0\x0cJXL ")):
                return _with_words(_jpeg_xl(path, file_bytes))
            if start.startswith(psd.MARK):
                return _with_words(_psd(path, file_bytes))
            if start[4:12] in _HEIF:
                return _with_words(_heif(path, file_bytes))
            known = (b"\xff\xd8\xff", b"\x89PNG\r\n\x1a\n")
            if webp or start[4:12] in _AVIF or start.startswith(known):
                return _with_words(_pillow(path, file_bytes))
    except (CannotDo, BadRequest):
        raise
    except MemoryError:
        raise CannotDo(
            f"{path.name} needs more memory than this machine has; it was not opened."
        ) from None
    except Exception as why:  # decoders fail in their own ways on damaged files
        raise CannotDo(f"{path.name} is damaged and could not be read. Copy it again.") from why
    raise CannotDo(
        f"{path.name} is not a JPEG, PNG, TIFF, PSD, WebP, AVIF, HEIF or JPEG XL picture. "
        "Save it in one of these formats."
    )


def _with_words(header: Header) -> Header:
    """Return a header with the photo's title, author and date from its metadata."""
    return replace(header, facts=replace(header.facts, said=words_of(header.facts.path)))


def _sane(value: Any) -> Fraction | None:
    """Return a stored resolution, or None for nonsense (0, 1/0, not a number, absurd)."""
    try:
        if isinstance(value, tuple):
            exact = Fraction(int(value[0]), int(value[1]))
        elif hasattr(value, "numerator") and hasattr(value, "denominator"):
            exact = Fraction(int(value.numerator), int(value.denominator))
        else:
            number = float(value)
            exact = Fraction(number) if math.isfinite(number) else Fraction(0)
    except (TypeError, ValueError, ZeroDivisionError, OverflowError):
        return None
    return exact if 0 < exact <= HIGHEST_PPI * 100 else None


def _orientation(value: Any) -> int:
    return value if isinstance(value, int) and 1 <= value <= 8 else 1


def _facts(
    path: Path,
    file_bytes: int,
    icc: bytes | None,
    size: tuple[int, int],
    tags: tuple[Any, Any],
    **known: Any,
) -> Facts:
    width, height = size
    if width < 1 or height < 1:
        raise CannotDo(f"{path.name} is damaged: its header says that it has no pixels.")
    profile, use = profile_use(icc, known["kind"])
    if known["kind"] == "CMYK" and use != "converted":
        state = "its profile is damaged" if use == "damaged" else "it has no profile"
        raise CannotDo(
            f"{path.name} is CMYK and {state}, so its colours are unknown. Convert it to RGB "
            "in the program that made it."
        )
    tag_x, tag_y = _sane(tags[0]), _sane(tags[1])
    if known["orientation"] >= 5:
        width, height, tag_x, tag_y = height, width, tag_y, tag_x
    return Facts(
        path=path,
        width=width,
        height=height,
        profile=profile,
        profile_use=use,
        tag_x=tag_x,
        tag_y=tag_y,
        file_bytes=file_bytes,
        **known,
    )


def _pillow(path: Path, file_bytes: int) -> Header:
    with Image.open(path) as image:
        mode = image.mode
        if mode not in _KINDS:
            raise CannotDo(f"{path.name} has {mode} pixels, which are not supported.")
        kind, form = _KINDS[mode], _NAMES.get(str(image.format), str(image.format))
        bits = 16 if mode.startswith("I") else 8
        if form == "PNG" and mode in ("RGB", "RGBA", "LA"):
            # Pillow reports 16-bit RGB, and 16-bit grey with alpha, as plain RGB.
            with path.open("rb") as file:
                depth, colours = file.read(26)[24:26]
            bits = 16 if depth == 16 else 8
            kind = "grey" if colours == _GREY_WITH_ALPHA else kind
        if form == "AVIF" and avif.depth(path) > 8:
            bits = 16
        channels = SAMPLES[kind]
        alpha = mode.endswith("A") or "transparency" in image.info
        check_declared(
            path, *image.size, channels * bits // 8 + (bits // 8 if alpha else 0), file_bytes
        )
        exif = image.getexif()
        tags = _of_exif(exif)
        if None in tags:
            tags = _tag_of(image, form)
        icc = image.info.get("icc_profile")
        if kind == "RGB" and (form == "PNG" or (form == "AVIF" and icc is None)):
            icc = coded_profile(path) or icc
        if kind == "RGB" and form == "JPEG" and icc is None:
            icc = camera_profile(exif)
        facts = _facts(
            path,
            file_bytes,
            icc,
            image.size,
            tags,
            format=form,
            bits=bits,
            kind=kind,
            alpha=alpha,
            orientation=_orientation(exif.get(_ORIENTATION)),
            jpeg_quality=quality_of(getattr(image, "quantization", {}).get(0, ())),
        )
        return Header(facts, icc, mode)


def _jpeg_xl(path: Path, file_bytes: int) -> Header:
    stream = jpeg_xl.stream_of(path)
    if stream.real:
        raise CannotDo(
            f"{path.name} has floating-point pixels, which are not supported. Save it with 16 bits."
        )
    kind, bits = "grey" if stream.grey else "RGB", 8 if stream.bits <= 8 else 16
    size = stream.width, stream.height
    check_declared(path, *size, (SAMPLES[kind] + stream.alpha) * bits // 8, file_bytes)
    icc = jpeg_xl.profile_of(path, stream)
    facts = _facts(
        path,
        file_bytes,
        icc,
        size,
        _of_exif(jpeg_xl.exif_of(path)),
        format="JPEG XL",
        bits=bits,
        kind=kind,
        alpha=stream.alpha,
        orientation=1,
    )
    return Header(facts, icc, "jxl")


def _psd(path: Path, file_bytes: int) -> Header:
    master = psd.master_of(path)
    size = master.width, master.height
    samples = SAMPLES[master.kind] + master.alpha
    check_declared(path, *size, samples * master.bits // 8, file_bytes)
    facts = _facts(
        path,
        file_bytes,
        master.icc,
        size,
        master.ppi,
        format="PSD",
        bits=master.bits,
        kind=master.kind,
        alpha=master.alpha,
        orientation=1,
        layered=master.layered,
    )
    return Header(facts, master.icc, "psd")


def _heif(path: Path, file_bytes: int) -> Header:
    held = open_heif(path)
    kind = _KINDS.get(held.mode.split(";")[0])
    if kind is None:
        raise CannotDo(f"{path.name} has {held.mode} pixels, which are not supported.")
    bits = 16 if held.info["bit_depth"] > 8 else 8
    alpha = held.mode.split(";")[0].endswith("A")
    check_declared(path, held.size[0], held.size[1], (3 + alpha) * bits // 8, file_bytes)
    icc = held.info.get("icc_profile")
    if icc is None and kind == "RGB":
        icc = coded_profile(path)
    facts = _facts(
        path,
        file_bytes,
        icc,
        held.size,
        (None, None),
        format="HEIF",
        bits=bits,
        kind=kind,
        alpha=alpha,
        orientation=1,
    )
    return Header(facts, icc, "heif")


def open_heif(path: Path) -> Any:
    """Return a HEIF's main picture in its own bit depth, rotated as its boxes specify."""
    import pillow_heif  # a large library that few photos need

    with path.open("rb") as file:  # pass bytes: the library mishandles some paths
        held = pillow_heif.open_heif(file.read(), convert_hdr_to_8bit=False)
    return held[held.primary_index]


def _of_exif(exif: Image.Exif) -> tuple[Fraction | None, Fraction | None]:
    """Return the resolution stored in EXIF, in pixels per inch."""
    return _per_inch(exif.get(_UNIT, 2), exif.get(_X_RESOLUTION), exif.get(_Y_RESOLUTION))


def _per_inch(unit: Any, across: Any, down: Any) -> tuple[Fraction | None, Fraction | None]:
    scale = _PER_INCH.get(unit)
    x, y = (
        None if scale is None or noted is None else noted * scale
        for noted in (_sane(across), _sane(down))
    )
    return x, y


def _tag_of(image: Image.Image, form: str) -> tuple[Fraction | None, Fraction | None]:
    """Return the resolution stored in JFIF or pHYs."""
    if form == "JPEG":
        unit = {1: Fraction(1), 2: Fraction(254, 100)}.get(image.info.get("jfif_unit", 0))
        density = image.info.get("jfif_density")
        if unit is None or density is None:
            return None, None
        return tuple(_sane(part * unit) for part in density)  # type: ignore[return-value]
    noted = image.info.get("dpi")
    return (_sane(round(noted[0], 4)), _sane(round(noted[1], 4))) if noted else (None, None)


def pictures_in(tiff: tifffile.TiffFile) -> list[tifffile.TiffPage]:
    """Return the picture pages of a TIFF, without thumbnails and reduced copies."""
    import tifffile

    rows: list[tifffile.TiffPage] = []
    for at in range(min(len(tiff.pages), _MOST_PAGES)):
        page = tiff.pages.get(at)
        if not isinstance(page, tifffile.TiffPage):
            continue
        small = int(page.tags.valueof(_SUBFILE, 0) or 0) & 1
        if not small or not at:
            rows.append(page)
    return rows


def _tiff(path: Path, file_bytes: int, asked: int | None) -> Header:
    import tifffile

    with tifffile.TiffFile(path) as tiff:
        pictures = pictures_in(tiff)
        if not pictures:
            raise CannotDo(f"{path.name} contains no picture.")
        number = asked or chosen_page(path) or 1
        if number > len(pictures):
            held = "one page" if len(pictures) == 1 else f"{len(pictures)} pages"
            raise BadRequest(f"{path.name} has {held}, so there is no page {number}.")
        page = pictures[number - 1]
        tags = page.tags
        photometric = int(page.photometric)
        samples = page.samplesperpixel
        kinds = {0: "grey", 1: "grey", 2: "RGB", 3: "RGB", 5: "CMYK", 6: "RGB"}
        if photometric not in kinds or page.sampleformat not in (1, None):
            raise CannotDo(
                f"{path.name} is not 8- or 16-bit grey, RGB or CMYK. Save it as one of these."
            )
        kind = kinds[photometric]
        own = 1 if photometric == 3 else SAMPLES[kind]
        extra = [int(each) for each in page.extrasamples]
        says = [each for each in extra if each in (_MULTIPLIED, _STRAIGHT)]
        alpha_at = own + extra.index(says[0]) if says else None
        if page.bitspersample not in (1, 8, 16):
            bits = page.bitspersample
            raise CannotDo(f"{path.name} has {bits} bits per sample. Save it with 8 or 16.")
        bits = 16 if page.bitspersample == 16 and photometric != 3 else 8
        check_declared(path, page.imagewidth, page.imagelength, samples * bits // 8, file_bytes)
        icc = page.iccprofile
        noted = _per_inch(
            int(tags.valueof(_UNIT, 2) or 2),
            tags.valueof(_X_RESOLUTION),
            tags.valueof(_Y_RESOLUTION),
        )
        facts = _facts(
            path,
            file_bytes,
            icc,
            (page.imagewidth, page.imagelength),
            noted,
            format="TIFF",
            bits=bits,
            kind=kind,
            alpha=alpha_at is not None,
            page=number,
            pages=len(pictures),
            layered=_LAYERS in tags,
            orientation=_orientation(int(tags.valueof(_ORIENTATION, 1) or 1)),
        )
        mode = (
            "P"
            if photometric in (3, 6) or page.bitspersample == 1
            else f"photometric {photometric}"
        )
        multiplied = bool(says) and says[0] == _MULTIPLIED
        return Header(facts, icc, mode, page.index, alpha_at, multiplied)
