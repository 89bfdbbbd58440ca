"""The commands `reach` and `plan`: a print's numbers, without making it."""

from __future__ import annotations

import argparse
from collections.abc import Iterator
from fractions import Fraction
from pathlib import Path

from zinc_margin.commands import units
from zinc_margin.commands.as_json import plan_report, print_json, reach_report
from zinc_margin.commands.decisions import (
    checked_plan,
    declare,
    docket_of,
    is_decided,
    subject_option,
    with_subject,
)
from zinc_margin.commands.make_command import save_docket
from zinc_margin.commands.units import units_of
from zinc_margin.docket import store
from zinc_margin.docket.versions import beside_or_fresh
from zinc_margin.handoff.forecast import (
    HEADS,
    Forecast,
    cells,
    forecast,
    plain,
    table,
    total_words,
)
from zinc_margin.handoff.pace import predict, repair_seconds
from zinc_margin.measure import words
from zinc_margin.measure.distances import parse_distance
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.resolution import parse_ppi, reach
from zinc_margin.photo.endings import photos_in
from zinc_margin.photo.header import read_header
from zinc_margin.photo.pixels import read_facts, read_photo
from zinc_margin.plan.size.distance import needed_ppi
from zinc_margin.plan.text.lines import summary
from zinc_margin.plan.text.reasons import repair_reason


def declare_reach(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `reach`."""
    add = parser.add_argument
    add("photo", metavar="PHOTO", help="the finished photo")
    add("--ppi", action="append", metavar="N", help="may be given several times")
    add(
        "--distance",
        metavar="LENGTH",
        help=("also show the resolution that is sufficient from this distance"),
    )
    add("--json", action="store_true", help="print one JSON object")
    units.declare(parser)
    parser.set_defaults(run=_reach)


def declare_plan(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `plan`."""
    declare(parser)
    parser.add_argument(
        "--csv",
        action="store_true",
        help="print a table (CSV) of every photo before and after; PHOTO may be a folder",
    )
    parser.set_defaults(run=_plan)


def _reach(options: argparse.Namespace) -> int:
    facts = read_header(options.photo).facts
    ppis = [parse_ppi(text) for text in options.ppi or ["300", "240", "180"]]
    if options.distance is not None:
        seen = parse_distance(options.distance, units_of(options))
        if seen is None:
            raise BadRequest("--distance needs a length, for example 2.2m.")
        enough = needed_ppi(float(seen.near_mm))
        ppis.append(Fraction(min(10_000.0, max(1.0, enough))))
    if options.json:
        print_json(reach_report(facts, ppis))
        return 0
    print(
        f"{facts.path.name}: {facts.width} × {facts.height} px, "
        f"{words.megapixels(facts.width, facts.height)}"
    )
    for ppi in ppis:
        width, height = reach(facts.width, facts.height, ppi)
        both = [words.pair(width, height, unit) for unit in ("cm", "in")]
        first, second = both if units_of(options) == "cm" else both[::-1]
        print(words.local(f"  at {words.ppi(ppi)} ppi  {first}  ({second})"))
    return 0


def _plan(options: argparse.Namespace) -> int:
    if options.csv or Path(options.photo).is_dir():
        return _forecast(options)
    docket = docket_of(options)
    page = docket.photo.page
    if options.find_subject and options.subject is None:
        facts = with_subject(read_photo(options.photo, page=page), options).facts
    else:
        facts = subject_option(read_facts(options.photo, page), options)
    plan = checked_plan(facts, docket, options)
    save_docket(options, store.with_measured(docket, facts))
    if options.json:
        report = plan_report(facts, plan)
        report["file"]["seconds_estimate"] = predict(plan)
        print_json(report)
    else:
        print(summary(facts, plan, units_of(options)))
        print(f"Ready in {words.seconds(predict(plan))}.")
        repair = repair_reason(plan, repair_seconds(plan))
        if repair:
            print(repair)
    return 0


def _forecast(options: argparse.Namespace) -> int:
    """Print what would be made of every photo of a folder, before and after."""
    every = list(_forecasts(options))
    if options.csv:
        print(table(every), end="")
        return 0
    if options.json:
        plans = [plain(one) for one in every]
        total = {
            "bytes": sum(one["bytes"] or 0 for one in plans),
            "seconds": sum(one["seconds"] or 0 for one in plans),
        }
        print_json({"plans": plans, "total": total})
        return 0
    rows = [HEADS, *(cells(one, units_of(options)) for one in every)]
    widths = [max(len(row[at]) for row in rows if row[3]) for at in range(len(HEADS))]
    for row in rows:
        line = "  ".join(f"{cell:{wide}}" for cell, wide in zip(row, widths, strict=True))
        print(words.local(line.rstrip()))
    print(words.local(total_words(every)))
    return 0


def _forecasts(options: argparse.Namespace) -> Iterator[Forecast]:
    """Yield a forecast per photo: by the options, or without any by each photo's settings."""
    if options.save_docket:
        raise BadRequest("--save-docket needs one photo, and no --csv.")
    place = Path(options.photo)
    photos = photos_in(place) if place.is_dir() else [place]
    if not photos:
        raise BadRequest(f"There are no pictures in {place}.")
    asked = docket_of(options) if is_decided(options) else None
    for path in photos:
        dockets = (asked,) if asked is not None else beside_or_fresh(path)
        try:
            facts = subject_option(read_header(path).facts, options)
        except ZincError as why:
            if not place.is_dir():
                raise
            yield Forecast(path.name, None, None, remark=str(why))
            continue
        for docket in dockets:
            yield forecast(facts, docket)
