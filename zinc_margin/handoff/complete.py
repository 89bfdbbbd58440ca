"""Whether the program is whole: every entry of a table has all its parts.

A format without a writer, a maker that prints by a process that is not known, a preset for a
format that is gone: such a part is missed when the program starts, and named, not when a print
is made.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from zinc_margin.docket import presets
from zinc_margin.handoff import labs
from zinc_margin.handoff.formats.registry import missing_writers
from zinc_margin.measure.errors import CannotDo, ZincError
from zinc_margin.measure.formats import formats
from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.makers import makers, usual_maker
from zinc_margin.measure.papers import find_process, papers, processes, usual_paper
from zinc_margin.measure.sizes import catalogue
from zinc_margin.measure.ways import named_ways

_READ: tuple[tuple[str, Callable[[], object]], ...] = (
    ("formats", formats),
    ("kernels", kernels),
    ("papers", papers),
    ("processes", processes),
    ("makers", makers),
    ("usual maker", usual_maker),
    ("sizes", catalogue),
    ("ways", named_ways),
    ("labs", labs.shipped),
    ("presets", presets.shipped),
)


def missing_parts() -> Iterator[str]:
    """Yield a few words for everything that is missing."""
    for name, read in _READ:
        try:
            read()
        except (KeyError, TypeError, ValueError, ZincError) as why:
            yield f"the table of {name} ({type(why).__name__}: {why})"
            return
    yield from (f"what writes {key}" for key in missing_writers())
    for maker in makers():
        try:
            find_process(maker.process)
        except ZincError:
            yield f"the process {maker.process} of the maker {maker.key}"
    if usual_paper() not in {paper.name for paper in papers()}:
        yield f"the usual paper {usual_paper()}"
    for lab in labs.shipped():
        yield from (f"the format {key} of {lab.key}" for key in lab.formats if key not in formats())


def check_complete() -> None:
    """Refuse to start where a part is missing.

    Raises
    ------
    CannotDo
        It names the part.
    """
    for part in missing_parts():
        raise CannotDo(f"This installation is not whole: {part} is missing. Install it again.")
