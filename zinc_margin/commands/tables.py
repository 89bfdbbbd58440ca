"""The commands that print tables: the catalogue, a photo's ladder, several photos at one size."""

from __future__ import annotations

import argparse
import json
from dataclasses import replace
from typing import Any

from ..docket.docket import Docket
from ..measure import words
from ..measure.errors import BadRequest
from ..measure.lengths import parse_length
from ..measure.resolution import parse_ppi
from ..measure.sizes import catalogue, parse_size
from ..measure.ways import named_ways, parse_way
from ..photo.header import read_header
from ..plan.ladder import ladder
from ..plan.planning import plan
from ..plan.report import SCHEMA, exact, photo_report, rung_report


def declare(commands: Any) -> None:
    """Declare the commands."""
    sizes = commands.add_parser("sizes", help="the catalogue of print sizes")
    sizes.add_argument("--family", metavar="FAMILY")
    sizes.add_argument("--json", action="store_true", help="print one JSON object")
    sizes.set_defaults(run=_sizes)

    one = commands.add_parser("ladder", help="every size of the catalogue for one photo")
    one.add_argument("photo", metavar="PHOTO")
    _sums(one)
    one.add_argument("--family", metavar="FAMILY")
    one.set_defaults(run=_ladder)

    several = commands.add_parser("compare", help="which of several photos carry a size")
    several.add_argument("photos", metavar="PHOTO", nargs="+")
    several.add_argument("--size", metavar="SIZE", required=True)
    _sums(several)
    several.set_defaults(run=_compare)


def _sums(parser: argparse.ArgumentParser) -> None:
    parser.add_argument("--target", metavar="PPI", help="what is asked; 300 where nobody says")
    parser.add_argument("--floor", metavar="PPI", help="the lowest that you take; 180")
    parser.add_argument("--distance", metavar="LENGTH", help="from where it is seen")
    parser.add_argument("--json", action="store_true", help="print one JSON object")


def _docket(options: argparse.Namespace) -> Docket:
    line = Docket().size
    if options.target is not None:
        line = replace(line, ppi=parse_ppi(options.target))
    if options.floor is not None:
        line = replace(line, floor=parse_ppi(options.floor))
    if options.distance is not None:
        line = replace(line, distance_mm=parse_length(options.distance))
    return replace(Docket(), size=line)


def _sizes(options: argparse.Namespace) -> int:
    family = _family(options)
    fixed = [size for size in catalogue() if family in (None, size.family)]
    following = [way for way in named_ways() if family in (None, way.family)]
    if options.json:
        rows: list[dict[str, Any]] = [
            {
                "label": size.label,
                "family": size.family,
                "width_mm": exact(size.width_mm),
                "height_mm": exact(size.height_mm),
            }
            for size in fixed
        ]
        rows += [
            {"label": way.label, "family": way.family, "width_mm": None, "height_mm": None}
            for way in following
        ]
        print_json({"schema": SCHEMA, "sizes": rows})
        return 0
    for size in fixed:
        both = [words.pair(size.width_mm, size.height_mm, unit) for unit in ("cm", "in")]
        print(f"{size.family:20}  {size.label:24}  {both[0]:18}  {both[1]}")
    for way in following:
        print(f"{way.family:20}  {way.label}")
    return 0


def _family(options: argparse.Namespace) -> str | None:
    if options.family is None:
        return None
    known = [one.family for one in (*catalogue(), *named_ways())]  # type: ignore[attr-defined]
    if options.family not in known:
        names = ", ".join(dict.fromkeys(known))
        raise BadRequest(f"“{options.family}” is not a family of sizes; there are {names}.")
    return str(options.family)


def _ladder(options: argparse.Namespace) -> int:
    family = _family(options)
    docket = _docket(options)
    facts = read_header(options.photo).facts
    made = plan(facts, docket)
    rungs = [rung for rung in ladder(facts, docket, made) if family in (None, rung.size.family)]
    if options.json:
        print_json(
            {
                "schema": SCHEMA,
                "photo": photo_report(facts),
                "target_ppi": exact(made.target_ppi),
                "floor_ppi": exact(made.floor_ppi),
                "distance_mm": made.distance_mm,
                "ladder": [rung_report(rung) for rung in rungs],
            }
        )
        return 0
    print(f"{'size':34} {'trimmed':>9} {'ppi':>6} {'sharp from':>11}  grade")
    for rung in rungs:
        print(
            f"{rung.size.label:34} {words.share(rung.trimmed_share):>9} "
            f"{words.ppi(rung.effective_ppi):>6} {words.length(rung.sharp_from_mm, 'cm'):>11}  "
            f"{rung.grade}"
        )
    seen = words.length(made.distance_mm, "cm")
    print(f"Judged for one distance, {seen}.")
    return 0


def _compare(options: argparse.Namespace) -> int:
    way = parse_way(options.size)
    base = _docket(options)
    size = None if way is not None else parse_size(options.size)
    docket = replace(base, size=replace(base.size, size=size, way=way))
    rows = []
    for path in options.photos:
        facts = read_header(path).facts
        rows.append((facts, plan(facts, docket)))
    if options.json:
        print_json(
            {
                "schema": SCHEMA,
                "compare": [
                    {
                        "photo": photo_report(facts),
                        "print": {
                            "label": made.size.label,
                            "width_mm": exact(made.size.width_mm),
                            "height_mm": exact(made.size.height_mm),
                        },
                        "trimmed_share": made.trimmed_share,
                        "effective_ppi": exact(made.effective_ppi),
                        "enlargement": made.enlargement,
                        "sharp_from_mm": made.sharp_from_mm,
                        "distance_mm": made.distance_mm,
                        "grade": made.grade,
                    }
                    for facts, made in rows
                ],
            }
        )
        return 0
    for facts, made in rows:
        print(
            f"{facts.path.name:32} {words.pair(made.size.width_mm, made.size.height_mm, 'cm'):18} "
            f"{words.ppi(made.effective_ppi):>6} ppi  "
            f"{words.share(made.trimmed_share):>9} trimmed  "
            f"sharp from {words.length(made.sharp_from_mm, 'cm')}: {made.grade}"
        )
    return 0


def print_json(report: dict[str, Any]) -> None:
    """Print one JSON object."""
    print(json.dumps(report, ensure_ascii=False, indent=2))
