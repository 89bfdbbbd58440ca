"""Send a finished page to a printer at its true size, and follow the job to its end."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import Any

from zinc_margin.gate.files import check_is_file
from zinc_margin.handoff import ipp
from zinc_margin.handoff.channel import send
from zinc_margin.handoff.queues import Medium, Queue, check_ready, find_queue, wants
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import BadRequest, Cancelled, CannotDo, ZincError
from zinc_margin.measure.printer_papers import turned_edges
from zinc_margin.measure.words import clean, shorten

_POINT_MM = Fraction("25.4") / 72
_EVERY_S = 0.3
_TRIES = 5
_FORGOTTEN = (
    "The printing system no longer knows this print. It has probably come out: look at the printer."
)
"""Some systems forget every print as soon as it has ended, however it has ended."""
_DONE, _CANCELLED, _FAILED, _STOPPED, _HELD, _PRINTING = 9, 7, 8, 6, 4, 5
MOST_COPIES = 999


@dataclass(frozen=True)
class Wish:
    """The requested settings for a page.

    Attributes
    ----------
    medium : Medium
    kind, tray : str or None
        Printer keywords; None: the printer's setting.
    quality : int or None
        A key of `queues.QUALITIES`.
    copies : int
    colours_done : bool
        Whether the page's colours are already converted for this printer and paper; the system must
        not change them.
    """

    medium: Medium
    kind: str | None = None
    tray: str | None = None
    quality: int | None = None
    copies: int = 1
    colours_done: bool = False


def page_size(pdf: Path) -> tuple[Fraction, Fraction]:
    """Return width and height, in mm, of a PDF's first page.

    Raises
    ------
    CannotDo
        If it is not valid.
    """
    import pikepdf

    try:
        check_is_file(pdf)
        with pikepdf.open(pdf, attempt_recovery=False) as pages:
            box = [Fraction(str(each)) for each in pages.pages[0].mediabox]
    except (pikepdf.PdfError, IndexError, ValueError, OSError) as why:
        raise CannotDo(f"{pdf.name} is not a printable PDF.") from why
    return (box[2] - box[0]) * _POINT_MM, (box[3] - box[1]) * _POINT_MM


def laid_on(pdf: Path, medium: Medium, out: Path) -> None:
    """Write a PDF whose pages have the paper's size, each old page centred and unscaled.

    A page as large as the paper, or rotated on it, is centred too, so a tenth of a millimetre
    between A4 and the printer's own A4 does not cause scaling.
    """
    import pikepdf

    with pikepdf.open(pdf) as source, pikepdf.new() as goal:
        for page in source.pages:
            box = [float(each) for each in page.mediabox]
            wide, high = box[2] - box[0], box[3] - box[1]
            sides = [float(side / _POINT_MM) for side in (medium.width_mm, medium.height_mm)]
            # The paper has the page's orientation; the printer rotates both.
            across, down = sorted(sides, reverse=wide > high)
            form = goal.copy_foreign(page.as_form_xobject())
            x, y = (across - wide) / 2 - box[0], (down - high) / 2 - box[1]
            content = f"q 1 0 0 1 {x:.4f} {y:.4f} cm /Page Do Q".encode("ascii")
            fresh = pikepdf.Dictionary(
                Type=pikepdf.Name.Page,
                MediaBox=[0, 0, across, down],
                Resources=pikepdf.Dictionary(XObject=pikepdf.Dictionary(Page=form)),
                Contents=goal.make_stream(content),
            )
            goal.pages.append(pikepdf.Page(goal.make_indirect(fresh)))
        goal.Root.ViewerPreferences = pikepdf.Dictionary(PrintScaling=pikepdf.Name("/None"))
        goal.save(out)


def beyond_edges(
    box_mm: tuple[Fraction, Fraction, Fraction, Fraction],
    page: tuple[Fraction, Fraction],
    medium: Medium,
) -> Fraction:
    """Return how far a picture extends into the printer's unprintable edges, at most, in mm.

    Parameters
    ----------
    box_mm : tuple of four Fraction
        Left, top, width and height of the picture on its page.
    page : (Fraction, Fraction)
        Width and height, in mm.
    """
    left, top, wide, high = box_mm
    paper = sorted((medium.width_mm, medium.height_mm), reverse=page[0] > page[1])
    turned = (medium.width_mm > medium.height_mm) != (paper[0] > paper[1])
    edges = medium.edges_mm
    if turned:
        edges = turned_edges(edges)
    at_x, at_y = (paper[0] - page[0]) / 2 + left, (paper[1] - page[1]) / 2 + top
    reach = (
        edges[0] - at_y,
        edges[1] - (paper[0] - at_x - wide),
        edges[2] - (paper[1] - at_y - high),
        edges[3] - at_x,
    )
    return max(Fraction(0), *reach)


def submit(queue: Queue, pdf: Path, title: str, wish: Wish) -> int:
    """Submit a PDF whose pages have the paper's size; return the job's number.

    Parameters
    ----------
    title : str
        The job's title.
    """
    check_ready(queue)
    if not 1 <= wish.copies <= MOST_COPIES:
        raise BadRequest(f"{wish.copies} copies: choose 1 to {MOST_COPIES}.")
    more = {
        "job-name": ipp.Keyed(ipp.NAME, shorten(clean(" ".join(title.split())))),
        "document-format": ipp.Keyed(ipp.MIME, "application/pdf"),
    }
    answer = send(
        queue.path, ipp.request(ipp.PRINT_JOB, queue.uri, more, _attributes(queue, wish)), pdf
    )
    number = answer.job.number("job-id")
    if not answer.accepted or number is None:
        raise CannotDo(f"{queue.name} refused the print (IPP says 0x{answer.status:04x}).")
    return number


def _attributes(queue: Queue, wish: Wish) -> dict[str, Any]:
    """Return a job's attributes: paper, margins and no scaling."""
    medium = wish.medium
    hundredths = [round(side * 100) for side in (medium.width_mm, medium.height_mm)]
    column: dict[str, Any] = {
        "media-size": dict(zip(("x-dimension", "y-dimension"), hundredths, strict=True))
    }
    for side, edge in zip(("top", "right", "bottom", "left"), medium.edges_mm, strict=True):
        column[f"media-{side}-margin"] = round(edge * 100)
    kind, tray = wish.kind or medium.kind, wish.tray or medium.tray
    if kind is not None:
        column["media-type"] = kind
    if tray is not None:
        column["media-source"] = tray
    job: dict[str, Any] = {"copies": wish.copies, "media-col": column, "print-scaling": "none"}
    if wish.quality is not None:
        job["print-quality"] = ipp.enum(wish.quality)
    if queue.colour:
        job["print-color-mode"] = "color"
    if wish.colours_done:  # the CUPS filters then convert nothing
        job["cm-calibration"] = True
    return job


def follow(queue: Queue, number: int, tell: Callable[[str], None], job: Job = IDLE) -> None:
    """Follow a job to its end, reporting its state as text.

    Parameters
    ----------
    number : int
        The job's title.
    tell : callable
        Receives a sentence whenever the state changes.

    Raises
    ------
    CannotDo
        If the printer cancelled the job, or no longer answers.
    Cancelled
    """
    uri = f"ipp://localhost/jobs/{number}"
    said, tries = "", _TRIES
    while True:
        if job.cancelled:
            _cancel(queue, number)
            raise Cancelled
        asked = {"job-uri": ipp.Keyed(ipp.URI, uri)}
        try:
            answer = send("/jobs/", ipp.request(ipp.GET_JOB, "", asked))
        except CannotDo as gone:  # the system was stopped meanwhile
            tries -= 1
            if not tries:
                raise _vanished(queue, gone) from None
            job.wait(_EVERY_S)
            continue
        told, state = answer.job.text("job-printer-state-message"), answer.job.number("job-state")
        if answer.status in (ipp.NOT_FOUND, ipp.GONE):
            tell(_FORGOTTEN)
            return
        if not answer.accepted or state is None:
            tries -= 1
            if not tries:
                raise CannotDo(
                    f"The printing system does not say how the print ended (IPP says "
                    f"0x{answer.status:04x}). Look at the printer."
                )
            job.wait(_EVERY_S)
            continue
        if state == _DONE:
            tell("Printed.")
            return
        if state in (_CANCELLED, _FAILED):
            why = f": {told}" if told else ""
            verb = "was cancelled at the printer" if state == _CANCELLED else "was aborted"
            raise CannotDo(f"The print {verb}{why}.")
        try:
            now = find_queue(queue.name)
        except (BadRequest, CannotDo) as gone:  # it was removed meanwhile
            raise _vanished(queue, gone) from None
        if state == _STOPPED and now.state != "stopped" and wants(now.reasons) is None:
            # The filter that prepares the page failed, not the printer.
            _cancel(queue, number)
            raise CannotDo(f"The printing system cancelled the print: {told or 'no reason given'}.")
        sentence = _sentence(now, state)
        if sentence != said:
            said = sentence
            tell(sentence)
        job.wait(_EVERY_S)


def _vanished(queue: Queue, why: ZincError) -> CannotDo:
    return CannotDo(
        f"{queue.name} no longer answers; sheets that it already has may still be printed. Look at "
        f"the printer. {why}"
    )


def _sentence(queue: Queue, state: int) -> str:
    want = wants(queue.reasons)
    if want is not None:
        return f"{queue.name} stopped: {want}."
    if state == _STOPPED or queue.state == "stopped":
        return f"{queue.name} is stopped; the print waits."
    if state == _HELD:
        return f"The print is held in the queue of {queue.name}."
    return f"Printing on {queue.name} …" if state == _PRINTING else f"Waiting for {queue.name} …"


def _cancel(queue: Queue, number: int) -> None:
    asked = {"job-id": number}
    send("/jobs/", ipp.request(ipp.CANCEL_JOB, queue.uri, asked))
