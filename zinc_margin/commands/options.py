"""The options of every decision: those of single fields, and wide ones.

An option that writes one field is declared with that field (`docket/fields.py`). Options that write
several fields, or share a field with others, are declared here with the fields that they write.
"""

from __future__ import annotations

import argparse
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from zinc_margin.docket.docket import FIELDS, LINES, check_value
from zinc_margin.docket.finish_input import (
    parse_key_line,
    parse_overspill,
    parse_pieces,
    parse_wrap,
)
from zinc_margin.keeping.own import OwnPapers
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.papers import SCREEN, find_paper
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.tables import table
from zinc_margin.measure.wish import parse_target

Changes = dict[str, dict[str, Any]]
"""Changed fields and their values, by line."""


@dataclass(frozen=True)
class Wide:
    """An option that writes several fields, or one that other options also write.

    Attributes
    ----------
    flag, metavar, help : str
        Two flags separated by a space are one option.
    writes : sequence of str
        The fields, for example ``size.way``.
    read : callable or None
        Converts typed text to changes; None if it is read together with other options.
    switch : bool
        Whether it takes no value.
    """

    flag: str
    metavar: str
    help: str
    writes: Sequence[str]
    read: Callable[[str], Changes] | None = None
    switch: bool = False

    @property
    def line(self) -> str:
        """The line that lists the option."""
        return self.writes[0].partition(".")[0]


def _ppi(typed: str) -> Changes:
    return {"size": {"ppi": parse_ppi(typed)}, "pixels": {"choice": "resample"}}


def _target(typed: str) -> Changes:
    return {"pixels": {"target": parse_target(typed), "choice": "resample"}}


def _watermark(typed: str) -> Changes:
    field = "watermark_picture" if Path(typed).is_file() else "watermark"
    return {"file": {field: check_value("file", field, typed)}}


def colour_of(typed: str) -> dict[str, Any]:
    """Read a file's colours: a word, or the path of an ICC file."""
    from zinc_margin.handoff.conversion import read_profile

    if typed in ("own", "srgb", "wide", "grey"):
        return {"colour": typed, "profile": None}
    return {"colour": "icc", "profile": read_profile(typed)}


_READ: dict[str, Callable[[str], Changes]] = {
    "overspill": lambda typed: {"size": parse_overspill(typed)},
    "ppi": _ppi,
    "sharpen": lambda typed: {"sharpen": {"on": True}},
    "keep-pixels": lambda typed: {"pixels": {"choice": "keep"}},
    "pixels": _target,
    "key-line": lambda typed: {"finish": parse_key_line(typed)},
    "wrap": lambda typed: {"finish": parse_wrap(typed)},
    "pieces": lambda typed: {"finish": parse_pieces(typed)},
    "colour": lambda typed: {"file": colour_of(typed)},
    "watermark": _watermark,
}
"""Readers of the options that can be read independently."""
WIDE = tuple(Wide(**one, read=_READ.get(one["flag"])) for one in table("commands")["options"])


def declare(parser: argparse.ArgumentParser) -> None:
    """Declare the options of every decision, line by line."""
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


def text_of(options: argparse.Namespace, flag: str) -> Any:
    """Return an option's text; None if it was not given."""
    return getattr(options, flag.partition(" ")[0].replace("-", "_"))


def changes_of(options: argparse.Namespace) -> Changes:
    """Return the changes made by all independent options."""
    entries: Changes = {line: {} for line in FIELDS}
    for line, fields in FIELDS.items():
        for name, said in fields.items():
            option = said.option
            value = None if option is None else text_of(options, option.flag)
            if option is None or value is None or value is False:
                continue
            if option.sets is not None:
                entries[line][name] = option.sets
                continue
            read = option.typed or said.kind.typed
            entries[line][name] = check_value(
                line, name, read(value) if read is not None else value
            )
    for wide in WIDE:
        value = text_of(options, wide.flag)
        if wide.read is None or value is None or value is False:
            continue
        for line, changes in wide.read(value).items():
            entries[line] |= changes
    return entries


def paper_of(options: argparse.Namespace) -> dict[str, Any]:
    """Return a shipped paper, a paper of the user, or a new name for a given blur.

    Raises
    ------
    BadRequest
        If the paper is unknown and no blur is given.
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
        return {"paper": check_value("sharpen", "paper", name)}
