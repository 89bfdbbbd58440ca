"""The print's size: as requested, from the frame, or from the photo."""

from __future__ import annotations

from fractions import Fraction

from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.makers import find_maker, usual_maker
from zinc_margin.measure.resolution import reach
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.units import family_in
from zinc_margin.measure.words import pair
from zinc_margin.plan.crop.rotation import Turned
from zinc_margin.plan.parts import Mat
from zinc_margin.plan.size.dependencies import Ties
from zinc_margin.plan.size.grade import target_of
from zinc_margin.plan.size.orientation import lies_upright
from zinc_margin.plan.size.wishes import size_for

_ROUND_FROM = 10
"""From this many cm or inches on, an automatic size is a whole number of them."""


def print_size(line: SizeLine, tied: Ties) -> PrintSize:
    """Return the print's size in its final orientation.

    Parameters
    ----------
    tied : Ties
        Contributions of the later lines.
    """
    if tied.room is not None:
        return tied.room
    own = tied.frame
    if line.way is not None:
        shown = (own.width, own.height) if own is not None else tied.turned.largest_whole
        size = size_for(line.way, *shown, target_of(line), line.lie != "as-given")
        return size.swapped() if line.lie == "across" else size
    if line.size is None and own is not None and tied.fills:
        # Without a requested size, the frame gives the print its shape and size.
        ppi = target_of(line)
        sides = (own.width / ppi * MM_PER_INCH, own.height / ppi * MM_PER_INCH)
        return PrintSize(pair(*sides, "cm"), *sides)
    asked = line.size or suggested_size(tied.turned, target_of(line), _sold(line), line.units)
    return lies_upright(*tied.shape, asked, line.lie)


def fixed_side(line: SizeLine, tied: Ties, size: PrintSize) -> str:
    """Return which sides of a print were requested; others follow from the pixels.

    Parameters
    ----------
    size : PrintSize
        The print's size.

    Returns
    -------
    str
        ``width``, ``height``, ``both`` or ``none``.
    """
    longer = "width" if size.width_mm >= size.height_mm else "height"
    if tied.room is not None or line.size is not None:
        return "both"
    if line.way is None:
        own = tied.frame is not None and tied.fills
        return "none" if own else "both" if size.family else longer
    kind = line.way.kind
    if kind in ("shape", "reach"):
        return "none"
    if kind == "within":
        limits = line.way.values
        touched = [size.width_mm in limits, size.height_mm in limits]
        return "both" if all(touched) else "width" if touched[0] else "height"
    shorter = "height" if longer == "width" else "width"
    sides = {"width": "width", "height": "height", "long-edge": longer, "short-edge": shorter}
    side = sides.get(kind, "both")
    if line.lie == "across" and kind in ("width", "height"):
        return "height" if side == "width" else "width"
    return side


def _sold(line: SizeLine) -> frozenset[str]:
    """Return the families of sizes that the maker sells, in the current units."""
    maker = find_maker(line.maker) if line.maker else usual_maker()
    known = sorted({size.family for size in catalogue()})
    return frozenset(
        family for family in maker.families if family_in(family, line.units, known) == family
    )


def suggested_size(
    turned: Turned, target: Fraction, families: frozenset[str], units: str
) -> PrintSize:
    """Return the largest size on sale that has the photo's shape, so that nothing is trimmed.

    If there is none, return the photo's reach with its longer side rounded down.

    Parameters
    ----------
    target : Fraction
        In ppi.
    families : frozenset of str
        Families of sizes.
    units : str
        ``cm`` or ``in``.
    """
    width, height = turned.set_width, turned.set_height
    most_w, most_h = reach(width, height, target)
    best: PrintSize | None = None
    for size in catalogue():
        if size.family not in families:
            continue
        lying = size.lying(height > width)
        ratio = lying.width_mm / lying.height_mm * height / width
        trimmed_px = (1 - min(ratio, 1 / ratio)) * max(width, height)
        fits = lying.width_mm <= most_w and lying.height_mm <= most_h
        if trimmed_px < 1 and fits and (best is None or area(lying) > area(best)):
            best = lying
    if best is not None:
        return best
    longest = _round_down(max(most_w, most_h), units)
    sides = (
        (longest, longest * height / width)
        if width >= height
        else (
            longest * width / height,
            longest,
        )
    )
    return PrintSize(pair(*sides, units), *sides)


def _round_down(length_mm: Fraction, units: str) -> Fraction:
    """Return a length rounded down to whole cm or inches; short ones to mm or quarter inches."""
    whole, part = (MM_PER_INCH, MM_PER_INCH / 4) if units == "in" else (Fraction(10), Fraction(1))
    step = whole if length_mm >= _ROUND_FROM * whole else part
    return max(part, (length_mm / step).__floor__() * step)


def area(size: PrintSize) -> Fraction:
    """Return a size's area in square mm."""
    return size.width_mm * size.height_mm


def mat_of(line: SizeLine, size: PrintSize) -> Mat | None:
    """Return the mat of a Size line, oriented as the print."""
    way = line.way
    if way is None or way.kind != "mat":
        return None
    reveal = way.values[2]
    opening = (size.width_mm + 2 * reveal, size.height_mm + 2 * reveal)
    frame = way.frame
    if frame is not None and (frame[0] > frame[1]) != (opening[0] > opening[1]):
        frame = (frame[1], frame[0])
    return Mat(opening, reveal, frame)
