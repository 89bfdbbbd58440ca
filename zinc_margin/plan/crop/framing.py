"""Move, resize and rotate the crop frame by hand."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.measure.ways import Way
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.model import Plan

SMALLEST = Fraction(8)
"""The least width of a frame, in pixels."""


FOLLOWING = frozenset(
    (
        "width",
        "height",
        "long-edge",
        "short-edge",
        "within",
        "scale",
        "megapixels",
        "within-px",
        "long-edge-px",
        "reach",
    )
)
"""Ways to give a size for which the print takes the frame's shape."""


CORNERS = ("top-left", "top-right", "bottom-left", "bottom-right")


SIDES = ("left", "right", "top", "bottom")


def is_free(docket: Docket) -> bool:
    """Return whether the frame's shape is free: no size is requested, or one that follows it."""
    line = docket.size
    return line.size is None and (line.way is None or line.way.kind in FOLLOWING)


def current_frame(plan: Plan) -> Frame:
    """Return the frame, of the print's exact shape, behind the plan's crop."""
    if plan.docket.crop.frame is not None and is_free(plan.docket):
        return plan.docket.crop.frame
    return plan.frame


def with_frame(plan: Plan, frame: Frame) -> Docket:
    """Return the docket with this frame: only its place if it is the largest, else the frame.

    Parameters
    ----------
    frame : Frame
        In px of the rotated picture.
    """
    turned, line = plan.turned, plan.docket.crop
    frame = turned.brought_inside(frame)
    if is_free(plan.docket):
        if turned.square:
            frame = _whole(frame, turned)
        whole = turned.square and (frame.width, frame.height) == turned.box
        free = whole and plan.docket.size.way is not None
        return replace(plan.docket, crop=replace(line, frame=None if free else frame))
    most, _ = turned.largest(frame.width / frame.height)
    if frame.width >= most * Fraction(9995, 10000):
        x, y = turned.place_of(frame)
        return replace(plan.docket, crop=replace(line, frame=None, place_x=x, place_y=y))
    return replace(plan.docket, crop=replace(line, frame=_tidy(frame, turned)))


def _tidy(frame: Frame, turned: Turned) -> Frame:
    """Return the frame rounded to a thousandth of a pixel, with its exact shape."""
    ratio = frame.width / frame.height
    left, top, width = (
        Fraction(round(part * 1000), 1000) for part in (frame.left, frame.top, frame.width)
    )
    return turned.brought_inside(Frame(left, top, width, width / ratio))


def _whole(frame: Frame, turned: Turned) -> Frame:
    """Return the nearest frame of whole pixels."""
    left, top = (max(0, round_half_up(side)) for side in (frame.left, frame.top))
    right = min(turned.set_width, round_half_up(frame.left + frame.width))
    bottom = min(turned.set_height, round_half_up(frame.top + frame.height))
    return Frame(
        Fraction(left),
        Fraction(top),
        Fraction(max(1, right - left)),
        Fraction(max(1, bottom - top)),
    )


def move(plan: Plan, frame: Frame, across: Fraction, down: Fraction) -> Frame:
    """Return the frame moved by this many source pixels, kept inside the picture.

    Parameters
    ----------
    frame : Frame
        In px of the rotated picture.
    across : Fraction
        Move to the right, in source pixels.
    down : Fraction
        Move down, in source pixels.
    """
    shifted = Frame(frame.left + across, frame.top + down, frame.width, frame.height)
    return plan.turned.brought_inside(shifted)


def snap(
    plan: Plan, frame: Frame, near: Fraction, mark: tuple[float, float] | None = None
) -> Frame:
    """Return a moved frame, snapped to nearby guides.

    Guides are the picture's edges, its centre and thirds (for the frame's centre) and the subject
    point, which snaps to the frame's thirds, centre or diagonals.

    Parameters
    ----------
    frame : Frame
        In px of the rotated picture.
    near : Fraction
        Snapping distance, in pixels of the picture.
    mark : (float, float), optional
        The subject point in the rotated picture.
    """
    box_w, box_h = plan.turned.box
    left = _drawn_to(frame.left, frame.width, box_w, near, mark and mark[0], plan.turned.square)
    top = _drawn_to(frame.top, frame.height, box_h, near, mark and mark[1], plan.turned.square)
    if mark is not None and (left, top) == (frame.left, frame.top):
        left, top = _to_diagonal(frame, mark, near)
    return plan.turned.brought_inside(Frame(left, top, frame.width, frame.height))


def _to_diagonal(
    frame: Frame, mark: tuple[float, float], near: Fraction
) -> tuple[Fraction, Fraction]:
    """Return the frame's corner for a diagonal through a point, if that is close."""
    x, y = (Fraction(round(at * 1000), 1000) for at in mark)
    across, down = (x - frame.left) / frame.width, (y - frame.top) / frame.height
    steep = 1 / frame.width**2 + 1 / frame.height**2
    best: tuple[Fraction, Fraction] | None = None
    shortest = near**2
    for off, sign in ((across - down, 1), (across + down - 1, -1)):
        # The shortest move is at right angles to the diagonal.
        by = off / frame.width / steep, -sign * off / frame.height / steep
        length = by[0] ** 2 + by[1] ** 2
        if length <= shortest:
            shortest, best = length, by
    if best is None:
        return frame.left, frame.top
    return frame.left + best[0], frame.top + best[1]


def _drawn_to(
    start: Fraction,
    length: Fraction,
    whole: Fraction,
    near: Fraction,
    mark: float | None,
    edges: bool,
) -> Fraction:
    rims = (Fraction(0), whole - length) if edges else ()
    for rim in rims:  # edges have priority over other guides
        if abs(rim - start) <= near:
            return rim
    goals = [whole * part - length / 2 for part in (Fraction(1, 2), Fraction(1, 3), Fraction(2, 3))]
    if mark is not None:
        at = Fraction(round(mark * 1000), 1000)
        goals += [at - length * part for part in (Fraction(1, 2), Fraction(1, 3), Fraction(2, 3))]
    nearest = min(goals, key=lambda goal: abs(goal - start))
    return nearest if abs(nearest - start) <= near else start


def stretch(plan: Plan, frame: Frame, grip: str, x: float, y: float, centre: bool = False) -> Frame:
    """Return the frame after dragging a corner or a side.

    The shape is kept unless it is free; the opposite corner or side stays, or the centre does.

    Parameters
    ----------
    frame : Frame
        In px of the rotated picture.
    grip : str
        One of `CORNERS` or `SIDES`.
    x, y : float
        In px of the rotated picture.
    centre : bool
        Whether the frame's centre stays, instead of the opposite corner or side.
    """
    px, py = Fraction(x).limit_denominator(1000), Fraction(y).limit_denominator(1000)
    free = is_free(plan.docket)
    if free and not centre:
        wanted = _free_pull(frame, grip, px, py)
        if plan.turned.square:
            return _cut(wanted, plan.turned)
        return _as_far(plan.turned, frame, wanted)

    def sized(width: Fraction, height: Fraction) -> Frame:
        return _resize_anchored(frame, grip, width, height, centre)

    width, height = _dragged_sides(frame, grip, px, py, centre)
    ratio = frame.width / frame.height
    if not free:
        if grip in ("top", "bottom"):
            width = height * ratio
        elif grip in CORNERS:
            width = max(width, height * ratio)
        width = max(SMALLEST, SMALLEST * ratio, width)
        return _largest_inside(
            plan.turned, lambda share: sized(width * share, width * share / ratio)
        )
    width, height = max(SMALLEST, width), max(SMALLEST, height)
    return _largest_inside(plan.turned, lambda share: sized(width * share, height * share))


def _dragged_sides(
    frame: Frame, grip: str, x: Fraction, y: Fraction, centre: bool
) -> tuple[Fraction, Fraction]:
    """Return the width and height after a drag, before the shape is restored."""
    right, bottom = frame.left + frame.width, frame.top + frame.height
    width, height = frame.width, frame.height
    times = 2 if centre else 1
    if "left" in grip:
        width = times * ((frame.left + frame.width / 2 if centre else right) - x)
    elif "right" in grip:
        width = times * (x - (frame.left + frame.width / 2 if centre else frame.left))
    if "top" in grip:
        height = times * ((frame.top + frame.height / 2 if centre else bottom) - y)
    elif "bottom" in grip:
        height = times * (y - (frame.top + frame.height / 2 if centre else frame.top))
    return width, height


def _resize_anchored(
    frame: Frame, grip: str, width: Fraction, height: Fraction, centre: bool
) -> Frame:
    """Return a resized frame whose anchor, opposite the grip, stays."""
    across = 0 if "left" in grip else 1 if "right" in grip else Fraction(1, 2)
    down = 0 if "top" in grip else 1 if "bottom" in grip else Fraction(1, 2)
    # The share of the growth that goes to the left and the top.
    grow_left = Fraction(1, 2) if centre or across == Fraction(1, 2) else Fraction(1 - across)
    grow_top = Fraction(1, 2) if centre or down == Fraction(1, 2) else Fraction(1 - down)
    return Frame(
        frame.left - (width - frame.width) * grow_left,
        frame.top - (height - frame.height) * grow_top,
        width,
        height,
    )


def _free_pull(frame: Frame, grip: str, x: Fraction, y: Fraction) -> Frame:
    left, top = frame.left, frame.top
    right, bottom = left + frame.width, top + frame.height
    if "left" in grip:
        left = min(x, right - SMALLEST)
    if "right" in grip:
        right = max(x, left + SMALLEST)
    if "top" in grip:
        top = min(y, bottom - SMALLEST)
    if "bottom" in grip:
        bottom = max(y, top + SMALLEST)
    return Frame(left, top, right - left, bottom - top)


def _cut(frame: Frame, turned: Turned) -> Frame:
    """Clip a frame to the edges of an upright picture."""
    left, top = max(Fraction(0), frame.left), max(Fraction(0), frame.top)
    right = min(Fraction(turned.set_width), frame.left + frame.width)
    bottom = min(Fraction(turned.set_height), frame.top + frame.height)
    return Frame(left, top, max(Fraction(1), right - left), max(Fraction(1), bottom - top))


def _as_far(turned: Turned, start: Frame, goal: Frame) -> Frame:
    """Return the frame as far from `start` (inside) towards `goal` as the picture allows."""

    def on_the_way(share: Fraction) -> Frame:
        pairs = zip(_parts(start), _parts(goal), strict=True)
        return Frame(*(one + (other - one) * share for one, other in pairs))

    return _largest_inside(turned, on_the_way)


def _parts(frame: Frame) -> tuple[Fraction, ...]:
    return frame.left, frame.top, frame.width, frame.height


def _largest_inside(turned: Turned, sized: Callable[[Fraction], Frame]) -> Frame:
    """Return `sized(share)` for the largest share up to 1 that is inside, found by bisection."""
    best = sized(Fraction(1))
    if turned.holds(best):
        return best
    low, high = Fraction(0), Fraction(1)
    for _ in range(40):
        middle = ((low + high) / 2).limit_denominator(10**9)
        if turned.holds(sized(middle)):
            low = middle
        else:
            high = middle
    return sized(max(low, Fraction(1, 10**6)))


def scale_frame(plan: Plan, frame: Frame, times: Fraction) -> Frame:
    """Return the frame scaled around its centre, and moved if necessary.

    Parameters
    ----------
    frame : Frame
        In px of the rotated picture.
    times : Fraction
        Scale factor.
    """
    most, _ = plan.turned.largest(frame.width / frame.height)
    least = min(frame.width, max(SMALLEST, SMALLEST * frame.width / frame.height))
    width = max(least, min(most, frame.width * times))
    height = width * frame.height / frame.width
    grown = Frame(
        frame.left + (frame.width - width) / 2,
        frame.top + (frame.height - height) / 2,
        width,
        height,
    )
    return plan.turned.brought_inside(grown)


def frame_between(plan: Plan, start: tuple[float, float], end: tuple[float, float]) -> Frame:
    """Return a new frame drawn from one point to another, in the print's shape unless free.

    Parameters
    ----------
    start : (float, float)
        Start, in px of the rotated picture.
    end : (float, float)
        End, in px of the rotated picture.
    """
    points = [
        tuple(Fraction(part).limit_denominator(1000) for part in place) for place in (start, end)
    ]
    (x0, y0), (x1, y1) = points
    grip = ("bottom" if y1 >= y0 else "top") + "-" + ("right" if x1 >= x0 else "left")
    seed = Frame(x0, y0, Fraction(1, 1000), Fraction(1, 1000))
    if is_free(plan.docket):
        frame = Frame(
            min(x0, x1), min(y0, y1), max(abs(x1 - x0), SMALLEST), max(abs(y1 - y0), SMALLEST)
        )
        return plan.turned.brought_inside(frame)
    ratio = plan.size.width_mm / plan.size.height_mm
    width = max(abs(x1 - x0), abs(y1 - y0) * ratio, SMALLEST, SMALLEST * ratio)
    return plan.turned.brought_inside(_resize_anchored(seed, grip, width, width / ratio, False))


def type_side(plan: Plan, side: str, value: Fraction) -> Frame:
    """Return the frame with one number typed, in pixels of the picture.

    Parameters
    ----------
    side : str
        ``left``, ``top``, ``width`` or ``height``; with a fixed shape the other side follows.
    """
    frame = current_frame(plan)
    if side in ("left", "top"):
        return plan.turned.brought_inside(replace(frame, **{side: value}))
    ratio = frame.width / frame.height
    value = max(Fraction(1), value)
    if is_free(plan.docket):
        return plan.turned.brought_inside(replace(frame, **{side: value}))
    width = value if side == "width" else value * ratio
    return plan.turned.brought_inside(replace(frame, width=width, height=width / ratio))


def reshape(plan: Plan, ratio: Fraction, edge: str = "long-edge") -> Docket:
    """Return the docket with a frame of this shape: the largest inside the current one.

    The print keeps what was decided about its size: one side, a box, or of two sides this edge.

    Parameters
    ----------
    ratio : Fraction
        Width ÷ height.
    edge : str
        ``long-edge`` or ``short-edge``.
    """
    frame = current_frame(plan)
    width = min(frame.width, frame.height * ratio)
    cut = Frame(
        frame.left + (frame.width - width) / 2,
        frame.top + (frame.height - width / ratio) / 2,
        width,
        width / ratio,
    )
    docket = _without_size(plan, cut)
    return replace(docket, size=replace(docket.size, way=_kept_way(plan, edge)))


def _kept_way(plan: Plan, edge: str) -> Way | None:
    """Return a way to give a size of any shape that keeps the decided sides; None if free."""
    line = plan.docket.size
    sides = plan.size.width_mm, plan.size.height_mm
    if line.way is None:
        return _edge_of(sides, edge) if line.size is not None else None
    if line.way.kind == "screen":
        return Way("within-px", line.way.values)
    if line.way.kind in ("mat", "sheet"):
        return _edge_of(sides, edge)
    return None if line.way.kind == "shape" else line.way


def _edge_of(sides: tuple[Fraction, Fraction], edge: str) -> Way:
    return Way(edge, (max(sides) if edge == "long-edge" else min(sides),))


def free_shape(plan: Plan) -> Docket:
    """Return the docket with the same frame but no requested size: its shape is free."""
    return _without_size(plan, current_frame(plan))


def as_photo(plan: Plan) -> Docket:
    """Return the docket with the largest frame of the photo's shape and no requested size."""
    width, height = plan.turned.largest_whole
    half = Fraction(1, 2)
    return _without_size(plan, plan.turned.placed(width, height, half, half))


def _without_size(plan: Plan, frame: Frame) -> Docket:
    size = replace(plan.docket.size, size=None, way=None)
    crop = replace(plan.docket.crop, frame=frame, fit="trim")
    return replace(plan.docket, size=size, crop=crop)
