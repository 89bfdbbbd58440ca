"""Decode a photo: upright pixels in the stored depth."""

from __future__ import annotations

import warnings
from dataclasses import dataclass, replace
from pathlib import Path
from threading import Lock
from typing import TYPE_CHECKING
from weakref import WeakValueDictionary

import imagecodecs
import numpy as np
from PIL import Image

from zinc_margin.facts.facts import FLIPPED_ACROSS, FLIPPED_DOWN, SAMPLES, Facts
from zinc_margin.keeping.files import digest_of
from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo import avif, jpeg_xl, psd
from zinc_margin.photo import colour as colours
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import Colour
from zinc_margin.photo.fact_cache import recall, recall_same_content, remember
from zinc_margin.photo.header import Header, open_heif, pictures_in, read_header
from zinc_margin.photo.strips import inflate, is_deflated

if TYPE_CHECKING:
    import tifffile


@dataclass(frozen=True, eq=False)
class Photo:
    """A decoded photo.

    Attributes
    ----------
    facts : Facts
        Facts with measurements.
    codes : ndarray (H, W, C), uint8 or uint16, C-contiguous
        The upright picture in stored values; C is 1 or 3.
    colour : Colour
        The samples' colour space.
    alpha : ndarray (H, W) or None
        Opacity of a transparent photo, at the samples' depth; the samples are then blended onto
        white.
    """

    facts: Facts
    codes: Codes
    colour: Colour
    alpha: Codes | None = None


def read_photo(path: str | Path, measured: bool = True, page: int | None = None) -> Photo:
    """Decode a photo and measure it.

    Parameters
    ----------
    measured : bool
        False leaves measuring to `measured_photo`, unless measurements are cached.
    page : int, optional
        As for `read_header`.

    Raises
    ------
    BadRequest, CannotDo
        With one sentence; the file is never changed.
    """
    header = read_header(path, page)
    name = header.facts.path.name
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            codes, alpha = _decode(header)
    except CannotDo as why:
        raise CannotDo(f"{name}: {why}; the photo was not opened.") from None
    except MemoryError:
        raise CannotDo(
            f"{name} needs more memory than this machine has; it was not opened."
        ) from None
    except PermissionError:
        raise CannotDo(f"You don't have permission to read {header.facts.path}.") from None
    except Exception as why:  # decoders fail in their own ways on damaged files
        raise CannotDo(f"{name} is incomplete or damaged. Copy it again.") from why
    photo = Photo(recall(header.facts), codes, _colour(header), alpha)
    return measured_photo(photo) if measured else photo


def read_facts(path: str | Path, page: int | None = None) -> Facts:
    """Return a photo's facts with measurements; decode the pixels only if none are cached.

    Parameters
    ----------
    page : int, optional
        As for `read_header`.

    Raises
    ------
    BadRequest, CannotDo
        As for `read_photo`.
    """
    facts = recall(read_header(path, page).facts)
    return facts if facts.measured is not None else read_photo(path, page=page).facts


def measured_photo(photo: Photo) -> Photo:
    """Return the photo with measurements, new or cached.

    Raises
    ------
    CannotDo
        If its file has disappeared meanwhile.
    """
    if photo.facts.measured is not None:
        return photo
    path = photo.facts.path
    try:
        digest = digest_of(path)
    except OSError as why:
        raise CannotDo(f"{path} could not be read again: {why.strerror or why}.") from None
    with _measuring_of(digest):
        facts = recall_same_content(replace(photo.facts, digest=digest))
        if facts.measured is None:
            from zinc_margin.photo.measuring import measure  # loads large libraries

            facts = replace(facts, measured=measure(photo.codes, photo.colour))
        remember(facts)
    return replace(photo, facts=facts)


_measuring: WeakValueDictionary[str, Lock] = WeakValueDictionary()
_asking = Lock()


def _measuring_of(digest: str) -> Lock:
    """Return the lock of a file's measurement: a second request waits for the first result."""
    with _asking:
        return _measuring.setdefault(digest, Lock())


def _decode(header: Header) -> tuple[Codes, Codes | None]:
    facts = header.facts
    read = {
        "PNG": _from_png,
        "TIFF": _from_tiff,
        "AVIF": _from_avif,
        "JPEG XL": _from_jpeg_xl,
        "HEIF": _from_heif,
        "PSD": _from_psd,
    }
    codes = read.get(facts.format, _from_pillow)(header)
    if codes.ndim == 2:
        codes = codes[..., None]
    alpha = None
    if facts.alpha:
        alpha = np.ascontiguousarray(set_upright(codes[..., -1], facts.orientation))
        if alpha.min() == np.iinfo(codes.dtype).max:
            alpha = None
        codes = _flatten(codes, paper=0 if facts.kind == "CMYK" else np.iinfo(codes.dtype).max)
    channels = SAMPLES[facts.kind]
    if codes.shape[2] < channels or codes.dtype not in (np.uint8, np.uint16):
        raise ValueError("different from the header")
    codes = codes[..., :channels]
    if facts.profile_use == "converted":
        assert header.icc is not None
        codes = colours.through_tables(codes, header.icc, facts.kind)
    codes = np.ascontiguousarray(set_upright(codes, facts.orientation))
    if codes.shape[:2] != (facts.height, facts.width):
        raise ValueError("a different size from the header")
    if alpha is not None and alpha.dtype != codes.dtype:  # the profile's tables produced 16 bits
        alpha = colours.as_sixteen(alpha)
    return codes, alpha


def _colour(header: Header) -> Colour:
    facts = header.facts
    if facts.profile_use == "converted":
        return colours.wide_rgb()
    if facts.profile_use == "own":
        assert header.icc is not None
        return colours.from_icc(header.icc)
    return colours.plain_grey() if facts.kind == "grey" else colours.srgb()


def _from_pillow(header: Header) -> Codes:
    # Pass a stream: Pillow garbles a rotated TIFF that it maps into memory.
    with header.facts.path.open("rb") as file, Image.open(file) as image:
        if header.frame:
            image.seek(header.frame)
        goal = {"grey": "L", "RGB": "RGB", "CMYK": "CMYK"}[header.facts.kind]
        if header.facts.alpha:
            goal = "LA" if goal == "L" else "RGBA"
        return np.asarray(image if image.mode == goal else image.convert(goal))


def _from_avif(header: Header) -> Codes:
    if header.facts.bits == 8:
        return _from_pillow(header)
    channels = (1 if header.facts.kind == "grey" else 3) + header.facts.alpha
    path = header.facts.path
    return _deepen(avif.decode(path, channels), 2 ** avif.depth(path) - 1)


def _from_jpeg_xl(header: Header) -> Codes:
    return jpeg_xl.decode(header.facts.path)


def _from_psd(header: Header) -> Codes:
    path = header.facts.path
    return psd.composite(path, psd.master_of(path))


def _from_heif(header: Header) -> Codes:
    held = open_heif(header.facts.path)
    codes = np.asarray(held)
    depth = held.info["bit_depth"]
    if depth <= 8:
        return codes
    # Pillow shifts 10 or 12 bits to the top of 16.
    return _deepen(codes, (2**depth - 1) << (16 - depth))


def _deepen(codes: Codes, white: int) -> np.ndarray:
    """Return 16-bit samples, scaled so the file's white is white."""
    return ((codes.astype(np.uint32) * 65535 + white // 2) // white).astype(np.uint16)


def _from_png(header: Header) -> Codes:
    if header.facts.bits == 8:
        return _from_pillow(header)
    return np.asarray(imagecodecs.png_decode(header.facts.path.read_bytes()))


def _from_tiff(header: Header) -> Codes:
    import tifffile

    facts = header.facts
    if header.mode == "P":
        # Pillow rotates only TIFFs by itself.
        return _as_stored(_from_pillow(header), facts.orientation)
    with tifffile.TiffFile(facts.path) as tiff:
        page = pictures_in(tiff)[facts.page - 1]
        codes = _samples(page)
        if int(page.planarconfig) == 2 and codes.ndim == 3:
            codes = np.moveaxis(codes, 0, -1)
        if codes.ndim == 2:
            codes = codes[..., None]
        white_is_0 = int(page.photometric) == 0
    colour = codes[..., : SAMPLES[facts.kind]]
    at = header.alpha_at
    alpha = None if at is None else codes[..., at : at + 1]
    if alpha is not None and header.multiplied:
        colour = _unmultiply(colour, alpha)
    if white_is_0:
        colour = np.iinfo(codes.dtype).max - colour
    return colour if alpha is None else np.concatenate((colour, alpha), axis=2)


def _samples(page: tifffile.TiffPage) -> np.ndarray:
    try:
        return np.asarray(page.asarray())
    except imagecodecs.DeflateError:
        if not is_deflated(page):
            raise
        return inflate(page)


def _unmultiply(colour: np.ndarray, alpha: Codes) -> np.ndarray:
    """Divide premultiplied colours by their alpha."""
    top = np.iinfo(colour.dtype).max
    out = np.empty_like(colour)
    for part, seen, goal in zip(colour, alpha, out, strict=True):
        whole = part.astype(np.float32) * top / np.maximum(seen, 1)
        goal[...] = np.rint(np.minimum(whole, top))
    return out


def _flatten(codes: Codes, paper: int) -> np.ndarray:
    """Blend a picture with alpha onto white, in its own encoding."""
    top = np.iinfo(codes.dtype).max
    out = np.empty((*codes.shape[:2], codes.shape[2] - 1), codes.dtype)
    rows = max(1, 2_000_000 // codes.shape[1])
    for start in range(0, codes.shape[0], rows):
        part = codes[start : start + rows].astype(np.float32)
        alpha = part[..., -1:] / top
        out[start : start + rows] = np.rint(part[..., :-1] * alpha + paper * (1 - alpha))
    return out


def _as_stored(codes: np.ndarray, orientation: int) -> np.ndarray:
    """Undo `set_upright`."""
    down, across = orientation in FLIPPED_DOWN, orientation in FLIPPED_ACROSS
    codes = codes[:: -1 if down else 1, :: -1 if across else 1]
    return codes.swapaxes(0, 1) if orientation >= 5 else codes


def set_upright(codes: np.ndarray, orientation: int) -> np.ndarray:
    """Return a view of stored pixels, oriented as the EXIF flag specifies.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    orientation : int
        The EXIF flag, 1 to 8.
    """
    if orientation >= 5:
        codes = codes.swapaxes(0, 1)
    down, across = orientation in FLIPPED_DOWN, orientation in FLIPPED_ACROSS
    return codes[:: -1 if down else 1, :: -1 if across else 1]
