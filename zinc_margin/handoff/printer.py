"""Simulated devices: a printer's sheet and a projector's screen as pictures.

A file is placed as by a driver: at its tag's size in the middle of the sheet, or, borderless,
enlarged past every edge; unprintable edges stay white, and the paper blurs the picture.
"""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

import numpy as np
from PIL import Image

from zinc_margin.handoff.formats.bands import plain_picture
from zinc_margin.handoff.queues import Medium, Queue
from zinc_margin.keeping.files import save_whole
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.makers import Maker, find_maker, makers
from zinc_margin.measure.papers import find_paper, find_process, printed_sigma
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.pixels import Photo, read_photo
from zinc_margin.pixels.profile import print_blur
from zinc_margin.plan.size.orientation import lies_upright

MOST_SIDE = 12_000


@dataclass(frozen=True, eq=False)
class Printed:
    """A simulated sheet.

    Attributes
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
        Samples in the file's colours.
    paper : PrintSize
        The paper, as oriented.
    scale : float
        The driver's enlargement; 1 is true size.
    picture_mm : (float, float)
        Printed size of the picture, clipped at the paper's edge.
    """

    codes: Codes
    paper: PrintSize
    scale: float
    picture_mm: tuple[float, float]


def print_sheet(
    file: Photo,
    maker: Maker,
    paper: PrintSize,
    surface: str = "lustre",
    overspill_mm: Fraction | None = None,
    ppi: Fraction | None = None,
) -> Printed:
    """Simulate printing a file on a sheet.

    Parameters
    ----------
    file : Photo
        The file, read again.
    paper : PrintSize
        The sheet in the device.
    surface : str
        A shipped paper, which adds its blur.
    overspill_mm : Fraction, optional
        Borderless enlargement past each edge.
    ppi : Fraction, optional
        Resolution of the simulated sheet; by default the device's.

    Raises
    ------
    BadRequest
        If the file has no resolution and therefore no size.
    """
    facts = file.facts
    if facts.tag_x is None or facts.tag_y is None:
        raise BadRequest(f"{facts.path.name} has no resolution, so its print size is unknown.")
    width = facts.width / facts.tag_x * MM_PER_INCH
    height = facts.height / facts.tag_y * MM_PER_INCH
    paper = lies_upright(round_half_up(width * 1000), round_half_up(height * 1000), paper, "auto")
    fine = ppi or maker.native or maker.asks
    longest = max(paper.width_mm, paper.height_mm)
    fine = min(fine, MOST_SIDE * MM_PER_INCH / longest)
    per_mm = float(fine / MM_PER_INCH)
    scale = 1.0
    if overspill_mm is not None:
        goal = paper.width_mm + 2 * overspill_mm, paper.height_mm + 2 * overspill_mm
        scale = float(max(goal[0] / width, goal[1] / height))
    size = round(float(width) * scale * per_mm), round(float(height) * scale * per_mm)
    page = round(float(paper.width_mm) * per_mm), round(float(paper.height_mm) * per_mm)
    codes = file.codes
    sheet = np.full((page[1], page[0], codes.shape[2]), np.iinfo(codes.dtype).max, codes.dtype)
    shown = _resize(codes, size)
    left, top = (page[0] - size[0]) // 2, (page[1] - size[1]) // 2
    x0, y0 = max(0, left), max(0, top)
    x1, y1 = min(page[0], left + size[0]), min(page[1], top + size[1])
    sheet[y0:y1, x0:x1] = shown[y0 - top : y1 - top, x0 - left : x1 - left]
    if overspill_mm is None and maker.edges is not None:
        above, right, below, beside = (round(float(mm) * per_mm) for mm in maker.edges)
        white = np.iinfo(codes.dtype).max
        sheet[:above], sheet[page[1] - below :] = white, white
        sheet[:, :beside], sheet[:, page[0] - right :] = white, white
    sigma = printed_sigma(find_paper(surface).sigma_mm, find_process(maker.process)) * per_mm
    soft = print_blur(sheet, file.colour, sigma)
    return Printed(soft, paper, scale, ((x1 - x0) / per_mm, (y1 - y0) / per_mm))


def project(file: Photo, width: int, height: int) -> np.ndarray:
    """Simulate a projector of this many pixels: the file as it is, or scaled to fit, on black.

    Parameters
    ----------
    file : Photo
        The file, read again.
    """
    screen = np.zeros((height, width, file.codes.shape[2]), file.codes.dtype)
    codes = file.codes
    times = min(1.0, width / codes.shape[1], height / codes.shape[0])
    if times < 1:
        codes = _resize(codes, (round(codes.shape[1] * times), round(codes.shape[0] * times)))
    left, top = (width - codes.shape[1]) // 2, (height - codes.shape[0]) // 2
    screen[top : top + codes.shape[0], left : left + codes.shape[1]] = codes
    return screen


def _resize(codes: Codes, size: tuple[int, int]) -> np.ndarray:
    """Resample as drivers do: bicubic, channel by channel."""
    if (codes.shape[1], codes.shape[0]) == size:
        return codes
    if min(size) < 1:
        raise BadRequest("The file is too small to be visible on that sheet.")
    most = np.iinfo(codes.dtype).max
    planes = [
        Image.fromarray(codes[..., channel].astype(np.float32)).resize(
            size, Image.Resampling.BICUBIC
        )
        for channel in range(codes.shape[2])
    ]
    whole = np.stack([np.asarray(plane) for plane in planes], axis=2)
    return np.rint(np.clip(whole, 0, most)).astype(codes.dtype)


def write_picture(path: Path, codes: Codes, icc: bytes, ppi: float) -> None:
    """Write a simulated device's picture as PNG, whole or not at all.

    Parameters
    ----------
    codes : ndarray
        (H, W, C), uint8 or uint16.
    """
    if path.suffix.lower() != ".png":
        raise BadRequest(f"{path.name}: the simulated result must be a .png.")
    save_whole(path, plain_picture(codes, "png", ppi, icc))


def simulated_queues() -> tuple[Queue, ...]:
    """Return the printers of the shipped table in the form that real printers report."""
    return tuple(_queue(maker) for maker in makers() if maker.edges and maker.asks == maker.native)


def _queue(maker: Maker) -> Queue:
    assert maker.edges is not None
    sizes = [size for size in catalogue() if size.family in maker.families]
    media = tuple(Medium(size.width_mm, size.height_mm, maker.edges) for size in sizes)
    return Queue(
        maker.key,
        f"{maker.name} (simulated)",
        "ready",
        (),
        True,
        media,
        maker.papers,
        colour=True,
        simulated=True,
    )


def print_simulated(queue: Queue, page: Path, medium: Medium, kind: str | None, out: Path) -> None:
    """Print a page as a picture: at its size, without unprintable edges, blurred by the paper.

    Parameters
    ----------
    queue : Queue
        A simulated printer.
    page : Path
        An image file with its resolution.
    kind : str or None
        A shipped paper; None: the printer's default.
    out : Path
        Path of the picture, ``.png``.
    """
    file = read_photo(page, measured=False)
    maker = find_maker(queue.name)
    paper = PrintSize(medium.name, medium.width_mm, medium.height_mm)
    result = print_sheet(file, maker, paper, kind or maker.papers[0])
    ppi = result.codes.shape[1] / float(result.paper.width_mm / MM_PER_INCH)
    write_picture(out, result.codes, file.colour.icc, ppi)
