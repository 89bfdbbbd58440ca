"""Notes: what is odd about a print, why it matters, and the way out."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from ..docket.docket import Docket
from ..measure import words
from ..measure.resolution import round_half_up
from ..photo.facts import Facts
from . import reach as reaching
from .model import Note, Plan

_ODD_TAG = Fraction(1, 10)


def notes_for(facts: Facts, plan: Plan) -> tuple[Note, ...]:
    """Return every note of a print, in the margin's order."""
    found = (_photo, _size, _crop, _pixels, _sharpen, _file)
    return tuple(note for part in found for note in part(facts, plan))


def tag_sentence(facts: Facts, target: Fraction, units: str = "cm") -> str:
    """Say what the file's resolution tag means, and what is true."""
    reached = words.pair(*reaching.reach(facts.width, facts.height, target), units)
    true = f"At {words.ppi(target)} ppi it prints {reached}."
    if facts.tag_x is None:
        return f"The file notes no resolution, and needs none: pixels and print size decide. {true}"
    wide, _ = reaching.reach(facts.width, facts.height, facts.tag_x)
    noted = words.ppi(facts.tag_x)
    return (
        f"The file says {noted} ppi. That is only a note; at {noted} it would be "
        f"{words.length(wide, units)} wide. {true}"
    )


def _change(docket: Docket, line: str, **fields: object) -> Docket:
    return replace(docket, **{line: replace(getattr(docket, line), **fields)})


def _photo(facts: Facts, plan: Plan) -> Iterator[Note]:
    tag = facts.tag_x
    if tag is not None and abs(tag / plan.target_ppi - 1) > _ODD_TAG:
        yield Note("tag-is-a-note", "photo", tag_sentence(facts, plan.target_ppi))
    if facts.profile_use == "assumed":
        yield Note(
            "no-profile", "photo",
            "The photo carries no colour profile, so its numbers are taken as sRGB"
            f"{' tones' if facts.kind == 'grey' else ''}, which is what most such files are.",
        )  # fmt: skip
    if facts.profile_use == "damaged":
        yield Note(
            "damaged-profile", "photo",
            "The photo's colour profile is damaged and cannot be used; its numbers are taken as "
            "sRGB. If the colours look wrong, save it again from where it came.",
            grave=True,
        )  # fmt: skip
    if facts.profile_use == "converted":
        yield Note(
            "converted", "photo",
            f"The photo's {'CMYK ' if facts.kind == 'CMYK' else ''}profile works by lookup tables; "
            "its pixels were converted once to wide RGB, 16 bits deep.",
        )  # fmt: skip


def _size(facts: Facts, plan: Plan) -> Iterator[Note]:
    effective, docket = words.ppi(plan.effective_ppi), plan.docket
    if plan.grade == "thin":
        sharp = words.length(plan.sharp_from_mm, "cm")
        ways = []
        if docket.size.distance_mm is None or plan.distance_mm < plan.sharp_from_mm:
            further = Fraction(round_half_up(Fraction(plan.sharp_from_mm / 10) + 1) * 10)
            ways.append(
                (
                    f"Look at it from {words.length(further, 'cm')}",
                    _change(docket, "size", distance_mm=further),
                )
            )
        yield Note(
            "thin", "size",
            f"Only {effective} ppi of the photo's own pixels: the print looks fully sharp from "
            f"{sharp}, and it is seen from {words.length(plan.distance_mm, 'cm')}. Enlarging "
            "smooths the steps; it adds no detail.",
            tuple(ways),
            grave=True,
        )  # fmt: skip


def _crop(facts: Facts, plan: Plan) -> Iterator[Note]:
    docket = plan.docket
    if docket.crop.fit == "trim" and docket.crop.frame is None and plan.trimmed_share > 0.2:
        yield Note(
            "much-trimmed", "crop",
            f"The shape of {plan.size.label} costs {words.share(plan.trimmed_share)} of the "
            "picture.",
            (("Show the whole picture with bands", _change(docket, "crop", fit="whole")),),
        )  # fmt: skip
    shape = plan.size.width_mm / plan.size.height_mm
    _, _, width, height = plan.picture
    if plan.pixels.choice == "keep" and docket.crop.fit == "trim":
        off_mm = abs(Fraction(width, height) / shape - 1) * plan.size.height_mm
        microns = float(off_mm) * 1000
        if microns >= 0.5:
            yield Note(
                "shape-residual", "crop",
                f"Whole pixels miss the shape by {microns:.0f} µm on the print; the tag spreads "
                "that, so both sides are exact.",
            )  # fmt: skip


def _pixels(facts: Facts, plan: Plan) -> Iterator[Note]:
    pixels, docket = plan.pixels, plan.docket
    if pixels.choice == "turn":
        yield Note(
            "turn-resamples", "pixels",
            f"A turn of {words.trimmed_zeros(docket.crop.turn, 2)}° cannot keep pixels: each is "
            f"worked out anew ({pixels.method}) at scale 1.",
        )  # fmt: skip
    if pixels.choice == "enlarge" and pixels.scale > 4:
        yield Note(
            "much-enlarged", "pixels",
            f"Enlarged {words.trimmed_zeros(pixels.scale, 2)} × each way: "
            f"{words.share(1 - 1 / float(pixels.scale) ** 2)} of the pixels are worked out, not "
            "seen by the camera.",
            grave=True,
        )  # fmt: skip


def _sharpen(facts: Facts, plan: Plan) -> Iterator[Note]:
    found = plan.sharpen
    if found is not None and found.bound == "amount":
        yield Note(
            "sharpening-bound", "sharpen",
            "More sharpening than is good would be needed to make up for "
            f"{'so much enlarging' if plan.pixels.choice == 'enlarge' else 'this paper'}; it "
            f"stops at the most that edges bear, and crispness at "
            f"{found.acutance_after:.2f}.",
        )  # fmt: skip


def _file(facts: Facts, plan: Plan) -> Iterator[Note]:
    form, docket = plan.file.format, plan.docket
    if form == "jpeg" and max(plan.pixels.width, plan.pixels.height) > 65535:
        yield Note(
            "jpeg-too-wide", "file",
            "JPEG ends at 65535 pixels a side, and this print has more.",
            (("Write a TIFF", _change(docket, "file", format="tiff")),),
            grave=True,
        )  # fmt: skip
    if form == "jpeg" and facts.working_bits == 16:
        yield Note(
            "jpeg-cuts-depth", "file",
            "JPEG keeps 8 bits of this 16-bit photo; smooth skies may show steps.",
            (("Write a TIFF", _change(docket, "file", format="tiff")),),
        )  # fmt: skip
    if form != "tiff" and any(d != 1 for _, d in (plan.pixels.tag_x, plan.pixels.tag_y)):
        exact = "EXIF inside the file keeps it exactly."
        whole = "whole pixels per inch" if form == "jpeg" else "whole pixels per metre"
        yield Note(
            "rounded-tag", "file",
            f"{form.upper()} itself notes the resolution in {whole}; {exact}",
        )  # fmt: skip
