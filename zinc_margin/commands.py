"""The command line: the same plan and the same renderer as the window."""

from __future__ import annotations

import argparse
import json
import signal
import sys
import threading
import time
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any, NoReturn

from . import __version__
from .docket import store
from .docket.docket import Docket, Frame
from .handoff.names import same_file
from .measure import words
from .measure.errors import BadRequest, Cancelled, ZincError
from .measure.lengths import parse_length, parse_number
from .measure.papers import find_paper
from .measure.resolution import parse_ppi
from .measure.sizes import parse_size
from .photo.facts import Facts
from .photo.header import read_header
from .plan.consequences import summary
from .plan.model import Plan
from .plan.planning import plan as make_plan
from .plan.reach import reach
from .plan.report import plan_report, reach_report


class _Parser(argparse.ArgumentParser):
    def error(self, message: str) -> NoReturn:
        raise BadRequest(f"{message[:1].upper()}{message[1:]}; see zinc-margin --help.")


def main(arguments: list[str] | None = None) -> int:
    """Run one command.

    Returns
    -------
    int
        0; 2 for a wrong request; 1 when it could not be done; 130 when interrupted.
    """
    try:
        options = _parser().parse_args(arguments)
        return int(options.run(options))
    except BadRequest as why:
        return _say(why, 2)
    except (Cancelled, KeyboardInterrupt):
        return _say("Stopped; nothing was written.", 130)
    except ZincError as why:
        return _say(why, 1)
    except BrokenPipeError:
        sys.stderr.close()
        return 1
    except MemoryError:
        return _say("There is not enough memory for this; nothing was written.", 1)
    except Exception as why:
        return _say(f"Something went wrong that should not ({type(why).__name__}: {why}).", 1)


def _say(sentence: object, code: int) -> int:
    print(f"zinc-margin: {sentence}", file=sys.stderr)
    return code


def _parser() -> argparse.ArgumentParser:
    parser = _Parser(
        prog="zinc-margin",
        description="From a finished photo to a file that prints exactly as meant.",
    )
    parser.add_argument("--version", action="version", version=f"zinc-margin {__version__}")
    commands = parser.add_subparsers(required=True, metavar="COMMAND", parser_class=_Parser)

    one = commands.add_parser("reach", help="how large a photo goes")
    one.add_argument("photo", metavar="PHOTO")
    one.add_argument("--ppi", action="append", metavar="N", help="may be given several times")
    one.add_argument("--json", action="store_true", help="print one JSON object")
    one.set_defaults(run=_reach)

    two = commands.add_parser("plan", help="every number of a print, without making it")
    _decisions(two)
    two.set_defaults(run=_plan)

    three = commands.add_parser("make", help="make the file")
    _decisions(three)
    three.add_argument("--out", metavar="FILE", required=True, help="ends in .tif, .jpg or .png")
    three.add_argument(
        "--overwrite", action="store_true", help="replace FILE if it exists (never the photo)"
    )
    three.set_defaults(run=_make)

    four = commands.add_parser("demo", help="write the demo's photos and dockets to a folder")
    four.add_argument("folder", metavar="DIR")
    four.set_defaults(run=_demo)
    return parser


def _decisions(parser: argparse.ArgumentParser) -> None:
    add = parser.add_argument
    add("photo", metavar="PHOTO")
    add("--size", metavar="SIZE", help="a name (A3+), or two sides (27x18in, 70x46cm)")
    add("--orient", choices=("auto", "as-given"), help="auto: the size lies as the photo lies")
    add("--fit", choices=("trim", "whole"), help="fill the size, or show all with bands")
    add("--place", metavar="X,Y", help="where the frame sits in its free room, 0 to 1 each")
    add("--crop", metavar="L,T,W,H", help="a frame in px of the upright, turned picture")
    add("--turn", metavar="DEG", help="degrees, clockwise")
    add("--ppi", metavar="N", help="exactly that, resampling as needed")
    add("--keep-pixels", action="store_true", help="resample nothing; only the tag changes")
    add("--method", choices=("lanczos", "mitchell", "catmull-rom", "blocks"))
    add("--paper", metavar="PAPER", help="gloss, lustre, matt, cotton rag, canvas …")
    add("--distance", metavar="LENGTH", help="from where the print is seen, such as 80cm")
    add("--strength", metavar="PERCENT", help="of the sharpening that is worked out, 0 to 300")
    add("--no-sharpen", action="store_true")
    add("--bits", type=int, choices=(8, 16))
    add("--quality", type=int, metavar="N", help="JPEG quality, 1 to 100")
    add("--docket", metavar="FILE", help="start from a saved docket")
    add("--save-docket", metavar="FILE", help="write the docket")
    add("--json", action="store_true", help="print one JSON object")


def _reach(options: argparse.Namespace) -> int:
    facts = read_header(options.photo).facts
    ppis = [parse_ppi(text) for text in options.ppi or ["300", "240", "180"]]
    if options.json:
        _print_json(reach_report(facts, ppis))
        return 0
    print(
        f"{facts.path.name}: {facts.width} × {facts.height} px, "
        f"{words.megapixels(facts.width, facts.height)}"
    )
    for ppi in ppis:
        width, height = reach(facts.width, facts.height, ppi)
        print(
            f"  at {words.ppi(ppi)} ppi  {words.pair(width, height, 'cm')}  "
            f"({words.pair(width, height, 'in')})"
        )
    return 0


def _plan(options: argparse.Namespace) -> int:
    docket = _docket(options, read_header(options.photo).facts)
    from .photo.pixels import read_photo

    facts = read_photo(options.photo).facts
    plan = _checked_plan(facts, docket, options)
    _save_docket(options, docket)
    if options.json:
        _print_json(plan_report(facts, plan))
    else:
        print(summary(facts, plan))
    return 0


def _make(options: argparse.Namespace) -> int:
    from .handoff.make import make_file
    from .handoff.names import check_goal, format_of
    from .photo.pixels import read_photo

    out = Path(options.out)
    options.format = format_of(out)
    header = read_header(options.photo)
    check_goal(header.facts.path, out, options.overwrite)
    docket = _docket(options, header.facts)
    _checked_plan(header.facts, docket, options)  # refuse what is wrong before any pixel is read
    photo = read_photo(options.photo)
    plan = make_plan(photo.facts, docket)
    cancel = threading.Event()
    before = signal.signal(signal.SIGINT, lambda *_: cancel.set())
    terminated = signal.signal(signal.SIGTERM, lambda *_: cancel.set())
    try:
        written = make_file(photo, plan, out, options.overwrite, _progress(), cancel)
    finally:
        signal.signal(signal.SIGINT, before)
        signal.signal(signal.SIGTERM, terminated)
        if sys.stderr.isatty():
            print(file=sys.stderr, end="\r\x1b[K")
    _save_docket(options, docket)
    if options.json:
        report = plan_report(photo.facts, plan)
        report["written"] = {
            "path": str(written.path), "bytes": written.bytes, "seconds": written.seconds,
        }  # fmt: skip
        _print_json(report)
    else:
        print(summary(photo.facts, plan))
        print(
            f"Written: {written.path}, {words.size_in_bytes(written.bytes)}, in "
            f"{words.seconds(written.seconds)}."
        )
    return 0


def _demo(options: argparse.Namespace) -> int:
    from .demo.folder import write_demo

    for path in write_demo(Path(options.folder), _progress()):
        print(path)
    return 0


def _progress() -> Callable[[float], None] | None:
    """Return a progress line for a terminal; None in a pipe."""
    if not sys.stderr.isatty():
        return None
    started = time.monotonic()

    def show(share: float) -> None:
        gone = time.monotonic() - started
        left = words.seconds(gone / share - gone) if share > 0.05 else "…"
        print(f"\r\x1b[K{share:4.0%}  {left} left", end="", file=sys.stderr, flush=True)

    return show


def _docket(options: argparse.Namespace, facts: Facts) -> Docket:
    """Return the docket that the options ask for."""
    docket = store.load(options.docket) if options.docket else Docket()
    if options.ppi and options.keep_pixels:
        raise BadRequest("--ppi asks for new pixels and --keep-pixels for none; give one of them.")
    if options.size is None and (not options.docket or docket.size.size is None):
        raise BadRequest("Say how large: --size, such as --size 30x20cm.")
    changes: dict[str, dict[str, Any]] = {name: {} for name in ("size", "crop", "pixels")}
    changes |= {"sharpen": {}, "file": {}}
    size, crop, pixels = changes["size"], changes["crop"], changes["pixels"]
    sharpen, file = changes["sharpen"], changes["file"]
    if options.size is not None:
        size["size"] = parse_size(options.size)
    if options.orient is not None:
        size["lie"] = options.orient
    if options.ppi is not None:
        size["ppi"] = parse_ppi(options.ppi)
        pixels["choice"] = "resample"
    if options.keep_pixels:
        pixels["choice"] = "keep"
    if options.distance is not None:
        size["distance_mm"] = parse_length(options.distance)
    if options.fit is not None:
        crop["fit"] = options.fit
    if options.place is not None:
        x, y = _numbers(options.place, 2, "--place", "0.5,0.5")
        crop |= {
            "place_x": store.checked("crop", "place_x", str(x)),
            "place_y": store.checked("crop", "place_y", str(y)),
            "frame": None,
        }
    if options.crop is not None:
        crop["frame"] = Frame(*_numbers(options.crop, 4, "--crop", "0,0,3000,2000"))
        if crop["frame"].width <= 0 or crop["frame"].height <= 0:
            raise BadRequest("--crop needs a width and a height over 0.")
    if options.turn is not None:
        (turn,) = _numbers(options.turn, 1, "--turn", "1.5")
        crop["turn"] = store.checked("crop", "turn", str(turn))
    if options.method is not None:
        pixels["method"] = options.method
    if options.paper is not None:
        sharpen["paper"] = find_paper(options.paper).name
    if options.strength is not None:
        (strength,) = _numbers(options.strength.removesuffix("%"), 1, "--strength", "100")
        sharpen["strength"] = store.checked("sharpen", "strength", str(strength))
    if options.no_sharpen:
        sharpen["on"] = False
    if options.bits is not None:
        file["bits"] = options.bits
    if options.quality is not None:
        file["quality"] = store.checked("file", "quality", options.quality)
    if getattr(options, "format", None) is not None:
        file["format"] = options.format
        if options.format == "jpeg" and options.bits == 16:
            raise BadRequest("JPEG has 8 bits; write a TIFF or PNG for 16.")
    lines = {name: replace(getattr(docket, name), **fields) for name, fields in changes.items()}
    return replace(docket, **lines)


def _checked_plan(facts: Facts, docket: Docket, options: argparse.Namespace) -> Plan:
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


def _numbers(text: str, count: int, option: str, example: str) -> list[Fraction]:
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


def _save_docket(options: argparse.Namespace, docket: Docket) -> None:
    if not options.save_docket:
        return
    path = Path(options.save_docket)
    if same_file(path, Path(options.photo)):
        raise BadRequest("--save-docket names the photo itself; the original is never written.")
    store.save(docket, path)


def _print_json(report: dict[str, Any]) -> None:
    print(json.dumps(report, ensure_ascii=False, indent=2))


if __name__ == "__main__":
    sys.exit(main())
