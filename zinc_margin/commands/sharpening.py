"""The Sharpen line's options on the command line."""

from __future__ import annotations

import argparse
from typing import Any

from zinc_margin.docket.own_papers import OwnPapers
from zinc_margin.docket.store import checked
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length, parse_number
from zinc_margin.measure.papers import SCREEN, find_paper, find_process

_NUMBERS = {
    "strength": "percent of the sharpening that is worked out, 0 to 300",
    "lean": "from hair-fine edges (0) to broad ones (1)",
    "halo": "the highest overshoot beside an edge, in L*",
    "noise": "differences of this size, in L*, are left alone",
    "shadows": "how much is held back in deep shadows, percent",
    "highlights": "how much is held back near white, percent",
    "grain": "grain laid on, 0 to 100",
}


def declare(parser: argparse.ArgumentParser) -> None:
    """Declare the options."""
    add = parser.add_argument
    add("--paper", metavar="PAPER", help="gloss, lustre, matt, canvas … screen, or one of yours")
    add("--paper-blur", metavar="LENGTH", help="of a paper of your own: its sigma, such as 0.06mm")
    add("--process", metavar="HOW", help="inkjet, exposure, dye, press …: how it is printed")
    for name, told in _NUMBERS.items():
        add(f"--{_option(name)}", metavar="N", help=told)
    add("--grain-size", metavar="LENGTH", help="of a grain on the print, such as 0.15mm")
    add("--no-sharpen", action="store_true")


def decided(options: argparse.Namespace) -> dict[str, Any]:
    """Return the fields of the Sharpen line that the options give."""
    found: dict[str, Any] = {}
    if options.paper is not None:
        found |= _paper(options.paper, options.paper_blur is not None)
    if options.paper_blur is not None:
        blur = parse_length(options.paper_blur, "mm")
        found["sigma_mm"] = checked("sharpen", "sigma_mm", str(blur))
    if options.process is not None:
        found["process"] = find_process(options.process).key
    if options.grain_size is not None:
        size = parse_length(options.grain_size, "mm")
        found["grain_mm"] = checked("sharpen", "grain_mm", str(size))
    for name in _NUMBERS:
        typed = getattr(options, _option(name).replace("-", "_"))
        if typed is not None:
            value = parse_number(typed.removesuffix("%").strip())
            found[name] = checked("sharpen", name, str(value))
    if options.no_sharpen:
        found["on"] = False
    return found


def _option(name: str) -> str:
    return "noise-floor" if name == "noise" else name


def _paper(name: str, has_blur: bool) -> dict[str, Any]:
    """Return a shipped paper, one of the person's own, or a new name for a blur that is given."""
    own = OwnPapers().find(name)
    if own is not None:
        return {"paper": own.name, "sigma_mm": own.sigma_mm, "strength": own.strength}
    if name.strip().lower() == SCREEN:
        return {"paper": SCREEN, "sigma_mm": None}
    try:
        return {"paper": find_paper(name).name, "sigma_mm": None}
    except BadRequest:
        if not has_blur:
            raise
        return {"paper": checked("sharpen", "paper", name)}
