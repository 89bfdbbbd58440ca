"""From a photo or a finished file to a job in a printer's queue."""

from __future__ import annotations

import tempfile
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path
from threading import Event

from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.printing import Wish, beyond_edges, follow, laid_on, page_size, submit
from zinc_margin.handoff.queues import Medium, Queue, medium_for
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.model import Plan

LITTLE_MM = Fraction(1, 20)
"""What blank edges may take of a picture and nobody misses."""


@dataclass(frozen=True)
class Choice:
    """What somebody chooses of what a printer offers.

    Attributes
    ----------
    paper : PrintSize or None
        None: the smallest on which the page lies.
    borderless : bool
    kind, tray : str or None
    quality : int or None
    copies : int
    anyway : bool
        Print though edges that the printer leaves blank take of the picture.
    """

    paper: PrintSize | None = None
    borderless: bool = False
    kind: str | None = None
    tray: str | None = None
    quality: int | None = None
    copies: int = 1
    anyway: bool = False


def page_of_plan(plan: Plan) -> tuple[Fraction, Fraction]:
    """Return the width and height in mm of a plan's page.

    Parameters
    ----------
    plan : Plan
    """
    return plan.page.width_mm, plan.page.height_mm


def taken(plan: Plan, medium: Medium) -> Fraction:
    """Return how far a planned picture reaches into a paper's blank edges, at most, in mm.

    Parameters
    ----------
    plan : Plan
    medium : Medium
    """
    wide, high = page_of_plan(plan)
    top, right, bottom, left = plan.sheet.margins_mm if plan.sheet else (Fraction(0),) * 4
    # a border is white and part of the print: what it loses nobody sees
    x, y, across, down = plan.picture
    per_x = (wide - left - right) / plan.pixels.width
    per_y = (high - top - bottom) / plan.pixels.height
    box = left + x * per_x, top + y * per_y, across * per_x, down * per_y
    return beyond_edges(box, (wide, high), medium)


def chosen_medium(
    queue: Queue, page: tuple[Fraction, Fraction], choice: Choice, plan: Plan | None = None
) -> Medium:
    """Return the paper for a page.

    Parameters
    ----------
    queue : Queue
    page : (Fraction, Fraction)
        Width and height, in mm.
    choice : Choice
    plan : Plan, optional
        Of the page's picture: what would be lost of it is then refused.

    Raises
    ------
    BadRequest
    """
    for value, offered, noun in (
        (choice.kind, queue.kinds, "kind of paper"), (choice.tray, queue.trays, "tray"),
    ):  # fmt: skip
        if value is not None and value not in offered:
            known = ", ".join(offered) or "none"
            raise BadRequest(f"{queue.name} knows no {noun} “{value}”; it has: {known}.")
    medium = medium_for(queue, page, choice.paper, choice.borderless, choice.kind)
    lost = taken(plan, medium) if plan is not None else Fraction(0)
    if lost > LITTLE_MM and not choice.anyway:
        raise BadRequest(
            f"{float(lost):.2g} mm of the picture would lie on edges that {queue.name} "
            f"leaves blank on {medium.name} (it says so itself). Choose a borderless paper, a "
            "larger one, or a smaller print; or print it anyway."
        )
    return medium


@contextmanager
def made_pdf(
    photo: Photo, plan: Plan, progress: Callable[[float], None] | None, cancel: Event | None
) -> Iterator[Path]:
    """Make a plan's page as a PDF that goes away again.

    Parameters
    ----------
    photo : Photo
    plan : Plan
        For a PDF.
    progress : callable or None
        Told the share that is done, 0 to 1.
    cancel : Event or None
        Set by whoever wants it to stop.
    """
    with tempfile.TemporaryDirectory(prefix="zinc-margin-") as folder:
        pdf = Path(folder) / f"{photo.facts.path.stem[:80]}.pdf"
        make_file(photo, plan, pdf, progress=progress, cancel=cancel)
        yield pdf


def print_pdf(
    queue: Queue, pdf: Path, title: str, medium: Medium, choice: Choice,
    tell: Callable[[str], None] | None, cancel: Event | None = None,
) -> int:  # fmt: skip
    """Lay a PDF on its paper, hand it to a printer, and follow it to its end.

    Parameters
    ----------
    queue : Queue
    pdf : Path
    title : str
        Of the job.
    medium : Medium
    choice : Choice
    tell : callable or None
        Told a sentence whenever it changes; None: the job is not followed.
    cancel : Event or None
        Set by whoever wants the job cancelled.

    Returns
    -------
    int
        The job's number.

    Raises
    ------
    BadRequest, CannotDo, Cancelled
    """
    wish = Wish(medium, choice.kind, choice.tray, choice.quality, choice.copies)
    with tempfile.TemporaryDirectory(prefix="zinc-margin-") as folder:
        laid = Path(folder) / "page.pdf"
        page_size(pdf)  # a file that is none is told of before anything is sent
        laid_on(pdf, medium, laid)
        number = submit(queue, laid, title, wish)
    if tell is not None:
        follow(queue, number, tell, cancel)
    return number
