"""The decisions that the command line takes: their options, and the docket that they make."""

from __future__ import annotations

import argparse
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any

from zinc_margin.commands import filing, finishing, sharpening
from zinc_margin.docket import versions
from zinc_margin.docket.docket import METHODS, Docket, Frame
from zinc_margin.docket.own_sizes import OwnSizes
from zinc_margin.docket.store import checked
from zinc_margin.docket.typed import parse_overspill
from zinc_margin.measure.amounts import parse_bytes
from zinc_margin.measure.distances import parse_distance
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length, parse_number
from zinc_margin.measure.makers import find_maker
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.tones import parse_tone
from zinc_margin.measure.ways import Way, mat_of, screen, within
from zinc_margin.measure.wish import Wish, parse_target, parse_wish
from zinc_margin.photo.facts import Facts
from zinc_margin.photo.marks import marked
from zinc_margin.plan.model import Plan
from zinc_margin.plan.planning import plan as make_plan

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
    add("photo", metavar="PHOTO")
    add("--page", type=int, metavar="N", help="of a TIFF of several pages, from 1")
    add("--size", metavar="SIZE", help="a name (A3+), or two sides (27x18in, 70x46cm)")
    add("--width", metavar="LENGTH", help="one side; the other follows from the picture's shape")
    add("--height", metavar="LENGTH", help="likewise; with --width both sides")
    add("--long-edge", metavar="LENGTH")
    add("--short-edge", metavar="LENGTH")
    add("--within", metavar="SIZE", help="as large as fits: 18x13cm, or 1920x1080px")
    add("--scale", metavar="PERCENT", help="of the picture's own pixels")
    add("--megapixels", metavar="N", help="of the file, never over")
    add("--screen", metavar="WxH", help="a screen's pixels, filled: 1920x1080")
    add("--mat", metavar="SIZE", help="a mat's opening; with --reveal or --overlap")
    add("--reveal", metavar="LENGTH", help="paper seen all round inside the opening")
    add("--overlap", metavar="LENGTH", help="picture hidden all round behind the mat")
    add("--max-bytes", metavar="SIZE", help="of the file, such as 2MB: quality, then pixels give")
    add("--overspill", metavar="LENGTH", help="borderless: past each edge, 3mm or 1%%")
    add("--orient", choices=("auto", "as-given"), help="auto: the size lies as the photo lies")
    add("--fit", choices=("trim", "whole", "border"), help="fill the size, or show all of it")
    add("--place", metavar="X,Y", help="where the frame sits in its free room, 0 to 1 each")
    add("--crop", metavar="L,T,W,H", help="a frame in px of the upright, turned picture")
    add("--turn", metavar="DEG", help="degrees, clockwise")
    add("--mirror", action="store_true", help="left and right exchanged, before the turn")
    add("--ground", metavar="TONE", help="what a see-through photo is laid on: white, #f4efe4")
    add("--interest", metavar="X,Y", help="the subject, 0 to 1 each: frames keep its place")
    add("--printed-at", metavar="WHERE", help="lab, desk, desk-half, roll, press …: what it asks")
    add("--floor", metavar="N", help="the lowest ppi that you take")
    add("--ppi", metavar="N", help="exactly that, resampling as needed")
    add("--keep-pixels", action="store_true", help="resample nothing; only the tag changes")
    add("--pixels", metavar="N", help="of the file: 12MP, 50%%, 1.3x, 2048px (long edge), 240ppi")
    add("--kind", choices=("photo", "lettering", "drawing"), help="what the picture is")
    add("--method", choices=METHODS)
    add("--clean", metavar="N", help="of JPEG's blocks, taken away first, 0 to 100")
    add("--denoise", metavar="N", help="of the noise, likewise")
    add("--dehalo", metavar="N", help="of old halos beside edges, likewise")
    add("--crisp", metavar="N", help="resampling from smooth (-100) to crisp (100)")
    add(
        "--distance",
        metavar="LENGTH",
        help="from where it is seen: 80cm, in the hand, across a room …",
    )
    sharpening.declare(parser)
    finishing.declare(parser)
    filing.declare(parser)
    add("--docket", metavar="FILE", help="start from a saved docket")
    add("--docket-version", metavar="NAME", help="which one, of a docket of several")
    add("--save-docket", metavar="FILE", help="write the docket")
    add("--json", action="store_true", help="print one JSON object")


def _started(options: argparse.Namespace) -> Docket:
    """Return the docket that is started from: a saved one, or a fresh one."""
    wanted = options.docket_version
    if not options.docket:
        if wanted is not None:
            raise BadRequest("--docket-version names a version of a --docket; give that, too.")
        return Docket()
    held = versions.load(Path(options.docket))
    if wanted is None and len(held) == 1:
        return held[0]
    for docket in held:
        if docket.version == wanted:
            return docket
    names = ", ".join(docket.version for docket in held)
    if wanted is None:
        raise BadRequest(
            f"{options.docket} holds several versions; choose with --docket-version: {names}."
        )
    raise BadRequest(f"{options.docket} has no version “{wanted}”; it has {names}.")


def docket_of(options: argparse.Namespace) -> Docket:
    """Return the docket that the options ask for."""
    docket = _started(options)
    if options.ppi and options.keep_pixels:
        raise BadRequest("--ppi asks for new pixels and --keep-pixels for none; give one of them.")
    wish = _wish(options)
    kept = docket.size.size or docket.size.way
    if wish is None and options.sheet is None and (not options.docket or kept is None):
        raise BadRequest("Say how large: --size, such as --size 30x20cm.")
    changes: dict[str, dict[str, Any]] = {name: {} for name in ("size", "crop", "pixels")}
    changes |= {"sharpen": sharpening.decided(options), "file": {}, "photo": {}}
    if options.page is not None:
        changes["photo"]["page"] = checked("photo", "page", options.page)
    changes["finish"] = finishing.decided(options, wish is not None)
    if options.ground is not None:
        changes["photo"]["ground"] = parse_tone(options.ground)
    size, crop, pixels = changes["size"], changes["crop"], changes["pixels"]
    file = changes["file"]
    if wish is not None:
        size |= {"size": wish.size, "way": wish.way}
        if wish.lie != "auto":
            size["lie"] = wish.lie
    if options.orient is not None:
        size["lie"] = options.orient
    if options.printed_at is not None:
        size["maker"] = find_maker(options.printed_at).key
    if options.floor is not None:
        size["floor"] = parse_ppi(options.floor)
    if options.overspill is not None:
        size |= parse_overspill(options.overspill)
    if options.ppi is not None:
        size["ppi"] = parse_ppi(options.ppi)
        pixels["choice"] = "resample"
    if options.keep_pixels:
        pixels["choice"] = "keep"
    if options.distance is not None:
        size["distance_mm"] = parse_distance(options.distance)
    if options.fit is not None:
        crop["fit"] = options.fit
    if options.border is not None and options.sheet is None:
        if options.fit != "border":
            raise BadRequest("--border belongs to a --sheet, or to --fit border.")
        crop["border_mm"] = parse_length(options.border)
    if options.mirror:
        crop["mirror"] = True
    if options.place is not None:
        x, y = numbers(options.place, 2, "--place", "0.5,0.5")
        crop |= {
            "place_x": checked("crop", "place_x", str(x)),
            "place_y": checked("crop", "place_y", str(y)),
            "frame": None,
        }
    if options.crop is not None:
        crop["frame"] = Frame(*numbers(options.crop, 4, "--crop", "0,0,3000,2000"))
        if crop["frame"].width <= 0 or crop["frame"].height <= 0:
            raise BadRequest("--crop needs a width and a height over 0.")
    if options.turn is not None:
        (turn,) = numbers(options.turn, 1, "--turn", "1.5")
        crop["turn"] = checked("crop", "turn", str(turn))
    if options.pixels is not None:
        pixels |= {"target": parse_target(options.pixels), "choice": "resample"}
    if options.kind is not None:
        pixels["kind"] = options.kind
    if options.crisp is not None:
        (crisp,) = numbers(options.crisp, 1, "--crisp", "50")
        pixels["crisp"] = checked("pixels", "crisp", str(crisp))
    if options.method is not None:
        pixels["method"] = options.method
    for name in ("clean", "denoise", "dehalo"):
        typed = getattr(options, name)
        if typed is not None:
            (much,) = numbers(typed.removesuffix("%"), 1, f"--{name}", "40")
            pixels[name] = checked("pixels", name, str(much))
    file |= filing.decided(options)
    if options.max_bytes is not None:
        file["max_bytes"] = parse_bytes(options.max_bytes)
    if getattr(options, "format", None) is not None:
        file["format"] = options.format
        if options.format == "jpeg" and options.bits == 16:
            raise BadRequest("JPEG has 8 bits; write a TIFF or PNG for 16.")
    lines = {name: replace(getattr(docket, name), **fields) for name, fields in changes.items()}
    return replace(docket, **lines)


def _wish(options: argparse.Namespace) -> Wish | None:
    """Return the one size that the options ask for, in whichever way."""
    both = options.width is not None and options.height is not None
    given = [name for name in _SIZE_OPTIONS if getattr(options, name) is not None]
    if both:
        given.remove("height")
    if len(given) > 1:
        raise BadRequest(
            f"--{given[0].replace('_', '-')} and --{given[1].replace('_', '-')} both say how "
            "large; give one of them."
        )
    if (options.reveal or options.overlap) and options.mat is None:
        raise BadRequest("--reveal and --overlap belong to a --mat.")
    if not given:
        return None
    name, typed = given[0], getattr(options, given[0])
    if both:
        width, height = parse_length(options.width), parse_length(options.height)
        return Wish(size=PrintSize(f"{options.width} × {options.height}", width, height))
    if name == "size":
        wish = parse_wish(typed, own=OwnSizes().all)
        if wish.max_bytes is not None:
            raise BadRequest(f"--size {typed} is a file's size; that is --max-bytes {typed}.")
        return wish
    return Wish(way=_way(options, name, typed))


def _way(options: argparse.Namespace, name: str, typed: str) -> Way:
    if name == "mat":
        return mat_of(typed, options.reveal, options.overlap)
    if name == "within":
        return within(typed)
    if name == "screen":
        return screen(typed)
    if name == "scale":
        return Way("scale", (parse_number(typed.removesuffix("%"), "percentage") / 100,))
    if name == "megapixels":
        return Way("megapixels", (parse_number(typed, "number of megapixels"),))
    return Way(name.replace("_", "-"), (parse_length(typed),))


def with_interest(facts: Facts, options: argparse.Namespace) -> Facts:
    """Return facts with the subject: the one that is typed, else the photo's own mark."""
    if options.interest is None:
        return marked(facts)
    x, y = numbers(options.interest, 2, "--interest", "0.3,0.6")
    if not (0 <= x <= 1 and 0 <= y <= 1):
        raise BadRequest(f"--interest {options.interest}: both numbers run from 0 to 1.")
    return replace(facts, interest=(x, y))


def checked_plan(facts: Facts, docket: Docket, options: argparse.Namespace) -> Plan:
    """Plan a docket; a frame that was typed must have the size's shape within half a pixel."""
    plan = make_plan(facts, docket)
    if options.crop is not None and plan.docket.crop.fit == "trim":
        frame = docket.crop.frame
        assert frame is not None
        ratio = plan.size.width_mm / plan.size.height_mm
        half = Fraction(1, 2)
        if abs(frame.width - frame.height * ratio) > half and (
            abs(frame.height - frame.width / ratio) > half
        ):
            raise BadRequest(
                f"The frame {float(frame.width):g} × {float(frame.height):g} px has not the shape "
                f"of {plan.size.label}; for that width it is "
                f"{float(frame.width / ratio):.6g} px high."
            )
    return plan


def numbers(text: str, count: int, option: str, example: str) -> list[Fraction]:
    """Read so many numbers, with signs, from what was typed after an option.

    Raises
    ------
    BadRequest
    """
    parts = text.split(",")
    if len(parts) != count:
        raise BadRequest(f"{option} {text} cannot be read; type it like {option} {example}.")
    found = []
    for part in parts:
        sign = -1 if part.strip().startswith(("-", "−")) else 1
        try:
            found.append(sign * parse_number(part.strip().lstrip("-−+")))
        except BadRequest:
            raise BadRequest(
                f"{option} {text} cannot be read; type it like {option} {example}."
            ) from None
    return found
