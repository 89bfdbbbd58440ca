"""Every field of a docket is read by planning: one that nothing reads is caught here."""

from __future__ import annotations

import dataclasses
import sys

from tests.conftest import facts_of
from zinc_margin.docket.docket import FIELDS, LINES, Docket
from zinc_margin.measure.printer_papers import PrinterPapers
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.ways import Way
from zinc_margin.plan.build import plan
from zinc_margin.plan.model import Machine

KILN = PrinterPapers("kiln", "Kiln office", ((210, 297, (5, 5, 5, 5)),))


def recording(line: type, name: str, read: set[str]) -> type:
    """A line whose fields report when planning reads them."""

    def get(self, field):
        room = sys._getframe(1).f_globals.get("__name__", "")
        if room.startswith("zinc_margin.plan"):
            read.add(f"{name}.{field}")
        return object.__getattribute__(self, field)

    return type(line.__name__, (line,), {"__getattribute__": get})


def read_fields(lines=None) -> set[str]:
    """The fields that planning reads over a few prints that between them ask for everything."""
    read: set[str] = set()
    classes = {name: recording(line, name, read) for name, line in (lines or LINES).items()}
    asked = [
        {},
        {
            "size": {"way": Way("reach", (300,))},
            "crop": {"fit": "border"},
            "pixels": {"grain": 20},
        },
        {
            "size": {"size": parse_size("60x40cm"), "maker": "canvas"},
            "pixels": {"choice": "resample"},
        },
        {"size": {"size": parse_size("60x40cm")}, "finish": {"pieces": parse_size("A4")}},
        {"size": {"size": parse_size("20x15cm")}, "finish": {"sheet": parse_size("A4")}},
        {
            "size": {"size": parse_size("20x15cm"), "maker": "desk"},
            "finish": {"line_mm": 1, "caption": "{title}", "edition": "1 of 2", "marks": True},
            "file": {"watermark": "Tidewater", "watermark_picture": "mark.png"},
        },
    ]
    for fields in asked:
        docket = Docket(**{name: line(**fields.get(name, {})) for name, line in classes.items()})
        made = plan(facts_of(3000, 2000), docket, Machine(printers=(KILN,)))
        made.small(200)
    return read


def test_planning_reads_every_field():
    read = read_fields()
    every = {f"{line}.{name}" for line, fields in FIELDS.items() for name in fields}
    assert sorted(every - read) == []


def test_a_field_that_nothing_reads_is_caught():
    idle = dataclasses.make_dataclass(
        "PixelsLine", [("idle", str, "none")], bases=(LINES["pixels"],), frozen=True
    )
    assert "pixels.idle" not in read_fields(LINES | {"pixels": idle})
    assert "pixels.method" in read_fields()
