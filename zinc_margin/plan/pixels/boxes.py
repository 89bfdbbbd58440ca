"""The printed box of the picture, and its pixels in the file: kept or resampled."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.docket.crop import Frame
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.parts import CropPart, SizePart


def whole_pixels(turned: Turned, frame: Frame, ratio: Fraction) -> Frame:
    """Return the frame of whole pixels nearest to `frame`, for keeping pixels.

    One side is the frame's, rounded; the other follows the shape, rounded half up.

    Parameters
    ----------
    turned : Turned
        A rotation by quarters only.
    ratio : Fraction
        Width ÷ height.
    """
    across = Fraction(turned.set_width)
    down = Fraction(turned.set_height)
    width = min(across, max(Fraction(1), Fraction(round_half_up(frame.width))))
    height = Fraction(round_half_up(width / ratio))
    if frame.height >= frame.width or height > down:
        height = min(down, max(Fraction(1), Fraction(round_half_up(frame.height))))
        width = Fraction(round_half_up(height * ratio))
        if width > across:
            width = across
            height = Fraction(round_half_up(width / ratio))
    width, height = max(Fraction(1), min(width, across)), max(Fraction(1), min(height, down))
    left = min(across - width, max(Fraction(0), Fraction(round_half_up(frame.left))))
    top = min(down - height, max(Fraction(0), Fraction(round_half_up(frame.top))))
    return Frame(left, top, width, height)


def whole_scale(turned: Turned, frame: Frame, ratio: Fraction) -> Frame:
    """Return a frame of whole width and height around the centre of `frame`, inside the picture.

    For a rotated picture that is resampled at scale 1.

    Parameters
    ----------
    ratio : Fraction
        Width ÷ height.
    """
    width = max(1, frame.width.__floor__())
    height = max(1, round_half_up(width / ratio))
    if height > frame.height:
        height = max(1, frame.height.__floor__())
        width = max(1, min(round_half_up(height * ratio), frame.width.__floor__()))
    return Frame(
        frame.left + (frame.width - width) / 2,
        frame.top + (frame.height - height) / 2,
        Fraction(width),
        Fraction(height),
    )


@dataclass(frozen=True)
class Cut:
    """The printed box of the picture and its pixels in the file.

    Attributes
    ----------
    crop : Frame
        Box in the rotated picture; whole pixels if they are kept.
    picture : (int, int, int, int)
        Left, top, width, height in the file, in pixels.
    size : (int, int)
        Width and height of the file, in pixels.
    scale : Fraction
        Output ÷ source pixels, the same both ways.
    choice : str
        The resulting choice: ``keep``, ``reduce``, ``enlarge`` or ``turn``.
    """

    crop: Frame
    picture: tuple[int, int, int, int]
    size: tuple[int, int]
    scale: Fraction
    choice: str


def pixels_for(size: PrintSize, ppi: Fraction, fixed: str = "both") -> tuple[int, int]:
    """Return the pixels of a print at a resolution: each side rounded half up, at least 1.

    Parameters
    ----------
    fixed : str
        If only the ``width`` or ``height`` is requested, the other side is rounded at its tag.

    Examples
    --------
    >>> pixels_for(PrintSize("30 × 20 cm", Fraction(300), Fraction(200)), Fraction(300))
    (3543, 2362)
    """
    across, down = size.width_mm / MM_PER_INCH, size.height_mm / MM_PER_INCH
    width, height = max(1, round_half_up(across * ppi)), max(1, round_half_up(down * ppi))
    if fixed == "width":
        height = max(1, round_half_up(down * width / across))
    elif fixed == "height":
        width = max(1, round_half_up(across * height / down))
    return width, height


def keep(cropped: CropPart, size: PrintSize) -> Cut:
    """Keep every pixel: use a box of whole pixels, and a tag that makes the size exact.

    A picture rotated by other angles than 90° keeps its scale, but its pixels are resampled.
    """
    turned, frame, border = cropped.turned, cropped.frame, cropped.border_mm
    ratio = size.width_mm / size.height_mm
    choice = "keep" if turned.square else "turn"
    if not cropped.is_whole:
        crop = (whole_pixels if turned.square else whole_scale)(turned, frame, ratio)
        file_size = (int(crop.width), int(crop.height))
        return Cut(crop, (0, 0, *file_size), file_size, Fraction(1), choice)
    if not turned.square:
        frame = whole_scale(turned, frame, frame.width / frame.height)
    width, height = int(frame.width), int(frame.height)
    file_size = (
        max(width, round_half_up(height * ratio)),
        max(height, round_half_up(width / ratio)),
    )
    if border:
        per_mm = max(width / (size.width_mm - 2 * border), height / (size.height_mm - 2 * border))
        file_size = (round_half_up(size.width_mm * per_mm), round_half_up(size.height_mm * per_mm))
    picture = ((file_size[0] - width) // 2, (file_size[1] - height) // 2, width, height)
    return Cut(frame, picture, file_size, Fraction(1), choice)


def resample(cropped: CropPart, sized: SizePart, ppi: Fraction, choice: str) -> Cut:
    """Resample a box with exactly the output pixels' aspect ratio, so one scale serves both ways.

    Parameters
    ----------
    ppi : Fraction
        Value for the file.
    choice : str
        ``reduce`` or ``enlarge``; it becomes ``keep`` if nothing needs resampling.
    """
    turned, frame, whole = cropped.turned, cropped.frame, cropped.is_whole
    file_size = pixels_for(sized.size, ppi, sized.fixed)
    if not whole:
        picture = (0, 0, *file_size)
    else:
        edge = round_half_up(cropped.border_mm / MM_PER_INCH * ppi)
        room = max(1, file_size[0] - 2 * edge), max(1, file_size[1] - 2 * edge)
        scale = min(room[0] / frame.width, room[1] / frame.height)
        width = min(room[0], max(1, round_half_up(frame.width * scale)))
        height = min(room[1], max(1, round_half_up(frame.height * scale)))
        picture = ((file_size[0] - width) // 2, (file_size[1] - height) // 2, width, height)
    ratio = Fraction(picture[2], picture[3])
    if whole or not cropped.is_own:
        width_px, height_px = turned.largest(ratio)
        place = (Fraction(1, 2), Fraction(1, 2)) if whole else turned.place_of(frame)
        if not whole and turned.square:
            place = cropped.place
        crop = turned.placed(width_px, height_px, *place)
    else:
        width_px = min(frame.width, frame.height * ratio)
        crop = Frame(
            frame.left + (frame.width - width_px) / 2,
            frame.top + (frame.height - width_px / ratio) / 2,
            width_px,
            width_px / ratio,
        )
    scale = picture[2] / crop.width
    if scale == 1 and turned.square and crop.left % 1 == 0 and crop.top % 1 == 0:
        choice = "keep"
    return Cut(crop, picture, file_size, scale, choice)
