"""Blank edges as a printer told them, paper by paper."""

from __future__ import annotations

from fractions import Fraction as F

import pytest

from tests.conftest import docket_of, facts_of
from zinc_margin.commands import main
from zinc_margin.docket.document import from_json, to_json
from zinc_margin.handoff import queues
from zinc_margin.handoff.machine import forget_printers, this_machine
from zinc_margin.keeping.own_printers import OwnPrinters
from zinc_margin.measure.printer_papers import PrinterPapers
from zinc_margin.measure.sizes import parse_size
from zinc_margin.plan.build import plan
from zinc_margin.plan.model import Machine
from zinc_margin.plan.text.notes import note_text

A4_EDGES = (F("6.35"), F("3.4"), F("12.7"), F("3.4"))
KILN = PrinterPapers(
    "kiln", "Kiln office",
    ((F(210), F(297), A4_EDGES), (F(210), F(297), (F(0),) * 4), (F(100), F(150), (F(0),) * 4)),
)  # fmt: skip
PHOTO = facts_of(6000, 4000)
ASKED = Machine(printers=(KILN,))


def made(size, machine=ASKED, printer="kiln", **finish):
    docket = docket_of(size, size={"maker": "desk"}, finish={"printer": printer} | finish)
    return plan(PHOTO, docket, machine)


def lost(one):
    notes = [note for note in one.notes if note.code == "unprintable-edge"]
    return notes[0].values["lost_mm"] if notes else None


def test_the_edges_of_the_paper_count_as_it_lies():
    # the picture lies, so the paper does: its top is at the page's right or left
    assert lost(made("29.7x21cm")) == (F("3.4"), F("6.35"), F("3.4"), F("12.7"))
    on_sheet = made("20x10cm", sheet=parse_size("A4"))
    assert on_sheet.sheet.edges_mm == (F("3.4"), F("6.35"), F("3.4"), F("12.7"))
    assert lost(on_sheet) is None
    text = note_text(
        next(note for note in made("29.7x21cm").notes if note.code == "unprintable-edge"), "cm"
    )
    assert text.startswith("Kiln office cannot print to the edge of the paper, as it reported;")


def test_what_is_printed_borderless_or_in_the_middle_loses_nothing():
    assert lost(made("15x10cm")) is None
    assert lost(made("25x20cm")) is None


def test_a_printer_that_was_not_asked_here_leaves_the_usual_edges():
    usual = lost(made("29.7x21cm", printer=None))
    assert usual == (3, 3, 5, 3)
    assert lost(made("29.7x21cm", machine=Machine())) == usual


def test_pieces_take_the_told_edges_of_their_sheets():
    pieces = made("80x50cm", pieces=parse_size("A4")).pieces
    assert {piece.page.width_mm for piece in pieces.each} <= {F(210), F(297)}
    assert made("80x50cm", pieces=parse_size("A4"), edge_mm=F(20)).pieces.waste > pieces.waste


def test_it_is_a_decision_that_is_kept():
    docket = docket_of(finish={"printer": "kiln"})
    assert from_json(to_json(docket)).finish.printer == "kiln"


def test_what_printers_told_is_remembered(tmp_path, monkeypatch, capsys):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    assert this_machine().printers == ()
    medium = queues.Medium(F(210), F(297), A4_EDGES)
    queue = queues.Queue("kiln", "Kiln office", "ready", (), True, (medium,))
    queues.remember(queue)
    (told,) = this_machine().printers
    assert told.edges_on(F(297), F(210)) == (F("3.4"), F("6.35"), F("3.4"), F("12.7"))
    queues.remember(queue)  # nothing new: nothing is written
    monkeypatch.setattr(queues, "queues", lambda: (queue,))
    monkeypatch.setattr(queues, "find_queue", lambda name: queue)
    assert queues.ask_all() == 1
    OwnPrinters().path.write_text('{"zinc_margin_printers": 1, "printers": [{"name": 3}]}')
    forget_printers()
    assert this_machine().printers == () and "printer 1" in OwnPrinters().broken[0]
    OwnPrinters().path.unlink()
    queues.remember(queue)
    assert main(["plan", "x.jpg", "--edges-of", "kiln"]) != 0
    assert "edges-of" not in capsys.readouterr().err


@pytest.mark.parametrize("sides", [(F(210), F(297)), (F("209.9"), F(297))])
def test_papers_that_differ_by_hairs_are_one(sides):
    assert KILN.edges_on(*sides) == A4_EDGES and KILN.edges_on(F(200), F(297)) is None
