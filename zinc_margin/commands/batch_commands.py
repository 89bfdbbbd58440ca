"""The commands `batch` and `preset`: many photos, and the presets applied to them."""

from __future__ import annotations

import argparse
import sys
from collections.abc import Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

from zinc_margin.commands import options as deciding
from zinc_margin.commands import units
from zinc_margin.commands.as_json import print_json
from zinc_margin.commands.decisions import initial_docket, is_decided, with_options
from zinc_margin.commands.interrupts import interruptible
from zinc_margin.docket import presets, racks
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish_input import parse_share
from zinc_margin.docket.photo import PhotoLine
from zinc_margin.measure.errors import BadRequest, Cancelled, ZincError


def declare_batch(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `batch`."""
    add = parser.add_argument
    add("photos", metavar="FOLDER|PHOTO|LIST", nargs="*", help="folders, photos, lists of photos")
    add(
        "--preset",
        metavar="NAME|FILE",
        action="append",
        help=(
            "applied to each photo; may be given several times; by default each photo has its "
            "own settings"
        ),
    )
    add(
        "--watch",
        metavar="FOLDER",
        help=("make files for photos that arrive there, until interrupted"),
    )
    add("--out", metavar="DIR", required=True, help="folder for the files")
    add("--against", metavar="lab:NAME|FILE", help="check every file against a lab's terms")
    add(
        "--find-subject",
        action="store_true",
        help=("use faces, or the most salient region, as the subject"),
    )
    add("--jobs", type=int, default=2, metavar="N", help="files made at the same time; 2")
    add(
        "--share",
        metavar="K/N",
        help="every Nth photo, starting with the Kth: other machines make the others",
    )
    add("--look", metavar="FILE", help="write a page (.html) with every crop, and make nothing")
    add("--json", action="store_true", help="print one JSON object")
    deciding.declare(parser)
    units.declare(parser)
    parser.set_defaults(run=batch, docket=None)


def declare_preset(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `preset`."""
    add = parser.add_argument
    add("list", nargs="?", choices=("list",), metavar="list", help="list every preset")
    add("--keep", metavar="NAME", help="save the options, or --docket, as a preset")
    add("--docket", metavar="FILE", help="start from saved print settings (.docket.json)")
    add("--about", metavar="TEXT", default="", help="purpose of the preset")
    add(
        "--too-small",
        choices=presets.TOO_SMALL,
        default="make",
        help="photos with too few pixels: make or skip them",
    )
    add("--most-trimmed", metavar="PERCENT", help="skip photos of which more would be trimmed")
    add("--import", dest="import_", metavar="FILE", help="add the presets of a file")
    add("--export", nargs=2, metavar=("NAME", "FILE"), help="write a preset to a file")
    deciding.declare(parser)
    units.declare(parser)
    parser.set_defaults(run=preset, docket_version=None)


def batch(options: argparse.Namespace) -> int:
    """Make the files of a folder, or of several photos."""
    from zinc_margin.docket.versions import beside_or_fresh
    from zinc_margin.handoff import report
    from zinc_margin.handoff.batch import Batch, items_of, share_of_batch, tally
    from zinc_margin.handoff.labs import find
    from zinc_margin.photo.endings import photos_in

    if not 1 <= options.jobs <= 32:
        raise BadRequest("--jobs must be 1 to 32.")
    if options.watch is not None:
        return _watch(options)
    photos: list[Path] = []
    in_racks: dict[Path, tuple[Docket, ...]] = {}
    for one in map(Path, options.photos):
        if not one.exists():
            raise BadRequest(f"There is no file {one}.")
        if racks.is_rack(one):
            stored = dict(racks.load(one))
            in_racks |= stored
            photos += stored
        else:
            photos += photos_in(one) if one.is_dir() else [one]
    if not photos:
        if not options.photos:
            raise BadRequest("Name a folder, photos, or --watch FOLDER.")
        raise BadRequest(f"There are no pictures in {', '.join(options.photos)}.")
    chosen = [presets.find(name) for name in options.preset or ()]
    items = items_of(photos, chosen, lambda path: in_racks.get(path) or beside_or_fresh(path))
    _decide(items, options)
    share = None if options.share is None else share_of_batch(options.share)
    items = items if share is None else share.items(items)
    mark = "" if share is None else share.mark
    title = ", ".join(preset.name for preset in chosen) or "Batch"
    if options.look:
        return _look(items, Path(options.look), title, options.find_subject)
    folder = Path(options.out)
    lab = find(options.against) if options.against else None
    teller, finds = _teller(len(items)), options.find_subject
    started = Batch(items, folder, teller, options.jobs, lab, finds, share)
    with interruptible() as job:
        started.job = job
        try:
            started.work()
        except Cancelled:
            report.write_report(items, folder, title, mark)
            print(
                f"zinc-margin: Stopped: {tally(items)}. Run it again to continue.",
                file=sys.stderr,
            )
            return Cancelled.code
    page = report.write_report(items, folder, title, mark)
    if options.json:
        print_json({"batch": [_plain(item) for item in items], "report": str(page)})
    else:
        print(f"{tally(items)}. Report: {page}")
        refused = sum(bool(item.refused) for item in items)
        if lab is not None:
            print(
                f"{lab.name} would refuse {refused} of them."
                if refused
                else f"{lab.name} would accept all of them."
            )
    return 1 if any(item.state == "failed" or item.refused for item in items) else 0


def _decide(items: Sequence[Any], options: argparse.Namespace) -> None:
    """Change every item's docket by the options of the print, if there are any."""
    if is_decided(options):
        for item in items:
            item.docket = with_options(item.docket, options, needs_size=False)


def _watch(options: argparse.Namespace) -> int:
    """Make files for photos that arrive in a folder, until interrupted."""
    from zinc_margin.docket.versions import beside_or_fresh
    from zinc_margin.handoff.batch import Batch, items_of
    from zinc_margin.handoff.labs import find
    from zinc_margin.handoff.watching import EVERY_S, Arrivals

    watched, folder = Path(options.watch), Path(options.out)
    if options.photos or options.look or options.share:
        raise BadRequest("--watch cannot be combined with photos, --look or --share.")
    if not watched.is_dir():
        raise BadRequest(f"There is no folder {watched}.")
    if folder.absolute().resolve() == watched.resolve():
        raise BadRequest(
            "--out is the watched folder, so finished files would be made again. Choose another "
            "folder."
        )
    chosen = [presets.find(name) for name in options.preset or ()]
    lab = find(options.against) if options.against else None
    arrivals, made = Arrivals(watched), 0
    print(f"Watching {watched}; press Ctrl+C to stop.", file=sys.stderr)
    with interruptible() as job:
        while not job.wait(EVERY_S):
            photos = arrivals.look()
            if not photos:
                continue
            items = items_of(photos, chosen, beside_or_fresh)
            _decide(items, options)
            started = Batch(
                items, folder, _teller(len(items)), options.jobs, lab, options.find_subject
            )
            started.job = job
            try:
                started.work()
            except Cancelled:
                break
            finally:
                made += sum(item.state in ("made", "kept") for item in items)
    print(f"Stopped watching {watched}: {made} file{'' if made == 1 else 's'} made.")
    return 0


def _teller(count: int) -> Any:
    done = 0

    def tell(item: Any) -> None:
        nonlocal done
        if item.state in ("making", "waiting"):
            return
        done += 1
        text = f": {item.remark}" if item.remark else ""
        print(f"{done}/{count}  {item.photo.name}  {item.state}{text}", file=sys.stderr)

    return tell


def _plain(item: Any) -> dict[str, Any]:
    return {
        "photo": str(item.photo),
        "state": item.state,
        "remark": item.remark or None,
        "file": str(item.goal) if item.goal is not None else None,
        "bytes": item.bytes,
        "seconds": item.seconds,
        "refused": None if item.refused is None else list(item.refused),
    }


def _look(items: Sequence[Any], out: Path, title: str, finds: bool) -> int:
    """Write a page with every crop of the batch."""
    from zinc_margin.handoff import report
    from zinc_margin.handoff.batch import tally
    from zinc_margin.handoff.contact import contact_print
    from zinc_margin.handoff.machine import this_machine
    from zinc_margin.photo.pixels import read_photo
    from zinc_margin.photo.subject import with_mark
    from zinc_margin.photo.subject_detection import found_words, with_found_subject
    from zinc_margin.plan.size.suitability import judge
    from zinc_margin.plan.text.phrases import skipped_words

    if out.suffix.lower() not in (".html", ".htm"):
        raise BadRequest(f"--look {out} is not a page. Use the suffix .html.")
    for item in items:
        try:
            photo = read_photo(item.photo, page=item.docket.photo.page)
            photo, found = replace(photo, facts=with_mark(photo.facts)), ""
            if finds and photo.facts.subject is None:
                photo, subject = with_found_subject(photo)
                found = found_words(subject)
            item.plan, why = judge(photo.facts, item.docket, item.preset, this_machine())
            skipped = "" if why is None else skipped_words(why)
            item.state, item.remark = ("skipped", skipped) if skipped else ("waiting", found)
            item.picture = contact_print(photo, item.plan)
        except ZincError as error:
            item.state, item.remark = "failed", str(error)
    report.save_page(out, items, title)
    print(f"{tally(items)}. See the crops in {out}; no file was made.")
    return 0


def preset(options: argparse.Namespace) -> int:
    """List, save, import or export presets."""
    if options.keep:
        if not options.docket and not is_decided(options):
            raise BadRequest("--keep also needs the print's options, or --docket FILE.")
        most = None if options.most_trimmed is None else parse_share(options.most_trimmed)
        docket = with_options(initial_docket(options), options, needs_size=False)
        docket = replace(docket, photo=PhotoLine())
        stored = presets.Preset(options.keep, options.about, docket, options.too_small, most)
        print(f"Saved: {presets.keep(stored)}")
    elif options.import_:
        print(f"Saved: {presets.keep(presets.load(options.import_))}")
    elif options.export:
        name, path = options.export
        goal = Path(path)
        if goal.exists():
            raise BadRequest(f"{goal} already exists and was kept. Choose another name.")
        presets.save(presets.find(name), goal)
        print(f"Written: {goal}")
    else:
        for each in presets.every():
            print(f"{each.name}\n    {each.about}")
        for sentence in presets.broken():
            print(sentence, file=sys.stderr)
    return 0
