"""A picture of a print on the user's wall, to help people choose."""

from __future__ import annotations

from dataclasses import dataclass
from pathlib import Path

import numpy as np

from zinc_margin.handoff.formats.bands import plain_picture
from zinc_margin.handoff.names import check_goal
from zinc_margin.keeping.files import save_whole
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.room_marks import RoomMarks, Spot
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import srgb
from zinc_margin.photo.metadata import focal_px
from zinc_margin.photo.pixels import Photo, read_photo
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.hanging import hang
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.finish.own_wall import hang_print, usual_middle, view_of
from zinc_margin.plan.model import PrintPlan


@dataclass(frozen=True, eq=False)
class Room:
    """A photograph of a room.

    Attributes
    ----------
    path : Path
    codes : ndarray (H, W, 3), uint8
        sRGB, upright.
    marks : RoomMarks
        Empty marks for this photograph.
    """

    path: Path
    codes: Codes
    marks: RoomMarks


def read_room(path: Path) -> Room:
    """Read a photograph of a room."""
    photo = read_photo(path, measured=False)
    codes = to_srgb(photo, photo.codes)
    high, wide = codes.shape[:2]
    return Room(path, codes, RoomMarks(wide, high, focal_px=focal_px(path, wide, high)))


def to_srgb(photo: Photo, codes: Codes) -> np.ndarray:
    """Return a photo's samples (H, W, C) in sRGB, (H, W, 3) uint8.

    Parameters
    ----------
    photo : Photo
        The photo that defines their colour space.
    codes : ndarray
        (H, W, C), uint8 or uint16.
    """
    screen = Screen(photo.colour, codes.dtype).show(codes)
    return np.ascontiguousarray(screen[..., 2::-1])


def small_page(photo: Photo, small: PrintPlan) -> np.ndarray:
    """Render a plan's page for a screen, (H, W, 3) uint8, sRGB.

    Parameters
    ----------
    small : PrintPlan
        A plan for a small page.
    """
    page = page_of(photo, small)
    high, wide, _ = page.shape
    return to_srgb(photo, page.region(0, 0, wide, high))


def hang_in(
    codes: Codes, marks: RoomMarks, page: Codes, plan: PrintPlan, middle: Spot | None
) -> np.ndarray:
    """Hang a page in a room.

    Parameters
    ----------
    codes : ndarray
        The room, (H, W, 3), uint8, sRGB.
    marks : RoomMarks
        Marks on a picture of that size.
    page : ndarray
        (h, w, 3), uint8, sRGB.
    middle : Spot or None
        The print's centre, in pixels of the room.

    Raises
    ------
    BadRequest
        If the marks are insufficient.
    """
    view = view_of(marks)
    at = usual_middle(view, marks) if middle is None else view.on_wall(middle)
    return hang(codes, page, plan, hang_print(plan, view, at))


def write_hung(path: Path, codes: Codes, sources: tuple[Path, ...], overwrite: bool) -> None:
    """Write a room with its print as PNG, whole or not at all, without metadata.

    Parameters
    ----------
    codes : ndarray
        (H, W, 3), uint8, sRGB.
    sources : tuple of Path
        The photo's and the room's files, which are never overwritten.
    """
    if path.suffix.lower() != ".png":
        raise BadRequest(f"{path.name}: the picture of the wall must be a .png.")
    for source in sources:
        check_goal(source, path, overwrite)
    save_whole(path, plain_picture(codes, "png", None, srgb().icc))
