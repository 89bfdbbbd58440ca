"""Sharpen in the real window: papers, the edge profile, what acts, the test strip."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.desktop.conftest import settled, type_into, until
from zinc_margin.desktop.dialogs import paper as paper_dialog
from zinc_margin.desktop.dialogs.paper import PaperDialog
from zinc_margin.desktop.dialogs.strip import StripDialog
from zinc_margin.desktop.widgets.parts import Link
from zinc_margin.keeping.own import OwnPapers
from zinc_margin.photo.paper_scan import Blur
from zinc_margin.plan.crop.places import on_print

LEFT = Qt.MouseButton.LeftButton


def choose(part, words):
    """Press a part of the sentence, and one entry of its menu."""
    part.choices.aboutToShow.emit()
    (entry,) = (each for each in part.choices.actions() if each.text() == words)
    entry.trigger()


def shown(window, pane):
    image = window.benches.loupe.panes.images[pane]
    raw = np.frombuffer(image.constBits(), np.uint8)
    return raw.reshape(image.height(), image.bytesPerLine() // 4, 4)[:, : image.width()].astype(int)


@pytest.fixture
def sharpen(opened):
    opened.table.decide("pixels", choice="keep")
    opened.table.open_line("sharpen")
    settled(opened)
    return opened.margin.bodies["sharpen"]


def test_paper_process_and_a_figure_of_ones_own(opened, sharpen):
    plan = opened.table.current.plan
    choose(sharpen.paper, "canvas")
    before = plan().sharpen.paper_mm
    choose(sharpen.process, "press, 85 lines")
    settled(opened)
    assert plan().sharpen.paper_mm > before and "press, 85" in sharpen._why.text()
    choose(sharpen.process, "at the printer's setting")
    choose(sharpen.paper, "a paper of yours …")
    QApplication.processEvents()
    assert sharpen.blur.isVisible()
    type_into(sharpen.blur, "0.2 mm")
    assert opened.table.current.docket.sharpen.sigma_mm == Fraction(1, 5)
    QTest.mouseClick(sharpen.keep, LEFT)
    QApplication.processEvents()
    kept = OwnPapers().all
    assert [paper.name for paper in kept] == ["own paper 1"]
    choose(sharpen.paper, "gloss")
    settled(opened)
    assert not sharpen.blur.isVisible()
    choose(sharpen.paper, "own paper 1 (yours)")
    assert plan().sharpen.paper == "own paper 1"
    type_into(sharpen.blur, "9 m")
    assert sharpen.blur.toolTip()
    opened.table.papers.remove("own paper 1")


def test_what_stands_behind_more(opened, sharpen):
    assert not sharpen.halo.isVisible()
    QTest.mouseClick(sharpen.more, LEFT)
    QApplication.processEvents()
    assert sharpen.halo.isVisible()
    type_into(sharpen.halo, "4")
    assert opened.table.current.plan().sharpen.halo == 4
    type_into(sharpen.halo, "")
    assert opened.table.current.docket.sharpen.halo is None
    type_into(sharpen.breadth, "7")
    assert "0 to 1" in sharpen.breadth.toolTip()
    type_into(sharpen.shadows, "30 %")
    assert opened.table.current.plan().sharpen.shadows == pytest.approx(0.3)


def test_grain_is_a_decision_about_pixels_even_without_sharpening(opened, sharpen):
    opened.table.decide("sharpen", on=False)
    opened.table.open_line("pixels")
    settled(opened)
    pixels = opened.margin.bodies["pixels"]
    type_into(pixels.grain, "40")
    settled(opened)
    assert opened.table.current.plan().grain is not None
    assert "Grain 40 %" in opened.margin.lines["pixels"].head.entry.consequence
    type_into(pixels.grain_size, "0.4 mm")
    assert opened.table.current.docket.pixels.grain_mm == Fraction(2, 5)


def test_the_edge_profile_follows_what_is_pointed_at(opened, sharpen):
    loupe = opened.benches.loupe
    until(lambda: loupe.edge.profile is not None)
    assert loupe.edge.isVisible()
    first = loupe.edge.profile
    box = loupe.panes.boxes()[0]
    spot = QPointF(box.left() + box.width() * 0.2, box.top() + box.height() * 0.3).toPoint()
    QTest.mouseDClick(loupe.panes, LEFT, pos=spot)
    settled(opened)
    assert loupe.edge.profile.centre != first.centre
    before = loupe.edge.profile
    sharpen.strength.slider.setValue(200)
    settled(opened)
    after = loupe.edge.profile
    assert np.ptp(after.sharpened) > np.ptp(before.sharpened)
    assert "millimetre" in loupe.edge.accessibleDescription()
    opened.table.open_line("pixels")
    settled(opened)
    assert not loupe.edge.isVisible()


def test_as_printed_is_softer_and_v_shows_where_it_acts(opened, sharpen):
    choose(sharpen.paper, "canvas")
    loupe = opened.benches.loupe
    for pane, what in enumerate(("this", "printed")):
        loupe.show_in(pane, what)
    settled(opened)
    sharp, printed = (
        np.abs(np.diff(shown(opened, pane)[..., 1], axis=1)).mean() for pane in (0, 1)
    )
    assert printed < 0.9 * sharp
    plain = shown(opened, 0)
    QTest.keyClick(opened, "v")
    settled(opened)
    veiled = shown(opened, 0)
    assert loupe.invented.isVisible() and "left alone" in loupe.invented.text()
    assert (veiled != plain).mean() > 0.3
    red = (veiled[..., 2] > veiled[..., 1] + 40).mean()
    assert 0 < red < 0.9
    QTest.keyClick(opened, "v")
    settled(opened)
    assert np.array_equal(shown(opened, 0), plain)


def test_a_strip_is_made_and_the_third_looked_right(opened, sharpen, tmp_path):
    for x in (0.3, 0.7):
        opened.benches.loupe.look_at(x, 0.5)
        settled(opened)
        QTest.keyClick(opened, "p")
    assert "2 of at most 3" in opened.benches.loupe.place.text()
    QTest.mouseClick(sharpen.strip, LEFT)
    QApplication.processEvents()
    dialog = next(w for w in opened.findChildren(StripDialog))
    until(lambda: dialog.page.image is not None)
    assert dialog.count.button("2").isChecked()
    assert len(dialog.strip.patches) == 2 * len(dialog.strip.labels)
    QTest.mouseClick(dialog.count.button("1"), LEFT)
    type_into(dialog.strengths, "60, 90, 120")
    assert len(dialog.strip.labels) == 3
    type_into(dialog.paper_size, "1 x 1 cm")
    assert "does not fit" in dialog.sentence.text()
    type_into(dialog.paper_size, "A6")
    dialog.write(tmp_path / "nowhere" / "strip.png")
    until(lambda: dialog.save.isEnabled())
    assert "There is no folder" in dialog.sentence.text()
    dialog.write(tmp_path / "strip.png")
    until(lambda: not dialog.isVisible())
    settled(opened)
    with Image.open(tmp_path / "strip.png") as image:
        assert image.width / image.info["dpi"][0] * 25.4 == pytest.approx(148, abs=0.3)
    links = [link for link in sharpen._which.findChildren(Link) if link.isVisible()]
    assert [link.text() for link in links] == ["1", "2", "3"]
    QTest.mouseClick(links[2], LEFT)
    QApplication.processEvents()
    line = opened.table.current.docket.sharpen
    assert line.strength == 120 and line.sigma_mm is not None


def test_the_loupe_begins_at_the_busiest_place_and_its_profile_moves_by_keys(opened, sharpen):
    loupe = opened.benches.loupe
    until(lambda: loupe.edge.profile is not None)
    measured = opened.table.current.facts.measured
    x, y = next((x, y) for name, x, y in measured.places if name == "texture")
    plan = opened.table.current.plan()
    assert loupe.centre == on_print(plan, x, y)
    first = loupe.edge.profile.centre
    loupe.edge.setFocus()
    QTest.keyClick(loupe.edge, Qt.Key.Key_Down)
    settled(opened)
    assert loupe.edge.profile.centre != first
    opened.table.activate(0)
    type_into(opened.margin.bodies["size"].print_size, "12x8 cm")
    settled(opened)
    until(lambda: loupe.edge.profile is not None)
    loupe.edge.grab()


def test_a_curve_that_hides_behind_another_is_named(opened, sharpen):
    loupe = opened.benches.loupe
    opened.table.decide("sharpen", strength=0)
    settled(opened)
    until(lambda: loupe.edge.profile is not None)
    assert "same as" in loupe.edge._under(0) + loupe.edge._under(1)
    loupe.edge.grab()


def test_a_paper_is_measured_in_the_window(opened, sharpen, tmp_path, monkeypatch):
    QTest.mouseClick(sharpen.measure, LEFT)
    (dialog,) = opened.findChildren(PaperDialog)
    dialog.write_to(tmp_path / "page.tif")
    until(lambda: (tmp_path / "page.tif").exists() and "Written" in dialog.sentence.text())
    monkeypatch.setattr(paper_dialog, "read_scan", lambda path, ppi: Blur(0.06, 0.02, 600.0, False))
    dialog.read_from(tmp_path / "scan.tif")
    until(dialog.keep.isEnabled)
    assert "0.060 mm" in dialog.sentence.text()
    dialog.name.setText("kiln rag")
    QTest.mouseClick(dialog.keep, LEFT)
    settled(opened)
    line = opened.table.current.docket.sharpen
    assert (line.paper, line.sigma_mm) == ("kiln rag", Fraction("0.06"))
