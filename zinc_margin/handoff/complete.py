"""Check that every table entry has all its parts.

A format without a writer, a maker with an unknown process or a preset with a removed format is
reported when the program starts, not when a print is made.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import replace
from fractions import Fraction
from functools import cache
from pathlib import Path

from zinc_margin.docket import presets
from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured
from zinc_margin.handoff import labs
from zinc_margin.handoff.formats.registry import missing_writers
from zinc_margin.keeping.folders import own_folder
from zinc_margin.measure.errors import CannotDo, ZincError
from zinc_margin.measure.formats import formats
from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.makers import makers, usual_maker
from zinc_margin.measure.papers import find_process, papers, processes, usual_paper
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.ways import named_ways

_READ: tuple[tuple[str, Callable[[], object]], ...] = (
    ("formats", formats),
    ("kernels", kernels),
    ("papers", papers),
    ("processes", processes),
    ("makers", makers),
    ("default maker", usual_maker),
    ("sizes", catalogue),
    ("ways", named_ways),
    ("labs", labs.shipped_labs),
    ("presets", presets.shipped_presets),
)


def missing_parts() -> Iterator[str]:
    """Yield a short description of every missing part."""
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
        yield f"the default paper {usual_paper()}"
    for lab in labs.shipped_labs():
        yield from (f"the format {key} of {lab.key}" for key in lab.formats if key not in formats())


def unplanned_parts() -> Iterator[str]:
    """Yield a short description of every kernel, paper, maker and format that cannot be planned."""
    from zinc_margin.plan.build import plan  # imports NumPy, so not on every start

    facts = Facts(Path("proof.tif"), "TIFF", 900, 600, 8, "RGB", measured=Measured(0.1))
    of = Docket()
    of = replace(
        of,
        size=replace(of.size, size=PrintSize("", Fraction(900), Fraction(600))),
        pixels=replace(of.pixels, choice="resample"),
    )
    for what, line, field, keys in (
        ("kernel", "pixels", "method", tuple(kernels())),
        ("paper", "sharpen", "paper", tuple(paper.name for paper in papers())),
        ("maker", "size", "maker", tuple(maker.key for maker in makers())),
        ("format", "file", "format", tuple(formats())),
    ):
        for key in keys:
            docket = replace(of, **{line: replace(getattr(of, line), **{field: key})})
            try:
                plan(facts, docket)
            except Exception as why:  # a missing part can raise almost anything
                yield f"part of the {what} {key} ({type(why).__name__}: {why})"


def check_complete() -> None:
    """Refuse to start if a part is missing; plan with every entry once per installation.

    Raises
    ------
    CannotDo
        The sentence names the part.
    """
    proof = own_folder("cache") / f"complete-{_edition()}"
    proved = proof.exists()  # planning with every entry takes a quarter of a second
    for part in (*missing_parts(), *(() if proved else unplanned_parts())):
        raise CannotDo(
            f"The installation is incomplete: {part} is missing. Install the program again."
        )
    if not proved:
        with suppress(OSError):
            proof.parent.mkdir(parents=True, exist_ok=True)
            for old in proof.parent.glob("complete-*"):
                old.unlink(missing_ok=True)
            proof.touch()


@cache
def _edition() -> str:
    """Return a digest of the planning code and tables, from their sizes and times."""
    root = Path(__file__).parents[1]
    files = [
        path
        for room in ("measure", "docket", "plan", "handoff")
        for path in (root / room).rglob("*.*")
        if path.suffix in (".py", ".json")
    ]
    states = [(str(path), path.stat().st_size, path.stat().st_mtime_ns) for path in sorted(files)]
    return hashlib.sha256(repr(states).encode()).hexdigest()[:16]
