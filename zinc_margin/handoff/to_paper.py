"""From a photo or a finished file to a print job."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from typing import cast

from zinc_margin.handoff import print_log
from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.printing import Wish, beyond_edges, follow, laid_on, page_size, submit
from zinc_margin.handoff.queues import Medium, Queue, medium_for
from zinc_margin.handoff.shared_files import make_together, note_prints
from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.finish.shared_sheet import SharedSheet
from zinc_margin.plan.model import PrintPlan

_BoxMm = tuple[Fraction, Fraction, Fraction, Fraction]
LITTLE_MM = Fraction(1, 20)
"""A loss of this width at unprintable edges is unnoticeable."""


@dataclass(frozen=True)
class Choice:
    """The user's choice of paper, tray and quality.

    Attributes
    ----------
    paper : PrintSize or None
        None: the smallest that holds the page.
    borderless : bool
    kind, tray : str or None
    quality : int or None
    copies : int
    anyway : bool
        Print even if unprintable edges cut off part of the picture.
    """

    paper: PrintSize | None = None
    borderless: bool = False
    kind: str | None = None
    tray: str | None = None
    quality: int | None = None
    copies: int = 1
    anyway: bool = False


def page_of_plan(plan: PrintPlan) -> tuple[Fraction, Fraction]:
    """Return width and height, in mm, of a plan's page."""
    return plan.page.width_mm, plan.page.height_mm


def loss_mm(plan: PrintPlan, medium: Medium) -> Fraction:
    """Return how far a planned picture extends into unprintable edges, at most, in mm."""
    wide, high = page_of_plan(plan)
    top, right, bottom, left = plan.sheet.margins_mm if plan.sheet else (Fraction(0),) * 4
    # A border is white and belongs to the print; losing part of it is invisible.
    x, y, across, down = plan.picture
    per_x = (wide - left - right) / plan.pixels.width
    per_y = (high - top - bottom) / plan.pixels.height
    box = left + x * per_x, top + y * per_y, across * per_x, down * per_y
    return beyond_edges(box, (wide, high), medium)


@dataclass(frozen=True)
class ToPrint:
    """A page to print: a photo's print, or a shared sheet.

    Attributes
    ----------
    title : str
        The job's title.
    page : (Fraction, Fraction)
        Width and height, in mm.
    lost : callable
        Receives a `Medium`; returns how far the picture extends into its unprintable edges, in mm.
    make : callable
        Writes the page to a path whose suffix names the format.
    note : callable
        Receives the printer's name once the print is finished.
    colours_done : bool
        Whether its colours are already converted for a printer and paper.
    """

    title: str
    page: tuple[Fraction, Fraction]
    lost: Callable[[Medium], Fraction]
    make: Callable[[Path, Job], None]
    note: Callable[[str], None]
    colours_done: bool = False

    @contextmanager
    def made(self, ending: str, job: Job = IDLE) -> Iterator[Path]:
        """Yield a temporary file of the page.

        Parameters
        ----------
        ending : str
            ``.pdf``, or ``.tif`` for a simulated printer.
        """
        with tempfile.TemporaryDirectory(prefix="zinc-margin-") as folder:
            path = Path(folder) / f"page{ending}"
            self.make(path, job)
            yield path


def photo_to_print(ready: Callable[[str], tuple[Photo, PrintPlan]], plan: PrintPlan) -> ToPrint:
    """Return a photo's print, ready for a printer.

    Parameters
    ----------
    ready : callable
        Receives a format's key; returns the measured photo and its plan for that format.
    plan : PrintPlan
        A preliminary plan; only its page and size are used.
    """
    out: list[PrintPlan] = []

    def make(path: Path, job: Job) -> None:
        photo, planned = ready("pdf" if path.suffix == ".pdf" else "tiff")
        out[:] = [planned]
        make_file(photo, out[0], path, job=job)

    def note(printer: str) -> None:
        print_log.note(out[0].facts, out[0], None, printer)

    title = f"{plan.facts.path.stem}, {plan.size.label}"
    done = plan.file.colour == "icc"
    return ToPrint(
        title, page_of_plan(plan), lambda medium: loss_mm(plan, medium), make, note, done
    )


def sheets_to_print(read: Callable[[], Sequence[Photo]], sheets: Sequence[SharedSheet]) -> ToPrint:
    """Return shared sheets, ready for a printer.

    Parameters
    ----------
    read : callable
        Returns the photos in the sheets' order.
    sheets : sequence of SharedSheet
        Sheets, all as large as the first.
    """
    page = sheets[0].page
    size = page.width_mm, page.height_mm

    def make(path: Path, job: Job) -> None:
        # a simulated printer shows one sheet
        count = len(sheets) if path.suffix == ".pdf" else 1
        make_together(read(), sheets[:count], path, True, job)

    def lost(medium: Medium) -> Fraction:
        return max(
            beyond_edges(
                cast(
                    "_BoxMm", tuple(Fraction(side) / each.page.width * size[0] for side in cell.box)
                ),
                size,
                medium,
            )
            for each in sheets
            for cell in each.cells
        )

    def note(printer: str) -> None:
        note_prints(sheets, printer)

    count = sum(len(sheet.cells) for sheet in sheets)
    on = "a sheet" if len(sheets) == 1 else f"{len(sheets)} sheets"
    return ToPrint(f"{count} prints on {on}", size, lost, make, note)


def chosen_medium(
    queue: Queue,
    page: tuple[Fraction, Fraction],
    choice: Choice,
    lost: Callable[[Medium], Fraction] | None = None,
) -> Medium:
    """Return the paper for a page.

    Parameters
    ----------
    page : (Fraction, Fraction)
        Width and height, in mm.
    lost : callable, optional
        Receives a paper; returns how far its unprintable edges extend into the picture.
    """
    for value, offered, noun in (
        (choice.kind, queue.kinds, "type of paper"),
        (choice.tray, queue.trays, "tray"),
    ):
        if value is not None and value not in offered:
            known = ", ".join(offered) or "none"
            raise BadRequest(f"{queue.name} has no {noun} “{value}”. Choose one of: {known}.")
    medium = medium_for(queue, page, choice.paper, choice.borderless, choice.kind)
    gone = lost(medium) if lost is not None else Fraction(0)
    if gone > LITTLE_MM and not choice.anyway:
        raise BadRequest(
            f"{float(gone):.2g} mm of the picture would fall on the reported unprintable "
            f"edges of {queue.name} on {medium.name}. Choose borderless or larger paper, or a "
            "smaller print; or print it anyway."
        )
    return medium


def print_pdf(
    queue: Queue,
    pdf: Path,
    title: str,
    medium: Medium,
    choice: Choice,
    tell: Callable[[str], None] | None,
    job: Job = IDLE,
    colours_done: bool = False,
) -> int:
    """Centre a PDF on its paper, submit it, and follow the job to its end.

    Parameters
    ----------
    title : str
        The job's title.
    tell : callable or None
        Receives a sentence whenever the state changes; None: don't follow the job.
    colours_done : bool
        Whether the system must not change the page's colours.

    Returns
    -------
    int
        The job's number.
    """
    wish = Wish(medium, choice.kind, choice.tray, choice.quality, choice.copies, colours_done)
    with tempfile.TemporaryDirectory(prefix="zinc-margin-") as folder:
        laid = Path(folder) / "page.pdf"
        page_size(pdf)  # Reject non-files before sending.
        laid_on(pdf, medium, laid)
        number = submit(queue, laid, title, wish)
    if tell is not None:
        follow(queue, number, tell, job)
    return number
