"""The text of every note and of its remedies."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import Any

from zinc_margin.facts.facts import Facts
from zinc_margin.measure import words
from zinc_margin.measure.formats import formats
from zinc_margin.plan.model import Note, Plan, Remedy
from zinc_margin.plan.photo.photo_notes import tag_values
from zinc_margin.plan.text.finding_words import words_of

Values = Mapping[str, Any]
SIDE_NAMES = ("top", "right", "bottom", "left")


def _pair(sides_mm: tuple[Fraction, Fraction], units: str) -> str:
    return words.pair(sides_mm[0], sides_mm[1], units)


def note_text(note: Note, units: str = "cm") -> str:
    """Return a note's sentences.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return _NOTES[note.code](note.values, units)


def remedy_text(remedy: Remedy, units: str = "cm") -> str:
    """Return a remedy's label.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return _REMEDIES[remedy.code](remedy.values, units)


def tag_sentence(facts: Facts, plan: Plan, units: str = "cm") -> str:
    """Return a sentence about the file's resolution tag and the true resolution.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    return _tag(tag_values(facts, plan.target_ppi), units)


def sides_words(sides_mm: tuple[Any, ...], units: str) -> str:
    """Return the non-zero lengths on the top, right, bottom and left.

    Parameters
    ----------
    sides_mm : tuple of Any
        Top, right, bottom and left.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    named = zip(sides_mm, SIDE_NAMES, strict=True)
    return ", ".join(f"{words.small(mm, units)} {side}" for mm, side in named if mm)


def _tag(values: Values, units: str) -> str:
    target, tag = words.resolution(values["target_ppi"], units), values["tag_ppi"]
    true = f"At {target} it prints {_pair(values['reach_mm'], units)}."
    if tag is None:
        return f"The file notes no resolution, and needs none: pixels and print size decide. {true}"
    noted = words.resolution(tag, units)
    soft = " and soft" if tag < 120 else ""
    return (
        f"The file says {noted}. That is only a note; at {noted.split()[0]} it would be "
        f"{words.length(values['wide_mm'], units)} wide{soft}. {true}"
    )


def _finding(values: Values, units: str) -> str:
    one = words_of(values["finding"], units)
    return f"{one.text} {one.change}"


def _too_few(values: Values, units: str) -> str:
    return (
        f"The photo has only {words.resolution(values['ppi'], units)} at this size: the print "
        f"looks sharp from {words.length(values['sharp_from_mm'], units)}, but is seen from "
        f"{words.length(values['far_mm'], units)}. Enlarging makes it smoother, not more detailed."
    )


def _overspill(values: Values, units: str) -> str:
    return (
        "Borderless: the printer enlarges the picture past the paper, so "
        f"{words.small(values['across_mm'], units)} on the left and right and "
        f"{words.small(values['down_mm'], units)} at the top and bottom are lost. Keep names and "
        "faces away from the edge."
    )


_SURE = ((0.75, "almost surely"), (0.5, "probably"), (0.0, "perhaps"))


def _level(values: Values, units: str) -> str:
    lean, confidence = values["lean_deg"], values["confidence"]
    sure = next(text for least, text in _SURE if confidence >= least)
    way = "clockwise" if lean > 0 else "anticlockwise"
    degrees = words.trimmed_zeros(abs(lean), 2)
    return (
        f"Its long edges {sure} lean {degrees}° {way} (confidence {confidence:.0%}). If they "
        "should be level or upright:"
    )


_KINDS = {"lettering": "lettering or a line drawing", "drawing": "a drawing of pixels"}


def _much_enlarged(values: Values, units: str) -> str:
    scale = values["scale"]
    return (
        f"Enlarged {words.trimmed_zeros(scale, 2)} × each way: "
        f"{words.share(1 - 1 / float(scale) ** 2)} of the pixels are worked out, not seen by the "
        "camera."
    )


def _sharpening_bound(values: Values, units: str) -> str:
    why = {
        "detail": "Its detail is not in the file; more sharpening would draw outlines.",
        "amount": "More sharpening would turn edges into outlines.",
    }[values["bound"]]
    return (
        f"From {words.length(values['near_mm'], units)} the print looks "
        f"{words.share(values['crispness'])} as sharp as the photo. {why} A little grain gives the "
        "eye something to hold on to."
    )


def _own_edge(values: Values, units: str) -> str:
    return (
        f"The sides take {words.small(values['side_mm'], units)} of the picture all round: from "
        f"the front {_pair(values['face_mm'], units)} of it are seen."
    )


def _byte_limit(values: Values, units: str) -> str:
    limit = words.size_in_bytes(values["most_bytes"])
    if values["bytes"] <= values["most_bytes"]:
        return f"Probably under {limit} as it is; this is checked when the file is made."
    likely = f"As it is it would take about {words.size_in_bytes(values['bytes'])}. "
    if values["format"] == "jpeg":
        return (
            f"{likely}To fit {limit}, quality is lowered first, down to {values['least_quality']}, "
            "then the number of pixels."
        )
    return f"{likely}To fit {limit} it gets fewer pixels. A JPEG would keep more of them."


def _plainly(text: str) -> Callable[[Values, str], str]:
    return lambda values, units: text


_NOTES: Mapping[str, Callable[[Values, str], str]] = {
    "renderer-changed": _plainly(
        "These settings were made with another version of the program; the file may differ from "
        "the earlier one in its last bits."
    ),
    "pages": lambda values, units: (
        f"The file holds {values['pages']} pictures; page {values['page']} is the photo."
    ),
    "layers": _plainly(
        "The file has layers. The picture that they make together, as it was saved with them, is "
        "printed."
    ),
    "tag-is-a-note": _tag,
    "no-profile": lambda values, units: (
        f"The photo has no colour profile; sRGB{' tones' if values['kind'] == 'grey' else ''} "
        "is assumed, as most such files have it."
    ),
    "damaged-profile": _plainly(
        "The photo's colour profile is damaged; sRGB is assumed. If the colours look wrong, save "
        "the photo again from where it came."
    ),
    "converted": lambda values, units: (
        f"The photo's {'CMYK ' if values['kind'] == 'CMYK' else ''}profile uses lookup tables; "
        "its pixels were converted once to wide RGB with 16 bits."
    ),
    "found-blocks": _finding,
    "found-halo": _finding,
    "found-edge": _finding,
    "found-origin": _finding,
    "found-noise": _finding,
    "too-few-pixels": _too_few,
    "too-few-for-screen": lambda values, units: (
        f"The photo has {words.share(values['share'])} of the screen's pixels along each side. "
        "Enlarging makes it smoother, not more detailed."
    ),
    "overspill": _overspill,
    "mat-hides": lambda values, units: (
        f"The mat hides {words.small(values['overlap_mm'], units)} of the picture on every side."
    ),
    "mat-reveals": lambda values, units: (
        f"{words.small(values['reveal_mm'], units)} of paper are seen all round, inside the mat's "
        "opening."
    ),
    "level": _level,
    "much-trimmed": lambda values, units: (
        f"To fit {values['label']}, {words.share(values['share'])} of the picture is trimmed."
    ),
    "shape-residual": lambda values, units: (
        f"Whole pixels miss the shape by {values['microns']:.0f} µm on the print; the tag spreads "
        "that, so both sides are exact."
    ),
    "kind": lambda values, units: (
        f"This looks like {_KINDS[values['kind']]} rather than a photograph. It can be resampled "
        "so that its edges stay clean."
    ),
    "turn-resamples": lambda values, units: (
        f"Rotating by {words.trimmed_zeros(values['turn_deg'], 2)}° cannot keep the pixels: each "
        f"one is worked out anew ({values['method']}), at the same scale."
    ),
    "more-than-seen": lambda values, units: (
        f"The file has {words.resolution(values['ppi'], units)} and comes to "
        f"{words.size_in_bytes(values['bytes'])}; from {words.length(values['near_mm'], units)} "
        f"nobody can see more than {words.resolution(values['enough_ppi'], units)}."
    ),
    "method-removed": lambda values, units: (
        f"These print settings use {values['was']}, which the program no longer has; plain AI "
        "enlarges instead."
    ),
    "much-enlarged": _much_enlarged,
    "grain-monochrome": _plainly(
        "Monochrome looks crisper with a little grain, of one size at any resolution."
    ),
    "grain-smoothed": _plainly(
        "After this much repair and enlarging, rock, leaves and cloth may look painted; a little "
        "grain gives them back some texture."
    ),
    "grain-steps": _plainly(
        "Large smooth tones of 8 bits may show steps on paper; a little grain breaks them up."
    ),
    "sharpening-bound": _sharpening_bound,
    "unprintable-edge": lambda values, units: (
        f"{values['told_by'] or 'The ' + values['maker']} cannot print to the edge of the paper"
        f"{', as it told' if values['told_by'] else ''}; this much of the picture is lost: "
        f"{sides_words(values['lost_mm'], units)}."
    ),
    "own-edge": _own_edge,
    "off-canvas": lambda values, units: (
        f"The print has canvas sides, but it is printed on {values['paper']} by a "
        f"{values['maker']}."
    ),
    "no-room-for-marks": lambda values, units: (
        f"{values['bare']} of the {values['count']} pieces fill their sheets, so there is no room "
        "for joining marks and labels; the map and the files' names tell them apart."
    ),
    "byte-limit": _byte_limit,
    "jpeg-too-wide": lambda values, units: (
        f"A JPEG can have {values['most_px']} pixels a side at most, and this print has more."
    ),
    "metadata-damaged": _plainly("The photo's metadata is damaged, so the file gets only its own."),
    "cuts-depth": lambda values, units: (
        f"{formats()[values['format']].name} keeps only 8 bits of this 16-bit photo; smooth skies "
        "may show steps."
    ),
    "rounded-tag": lambda values, units: (
        f"{values['format'].upper()} stores the resolution only in whole pixels per "
        f"{values['unit']}; the EXIF in the file has it exactly."
    ),
}

_REMEDIES: Mapping[str, Callable[[Values, str], str]] = {
    "renderer-now": _plainly("Use the present version"),
    "real-pixels": lambda values, units: (
        f"Reduce to its real pixels, {words.resolution(values['ppi'], units)}"
    ),
    "enough": lambda values, units: f"Make it at {words.resolution(values['ppi'], units)}",
    "further": lambda values, units: f"View it from {words.length(values['far_mm'], units)}",
    "turn-back": lambda values, units: (
        f"Rotate it back by {words.trimmed_zeros(abs(values['lean_deg']), 2)}°"
    ),
    "whole-picture": _plainly("Show the whole picture with bands"),
    "plain-ai": _plainly("Keep plain AI"),
    "take-for-that": _plainly("Treat it as that"),
    "grain": _plainly("Add a little grain"),
    "sides-from-edge": _plainly("Mirror the edge onto the sides instead"),
    "on-canvas": _plainly("Print it on canvas"),
    "room-for-marks": lambda values, units: (
        f"Leave {words.small(values['room_mm'], units)} for them"
    ),
    "survives-whole": lambda values, units: (
        f"Make the picture {_pair(values['size_mm'], units)}, so none of it is lost"
    ),
    "write-tiff": _plainly("Write a TIFF"),
    "write-jpeg": _plainly("Write a JPEG"),
}

NOTE_CODES = tuple(_NOTES)
"""Every note code, in the margin's order."""
