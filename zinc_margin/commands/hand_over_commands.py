"""The commands `inspect`, `check` and `send`: a file's facts, and its acceptance."""

from __future__ import annotations

import argparse
from pathlib import Path

from zinc_margin.commands.as_json import print_json
from zinc_margin.commands.interrupts import interruptible
from zinc_margin.facts.facts import Facts
from zinc_margin.handoff.names import check_goal
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.lengths import MM_PER_INCH, parse_length
from zinc_margin.measure.makers import find_maker
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.ways import screen
from zinc_margin.photo.foreign import foreign
from zinc_margin.photo.header import read_header


def declare_inspect(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `inspect`."""
    add = parser.add_argument
    add("file", metavar="FILE", help="a picture file")
    add("--page", type=int, metavar="N", help="page of a file with several pages, from 1")
    add("--json", action="store_true", help="print one JSON object")
    parser.set_defaults(run=inspect)


def declare_check(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `check`."""
    add = parser.add_argument
    add("files", metavar="FILE", nargs="+", help="finished files")
    add(
        "--against",
        dest="lab",
        metavar="lab:NAME|device:NAME|entry:NAME|FILE",
        required=True,
        help="the lab whose terms apply",
    )
    add("--size", metavar="SIZE", help="ordered print size; by default from the file's tag")
    add("--json", action="store_true", help="print one JSON object")
    parser.set_defaults(run=check)


def declare_send(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `send`."""
    add = parser.add_argument
    add("files", metavar="FILE", nargs="+", help="finished files")
    add("--to", dest="lab", metavar="lab:NAME|FILE", required=True, help="the lab")
    add("--size", metavar="SIZE", required=True, help="print size to order")
    add("--copies", type=int, default=1, metavar="N", help="prints of each file; 1")
    add("--box", metavar="DIR", required=True, help="the lab's drop box")
    parser.set_defaults(run=send)


def declare_proof_print(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `proof-print`."""
    add = parser.add_argument
    add("file", metavar="FILE", help="a finished file")
    add("--by", metavar="DEVICE", default="desk", help="desk, roll; or a projector, 1920x1080px")
    add("--paper-size", metavar="SIZE", help="size of the sheet in the device")
    add("--paper", metavar="NAME", default="lustre", help="paper in the printer; lustre")
    add("--borderless", metavar="LENGTH", help="enlargement past each edge")
    add("--out", metavar="FILE", required=True, help="picture to write (.png)")
    parser.set_defaults(run=proof_print)


def inspect(options: argparse.Namespace) -> int:
    """Describe a file."""
    try:
        facts = read_header(options.file, options.page).facts
    except CannotDo as why:
        return _inspect_foreign(Path(options.file), str(why), options.json)
    parts = [
        _is_a(
            facts.path, facts.format, (facts.width, facts.height), f"{facts.bits}-bit {facts.kind}"
        ),
        _colours(facts),
    ]
    if facts.jpeg_quality is not None:
        parts.append(f"Its JPEG quality is about {facts.jpeg_quality} of 100.")
    if facts.alpha:
        parts.append("Parts of it are transparent.")
    if facts.orientation > 1:
        parts.append("It is stored rotated or mirrored; the size given here is upright.")
    size = None
    if facts.tag_x is not None and facts.tag_y is not None:
        size = (facts.width / facts.tag_x * MM_PER_INCH, facts.height / facts.tag_y * MM_PER_INCH)
        parts.append(
            f"With its tag of {words.trimmed_zeros(facts.tag_x, 2)} ppi, it prints "
            f"{words.pair(*size, 'cm')} ({words.pair(*size, 'in')})."
        )
    else:
        parts.append("It has no resolution tag; pixels and print size decide.")
    if facts.pages > 1:
        parts.append(
            f"The file has {facts.pages} pages; this is page {facts.page} (--page N shows another)."
        )
    said = facts.said
    known = [text for text in (said.title, said.author, said.date) if text]
    if known:
        parts.append(f"Its metadata: {'; '.join(known)}.")
    if options.json:
        print_json(
            {
                "file": str(facts.path),
                "format": facts.format,
                "width_px": facts.width,
                "height_px": facts.height,
                "bits": facts.bits,
                "kind": facts.kind,
                "profile": facts.profile,
                "bytes": facts.file_bytes,
                "jpeg_quality": facts.jpeg_quality,
                "tag_ppi": None if facts.tag_x is None else float(facts.tag_x),
                "prints_mm": None if size is None else [float(side) for side in size],
                "title": said.title or None,
                "author": said.author or None,
                "date": said.date or None,
                "page": facts.page,
                "pages": facts.pages,
            }
        )
    else:
        print("\n".join(parts))
    return 0


def _is_a(path: Path, form: str, size: tuple[int, int], kind: str) -> str:
    return (
        f"{path.name} is a {form} of {size[0]} × {size[1]} px ({words.megapixels(*size)}, "
        f"{words.shape(*size)}), {kind}, {words.size_in_bytes(path.stat().st_size)}."
    )


def _colours(facts: Facts) -> str:
    if facts.profile:
        return f"Its colour profile is {facts.profile}."
    if facts.profile_use == "damaged":
        return "Its colour profile is damaged or of the wrong kind, so sRGB is assumed."
    return "It has no colour profile, so sRGB is assumed."


def _inspect_foreign(path: Path, why: str, plainly: bool) -> int:
    """Describe a picture that cannot be opened, and say why."""
    result = foreign(path)
    if result is None:
        raise CannotDo(why)
    if plainly:
        print_json(
            {
                "file": str(path),
                "format": result.format,
                "opened": False,
                "width_px": result.width,
                "height_px": result.height,
                "kind": result.kind,
                "bytes": path.stat().st_size,
                "why": why,
            }
        )
        return 0
    print(_is_a(path, result.format, (result.width, result.height), result.kind))
    print(f"This program cannot print it: {why}")
    return 0


def check(options: argparse.Namespace) -> int:
    """Check files; return 1 if one of them would be refused."""
    from zinc_margin.handoff.checking import check as findings_of
    from zinc_margin.handoff.labs import find

    lab = find(options.lab)
    size = parse_size(options.size) if options.size else None
    fields = {}
    for path in map(Path, options.files):
        if not path.is_file():
            raise BadRequest(f"There is no file {path}.")
        fields[path] = findings_of(path, lab, size)
    if options.json:
        print_json(
            {
                "lab": lab.key,
                "files": [
                    {
                        "file": str(path),
                        "taken": not findings,
                        "findings": [vars(finding) for finding in findings],
                    }
                    for path, findings in fields.items()
                ],
            }
        )
    else:
        for path, findings in fields.items():
            print(f"{path.name}: {'would be taken' if not findings else 'would be refused'}")
            for finding in findings:
                print(f"  {finding.text} {finding.way}")
    return 1 if any(fields.values()) else 0


def send(options: argparse.Namespace) -> int:
    """Send files; return 1 if the lab refuses one."""
    from zinc_margin.handoff.labs import find
    from zinc_margin.handoff.order import Line
    from zinc_margin.handoff.order import send as hand_over

    lab, size = find(options.lab), parse_size(options.size)
    if not 1 <= options.copies <= 10_000:
        raise BadRequest("--copies must be 1 to 10000.")
    lines = []
    for path in map(Path, options.files):
        if not path.is_file():
            raise BadRequest(f"There is no file {path}.")
        lines.append(Line(path, size, options.copies))
    with interruptible() as job:
        receipt = hand_over(lines, lab, Path(options.box), job)
    for answer in receipt["files"]:
        state = "accepted" if answer["accepted"] else f"refused: {' '.join(answer['reasons'])}"
        print(f"{answer['name']}: {state}")
    print(f"The order and its receipt are in {Path(options.box) / receipt['folder']}.")
    return 0 if receipt["accepted"] else 1


def proof_print(options: argparse.Namespace) -> int:
    """Print a file on a simulated printer, and report its printed size."""
    from zinc_margin.handoff.printer import print_sheet, project, write_picture
    from zinc_margin.photo.pixels import read_photo

    file = read_photo(options.file, measured=False)
    out = Path(options.out)
    check_goal(file.facts.path, out, False)
    if options.by.endswith("px"):
        way = screen(options.by)
        codes = project(file, int(way.values[0]), int(way.values[1]))
        write_picture(out, codes, file.colour.icc, 96)
        print(f"Shown: {out}, {codes.shape[1]} × {codes.shape[0]} px.")
        return 0
    if not options.paper_size:
        raise BadRequest("Give the sheet in the device, for example --paper-size A4.")
    maker = find_maker(options.by)
    spill = parse_length(options.borderless, "mm") if options.borderless else None
    result = print_sheet(file, maker, parse_size(options.paper_size), options.paper, spill)
    ppi = result.codes.shape[1] / float(result.paper.width_mm) * 25.4
    write_picture(out, result.codes, file.colour.icc, ppi)
    true = "at its true size" if result.scale == 1 else f"enlarged to {result.scale:.2%}"
    print(
        f"Printed: {out}, {words.pair(*result.picture_mm, 'cm')} of picture {true} on "
        f"{words.pair(result.paper.width_mm, result.paper.height_mm, 'cm')}."
    )
    return 0
