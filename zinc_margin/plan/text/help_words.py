"""An explanation of each line in two sentences, with this photo's numbers."""

from __future__ import annotations

from zinc_margin.facts.facts import Facts
from zinc_margin.measure import words
from zinc_margin.plan.model import Plan
from zinc_margin.plan.text.lines import entries, file_kind, pixels_reason
from zinc_margin.plan.text.reasons import reason_of
from zinc_margin.plan.text.sharpen_words import sharpening_reason


def line_help(facts: Facts, plan: Plan, line: str, units: str = "cm") -> str:
    """Return the purpose of a line and its effect on this print.

    Parameters
    ----------
    line : str
        ``photo``, ``size``, ``crop``, ``pixels``, ``sharpen``, ``finish`` or ``file``.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return {
        "photo": _photo,
        "size": _size,
        "crop": _crop,
        "pixels": _pixels,
        "sharpen": _sharpen,
        "finish": _finish,
        "file": _file,
    }[line](facts, plan, units)


def _photo(facts: Facts, plan: Plan, units: str) -> str:
    pixels = f"{facts.width} × {facts.height} pixels"
    tag = "it has no resolution tag"
    if facts.tag_x is not None:
        tag = f"its tag of {words.resolution(facts.tag_x, units)} changes nothing"
    return (
        f"A photo is a number of pixels: this one has {pixels}, and {tag}. The print size "
        "decides how many of them there are per centimetre or inch."
    )


def _size(facts: Facts, plan: Plan, units: str) -> str:
    size = words.pair(plan.size.width_mm, plan.size.height_mm, units)
    if plan.maker.for_screen:
        return (
            f"This picture is for a screen, so its size is in pixels: {plan.pixels.width} × "
            f"{plan.pixels.height}. {words.capital(reason_of(plan, units))}"
        )
    return (
        f"The print's size and maker; every line below depends on them. At {size} this photo "
        f"has {reason_of(plan, units)}"
    )


def _crop(facts: Facts, plan: Plan, units: str) -> str:
    photo = words.shape(facts.width, facts.height)
    ratio = plan.size.width_mm / plan.size.height_mm
    sheet = words.shape(ratio.numerator, ratio.denominator)
    now = entries(facts, plan, units)["crop"].consequence
    if photo == sheet:
        return (
            f"Photo and print have the same shape, {photo}, so nothing needs to be trimmed. {now}"
        )
    return (
        f"The photo's shape is {photo} and the print's is {sheet}: trim the photo to fill it, "
        f"show all of it with white bands, or add a border. {now}"
    )


def _pixels(facts: Facts, plan: Plan, units: str) -> str:
    return (
        "The file's pixels: the photo's own, fewer, or more; new pixels add no detail that "
        f"the camera did not see. {pixels_reason(plan, units)}"
    )


def _sharpen(facts: Facts, plan: Plan, units: str) -> str:
    return (
        "Paper and distance make a print look softer than the photo; sharpening compensates "
        f"for that. {sharpening_reason(plan, units)}"
    )


def _finish(facts: Facts, plan: Plan, units: str) -> str:
    now = entries(facts, plan, units)["finish"]
    return (
        "Everything around the picture: sheet or roll, margins, captions, crop marks, canvas "
        f"sides, or the pieces of a poster. {now.decision}: "
        f"{now.consequence[:1].lower()}{now.consequence[1:]}"
    )


def _file(facts: Facts, plan: Plan, units: str) -> str:
    return (
        f"The file and its folder: {file_kind(plan)}, with its colour profile, "
        f"{words.size_in_bytes(plan.file.bytes_estimate)}. The photo itself is never changed."
    )
