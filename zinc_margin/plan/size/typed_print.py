"""Changes of the docket for a print that was typed in a few words."""

from __future__ import annotations

from dataclasses import replace

from zinc_margin.docket.docket import Docket
from zinc_margin.measure.makers import find_maker, usual_maker
from zinc_margin.measure.print_input import TypedPrint
from zinc_margin.measure.ways import IN_PIXELS
from zinc_margin.measure.wish import Wish
from zinc_margin.plan.crop.frame import first_crop
from zinc_margin.plan.model import Plan


def apply_typed(docket: Docket, plan: Plan, typed: TypedPrint) -> Docket:
    """Return a docket with the typed parts and their consequences.

    Parameters
    ----------
    plan : Plan
        The docket's plan.
    """
    if typed.maker is not None:
        docket = printed_by(docket, typed.maker)
    if typed.paper is not None:
        docket = replace(docket, sharpen=replace(docket.sharpen, paper=typed.paper, sigma_mm=None))
    if typed.format is not None:
        docket = replace(docket, file=replace(docket.file, format=typed.format))
    if typed.bits is not None:
        docket = replace(docket, file=replace(docket.file, bits=typed.bits))
    if typed.colour is not None:
        docket = replace(docket, file=replace(docket.file, colour=typed.colour, profile=None))
    if typed.ppi is not None:
        docket = replace(
            docket,
            size=replace(docket.size, ppi=typed.ppi),
            pixels=replace(docket.pixels, choice="resample"),
        )
    wish = typed.wish
    if wish is None:
        return docket
    if wish.max_bytes is not None:
        return replace(docket, file=replace(docket.file, max_bytes=wish.max_bytes))
    maker = docket.size.maker if typed.maker is None else None
    if maker is not None and find_maker(maker).for_screen and _is_on_paper(wish):
        docket = _off_screen(docket)
    crop = first_crop(docket.crop, plan.turned, plan.crop)
    lie = wish.lie if wish.lie != "auto" or docket.size.lie != "across" else "across"
    line = replace(docket.size, size=wish.size, way=wish.way, lie=lie)
    return replace(docket, size=line, crop=crop)


def _is_on_paper(wish: Wish) -> bool:
    """Return whether a wish names lengths, which a screen does not have."""
    if wish.way is None:
        return wish.size is not None
    return wish.way.kind not in (*IN_PIXELS, "shape", "reach")


def _off_screen(docket: Docket) -> Docket:
    """Return a docket for whoever makes prints, instead of a screen."""
    laid = printed_by(docket, usual_maker().key)
    return replace(laid, size=replace(laid.size, maker=None))


def printed_by(docket: Docket, key: str) -> Docket:
    """Return a docket for another maker, with the consequences.

    Target, minimum and process become the maker's. The paper stays if the maker has it, canvas
    sides if it stretches canvas; format and colours stay unless it requires others.

    Parameters
    ----------
    key : str
        A maker's key.
    """
    maker = find_maker(key)
    size, sharpen, finish, file = docket.size, docket.sharpen, docket.finish, docket.file
    if sharpen.paper not in maker.papers:
        sharpen = replace(sharpen, paper=None, sigma_mm=None)
    if not maker.bars_mm:
        finish = replace(finish, wrap_mm=None, tuck_mm=None)
    if maker.format != _USUAL_FORMAT:
        file = replace(file, format=None)
    if maker.colour != _USUAL_COLOUR:
        file = replace(file, colour=None, profile=None)
    return replace(
        docket,
        size=replace(size, maker=maker.key, ppi=None, floor=None),
        sharpen=replace(sharpen, process=None),
        finish=finish,
        file=file,
    )


_USUAL_FORMAT, _USUAL_COLOUR = "tiff", "own"
