"""Notes: what is odd about a print, why it matters, and the way out."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from fractions import Fraction

from zinc_margin.docket.docket import RENDERER, Docket
from zinc_margin.docket.file import SCREEN_FORMATS
from zinc_margin.docket.finish import Margins
from zinc_margin.facts.facts import Facts
from zinc_margin.measure import words
from zinc_margin.measure.resolution import round_half_up
from zinc_margin.plan.crop import turns
from zinc_margin.plan.file.bytes import LEAST_QUALITY
from zinc_margin.plan.finish.pieces import edges_for
from zinc_margin.plan.finish.sheet import side_mm
from zinc_margin.plan.finish.unprintable import _is_paper
from zinc_margin.plan.model import Note, Plan
from zinc_margin.plan.photo.findings import measured_of
from zinc_margin.plan.size.reach import reach
from zinc_margin.plan.size.target import maker_of
from zinc_margin.plan.size.unseen import overspill_of
from zinc_margin.plan.text.findings import findings_of
from zinc_margin.plan.text.finish import SIDE_NAMES
from zinc_margin.plan.text.lines import FORMAT_NAMES

_ODD_TAG = Fraction(1, 10)


_LEAST_LEAN = Fraction(1, 10)


def notes_for(facts: Facts, plan: Plan, units: str = "cm") -> tuple[Note, ...]:
    """Return every note of a print, in the margin's order."""
    found = (_photo, _telltales, _size, _crop, _pixels, _sharpen, _finish, _file)
    return tuple(note for part in found for note in part(facts, plan, units))


def tag_sentence(facts: Facts, target: Fraction, units: str = "cm") -> str:
    """Say what the file's resolution tag means, and what is true."""
    reached = words.pair(*reach(facts.width, facts.height, target), units)
    true = f"At {words.resolution(target, units)} it prints {reached}."
    if facts.tag_x is None:
        return f"The file notes no resolution, and needs none: pixels and print size decide. {true}"
    wide, _ = reach(facts.width, facts.height, facts.tag_x)
    noted = words.resolution(facts.tag_x, units)
    soft = " and soft" if facts.tag_x < 120 else ""
    return (
        f"The file says {noted}. That is only a note; at {noted.split()[0]} it would be "
        f"{words.length(wide, units)} wide{soft}. {true}"
    )


def _change(docket: Docket, line: str, **fields: object) -> Docket:
    return replace(docket, **{line: replace(getattr(docket, line), **fields)})


def _photo(facts: Facts, plan: Plan, units: str) -> Iterator[Note]:
    if plan.docket.renderer != RENDERER:
        yield Note(
            "renderer-changed", "photo",
            "This docket was made with another version of what works pixels out, so its file may "
            "differ from the one of then in its last bits.",
            (("Take it as it is made now", replace(plan.docket, renderer=RENDERER)),),
        )  # fmt: skip
    if facts.pages > 1:
        yield Note(
            "pages", "photo",
            f"The file holds {facts.pages} pictures; page {facts.page} is the photo.",
        )  # fmt: skip
    tag = facts.tag_x
    if tag is not None and abs(tag / plan.target_ppi - 1) > _ODD_TAG:
        yield Note("tag-is-a-note", "photo", tag_sentence(facts, plan.target_ppi, units))
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


def _telltales(facts: Facts, plan: Plan, units: str) -> Iterator[Note]:
    for tell in findings_of(facts, plan, units):
        if not tell.found:
            continue
        ways: tuple[tuple[str, Docket], ...] = ()
        if tell.code == "origin" and plan.pixels.choice != "reduce":
            true = Fraction(max(1.0, plan.true_ppi)).limit_denominator(10)
            size = replace(plan.docket.size, ppi=true)
            pixels = replace(plan.docket.pixels, choice="resample")
            ways = (
                (
                    f"Reduce to its real pixels, {words.resolution(true, units)}",
                    replace(plan.docket, size=size, pixels=pixels),
                ),
            )
        yield Note(f"found-{tell.code}", "photo", f"{tell.text} {tell.change}", ways)


def _size(facts: Facts, plan: Plan, units: str) -> Iterator[Note]:
    effective, docket = words.resolution(plan.effective_ppi, units), plan.docket
    if plan.grade == "thin":
        sharp = words.length(plan.sharp_from_mm, units)
        ways = []
        if docket.size.distance_mm is None or plan.distance_mm < plan.sharp_from_mm:
            further = Fraction(round_half_up(Fraction(plan.sharp_from_mm / 10) + 1) * 10)
            ways.append(
                (
                    f"Look at it from {words.length(further, units)}",
                    _change(docket, "size", distance_mm=further),
                )
            )
        yield Note(
            "thin", "size",
            f"Only {effective} of the photo's own pixels: the print looks fully sharp from "
            f"{sharp}, and it is seen from {words.length(plan.distance_mm, units)}. Enlarging "
            "smooths the steps; it adds no detail.",
            tuple(ways),
            grave=True,
        )  # fmt: skip
    if plan.unseen_mm.any and plan.mat is None:
        lost = plan.unseen_mm
        yield Note(
            "overspill", "size",
            "Borderless: the driver blows the picture up past the paper, so "
            f"{words.small(lost.left, units)} left and right and {words.small(lost.top, units)} "
            "top and bottom of it are lost. Keep names and faces away from there.",
        )  # fmt: skip
    if plan.mat is not None and plan.mat.reveal < 0:
        yield Note(
            "mat-hides", "size",
            f"The mat hides {words.small(-plan.mat.reveal, units)} of the picture on every side.",
        )  # fmt: skip
    if plan.mat is not None and plan.mat.reveal > 0:
        yield Note(
            "mat-reveals", "size",
            f"{words.small(plan.mat.reveal, units)} of paper are seen all round, inside the mat's "
            "opening.",
        )  # fmt: skip


_SURE = ((0.75, "almost surely"), (0.5, "probably"), (0.25, "perhaps"))


def _level(facts: Facts, plan: Plan) -> Iterator[Note]:
    """Offer to level a picture whose long edges agree on a lean; never done unasked."""
    measured = measured_of(facts, plan)
    if measured is None or measured.lean is None:
        return
    lean, confidence = measured.lean
    line = plan.docket.crop
    seen = Fraction(str(-lean if line.mirror else lean)) + line.turn
    seen = (seen + 45) % 90 - 45
    sure = next((words_ for least, words_ in _SURE if confidence >= least), None)
    if sure is None or abs(seen) < _LEAST_LEAN:
        return
    way = "clockwise" if seen > 0 else "anticlockwise"
    degrees = words.trimmed_zeros(abs(seen), 2)
    yield Note(
        "level", "crop",
        f"Its long edges {sure} lean {degrees}° {way} (confidence {confidence:.0%}). If they were "
        "meant level or upright:",
        ((f"Turn it back by {degrees}°", turns.turned_by(plan, line.turn - seen)),),
    )  # fmt: skip


def _crop(facts: Facts, plan: Plan, units: str) -> Iterator[Note]:
    docket = plan.docket
    yield from _level(facts, plan)
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


def _pixels(facts: Facts, plan: Plan, units: str) -> Iterator[Note]:
    pixels, docket = plan.pixels, plan.docket
    measured = measured_of(facts, plan)
    suits = measured.kind if measured is not None else "photo"
    if suits != "photo" and docket.pixels.kind == "photo" and pixels.choice != "keep":
        what = {"lettering": "lettering or a line drawing", "drawing": "a drawing of pixels"}[suits]
        yield Note(
            "kind", "pixels",
            f"This looks like {what}, not like a photograph; it can be resampled so that its edges "
            "stay clean.",
            (("Take it for that", _change(docket, "pixels", kind=suits, method=None)),),
        )  # fmt: skip
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


_STEPS_FROM_MM = 400
"""A print this wide shows the steps of 8 bits in a smooth sky."""


def _grain(facts: Facts, plan: Plan) -> Iterator[Note]:
    measured, line = measured_of(facts, plan), plan.docket.sharpen
    if measured is None or line.grain or not line.on or measured.noise > 0.3:
        return
    way = (("Lay a little grain on", _change(plan.docket, "sharpen", grain=Fraction(15))),)
    smooth = any(name == "smooth" for name, _, _ in measured.places)
    wide = max(plan.size.width_mm, plan.size.height_mm) >= _STEPS_FROM_MM
    if facts.kind == "grey":
        yield Note(
            "grain-monochrome", "sharpen",
            "Monochrome looks crisper with a little grain, of one size at any resolution.", way,
        )  # fmt: skip
    elif smooth and wide and plan.file.bits == 8 and plan.pixels.choice == "enlarge":
        yield Note(
            "grain-steps", "sharpen",
            "Large smooth tones of 8 bits may show steps on paper; a little grain breaks them up.",
            way,
        )  # fmt: skip


def _sharpen(facts: Facts, plan: Plan, units: str) -> Iterator[Note]:
    yield from _grain(facts, plan)
    found = plan.sharpen
    if found is not None and found.bound == "amount":
        yield Note(
            "sharpening-bound", "sharpen",
            "More sharpening than is good would be needed to make up for "
            f"{'so much enlarging' if plan.pixels.choice == 'enlarge' else 'this paper'}; it "
            f"stops at the most that edges bear, and crispness at "
            f"{found.acutance_after:.2f}.",
        )  # fmt: skip


def _finish(facts: Facts, plan: Plan, units: str) -> Iterator[Note]:
    yield from finish_notes(plan, units)


def _file(facts: Facts, plan: Plan, units: str) -> Iterator[Note]:
    form, docket = plan.file.format, plan.docket
    most = plan.file.max_bytes
    if most is not None:
        yield _byte_limit(plan, most)
    if form == "jpeg" and max(plan.pixels.width, plan.pixels.height) > 65535:
        yield Note(
            "jpeg-too-wide", "file",
            "JPEG ends at 65535 pixels a side, and this print has more.",
            (("Write a TIFF", _change(docket, "file", format="tiff")),),
            grave=True,
        )  # fmt: skip
    if (form == "jpeg" or form in SCREEN_FORMATS) and facts.working_bits == 16:
        yield Note(
            "cuts-depth", "file",
            f"{FORMAT_NAMES[form]} keeps 8 bits of this 16-bit photo; smooth skies may show steps.",
            (("Write a TIFF", _change(docket, "file", format="tiff")),),
        )  # fmt: skip
    if form in ("jpeg", "png") and any(d != 1 for _, d in (plan.pixels.tag_x, plan.pixels.tag_y)):
        exact = "EXIF inside the file keeps it exactly."
        whole = "whole pixels per inch" if form == "jpeg" else "whole pixels per metre"
        yield Note(
            "rounded-tag", "file",
            f"{form.upper()} itself notes the resolution in {whole}; {exact}",
        )  # fmt: skip


def _byte_limit(plan: Plan, most: int) -> Note:
    form, limit = plan.file.format, words.size_in_bytes(most)
    if plan.file.unlimited_bytes <= most:
        text = f"Likely under {limit} as it is; making it makes sure."
    elif form == "jpeg":
        text = (
            f"As it is it would have about {words.size_in_bytes(plan.file.unlimited_bytes)}. "
            f"Making it finds what fits {limit}: quality first, down to {LEAST_QUALITY}, then "
            "fewer pixels."
        )
    else:
        text = (
            f"As it is it would have about {words.size_in_bytes(plan.file.unlimited_bytes)}. "
            f"Making it finds how many pixels fit {limit}. A JPEG would keep more of them."
        )
    other = (("Write a JPEG", _change(plan.docket, "file", format="jpeg")),)
    return Note("byte-limit", "file", text, () if form == "jpeg" else other)


_MARK_ROOM_MM = Fraction(6)


def finish_notes(plan: Plan, units: str) -> Iterator[Note]:
    """Yield what is odd about the sheet."""
    yield from _unprintable(plan, units)
    docket, line, sheet = plan.docket, plan.docket.finish, plan.sheet
    fold = side_mm(line)
    if fold and line.wrap_own and sheet is not None:
        face = words.pair(*sheet.face_mm, units)
        yield Note(
            "own-edge", "finish",
            f"The sides take {words.small(fold, units)} of the picture all round: from the front "
            f"{face} of it are seen.",
            (("Make the sides from the edge instead", _with_finish(docket, wrap_own=False)),),
        )  # fmt: skip
    plain_tone = line.wrap_tone and line.wrap_strength == 100
    if fold and not line.wrap_own and not plain_tone and line.wrap_strip_mm is None:
        softer = _with_finish(
            docket, wrap_strip_mm=fold * Fraction(2, 5), wrap_soften_mm=fold * Fraction(1, 4)
        )
        if not line.wrap_soften_mm:
            yield Note(
                "mirrored", "finish",
                "A plain mirror shows whatever lies near the edge twice; drawn out and softened, "
                "nothing can be recognised.",
                (("Draw the edge out and soften it", softer),),
            )  # fmt: skip
    if plan.pieces is not None and len(plan.pieces.each) > 1:
        bare = sum(not piece.words for piece in plan.pieces.each)
        if bare:
            room = max(edges_for(docket)) + _MARK_ROOM_MM
            yield Note(
                "no-room-for-marks", "finish",
                f"{bare} of the {len(plan.pieces.each)} pieces fill their sheets, so there is no "
                "room for joining marks and labels; the map and the files' names tell them apart.",
                ((f"Leave {words.small(_MARK_ROOM_MM, units)} for them",
                  _with_finish(docket, edge_mm=room)),),
            )  # fmt: skip


def _unprintable(plan: Plan, units: str) -> Iterator[Note]:
    """Say what the printer's unprintable edge takes, and the largest picture that survives."""
    docket, sheet = plan.docket, plan.sheet
    maker = maker_of(docket.size)
    edges = maker.edges
    if edges is None or plan.pieces is not None:
        return
    paper, width, height = docket.finish.sheet, plan.whole.width_mm, plan.whole.height_mm
    if sheet is not None:
        lost, kept = sheet.lost_mm, sheet.kept_mm
    elif _is_paper(plan.size) and not overspill_of(docket, plan.size):
        lost, kept = edges, (width - edges[1] - edges[3], height - edges[0] - edges[2])
        paper = plan.size
    else:
        return
    if not any(lost) or kept is None:
        return
    sides = ", ".join(
        f"{words.small(mm, units)} {side}" for mm, side in zip(lost, SIDE_NAMES, strict=True) if mm
    )
    ways: tuple[tuple[str, Docket], ...] = ()
    if paper is not None:
        scaled = _with_finish(
            docket, sheet=paper, scales=True, margins=Margins(*edges), make_up=False
        )
        ways = ((f"Make the picture {words.pair(*kept, units)}, which survives whole", scaled),)
    yield Note(
        "unprintable-edge", "finish",
        f"The {maker.name} cannot print to the paper's edge: of the picture {sides} are lost.",
        ways, grave=True,
    )  # fmt: skip


def _with_finish(docket: Docket, **fields: object) -> Docket:
    return replace(docket, finish=replace(docket.finish, **fields))  # type: ignore[arg-type]
