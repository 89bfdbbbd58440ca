"""The options of every decision: those of one field as the docket says them, and the wide ones.

An option that writes one field stands beside that field (`docket/fields.py`). What writes several,
or shares a field with others, is declared here, once, with the fields that it writes.
"""

from __future__ import annotations

import argparse
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from zinc_margin.docket.docket import FIELDS, LINES, checked
from zinc_margin.docket.typed import parse_key_line, parse_overspill, parse_pieces, parse_wrap
from zinc_margin.keeping.own import OwnPapers
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.papers import SCREEN, find_paper
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.wish import parse_target

Changes = dict[str, dict[str, Any]]
"""By line, the fields that are changed and their values."""


@dataclass(frozen=True)
class Wide:
    """An option that writes several fields, or one that others write, too.

    Attributes
    ----------
    flag, metavar, help : str
        Two flags parted by a blank are one option.
    writes : tuple of str
        The fields: ``size.way``.
    read : callable or None
        From what is typed to the changes; None where it is read together with others.
    switch : bool
        Nothing is typed after it.
    """

    flag: str
    metavar: str
    help: str
    writes: tuple[str, ...]
    read: Callable[[str], Changes] | None = None
    switch: bool = False

    @property
    def line(self) -> str:
        """The line under which it is listed."""
        return self.writes[0].partition(".")[0]


_SIZE = ("size.size", "size.way", "size.lie")


def _ppi(typed: str) -> Changes:
    return {"size": {"ppi": parse_ppi(typed)}, "pixels": {"choice": "resample"}}


def _target(typed: str) -> Changes:
    return {"pixels": {"target": parse_target(typed), "choice": "resample"}}


def _watermark(typed: str) -> Changes:
    field = "watermark_picture" if Path(typed).is_file() else "watermark"
    return {"file": {field: checked("file", field, typed)}}


def colour_of(typed: str) -> dict[str, Any]:
    """Read a file's colours: a word, or an ICC file."""
    from zinc_margin.handoff.conversion import read_profile

    if typed in ("own", "srgb", "wide", "grey"):
        return {"colour": typed, "profile": None}
    return {"colour": "icc", "profile": read_profile(typed)}


WIDE: tuple[Wide, ...] = (
    Wide("size", "SIZE", "print size: a name (A3+), or two sides (27x18in, 70x46cm)", _SIZE),
    Wide("width", "LENGTH", "one side; the other follows from the picture's shape", _SIZE),
    Wide("height", "LENGTH", "the same by its height; with --width both sides", _SIZE),
    Wide("long-edge", "LENGTH", "the longer side; the other follows", _SIZE),
    Wide("short-edge", "LENGTH", "the shorter side; the other follows", _SIZE),
    Wide("within", "SIZE", "as large as fits into 18x13cm, or 1920x1080px", _SIZE),
    Wide("scale", "PERCENT", "percent of the photo's own pixels", _SIZE),
    Wide("megapixels", "N", "at most so many million pixels", _SIZE),
    Wide("screen", "WxH", "fill a screen: 1920x1080", _SIZE),
    Wide("mat", "SIZE", "a mat's opening; with --reveal or --overlap", _SIZE),
    Wide("reveal", "LENGTH", "paper that shows all round inside the mat", ("size.way",)),
    Wide("overlap", "LENGTH", "picture that the mat hides all round", ("size.way",)),
    Wide(
        "overspill",
        "LENGTH",
        "borderless: overspill past each edge, 3mm or 1%",
        ("size.overspill_mm", "size.overspill_share"),
        lambda typed: {"size": parse_overspill(typed)},
    ),
    Wide(
        "place",
        "X,Y",
        "where the frame sits in the free room, 0 to 1 each",
        ("crop.place_x", "crop.place_y", "crop.frame"),
    ),
    Wide("crop", "L,T,W,H", "frame in pixels of the upright, rotated picture", ("crop.frame",)),
    Wide(
        "ppi", "N", "exactly so many ppi, resampling as needed", ("size.ppi", "pixels.choice"), _ppi
    ),
    Wide(
        "keep-pixels",
        "",
        "keep the pixels; only the resolution tag changes",
        ("pixels.choice",),
        lambda typed: {"pixels": {"choice": "keep"}},
        True,
    ),
    Wide(
        "pixels",
        "N",
        "pixels of the file: 12MP, 50%, 1.3x, 2048px (long edge), 240ppi",
        ("pixels.target", "pixels.choice"),
        _target,
    ),
    Wide(
        "paper",
        "PAPER",
        "paper: gloss, lustre, matt, canvas … or one of your own",
        ("sharpen.paper", "sharpen.sigma_mm", "sharpen.strength"),
    ),
    Wide(
        "sheet",
        "SIZE",
        "sheet of paper; without --size it gives the print's size",
        ("finish.sheet", "finish.scales"),
    ),
    Wide(
        "border",
        "LENGTH",
        "border on the --sheet, all round; or the narrowest with --fit border",
        ("finish.margins", "crop.border_mm"),
    ),
    Wide(
        "place-on-sheet",
        "X,Y",
        "where a smaller picture stands on its sheet, 0 to 1 each",
        ("finish.place_x", "finish.place_y"),
    ),
    Wide(
        "key-line",
        "LENGTH[,TONE[,GAP]]",
        "a line round the picture: 0.3mm,black,2mm",
        ("finish.line_mm", "finish.line_tone", "finish.line_gap_mm"),
        lambda typed: {"finish": parse_key_line(typed)},
    ),
    Wide(
        "wrap",
        "DEPTH+FOLD",
        "canvas sides: bar depth and fold, 32mm+14mm",
        ("finish.wrap_mm", "finish.tuck_mm"),
        lambda typed: {"finish": parse_wrap(typed)},
    ),
    Wide(
        "pieces",
        "SIZE",
        "print in pieces on these sheets: A3, or 91cm-roll",
        ("finish.pieces", "finish.roll_mm"),
        lambda typed: {"finish": parse_pieces(typed)},
    ),
    Wide(
        "colour",
        "PROFILE",
        "colours: own, srgb, wide, grey, or an ICC file",
        ("file.colour", "file.profile"),
        lambda typed: {"file": colour_of(typed)},
    ),
    Wide(
        "watermark",
        "TEXT",
        "watermark on the finished page: text, or a picture file",
        ("file.watermark", "file.watermark_picture"),
        _watermark,
    ),
)


def declare(parser: argparse.ArgumentParser) -> None:
    """Declare the options of every decision, line after line."""
    for number, (line, fields) in enumerate(FIELDS.items(), 1):
        group = parser.add_argument_group(f"{number} {LINES[line].title}")
        for wide in WIDE:
            if wide.line != line:
                continue
            text = wide.help.replace("%", "%%")
            flags = [f"--{flag}" for flag in wide.flag.split()]
            if wide.switch:
                group.add_argument(*flags, action="store_true", help=text)
            else:
                group.add_argument(*flags, metavar=wide.metavar, help=text)
        for said in fields.values():
            option = said.option
            if option is None:
                continue
            text = (option.help or said.meaning).replace("%", "%%")
            if option.sets is not None:
                group.add_argument(f"--{option.flag}", action="store_true", help=text)
            elif said.kind.words:
                words = option.words or said.kind.words
                group.add_argument(f"--{option.flag}", choices=words, help=text)
            else:
                metavar = option.metavar or said.kind.metavar
                group.add_argument(f"--{option.flag}", metavar=metavar, help=text)


def typed(options: argparse.Namespace, flag: str) -> Any:
    """Return what was typed after an option; None where it was not given."""
    return getattr(options, flag.partition(" ")[0].replace("-", "_"))


def decided(options: argparse.Namespace) -> Changes:
    """Return the changes of all options that are read by themselves."""
    entries: Changes = {line: {} for line in FIELDS}
    for line, fields in FIELDS.items():
        for name, said in fields.items():
            option = said.option
            value = None if option is None else typed(options, option.flag)
            if option is None or value is None or value is False:
                continue
            if option.sets is not None:
                entries[line][name] = option.sets
                continue
            read = option.typed or said.kind.typed
            entries[line][name] = checked(line, name, read(value) if read is not None else value)
    for wide in WIDE:
        value = typed(options, wide.flag)
        if wide.read is None or value is None or value is False:
            continue
        for line, changes in wide.read(value).items():
            entries[line] |= changes
    return entries


def paper_of(options: argparse.Namespace) -> dict[str, Any]:
    """Return a shipped paper, one of the person's own, or a new name for a blur that is given.

    Raises
    ------
    BadRequest
        When no such paper is known, and no blur is given.
    """
    name = options.paper
    if name is None:
        return {}
    papers = OwnPapers()
    own = papers.find(name)
    if own is not None:
        return {"paper": own.name, "sigma_mm": own.sigma_mm, "strength": own.strength}
    if name.strip().lower() == SCREEN:
        return {"paper": SCREEN, "sigma_mm": None}
    try:
        return {"paper": find_paper(name).name, "sigma_mm": None}
    except BadRequest as why:
        if options.paper_blur is None:
            raise BadRequest(" ".join((str(why), *papers.broken))) from None
        return {"paper": checked("sharpen", "paper", name)}
