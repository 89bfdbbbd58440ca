"""The commands that print tables: the catalogue, a photo's ladder, several photos at one size."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path

from zinc_margin.commands import units
from zinc_margin.commands.as_json import (
    carried_report,
    exact,
    need_report,
    photo_report,
    print_json,
    rung_report,
)
from zinc_margin.commands.decisions import own_print
from zinc_margin.commands.units import units_of
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.handoff.machine import this_machine
from zinc_margin.keeping.own import OwnSizes
from zinc_margin.measure import words
from zinc_margin.measure.distances import parse_distance
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.makers import find_maker, usual_maker
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.ways import Way, named_ways
from zinc_margin.measure.wish import parse_target, parse_wish
from zinc_margin.photo.header import read_header
from zinc_margin.plan.build import plan
from zinc_margin.plan.size.ladder import ladder
from zinc_margin.plan.size.needs import needs
from zinc_margin.plan.size.suitability import compare
from zinc_margin.plan.text.phrases import need_words
from zinc_margin.plan.text.reasons import judged_from


def declare_sizes(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `sizes`."""
    add = parser.add_argument
    add("--family", metavar="FAMILY", help="only this family: photo, paper, frame …")
    add("--by", metavar="WHO", help="only the sizes that a maker sells")
    add("--add", nargs=2, metavar=("NAME", "SIZE"), help="save a size under a name")
    add("--rename", nargs=2, metavar=("NAME", "NEW"), help="rename a size of yours")
    add("--remove", metavar="NAME", help="remove a size of yours")
    add("--import", dest="take_in", metavar="FILE", help="add the sizes of a file")
    add("--export", metavar="FILE", help="write your sizes to a file")
    add("--json", action="store_true", help="print one JSON object")
    units.declare(parser)
    parser.set_defaults(run=_sizes)


def declare_ladder(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `ladder`."""
    add = parser.add_argument
    add("photo", metavar="PHOTO", help="the finished photo")
    _sums(parser)
    add("--family", metavar="FAMILY", help="only this family: photo, paper, frame …")
    add("--pixels", metavar="N", help="enlarge first, for example 7x: sizes are graded by the file")
    parser.set_defaults(run=_ladder)


def declare_needs(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `needs`."""
    parser.add_argument("sizes", metavar="SIZE", nargs="+", help="for example 70x50cm or A3")
    _sums(parser)
    parser.set_defaults(run=_needs)


def declare_compare(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `compare`."""
    parser.add_argument("photos", metavar="PHOTO", nargs="+", help="photos to compare")
    parser.add_argument("--size", metavar="SIZE", required=True, help="print size")
    _sums(parser)
    parser.set_defaults(run=_compare)


def _sums(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--by", metavar="WHO", help="maker: lab, desk, roll …")
    parser.add_argument("--target", metavar="PPI", help="target resolution; 300 by default")
    parser.add_argument("--floor", metavar="PPI", help="minimum resolution; 180")
    parser.add_argument(
        "--distance", metavar="LENGTH", help="viewing distance: 2.2m, 70-110cm, across a room …"
    )
    parser.add_argument("--json", action="store_true", help="print one JSON object")
    units.declare(parser)


def _docket(options: argparse.Namespace) -> Docket:
    line = Docket().size
    if options.by is not None:
        line = replace(line, maker=find_maker(options.by).key)
    if options.target is not None:
        line = replace(line, ppi=parse_ppi(options.target))
    if options.floor is not None:
        line = replace(line, floor=parse_ppi(options.floor))
    if options.distance is not None:
        line = replace(line, distance=parse_distance(options.distance, units_of(options)))
    return replace(Docket(), size=line)


def _sizes(options: argparse.Namespace) -> int:
    own = OwnSizes()
    if _change_own(options, own):
        return 0
    every: list[PrintSize | Way] = [*catalogue(), *named_ways(), *own.all]
    family = _family(options, every)
    sold = None if options.by is None else find_maker(options.by).families
    shown = [
        one
        for one in every
        if family in (None, one.family) and (sold is None or one.family in sold)
    ]
    if options.json:
        rows = [
            {
                "label": one.label,
                "family": one.family,
                "width_mm": exact(one.width_mm) if isinstance(one, PrintSize) else None,
                "height_mm": exact(one.height_mm) if isinstance(one, PrintSize) else None,
            }
            for one in shown
        ]
        print_json({"sizes": rows})
        return 0
    for sentence in own.broken:
        print(sentence, file=sys.stderr)
    unit = units_of(options)
    for one in shown:
        text = ""
        if isinstance(one, PrintSize):
            both = [words.pair(one.width_mm, one.height_mm, unit) for unit in ("cm", "in")]
            first, second = both if unit == "cm" else both[::-1]
            text = f"{first:18}  {second}"
        elif one.frame is not None:
            text = f"in a {words.pair(*one.frame, unit)} frame"
        print(f"{one.family:20}  {one.label:24}  {text}".rstrip())
    return 0


def _change_own(options: argparse.Namespace, own: OwnSizes) -> bool:
    """Carry out changes to the user's sizes; return whether any was requested."""
    if options.add is not None:
        name, typed = options.add
        wish = parse_wish(typed)
        size = wish.size or wish.way
        if size is None:
            raise BadRequest(f"“{typed}” is not a print size.")
        own.add(name, size)
        print(f"Saved “{name}” among your sizes.")
    elif options.rename is not None:
        own.rename(*options.rename)
        print(f"“{options.rename[0]}” is now called “{options.rename[1]}”.")
    elif options.remove is not None:
        own.remove(options.remove)
        print(f"“{options.remove}” was removed from your sizes.")
    elif options.take_in is not None:
        added, stored = own.take_in(Path(options.take_in))
        print(f"{added} sizes added; {stored} already existed and were kept.")
    elif options.export is not None:
        path = Path(options.export)
        if path.exists():
            raise BadRequest(f"{path} already exists and was kept. Choose another name.")
        own.write(path)
        print(f"{len(own.all)} sizes written to {path}.")
    else:
        return False
    return True


def _family(options: argparse.Namespace, every: Sequence[PrintSize | Way]) -> str | None:
    if options.family is None:
        return None
    known = [one.family for one in every]
    if options.family not in known:
        names = ", ".join(dict.fromkeys(known))
        raise BadRequest(f"Unknown family “{options.family}”. Choose one of: {names}.")
    return str(options.family)


def _needs(options: argparse.Namespace) -> int:
    options.size = options.sizes[0]  # the units of the first size, if none are named
    unit, line = units_of(options), _docket(options).size
    sizes = [_decided(typed, unit) for typed in options.sizes]
    if options.json:
        rows = [[need_report(row) for row in needs(size, line)] for size in sizes]
        named = [
            {"size": size.label, "needs": each} for size, each in zip(sizes, rows, strict=True)
        ]
        print_json({"needs": rows[0]} if len(rows) == 1 else {"sizes": named})
        return 0
    maker = find_maker(line.maker) if line.maker else usual_maker()
    for size in sizes:
        print(words.pair(size.width_mm, size.height_mm, unit))
        for row in needs(size, line):
            why, pixels = need_words(row, maker.name, unit)
            print(f"  {why:36}  {pixels}")
    return 0


def _decided(typed: str, unit: str) -> PrintSize:
    """Return a typed size that depends on no photo."""
    wish = own_print(typed, unit).wish
    if wish is None or wish.size is None:
        raise BadRequest(f"{typed} depends on the photo. Type two sides, for example 70x50cm.")
    return wish.size


def _ladder(options: argparse.Namespace) -> int:
    own = OwnSizes().all
    family = _family(options, [*catalogue(), *named_ways(), *own])
    docket = _docket(options)
    if options.pixels is not None:
        docket = replace(docket, pixels=_with_enlargement(docket.pixels, options.pixels))
    facts = read_header(options.photo).facts
    planned_print = plan(facts, docket, this_machine())
    rungs = [
        rung
        for rung in ladder(facts, docket, planned_print, own)
        if family in (None, rung.size.family)
    ]
    if options.json:
        print_json(
            {
                "photo": photo_report(facts),
                "target_ppi": exact(planned_print.target_ppi),
                "floor_ppi": exact(planned_print.floor_ppi),
                "distance_mm": [planned_print.near_mm, planned_print.far_mm],
                "ladder": [rung_report(rung, planned_print) for rung in rungs],
            }
        )
        return 0
    unit = units_of(options)
    print(f"{'size':34} {'trimmed':>9} {'ppi':>6} {'enlarged':>9} {'sharp from':>11}  grade")
    for rung in rungs:
        times = words.times(rung.enlargement)
        print(
            f"{rung.size.label:34} {words.share(rung.trimmed_share):>9} "
            f"{words.ppi(rung.judged_ppi):>6} {times:>9} "
            f"{words.length(rung.sharp_from_mm, unit):>11}  {rung.grade}"
        )
    print(judged_from(planned_print, unit))
    return 0


def _with_enlargement(line: PixelsLine, typed: str) -> PixelsLine:
    target = parse_target(typed)
    if target.kind != "scale":
        raise BadRequest(f"--pixels {typed}: use a factor here, for example 7x.")
    return replace(line, choice="resample", target=target)


def _compare(options: argparse.Namespace) -> int:
    unit = units_of(options)
    wish = own_print(options.size, unit).wish
    if wish is None or wish.max_bytes is not None:
        raise BadRequest(f"--size {options.size} is not a print size.")
    asked = _docket(options)
    line = replace(asked.size, size=wish.size, way=wish.way, lie=wish.lie)
    photos = ((read_header(path).facts, asked) for path in options.photos)
    rows = compare(photos, replace(asked, size=line))
    if options.json:
        print_json({"compare": [carried_report(row) for row in rows]})
        return 0
    for row in rows:
        result = row.plan
        print(
            f"{row.facts.path.name:32} "
            f"{words.pair(result.size.width_mm, result.size.height_mm, unit):18} "
            f"{words.ppi(result.effective_ppi):>6} ppi  "
            f"{words.share(result.trimmed_share):>9} trimmed  "
            f"sharp from {words.length(result.sharp_from_mm, unit)}: {result.grade}"
        )
    return 0
