"""Simulated printers, offered beside the system's own: what comes out is a picture of the sheet."""

from __future__ import annotations

from pathlib import Path

from zinc_margin.handoff.printer import print_sheet, write_picture
from zinc_margin.handoff.queues import Medium, Queue
from zinc_margin.measure.lengths import MM_PER_INCH
from zinc_margin.measure.makers import Maker, find_maker, makers
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.photo.pixels import read_photo


def simulated_queues() -> tuple[Queue, ...]:
    """Return the makers of the shipped table that are printers, as printers tell of themselves."""
    return tuple(_queue(maker) for maker in makers() if maker.edges and maker.asks == maker.native)


def _queue(maker: Maker) -> Queue:
    assert maker.edges is not None
    sizes = [size for size in catalogue() if size.family in maker.families]
    media = tuple(Medium(size.width_mm, size.height_mm, maker.edges) for size in sizes)
    return Queue(
        maker.key,
        f"{maker.name} (simulated)",
        "ready",
        (),
        True,
        media,
        maker.papers,
        colour=True,
        simulated=True,
    )


def print_simulated(queue: Queue, page: Path, medium: Medium, kind: str | None, out: Path) -> None:
    """Print a page as a picture: at its size, what lies on blank edges gone, softened by the paper.

    Parameters
    ----------
    queue : Queue
        A simulated one.
    page : Path
        An image file with its resolution.
    kind : str or None
        A paper of the shipped list; None: the printer's usual one.
    out : Path
        Of the picture, ``.png``.
    """
    file = read_photo(page, measured=False)
    maker = find_maker(queue.name)
    paper = PrintSize(medium.name, medium.width_mm, medium.height_mm)
    result = print_sheet(file, maker, paper, kind or maker.papers[0])
    ppi = result.codes.shape[1] / float(result.paper.width_mm / MM_PER_INCH)
    write_picture(out, result.codes, file.colour.icc, ppi)
