"""Dependencies of the size on later lines.

The user's frame gives the size its shape, and the size itself if none is requested; a sheet may set
the picture's size; the sheet may compensate a driver's overspill.
"""

from __future__ import annotations

from dataclasses import dataclass

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.file.watermark import Watermark, watermark_of
from zinc_margin.plan.finish.room import room_for


@dataclass(frozen=True)
class Ties:
    """The later lines' contributions to the Size line.

    Attributes
    ----------
    turned : Turned
        The upright picture, mirrored and rotated as the Crop line says.
    frame : Frame or None
        A frame drawn by the user.
    fills : bool
        Whether the picture fills the print; otherwise the whole picture is shown.
    shape : (int, int)
        Width and height that decide the orientation of the size.
    room : PrintSize or None
        The space on the sheet, if the picture takes its size from it.
    made_up : bool
        Whether the sheet compensates for a borderless driver's overspill.
    watermark : Watermark or None
        The File line's watermark, which needs a page.
    """

    turned: Turned
    frame: Frame | None
    fills: bool
    shape: tuple[int, int]
    room: PrintSize | None
    made_up: bool
    watermark: Watermark | None


def turned_picture(facts: Facts, docket: Docket) -> Turned:
    """Return the upright picture, mirrored and rotated as the docket says."""
    return Turned(facts.width, facts.height, docket.crop.turn, docket.crop.mirror)


def ties(facts: Facts, docket: Docket) -> Ties:
    """Return the later lines' contributions, needed before the size is known.

    Raises
    ------
    BadRequest
        If the frame extends outside the picture, or the sheet leaves no space.
    """
    turned = turned_picture(facts, docket)
    own = docket.crop.frame
    if own is not None and not turned.holds(own):
        box = turned.box
        raise BadRequest(
            f"The crop frame extends outside the picture, which is {float(box[0]):.6g} × "
            f"{float(box[1]):.6g} px after rotation."
        )
    fills = docket.crop.fit == "trim"
    shape = (turned.set_width, turned.set_height)
    if own is not None and fills:
        shape = int(own.width * 1000), int(own.height * 1000)
    room = room_for(docket.finish, docket.size, *shape)
    made_up = docket.finish.make_up
    return Ties(turned, own, fills, shape, room, made_up, watermark_of(docket.file))
