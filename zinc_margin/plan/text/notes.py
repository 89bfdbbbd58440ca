"""The text of every note and of its remedies."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from fractions import Fraction
from typing import Any

from zinc_margin.facts.facts import Facts
from zinc_margin.measure import words
from zinc_margin.measure.formats import formats
from zinc_margin.measure.kernels import kernels
from zinc_margin.plan.model import Note, Plan, Remedy
from zinc_margin.plan.photo.photo_notes import tag_values
from zinc_margin.plan.text.finding_words import words_of

Values = Mapping[str, Any]
_SAME = 0.002
"""Resolutions that differ by this share read the same."""
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
        return (
            f"The file has no resolution tag and needs none: pixels and print size decide. {true}"
        )
    noted = words.resolution(tag, units)
    soft = " and soft" if tag < 120 else ""
    return (
        f"The file is tagged {noted}. The tag changes nothing; at {noted.split()[0]} it would "
        f"be {words.length(values['wide_mm'], units)} wide{soft}. {true}"
    )


def _finding(values: Values, units: str) -> str:
    one = words_of(values["finding"], units)
    return f"{one.text} {one.change}"


def _too_few(values: Values, units: str) -> str:
    return (
        f"The photo has only {words.resolution(values['ppi'], units)} at this size: the print "
        f"looks sharp from {words.length(values['sharp_from_mm'], units)}, but the viewing "
        f"distance is {words.length(values['far_mm'], units)}. Enlarging makes it smoother, "
        "not more detailed."
    )


def _overspill(values: Values, units: str) -> str:
    return (
        "Borderless: the printer enlarges the picture past the paper, so "
        f"{words.small(values['across_mm'], units)} on the left and right and "
        f"{words.small(values['down_mm'], units)} at the top and bottom are lost. Keep names and "
        "faces away from the edge."
    )


_SURE = ((0.75, "very probably"), (0.5, "probably"), (0.0, "perhaps"))


def _level(values: Values, units: str) -> str:
    lean, confidence = values["lean_deg"], values["confidence"]
    sure = next(text for least, text in _SURE if confidence >= least)
    way = "clockwise" if lean > 0 else "anticlockwise"
    degrees = words.trimmed_zeros(abs(lean), 2)
    return (
        f"Its long edges {sure} lean {degrees}° {way} (confidence {confidence:.0%}). If they "
        "should be level or upright, rotate the picture back."
    )


def _not_by_ai(values: Values) -> str:
    name = kernels()[values["method"]].name
    if values["why"] is not None:
        return f"Enlarged with {name}, because AI cannot run here: {values['why'].rstrip('.')}."
    soft = words.trimmed_zeros(values["edge_px"], 1)
    return (
        f"Enlarged with {name}: even the sharpest edges are {soft} px wide, and AI is no better "
        "for so soft a photo."
    )


def _good_jpeg(values: Values) -> str:
    return (
        f"A JPEG of quality {values['quality']} is good enough to be left as it is. Repairing its "
        "faint artefacts first would make a large print slightly cleaner."
    )


_KINDS = {"lettering": "lettering or a line drawing", "drawing": "a drawing of pixels"}


def _much_enlarged(values: Values, units: str) -> str:
    scale = values["scale"]
    return (
        f"Enlarged {words.trimmed_zeros(scale, 2)} × each way: "
        f"{words.share(1 - 1 / float(scale) ** 2)} of the pixels are new, not seen by the "
        "camera."
    )


def _sharpening_bound(values: Values, units: str) -> str:
    why = {
        "detail": "The file has no finer detail; more sharpening would draw outlines.",
        "amount": "More sharpening would turn edges into outlines.",
    }[values["bound"]]
    return (
        f"From {words.length(values['near_mm'], units)} the print looks "
        f"{words.share(values['crispness'])} as sharp as the photo. {why} A little grain "
        "makes it look less smooth."
    )


def _own_edge(values: Values, units: str) -> str:
    return (
        f"The sides take {words.small(values['side_mm'], units)} of the picture all round: "
        f"{_pair(values['face_mm'], units)} of it is visible from the front."
    )


def _byte_limit(values: Values, units: str) -> str:
    limit, free = (words.size_in_bytes(values[key]) for key in ("most_bytes", "bytes"))
    about = "" if values["ppi"][0] == values["ppi"][1] else "about "
    changes = []
    if values["quality"][0] < values["free_quality"]:
        least, most = values["quality"]
        quality = f"{least}" if least == most else f"{least} to {most}"
        changes.append(f"quality {quality} instead of {values['free_quality']}")
    if values["ppi"][0] < values["free_ppi"] * (1 - _SAME):
        if values["for_screen"]:
            share = [words.share(ppi / values["free_ppi"]) for ppi in values["ppi"]]
            kept = share[0] if share[0] == share[1] else f"{share[0]} to {share[1]}"
            changes.append(f"{kept} of the pixels along each side")
        else:
            free_ppi = words.resolution(values["free_ppi"], units)
            low, high = values["ppi"]
            changes.append(f"{words.resolution_range(low, high, units)} instead of {free_ppi}")
    more = "" if values["format"] == "jpeg" else " A JPEG would keep more pixels."
    return (
        f"Without the limit the file would have {about}{free}. To fit {limit} it gets "
        f"{' and '.join(changes)}.{more}"
    )


def _plainly(text: str) -> Callable[[Values, str], str]:
    return lambda values, units: text


_NOTES: Mapping[str, Callable[[Values, str], str]] = {
    "renderer-changed": _plainly(
        "These settings were made with another version of the program; the file may differ "
        "slightly from the earlier one."
    ),
    "pages": lambda values, units: (
        f"The file has {values['pages']} pictures; page {values['page']} is the photo."
    ),
    "layers": _plainly(
        "The file has layers. The program prints the composite picture that was saved with them."
    ),
    "tag-is-a-note": _tag,
    "no-profile": lambda values, units: (
        f"The photo has no colour profile; sRGB{' tones' if values['kind'] == 'grey' else ''} "
        "is assumed, which is usually right."
    ),
    "damaged-profile": _plainly(
        "The photo's colour profile is damaged; sRGB is assumed. If the colours look wrong, "
        "save the photo again in the program that made it."
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
        f"{words.small(values['reveal_mm'], units)} of paper is visible all round, inside the "
        "mat's opening."
    ),
    "level": _level,
    "much-trimmed": lambda values, units: (
        f"To fit {values['label']}, {words.share(values['share'])} of the picture is trimmed."
    ),
    "good-jpeg": lambda values, units: _good_jpeg(values),
    "not-by-ai": lambda values, units: _not_by_ai(values),
    "rotation-trims": lambda values, units: (
        f"The rotation by {words.trimmed_zeros(values['turn'], 2)}° trims the picture: "
        f"{words.share(values['share'])} in all, {words.share(values['by_shape'])} without it."
    ),
    "shape-residual": lambda values, units: (
        f"Whole pixels miss the shape by {values['microns']:.0f} µm on the print; the tag "
        "compensates, so both sides are exact."
    ),
    "kind": lambda values, units: (
        f"This looks like {_KINDS[values['kind']]} rather than a photograph. Another method "
        "keeps its edges clean."
    ),
    "turn-resamples": lambda values, units: (
        f"Rotating by {words.trimmed_zeros(values['turn_deg'], 2)}° resamples every pixel "
        f"({values['method']}), at the same scale."
    ),
    "more-than-seen": lambda values, units: (
        f"The file has {words.resolution(values['ppi'], units)} and "
        f"{words.size_in_bytes(values['bytes'])}; from "
        f"{words.length(values['near_mm'], units)} the eye cannot see more than "
        f"{words.resolution(values['enough_ppi'], units)}."
    ),
    "method-removed": lambda values, units: (
        f"These print settings use {values['was']}, which the program no longer has; plain AI "
        "replaces it."
    ),
    "much-enlarged": _much_enlarged,
    "grain-monochrome": _plainly("A monochrome print looks crisper with a little grain."),
    "grain-smoothed": _plainly(
        "After this much repair and enlarging, rock, leaves and cloth may look painted; a "
        "little grain restores some texture."
    ),
    "grain-steps": _plainly(
        "Large smooth areas may show 8-bit steps on paper; a little grain hides them."
    ),
    "sharpening-bound": _sharpening_bound,
    "unprintable-edge": lambda values, units: (
        f"{values['told_by'] or 'The ' + values['maker']} cannot print to the edge of the "
        f"paper{', as it reported' if values['told_by'] else ''}; this much of the picture is "
        f"lost: {sides_words(values['lost_mm'], units)}."
    ),
    "own-edge": _own_edge,
    "off-canvas": lambda values, units: (
        f"The print has canvas sides, but its paper is {values['paper']} and its maker a "
        f"{values['maker']}."
    ),
    "no-room-for-marks": lambda values, units: (
        f"{values['bare']} of the {values['count']} pieces fill their sheets and have no "
        "space for joining marks and labels; use the map and the file names."
    ),
    "byte-limit": _byte_limit,
    "jpeg-too-wide": lambda values, units: (
        f"A JPEG can have at most {values['most_px']} pixels per side, and this print has more."
    ),
    "metadata-damaged": _plainly("The photo's metadata is damaged and is not copied to the file."),
    "cuts-depth": lambda values, units: (
        f"{formats()[values['format']].name} keeps only 8 bits of this 16-bit photo; smooth skies "
        "may show steps."
    ),
    "rounded-tag": lambda values, units: (
        f"{values['format'].upper()} stores the resolution only in whole pixels per "
        f"{values['unit']}; the file's EXIF has the exact value."
    ),
}

_REMEDIES: Mapping[str, Callable[[Values, str], str]] = {
    "renderer-now": _plainly("Use the current version"),
    "real-pixels": lambda values, units: (
        f"Reduce to the real pixels, {words.resolution(values['ppi'], units)}"
    ),
    "enough": lambda values, units: f"Make it at {words.resolution(values['ppi'], units)}",
    "further": lambda values, units: f"View it from {words.length(values['far_mm'], units)}",
    "turn-back": lambda values, units: (
        f"Rotate it back by {words.trimmed_zeros(abs(values['lean_deg']), 2)}°"
    ),
    "whole-picture": _plainly("Show the whole picture with bands"),
    "plain-ai": _plainly("Keep plain AI"),
    "take-for-that": _plainly("Treat it as lettering or drawing"),
    "grain": _plainly("Add a little grain"),
    "sides-from-edge": _plainly("Mirror the edge onto the sides instead"),
    "on-canvas": _plainly("Print it on canvas"),
    "room-for-marks": lambda values, units: (
        f"Leave {words.small(values['room_mm'], units)} for them"
    ),
    "survives-whole": lambda values, units: (
        f"Make the picture {_pair(values['size_mm'], units)}, so nothing is lost"
    ),
    "write-tiff": _plainly("Write a TIFF"),
    "write-jpeg": _plainly("Write a JPEG"),
    "use-ai": _plainly("Use AI"),
    "repair-it": _plainly("Repair it"),
    "lift-limit": _plainly("Remove the limit"),
}

NOTE_CODES = tuple(_NOTES)
"""Every note code, in the margin's order."""
