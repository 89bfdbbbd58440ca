"""The commands `printers` and `print`: the system's printers, and printing a page."""

from __future__ import annotations

import argparse
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

from zinc_margin.commands.as_json import print_json
from zinc_margin.commands.decisions import checked_plan, docket_of, with_subject
from zinc_margin.commands.decisions import declare as declare_decisions
from zinc_margin.commands.interrupts import interruptible
from zinc_margin.commands.units import units_of
from zinc_margin.docket.docket import Docket
from zinc_margin.handoff.machine import this_machine
from zinc_margin.handoff.printing import page_size
from zinc_margin.handoff.queues import QUALITIES, Medium, Queue, ask, queues, wants
from zinc_margin.handoff.to_paper import (
    Choice,
    ToPrint,
    chosen_medium,
    loss_mm,
    page_of_plan,
    photo_to_print,
    print_pdf,
)
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.makers import makers
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.ways import Way
from zinc_margin.photo.header import read_header
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.model import Plan


def declare_printers(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `printers`."""
    add = parser.add_argument
    add("queue", metavar="PRINTER", nargs="?", help="one printer, with its papers and margins")
    add("--json", action="store_true", help="print one JSON object")
    parser.set_defaults(run=_printers)


def declare_print(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `print`."""
    declare_decisions(parser)
    add = parser.add_argument
    add("--on", dest="queue", metavar="PRINTER", required=True, help="printer of this system")
    declare_choice(parser)
    parser.set_defaults(run=_print)


def declare_choice(group: argparse._ActionsContainer) -> None:
    """Declare the options of a printer's paper, tray and quality."""
    add = group.add_argument
    add("--paper-size", metavar="SIZE", help="paper; by default the smallest that holds the page")
    add("--borderless", action="store_true", help="only borderless papers")
    add("--paper-kind", metavar="KIND", help="type of paper, as the printer calls it")
    add("--tray", metavar="TRAY", help="tray, as the printer calls it")
    add("--print-quality", choices=tuple(QUALITIES.values()), help="draft, normal or best")
    add("--copies", type=int, default=1, metavar="N", help="prints; 1")
    add(
        "--anyway",
        action="store_true",
        help=("print even if unprintable edges cut off part of the picture"),
    )
    add("--no-wait", action="store_true", help="send the job without following it")


def _printers(options: argparse.Namespace) -> int:
    if options.queue is not None:
        queue = ask(options.queue)
        if options.json:
            print_json({"printer": _report(queue)})
        else:
            _show(queue)
        return 0
    found = queues()
    if options.json:
        print_json({"printers": [_report(queue) for queue in found]})
        return 0
    for queue in found:
        want = wants(queue.reasons)
        state = queue.state if want is None else f"{queue.state}: {want}"
        print(f"{queue.name:20}  {queue.title:24}  {state}")
    if not found:
        print("This system has no printer. Add one in the system settings.")
    names = ", ".join(each.key for each in makers() if each.edges is not None)
    print(f"Simulated, for proof-print: {names}")
    return 0


def _report(queue: Queue) -> dict[str, object]:
    return {
        "name": queue.name,
        "title": queue.title,
        "state": queue.state,
        "wants": wants(queue.reasons),
        "accepts": queue.accepts,
        "papers": [
            {
                "name": medium.name,
                "width_mm": float(medium.width_mm),
                "height_mm": float(medium.height_mm),
                "edges_mm": [float(edge) for edge in medium.edges_mm],
                "kind": medium.kind,
                "tray": medium.tray,
            }
            for medium in queue.media
        ],
        "kinds": list(queue.kinds),
        "trays": list(queue.trays),
        "qualities": [QUALITIES[one] for one in queue.qualities],
        "dots_per_inch": list(queue.resolutions),
        "colour": queue.colour,
    }


def _show(queue: Queue) -> None:
    want = wants(queue.reasons)
    print(f"{queue.title}: {queue.state}" + (f"; {want}" if want else ""))
    for medium in queue.media:
        print(f"  {medium.name:16}  {_edges(medium)}{_by(medium)}")
    for title, values in (
        ("types of paper", queue.kinds),
        ("trays", queue.trays),
        ("quality", [QUALITIES[one] for one in queue.qualities]),
        ("dots per inch", [str(one) for one in queue.resolutions]),
    ):
        if values:
            print(f"{title}: {', '.join(values)}")
    if not queue.colour:
        print("It prints only in black and white.")


def _edges(medium: Medium) -> str:
    if medium.is_borderless:
        return "borderless"
    sides = ("top", "right", "bottom", "left")
    edges = [float(edge) for edge in medium.edges_mm]
    if len(set(edges)) == 1:
        return words.local(f"unprintable edges of {edges[0]:g} mm")
    parts = [f"{name} {edge:g}" for name, edge in zip(sides, edges, strict=True)]
    return words.local(f"unprintable: {', '.join(parts)} mm")


def _by(medium: Medium) -> str:
    told = ", ".join(each for each in (medium.kind, medium.tray) if each)
    return f"  ({told})" if told else ""


def choice_of(options: argparse.Namespace) -> Choice:
    """Return the chosen paper, tray and quality."""
    return Choice(
        parse_size(options.paper_size, units_of(options)) if options.paper_size else None,
        options.borderless,
        options.paper_kind,
        options.tray,
        next((key for key, name in QUALITIES.items() if name == options.print_quality), None),
        options.copies,
        options.anyway,
    )


def _print(options: argparse.Namespace) -> int:
    queue, choice = ask(options.queue), choice_of(options)
    path = Path(options.photo)
    with interruptible() as job:
        if path.suffix.lower() == ".pdf":
            page = page_size(path)
            return _send(
                queue, path, path.stem, chosen_medium(queue, page, choice), choice, options, job
            )
        docket = docket_of(options) if _is_decided(options) else _as_it_is(path)
        docket = replace(docket, file=replace(docket.file, format="pdf"))
        page_plan = make_plan(read_header(path).facts, docket, this_machine())
        page = page_of_plan(page_plan)
        # Check before any pixel is read.
        chosen_medium(queue, page, choice, lambda medium: loss_mm(page_plan, medium))
        photo = with_subject(read_photo(path), options)
        plan: Plan = checked_plan(photo.facts, docket, options)
        return print_page(
            photo_to_print(lambda form: (photo, plan), plan), queue, choice, options, job
        )


def print_page(
    what: ToPrint, queue: Queue, choice: Choice, options: argparse.Namespace, job: Job
) -> int:
    """Make a page and print it.

    Parameters
    ----------
    options : Namespace
        Says whether to follow the job.
    """
    medium = chosen_medium(queue, what.page, choice, what.lost)
    with what.made(".pdf", job) as pdf:
        code = _send(queue, pdf, what.title, medium, choice, options, job, what.colours_done)
    what.note(queue.name)
    return code


def _is_decided(options: argparse.Namespace) -> bool:
    asked = (
        options.size,
        options.width,
        options.height,
        options.long_edge,
        options.short_edge,
        options.within,
        options.scale,
        options.megapixels,
        options.mat,
        options.sheet,
        options.docket,
        options.crop,
        options.ppi,
    )
    return any(each is not None for each in asked)


def _as_it_is(path: Path) -> Docket:
    """Return a docket that prints a finished picture at the size given by its resolution."""
    facts = read_header(path).facts
    if facts.tag_x is None:
        raise BadRequest(
            f"{path.name} has no resolution, so its print size is unknown. Add --size."
        )
    lines = Docket()
    return replace(
        lines,
        size=replace(lines.size, way=Way("reach", (Fraction(facts.tag_x),))),
        pixels=replace(lines.pixels, choice="keep"),
        sharpen=replace(lines.sharpen, on=False),
    )


def _send(
    queue: Queue,
    pdf: Path,
    title: str,
    medium: Medium,
    choice: Choice,
    options: argparse.Namespace,
    job: Job,
    colours_done: bool = False,
) -> int:
    def say(sentence: str) -> None:
        if not getattr(options, "json", False):
            print(sentence, flush=True)

    say(f"On {queue.title}, {medium.name}, {_edges(medium)}; not scaled.")
    tell = None if options.no_wait else say
    number = print_pdf(queue, pdf, title, medium, choice, tell, job, colours_done)
    if getattr(options, "json", False):
        print_json(
            {
                "printer": queue.name,
                "job": number,
                "paper": medium.name,
                "edges_mm": [float(edge) for edge in medium.edges_mm],
                "followed": not options.no_wait,
            }
        )
    elif options.no_wait:
        print(f"Sent as job {number}.")
    return 0
