"""Build a docket from the command line's options."""

from __future__ import annotations

import argparse
import re
import sys
from dataclasses import replace
from fractions import Fraction
from functools import partial
from pathlib import Path
from typing import Any

from zinc_margin.commands import options as deciding
from zinc_margin.commands import units
from zinc_margin.docket import versions
from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket, check_value, fresh
from zinc_margin.docket.document import to_json
from zinc_margin.docket.finish import FinishLine, Margins
from zinc_margin.docket.version_names import version_names
from zinc_margin.facts.facts import Facts
from zinc_margin.handoff.machine import this_machine
from zinc_margin.keeping import log
from zinc_margin.keeping.own import OwnSizes
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import nothing_or, parse_length, parse_number, plain_text
from zinc_margin.measure.makers import find_maker
from zinc_margin.measure.print_input import TypedPrint, parse_print
from zinc_margin.measure.sizes import PrintSize, parse_size
from zinc_margin.measure.ways import Way, mat_of, screen, within
from zinc_margin.measure.wish import Wish
from zinc_margin.photo.pixels import Photo
from zinc_margin.photo.subject import with_mark
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.finish.room import scales_on
from zinc_margin.plan.model import Plan

_SIZE_OPTIONS = (
    "size",
    "width",
    "height",
    "long_edge",
    "short_edge",
    "within",
    "scale",
    "megapixels",
    "screen",
    "mat",
)


def declare(parser: argparse.ArgumentParser) -> None:
    """Declare the options of every decision."""
    add = parser.add_argument
    add("photo", metavar="PHOTO", help="the finished photo; it is never changed")
    deciding.declare(parser)
    units.declare(parser)
    add(
        "--subject",
        metavar="X,Y",
        help=("subject point, 0 to 1 each; frames keep its relative place"),
    )
    add(
        "--find-subject",
        action="store_true",
        help=("find the subject: faces, else the most salient region"),
    )
    add("--docket", metavar="FILE", help="start from saved print settings (.docket.json)")
    add("--docket-version", metavar="NAME", help="the version to use, if FILE has several")
    add("--save-docket", metavar="FILE", help="save the print settings to FILE")
    add("--json", action="store_true", help="print one JSON object")


def initial_docket(options: argparse.Namespace) -> Docket:
    """Return the initial docket: a saved one, or a fresh one."""
    wanted = options.docket_version
    if not options.docket:
        if wanted is not None:
            raise BadRequest("--docket-version also needs --docket.")
        return fresh(units.units_of(options))
    held = versions.load(Path(options.docket))
    if wanted is None and len(held) == 1:
        return held[0]
    named = dict(zip(version_names(held), held, strict=True))
    if wanted in named:
        return named[wanted]
    names = "; ".join(named)
    if wanted is None:
        raise BadRequest(
            f"{options.docket} has several versions. Choose one with --docket-version: {names}."
        )
    raise BadRequest(f"{options.docket} has no version “{wanted}”. Choose one of: {names}.")


def docket_of(options: argparse.Namespace) -> Docket:
    """Return the docket for the options."""
    docket = with_options(initial_docket(options), options)
    log.describe(partial(to_json, docket))
    return docket


def with_options(docket: Docket, options: argparse.Namespace, needs_size: bool = True) -> Docket:
    """Return a docket changed by the options.

    Parameters
    ----------
    needs_size : bool
        Whether the options must determine a size if the docket does not; otherwise it is automatic.
    """
    if options.ppi and options.keep_pixels:
        raise BadRequest("--ppi resamples and --keep-pixels does not. Use only one of them.")
    typed = _typed(options)
    wish = typed.wish
    changes = deciding.changes_of(options)
    _add_typed(changes, typed)
    by_pixels = "target" in changes["pixels"] or "ppi" in changes["size"]
    if wish is None and not _is_sized(options, docket) and (needs_size or by_pixels):
        wish = _by_its_pixels(changes)
    size = changes["size"]
    if wish is not None:
        lie = {"lie": wish.lie} if wish.lie != "auto" else {}
        changes["size"] = {"size": wish.size, "way": wish.way} | lie | size
    changes["sharpen"] = deciding.paper_of(options) | changes["sharpen"]
    _frame(options, changes)
    _sheet(options, changes, wish is not None)
    if options.format == "jpeg" and changes["file"].get("bits") == 16:
        raise BadRequest("JPEG has only 8 bits. Write a TIFF or PNG for 16.")
    lines = {name: replace(getattr(docket, name), **fields) for name, fields in changes.items()}
    return replace(docket, **lines)


def is_decided(options: argparse.Namespace) -> bool:
    """Return whether the options decide anything about the print."""
    named = any(getattr(options, name) is not None for name in _SIZE_OPTIONS)
    loose = (options.docket, options.crop, options.sheet, options.place, options.border)
    changes = deciding.changes_of(options).values()
    return named or any(changes) or any(one is not None for one in loose)


def _is_sized(options: argparse.Namespace, docket: Docket) -> bool:
    """Return whether a sheet, a frame, a docket or a maker determines the print's size."""
    line, maker = docket.size, options.by or docket.size.maker
    if options.sheet is not None or options.crop is not None or line.size or line.way:
        return True
    return maker is not None and find_maker(maker).size is not None


def _by_its_pixels(changes: deciding.Changes) -> Wish:
    """Return the size determined by a pixel count or a resolution alone.

    Raises
    ------
    BadRequest
        If neither is given.
    """
    target = changes["pixels"].pop("target", None)
    ppi = changes["size"].get("ppi")
    changes["pixels"].pop("choice", None)
    if target is not None:
        return Wish(way=target)
    if ppi is None:
        raise BadRequest("Give the print's size, for example --size 30x20cm.")
    return Wish(way=Way("reach", (ppi,)))


def _frame(options: argparse.Namespace, changes: deciding.Changes) -> None:
    """Read the frame's position, and the least border around the picture."""
    crop = changes["crop"]
    if options.border is not None and options.sheet is None:
        if options.fit != "border":
            raise BadRequest("--border needs a --sheet or --fit border.")
        crop["border_mm"] = parse_length(options.border, units.units_of(options))
    if options.place is not None:
        x, y = numbers(options.place, 2, "--place", "0.5,0.5")
        crop |= {
            "place_x": check_value("crop", "place_x", x),
            "place_y": check_value("crop", "place_y", y),
            "frame": None,
        }
    if options.crop is not None:
        crop["frame"] = Frame(*numbers(options.crop, 4, "--crop", "0,0,3000,2000"))
        if crop["frame"].width <= 0 or crop["frame"].height <= 0:
            raise BadRequest("--crop needs a width and a height over 0.")


def _sheet(options: argparse.Namespace, changes: deciding.Changes, sized: bool) -> None:
    """Read the sheet; if a size is also requested (`sized`), the picture keeps it."""
    finish = changes["finish"]
    if options.sheet is not None:
        sheet = parse_size(options.sheet, units.units_of(options))
        finish |= {"sheet": sheet, "scales": scales_on(FinishLine(), sheet, None, sized)}
    if options.border is not None and options.sheet is not None:
        even = nothing_or(options.border)
        finish["margins"] = Margins(even, even, even, even)
    if options.place_on_sheet is not None:
        parts = numbers(options.place_on_sheet, 2, "--place-on-sheet", "0.5,0.4")
        for field, part in zip(("place_x", "place_y"), parts, strict=True):
            finish[field] = check_value("finish", field, part)


def _add_typed(changes: deciding.Changes, typed: TypedPrint) -> None:
    """Add what was typed after a size, unless an option says otherwise."""
    parts: dict[tuple[str, str], Any] = {
        ("size", "maker"): typed.maker,
        ("size", "ppi"): typed.ppi,
        ("pixels", "choice"): None if typed.ppi is None else "resample",
        ("sharpen", "paper"): typed.paper,
        ("file", "format"): typed.format,
        ("file", "bits"): typed.bits,
        ("file", "colour"): typed.colour,
    }
    for (line, field), value in parts.items():
        if value is not None:
            changes[line].setdefault(field, value)


def _typed(options: argparse.Namespace) -> TypedPrint:
    """Return the size that the options request, in any of the ways, and what was typed after it."""
    both = options.width is not None and options.height is not None
    values = [name for name in _SIZE_OPTIONS if getattr(options, name) is not None]
    if both:
        values.remove("height")
    if len(values) > 1:
        pair_ = " and ".join(f"--{one.replace('_', '-')}" for one in values[:2])
        raise BadRequest(f"{pair_} both give the size. Use only one of them.")
    if (options.reveal or options.overlap) and options.mat is None:
        raise BadRequest("--reveal and --overlap need a --mat.")
    if not values:
        return TypedPrint()
    name, typed = values[0], getattr(options, values[0])
    if both:
        unit = units.units_of(options)
        width, height = (parse_length(side, unit) for side in (options.width, options.height))
        return TypedPrint(
            Wish(size=PrintSize(f"{options.width} × {options.height}", width, height))
        )
    if name == "size":
        result = own_print(typed, units.units_of(options))
        if result.wish is None:
            raise BadRequest(f"--size {typed} has no size. Type one first: 30x20cm {typed}.")
        if result.wish.max_bytes is not None:
            raise BadRequest(f"--size {typed} is a file size. Use --max-bytes {typed}.")
        return result
    return TypedPrint(Wish(way=_way(options, name, typed)))


def own_print(typed: str, unit: str) -> TypedPrint:
    """Read a typed size, which may be the name of a size of the user, and words after it.

    Parameters
    ----------
    unit : str
        For numbers without a unit.

    Raises
    ------
    BadRequest
        The sentence also names unreadable entries among the user's sizes.
    """
    own = OwnSizes()
    try:
        return parse_print(typed, unit, own.all)
    except BadRequest as why:
        raise BadRequest(" ".join((str(why), *own.broken))) from None


def _way(options: argparse.Namespace, name: str, typed: str) -> Way:
    unit = units.units_of(options)
    if name == "mat":
        return mat_of(typed, options.reveal, options.overlap, unit)
    if name == "within":
        return within(typed, unit)
    if name == "screen":
        return screen(typed)
    bare = plain_text(typed)
    if name == "scale":
        if bare.endswith("x"):
            return Way("scale", (parse_number(bare.removesuffix("x"), "factor"),))
        return Way("scale", (parse_number(bare.removesuffix("%"), "percentage") / 100,))
    if name == "megapixels":
        return _megapixels(bare)
    pixels = re.fullmatch(r"(\d+)\s*(?:px|pixels?)", bare)
    if pixels is None:
        return Way(name.replace("_", "-"), (parse_length(typed, unit),))
    if name == "long_edge":
        return Way("long-edge-px", (Fraction(pixels[1]),))
    option = name.replace("_", "-")
    size = f"--long-edge {pixels[1]}px, or a box: --within {pixels[1]}x{pixels[1]}px"
    raise BadRequest(f"--{option} needs a length on paper. For pixels, use {size}.")


def _megapixels(typed: str) -> Way:
    number = re.sub(r"\s*(?:mpx?|megapixels?)$", "", typed)
    return Way("megapixels", (parse_number(number, "number of megapixels"),))


def with_subject(photo: Photo, options: argparse.Namespace) -> Photo:
    """Return a photo with its subject: typed, set by the user, or detected."""
    photo = replace(photo, facts=subject_option(photo.facts, options))
    if options.subject is not None or not options.find_subject:
        return photo
    from zinc_margin.photo.subject_detection import found_words, with_found_subject

    photo, found = with_found_subject(photo)
    print(f"Subject: {found_words(found)}.", file=sys.stderr)
    return photo


def subject_option(facts: Facts, options: argparse.Namespace) -> Facts:
    """Return facts with the typed subject point, else the photo's stored one."""
    if options.subject is None:
        return with_mark(facts)
    x, y = numbers(options.subject, 2, "--subject", "0.3,0.6")
    if not (0 <= x <= 1 and 0 <= y <= 1):
        raise BadRequest(f"--subject {options.subject}: both numbers must be 0 to 1.")
    return replace(facts, subject=(x, y))


def checked_plan(facts: Facts, docket: Docket, options: argparse.Namespace) -> Plan:
    """Return the plan; a typed frame must match the size's shape within half a pixel."""
    plan = make_plan(facts, docket, this_machine())
    if options.crop is not None and plan.docket.crop.fit == "trim":
        frame = docket.crop.frame
        assert frame is not None
        ratio = plan.size.width_mm / plan.size.height_mm
        half = Fraction(1, 2)
        if abs(frame.width - frame.height * ratio) > half and (
            abs(frame.height - frame.width / ratio) > half
        ):
            raise BadRequest(
                f"The frame {float(frame.width):g} × {float(frame.height):g} px does not have "
                f"the shape of {plan.size.label}; for that width its height is "
                f"{float(frame.width / ratio):.6g} px."
            )
    return plan


def numbers(text: str, count: int, option: str, example: str) -> list[Fraction]:
    """Read this many signed numbers from an option's text."""
    parts = text.split(",")
    if len(parts) != count:
        raise BadRequest(f"{option} {text} is not readable. Type it like this: {option} {example}.")
    rows = []
    for part in parts:
        sign = -1 if part.strip().startswith(("-", "−")) else 1
        try:
            rows.append(sign * parse_number(part.strip().lstrip("-−+")))
        except BadRequest:
            raise BadRequest(
                f"{option} {text} is ambiguous. Type it like this: {option} {example}."
            ) from None
    return rows
