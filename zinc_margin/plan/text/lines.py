"""The margin's text: every line's decision and its consequence for the print."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.docket.docket import fresh
from zinc_margin.facts.facts import Facts
from zinc_margin.measure import words
from zinc_margin.measure.formats import formats
from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.model import Plan, PrintPlan
from zinc_margin.plan.parts import Sides
from zinc_margin.plan.size.grade import least_ppi
from zinc_margin.plan.text.finish import finish_rows
from zinc_margin.plan.text.notes import note_text
from zinc_margin.plan.text.reasons import reason_of, repair_words
from zinc_margin.plan.text.sharpen_words import sharpen_rows

KIND_NAMES: dict[str, str] = {
    "photo": "photograph",
    "lettering": "lettering, line drawing",
    "drawing": "pixel drawing",
}


_MOST_LETTERS = 28


@dataclass(frozen=True)
class Entry:
    """A closed line: its two rows, and the origin of its decision.

    Attributes
    ----------
    decision, consequence : str
    state : str
        ``written`` by the user, ``worked out``, or ``look`` (needs a look).
    """

    decision: str
    consequence: str
    state: str


def entries(facts: Facts, plan: Plan, units: str = "cm") -> dict[str, Entry]:
    """Return the seven lines of the margin.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    rows = {
        "photo": _photo(facts, plan, units),
        "size": _size(plan, units),
        "crop": _crop(plan, units),
        "pixels": _pixels(plan, units),
        "sharpen": sharpen_rows(plan, units),
        "finish": finish_rows(plan, units),
        "file": _file(plan),
    }
    grave = {note.line for note in plan.notes if note.grave}
    states = {name: "written" if _decision_state(plan, name) else "worked out" for name in rows}
    states |= dict.fromkeys(grave, "look")
    return {name: Entry(*rows[name], states[name]) for name in rows}


def _decision_state(plan: Plan, line: str) -> bool:
    own, units = getattr(plan.docket, line), plan.docket.size.units
    return bool(own != getattr(fresh(units), line))


def _sides(size: PrintSize, units: str) -> str:
    return words.pair(size.width_mm, size.height_mm, units)


def size_name(size: PrintSize, units: str) -> str:
    """Return a print size by name, or in the current units.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    typed = _sides(size, units)
    if size.label[:1].isdigit():
        return typed
    named = f"{size.label}, {typed}"
    # The margin has room for so many letters; the size must not be what is cut off.
    return named if len(named) <= _MOST_LETTERS else f"{typed}, {size.label}"


def _photo(facts: Facts, plan: Plan, units: str) -> tuple[str, str]:
    decision = (
        f"{facts.width} × {facts.height} px, {words.megapixels(facts.width, facts.height)}, "
        f"{words.shape(facts.width, facts.height)}"
    )
    colour = facts.profile or "no profile, sRGB assumed"
    text = f"{facts.format}, {facts.bits}-bit {facts.kind}, {colour}."
    if facts.tag_x is not None and any(note.code == "tag-is-a-note" for note in plan.notes):
        noted = words.resolution(facts.tag_x, units)
        text = f"{facts.bits}-bit, {colour}. The tag of {noted} changes nothing."
    return decision, text


def _size(plan: Plan, units: str) -> tuple[str, str]:
    if plan.maker.for_screen:
        pixels = f"{plan.pixels.width} × {plan.pixels.height} px"
        return f"{pixels}, for a screen", f"{plan.grade.capitalize()}: {reason_of(plan, units)}"
    own = words.resolution(plan.effective_ppi, units)
    if plan.file.fit is not None and plan.judged_ppi < plan.effective_ppi:
        own = f"{words.resolution_range(*plan.file.fit.ppi, units)}, because of the byte limit"
    return (
        size_name(plan.size, units),
        f"{plan.grade.capitalize()}: {own}, sharp from {words.length(plan.sharp_from_mm, units)}.",
    )


def _crop(plan: Plan, units: str) -> tuple[str, str]:
    turn = plan.docket.crop.turn
    level = f", rotated {words.trimmed_zeros(turn, 2)}°" if turn else ", level"
    if plan.docket.crop.mirror:
        level = ", mirrored" + level
    if plan.docket.crop.fit == "border":
        text = _list_widths(plan, plan.bands_mm, units)
        return "Whole picture in a border" + level, f"Border: {text}."
    if plan.docket.crop.fit == "whole":
        text = _list_widths(plan, plan.bands_mm, units)
        return "Whole picture" + level, f"Bands: {text}." if text else (
            "No bands: photo and print have the same shape."
        )
    if not trims_visibly(plan):
        return "Whole picture" + level, "Nothing trimmed."
    if turn or plan.maker.for_screen:
        return f"Trimmed to {_shape(plan)}{level}", words.capital(
            f"{words.share(plan.trimmed_share)} trimmed."
        )
    text = _list_widths(plan, plan.trimmed_mm, units)
    if not text:  # less than a sliver on each side
        return "Whole picture" + level, "Nothing trimmed."
    return (
        f"Trimmed to {_shape(plan)}{level}",
        f"{words.capital(words.share(plan.trimmed_share))} trimmed: {text}.",
    )


def _shape(plan: Plan) -> str:
    ratio = plan.size.width_mm / plan.size.height_mm
    return words.shape(ratio.numerator, ratio.denominator).removeprefix("about ")


def trims_visibly(plan: PrintPlan) -> bool:
    """Return whether more is trimmed than whole pixels explain."""
    return plan.trimmed_share >= 5e-4


def side_words(plan: PrintPlan, mm: Fraction, units: str, longest: Fraction = Fraction(0)) -> str:
    """Return a width at a side of the print; on a screen, which has no lengths, in pixels.

    Parameters
    ----------
    mm : Fraction
        On the print.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    longest : Fraction
        The longest of the same list, which decides its unit.
    """
    if plan.maker.for_screen:
        return f"{round(mm / MM_PER_INCH * plan.pixels.ppi)} px"
    return words.small(mm, units, longest)


def picture_words(plan: PrintPlan, units: str) -> str:
    """Return the size of the visible picture: on the print, or on the screen.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    if plan.maker.for_screen:
        return f"{plan.picture[2]} × {plan.picture[3]} px on the screen"
    bands, size = plan.bands_mm, plan.size
    wide = size.width_mm - bands.left - bands.right
    high = size.height_mm - bands.top - bands.bottom
    return f"{words.pair(wide, high, units)} on the print"


def _list_widths(plan: PrintPlan, sides: Sides, units: str) -> str:
    """Return up to four widths: equal ones together, zeros left out."""
    left, top, right, bottom = sides.left, sides.top, sides.right, sides.bottom
    parts, longest = [], max(left, top, right, bottom)
    for one, other, both, first, second in (
        (left, right, "left and right", "left", "right"),
        (top, bottom, "top and bottom", "top", "bottom"),
    ):
        if max(one, other) < Fraction(1, 20):
            continue
        if abs(one - other) < Fraction(1, 20):
            parts.append(f"{side_words(plan, one, units, longest)} {both}")
        else:
            ends = ((one, first), (other, second))
            parts += [
                f"{side_words(plan, mm, units, longest)} {side}" for mm, side in ends if mm >= 0.05
            ]
    return ", ".join(parts)


def _pixels(plan: Plan, units: str) -> tuple[str, str]:
    pixels = plan.pixels
    size = f"{pixels.width} × {pixels.height} px, {words.megapixels(pixels.width, pixels.height)}"
    grain = f" Grain {words.trimmed_zeros(plan.docket.pixels.grain, 0)} %." if plan.grain else ""
    if pixels.choice == "keep":
        if pixels.repair.any:
            return "Keep the pixels", f"{size}. Repaired: {repair_words(pixels.repair)}.{grain}"
        return "Keep the pixels", f"{size}. {grain.strip() or 'The photo’s own pixels.'}"
    assert pixels.method is not None
    name = kernels()[pixels.method].name
    hardness = plan.docket.pixels.hardness
    if hardness:
        name += ", soft edges" if hardness < 0 else ", hard edges"
    if pixels.choice == "turn":
        return f"Rotated at scale 1, {name}", f"{size}. Every pixel is resampled.{grain}"
    at = "" if plan.maker.for_screen else f", at {words.resolution(plan.whole.ppi, units)}"
    share = words.share(abs(1 - 1 / float(pixels.scale) ** 2))
    if pixels.choice == "enlarge":
        work = "Repair, enlarge" if pixels.repair.any else "Enlarge"
        much = words.times(pixels.scale)
        return f"{work} {much}, {name}", f"{size}{at}; {share} new pixels.{grain}"
    lost = words.share(max(0.0, 1 - float(pixels.scale) ** 2))
    times = words.trimmed_zeros(pixels.scale, 3)
    return f"Reduce to {times} ×, {name}", f"{size}{at}; {lost} fewer pixels.{grain}"


def pixels_reason(plan: Plan, units: str = "cm") -> str:
    """Return why the pixels are kept, reduced or enlarged.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    line, choice = plan.docket.pixels, plan.pixels.choice
    own = words.resolution(plan.effective_ppi, units)
    asked = words.resolution(plan.target_ppi, units)
    maker = plan.maker
    if plan.maker.for_screen and line.choice == "auto" and choice != "keep":
        return "To the screen's pixels."
    if line.target is not None and choice != "keep":
        return f"Resampled to the number of pixels that you chose, from {own}."
    if line.choice == "keep":
        return "Your choice."
    if line.choice == "resample":
        return f"Resampled from {own} to {asked}."
    if plan.file.fit is not None and plan.file.fit.times < 1:
        limit = words.size_in_bytes(plan.file.max_bytes or 0)
        return f"The photo has {own} at this size; it is reduced so that the file fits {limit}."
    if maker.untouched:
        return f"A {maker.name} needs the photo's own pixels, cropped but not resampled."
    if choice == "keep":
        return f"The photo has {own} at this size, which is enough; nothing is resampled."
    if choice == "enlarge":
        least = words.resolution(least_ppi(float(plan.floor_ppi), float(plan.target_ppi)), units)
        return f"The photo has {own} at this size, less than {least}, so it is enlarged to {asked}."
    if choice == "turn":
        return (
            f"The photo has {own} at this size, which is enough; it is resampled only to rotate it."
        )
    return f"The photo has {own} at this size, more than can be printed or seen, so it is reduced."


def _file(plan: Plan) -> tuple[str, str]:
    colour, size = colour_words(plan), words.size_in_bytes(plan.file.bytes_estimate)
    is_known = plan.file.format == "tiff" or plan.file.written_bytes is not None
    if plan.file.max_bytes is not None:
        limit = words.size_in_bytes(plan.file.max_bytes)
        if plan.file.fit is not None:
            return file_kind(plan), f"{colour} At most {limit}; this decides {_by_limit(plan)}."
        likely = f"{'' if is_known else 'likely '}{size}"
        return file_kind(plan), f"{colour} At most {limit}; {likely}."
    return file_kind(plan), f"{colour} {'' if is_known else 'About '}{size}."


def limited_words(plan: PrintPlan, units: str = "cm") -> str:
    """Return the pixels and quality of a file that was made to fit a byte limit.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    page = plan.page
    at = words.resolution(page.ppi, units)
    sentence = f"{page.width} × {page.height} px"
    if not plan.maker.for_screen:
        sentence += f" at {at}"
    return f"{sentence}, quality {plan.file.quality}" if plan.file.lossy else sentence


def _by_limit(plan: Plan) -> str:
    """Return what the byte limit decides: quality, pixels or both."""
    fit = plan.file.fit
    assert fit is not None
    quality = fit.quality[0] < fit.free_quality
    if not quality:
        return "its pixels"
    return "its quality" if fit.ppi[0] == fit.ppi[1] else "its quality and pixels"


def live(plan: Plan, units: str = "cm") -> str:
    """Return one row about the print while its frame is dragged.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    frame = plan.frame
    parts = [
        _size(plan, units)[0],
        plan.grade if plan.maker.for_screen else f"{_own_ppi(plan, units)}: {plan.grade}",
        f"enlarged {words.times(plan.pixels.scale)}"
        if plan.pixels.choice == "enlarge"
        else f"{plan.pixels.width} × {plan.pixels.height} px",
        f"{words.share(plan.trimmed_share)} trimmed",
        f"shape {words.shape(*_whole_ratio(frame.width / frame.height))}",
    ]
    if plan.docket.crop.turn:
        parts.append(f"rotated {words.trimmed_zeros(plan.docket.crop.turn, 2)}°")
    return "   ·   ".join(parts)


def _own_ppi(plan: Plan, units: str) -> str:
    own = words.resolution(plan.effective_ppi, units)
    return f"{own} before enlarging" if plan.pixels.choice == "enlarge" else own


def _whole_ratio(ratio: Fraction) -> tuple[int, int]:
    near = ratio.limit_denominator(2000)
    return near.numerator, near.denominator


def colour_words(plan: Plan) -> str:
    """Return the colours of the file as text."""
    profile = plan.file.profile
    return {
        "own": "Profile embedded.",
        "srgb": "Converted to sRGB.",
        "wide": "Converted to wide RGB.",
        "grey": "Converted to grey.",
        "icc": f"Converted to {profile.name if profile is not None else 'a profile'}.",
    }[plan.file.colour]


def file_kind(plan: Plan) -> str:
    """Return the kind of file: ``TIFF, 16-bit``, ``JPEG, quality 95``."""
    form, file = formats()[plan.file.format], plan.file
    name = form.name
    lossless = ", lossless" if form.screen and file.lossless else ""
    if form.quality in ("always", "unless-lossless") and not lossless:
        fit = plan.file.fit
        low, high = (file.quality, file.quality) if fit is None else fit.quality
        return f"{name}, quality {low}" + (f"–{high}" if high > low else "")
    if lossless:
        return f"{name}{lossless}"
    return f"{name}, {plan.file.bits}-bit"


def total(plan: Plan, units: str = "cm") -> tuple[str, str]:
    """Return the two rows at the margin's foot.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    at, about = words.resolution(plan.whole.ppi, units), ""
    if plan.file.fit is not None:
        at = words.resolution_range(*plan.file.fit.ppi, units)
        about = "about " if plan.file.fit.ppi[0] < plan.file.fit.ppi[1] else ""
    size, whole = _sides(plan.size, units), plan.whole
    if plan.sheet is not None:
        size += f" on {words.pair(whole.width_mm, whole.height_mm, units)}"
    pixels = f"{about}{whole.width} × {whole.height} px"
    if plan.pieces is not None:
        pixels += f" in {len(plan.pieces.each)} pieces"
    if plan.maker.for_screen:
        return (
            f"{pixels}, for a screen",
            f"{file_kind(plan)}, {words.size_in_bytes(plan.file.bytes_estimate)}",
        )
    return (
        f"{size} at {at}",
        f"{pixels}, {file_kind(plan)}, {words.size_in_bytes(plan.file.bytes_estimate)}",
    )


def summary(facts: Facts, plan: Plan, units: str = "cm") -> str:
    """Return the whole margin as plain text, for a terminal.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    lines = []
    for number, (name, entry) in enumerate(entries(facts, plan, units).items(), 1):
        lines += [f"{number} {name.capitalize():8} {entry.decision}", f"{'':11}{entry.consequence}"]
        lines += [f"{'':11}! {note_text(note, units)}" for note in plan.notes if note.line == name]
    lines += ["", *total(plan, units)]
    return words.local("\n".join(lines))
