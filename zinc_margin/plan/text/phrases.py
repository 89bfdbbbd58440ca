"""The destination sentence: who prints it, on which paper, at which size."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.measure.distances import Seen, named_distances
from zinc_margin.measure.papers import SCREEN
from zinc_margin.measure.words import pair
from zinc_margin.plan.finish.page import Page, Pieces
from zinc_margin.plan.finish.wall import Scene
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.needs import Need
from zinc_margin.plan.size.suitability import Skipped
from zinc_margin.plan.text.on_paper import laid_words, paper_name

_ON_SCREENS = {"screen": "Shown on a"}


def destination_parts(plan: Plan, units: str) -> tuple[str, str, str | None, str]:
    """Return the start of the sentence, the maker, the paper (None for screens) and the size.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    maker, size = plan.maker, plan.size
    if maker.for_screen:
        begins = _ON_SCREENS.get(maker.key, "Sent to a")
        return begins, maker.name, None, f"{plan.pixels.width} × {plan.pixels.height} px"
    paper = plan.settled.sharpen.paper or SCREEN
    named = not size.label[:1].isdigit()
    sides = words.pair(size.width_mm, size.height_mm, units)
    return "Printed by a", maker.name, paper, size.label if named else sides


def seen_hint(seen: Seen | None) -> str:
    """Return the origin of a viewing distance: the typed words, or the print's size.

    Parameters
    ----------
    seen : Seen or None
        As typed, or None.
    """
    if seen is None:
        return "by its size"
    return next((name for name, one in named_distances() if one == seen), "")


def need_words(need: Need, maker: str, units: str = "cm") -> tuple[str, str]:
    """Return the reason for a number of pixels, and the number.

    Parameters
    ----------
    maker : str
        The maker's name.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    seen = words.length(need.mm, units) if need.mm is not None else ""
    why = {
        "asked": f"target of a {maker}",
        "least": "minimum for a good print",
        "near": f"enough from {seen}",
        "far": f"enough from {seen}",
    }[need.code]
    pixels = f"{need.pixels[0]} × {need.pixels[1]} px, {words.megapixels(*need.pixels)}"
    return f"{words.resolution(need.ppi, units)}, {why}", pixels


def pieces_words(pieces: Pieces, whole: Page, units: str) -> tuple[str, str]:
    """Return the paper that a picture is spread over, and the size of its pieces.

    Parameters
    ----------
    whole : Page
        The whole page.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    first = pieces.each[0]
    per_mm = whole.width / whole.width_mm, whole.height / whole.height_mm
    wide, high = (round(float(first.part[2 + i] / per_mm[i])) for i in (0, 1))
    each = f"Each about {pair(wide, high, units)}"
    count = len(pieces.each)
    if count == 1:
        return f"One piece on {paper_name(pieces)}", each
    return laid_words(pieces), each


def skipped_words(why: Skipped) -> str:
    """Return the reason for skipping a photo, as text."""
    values = why.values
    if why.code == "trimmed":
        return (
            f"would lose {words.share(values['share'])}, more than the limit of "
            f"{words.share(values['most'])}"
        )
    if "share" in values:
        return f"too small: it has {words.share(values['share'])} of the pixels along each side"
    return f"too small: {words.ppi(values['ppi'])} ppi before enlarging"


def wall_sentence(plan: Plan, scene: Scene, units: str) -> str:
    """Return the viewing distance as a sentence.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    seen = words.length(plan.far_mm, units)
    return f"Seen from {seen}, it fills {scene.angle:.0f}° of the view."
