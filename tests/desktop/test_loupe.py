"""The loupe: any way of making a print beside any other, from the whole down to single pixels."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import Qt
from PySide6.QtGui import QImage
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from tests.conftest import docket_of, photo_of
from tests.desktop.conftest import settled
from tests.desktop.test_window import LEFT, body, key, type_into
from zinc_margin.desktop.bench.screen_size import ScreenSize, keep_screen_ppi, screen_ppi
from zinc_margin.desktop.bench.views import Looking
from zinc_margin.docket import store
from zinc_margin.handoff.make import make_file
from zinc_margin.keeping.job import Job
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.errors import Cancelled
from zinc_margin.photo.pixels import read_photo
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan
from zinc_margin.plan.size.distance import life_zoom, seen_zoom


def shown(window, pane):
    image = window.benches.loupe.panes.images[pane].convertToFormat(QImage.Format.Format_RGB32)
    raw = np.frombuffer(image.constBits(), np.uint8)
    raw = raw.reshape(image.height(), image.bytesPerLine() // 4, 4)
    return raw[:, : image.width(), :3].copy()


@pytest.fixture
def loupe(opened):
    opened.table.decide("pixels", method="lanczos")  # networks have tests of their own
    key(opened, "2")
    type_into(body(opened, "size").print_size, "12x9cm")
    key(opened, "4")
    type_into(body(opened, "pixels").target, "3 x")
    settled(opened)
    return opened


def test_the_loupe_is_the_file_at_ten_places(loupe, tmp_path):
    table = loupe.table
    table.decide("crop", turn=Fraction(3))
    table.decide("sharpen", paper="matt")
    settled(loupe)
    one = table.current
    made = one.plan()
    out = tmp_path / "print.tif"
    make_file(one.photo, made, out)
    whole = read_photo(out, measured=False)
    seen_as = Screen(one.photo.colour, whole.codes.dtype)
    loupe.benches.loupe.show_in(1, "this")
    for x, y in np.random.default_rng(6).random((10, 2)):
        loupe.benches.loupe.look_at(x, y)
        settled(loupe)
        left, top, width, height = loupe.benches.loupe.seen(made)
        part = np.ascontiguousarray(whole.codes[top : top + height, left : left + width])
        assert np.array_equal(shown(loupe, 1), seen_as.show(part)[..., :3])


def test_any_against_any(loupe, tmp_path):
    bench = loupe.benches.loupe
    key(loupe, "K")
    loupe.table.decide("pixels", method="mitchell")
    key(loupe, "K")
    settled(loupe)
    one = loupe.table.current
    names = [view.label for view in bench.shelf.views(one).values()]
    assert any("kept 1" in name and "nlarge 3 ×, Lanczos" in name for name in names) and any(
        "Mitchell" in name for name in names
    )
    QTest.mouseClick(bench.panes_switch.button("4"), LEFT)
    for pane, what in enumerate(("one 1", "one 2", "original", "plain")):
        bench.show_in(pane, what)
    settled(loupe)
    pictures = [shown(loupe, pane) for pane in range(4)]
    assert all((a != b).any() for i, a in enumerate(pictures) for b in pictures[i + 1 :])
    out = tmp_path / "made.png"
    make_file(one.photo, one.plan(), out) if out.suffix == ".tif" else Image.new(
        "RGB", (90, 60), "red"
    ).save(out)
    bench.add_file(out)
    settled(loupe)
    assert (shown(loupe, 0)[..., 2] > 250).all() and bench.panes.labels[0] == "made.png"
    store.save(
        replace(one.docket, sharpen=replace(one.docket.sharpen, on=False)), tmp_path / "other.json"
    )
    bench.add_file(tmp_path / "other.json")
    settled(loupe)
    assert bench.panes.labels[0].startswith("kept 3")
    (tmp_path / "bad.json").write_text("{")
    bench.add_file(tmp_path / "bad.json")
    assert "JSON" in bench.sentence.text()
    for count in range(6):
        loupe.table.decide("pixels", hardness=Fraction(count))
        bench.keep_candidate()
    assert len(bench.shelf.candidates[one]) == 4


def test_holding_a_key_swaps(loupe):
    panes = loupe.benches.loupe.panes
    before = panes.grab().toImage()
    QTest.keyPress(panes, Qt.Key.Key_X)
    assert panes.grab().toImage() != before
    QTest.keyRelease(panes, Qt.Key.Key_X)
    assert panes.grab().toImage() == before


def test_from_the_whole_to_single_pixels(loupe):
    bench, made = loupe.benches.loupe, loupe.table.current.plan()
    for name, zoom in (("50", 0.5), ("100", 1), ("400", 4), ("800", 8)):
        bench.set_scale(name)
        settled(loupe)
        assert bench.zoom == zoom
        box = bench.seen(made)
        pane = bench.panes.pane_pixels()
        assert shown(loupe, 0).shape[1] == pytest.approx(min(pane.width(), box[2] * zoom), abs=8)
    blocks = shown(loupe, 1)[:16, :16]
    assert (blocks[:8, :8] == blocks[0, 0]).all()
    bench.set_scale("whole")
    settled(loupe)
    assert bench.seen(made)[2:] == (made.pixels.width, made.pixels.height)
    for _ in range(3):
        key(loupe, "Z")
    assert bench.scale_name == "400"


def test_life_size_and_from_its_distance(loupe, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_CONFIG_HOME", str(tmp_path / "config"))
    bench, made = loupe.benches.loupe, loupe.table.current.plan()
    keep_screen_ppi(bench, 110)
    assert screen_ppi(bench) == 110
    bench.set_scale("life")
    settled(loupe)
    # 12 cm at 110 pixels per inch
    assert bench.zoom * made.pixels.width == pytest.approx(120 / 25.4 * 110)
    loupe.table.decide("size", distance=Seen.at(2400))
    bench.set_scale("distance")
    settled(loupe)
    made = loupe.table.current.plan()
    assert seen_zoom(made, 110) == pytest.approx(life_zoom(made, 110) / 4)
    (tmp_path / "config" / "zinc-margin" / "screens.json").write_text("[]")
    assert screen_ppi(bench) > 0
    QTest.mouseClick(bench.calibrate, LEFT)  # it waits for nobody
    (dialog,) = bench.findChildren(ScreenSize)
    dialog.slider.setValue(1234)
    QTest.mouseClick(dialog.kind.button("sheet"), LEFT)
    assert dialog.outline.ppi == 123.4 and dialog.outline.kind == "sheet"
    dialog.grab()
    dialog.accept()
    assert screen_ppi(bench) == 123.4
    keep_screen_ppi(bench, 96)


def test_places_worth_looking_at(loupe):
    bench = loupe.benches.loupe
    seen = set()
    for _ in range(4):
        key(loupe, "N")
        seen.add(bench.centre)
        assert " of " in bench.place.text()
    assert len(seen) > 1


def test_what_is_not_rendered_yet_is_shown_roughly(loupe):
    bench = loupe.benches.loupe
    settled(loupe)
    bench.look_at(0.1, 0.1)
    assert bench.panes.stale
    rough = bench.panes.grab().toImage()
    assert len({rough.pixel(x, 60) for x in range(20, 300, 9)}) > 5
    settled(loupe)
    assert not bench.panes.stale


def test_true_pixels_of_the_middle_come_first_and_are_kept():
    photo = photo_of(np.random.default_rng(3).integers(90, 160, (200, 260, 3)).astype(np.uint8))
    pixels = {"method": "ai", "clean": Fraction(60)}
    made = plan(photo.facts, docket_of("13x10cm", pixels=pixels, sharpen={"on": False}))
    assert made.pixels.doublings > 1 and made.pixels.repair.any
    looking, shown = Looking(), []
    box = (400, 300, 600, 500)
    whole = looking.shown(photo, made, box, 1, Job(), show=shown.append)
    middle = slice(200, 300), slice(250, 350)
    assert len(shown) > 1
    assert np.abs(shown[0][middle].astype(int) - whole[middle]).max() <= 2
    assert np.abs(shown[0][:50].astype(int) - whole[:50]).max() > 2  # the rim is rough
    assert np.array_equal(shown[-1], whole)
    again = []
    looking.shown(photo, made, box, 1, Job(), show=again.append)
    # the tiles are kept, so nothing needs to come ahead of them
    assert len(again) == len(shown) - 1


def test_a_large_part_is_made_small_in_strips_and_can_be_stopped():
    codes = np.random.default_rng(2).integers(0, 256, (2600, 3100, 3)).astype(np.uint8)
    photo = photo_of(codes)
    made = plan(photo.facts, docket_of("31x26cm", pixels={"choice": "keep"}, sharpen={"on": False}))
    box = (0, 0, 3100, 2600)
    small = Looking().shown(photo, made, box, 0.25, Job())
    assert small.shape == (650, 775, 4)
    whole = Screen(photo.colour, np.dtype(np.uint8)).show(Renderer(photo, made).region(*box))
    means = whole.reshape(650, 4, 775, 4, 4).mean(axis=(1, 3))
    assert np.abs(small.astype(float) - means).max() < 1.01
    stop = Job()
    stop.cancel()
    with pytest.raises(Cancelled):
        Looking().shown(photo, made, box, 0.25, stop)


def test_pixels_are_asked_for_in_several_ways(loupe):
    fields = body(loupe, "pixels")
    plans = {}
    for typed in ("2 MP", "50 %", "1.3 x", "900 px", "240 ppi"):
        type_into(fields.target, typed)
        settled(loupe)
        plans[typed] = loupe.table.current.plan().pixels
        assert fields.way.currentText() == "resample as typed"
    assert plans["2 MP"].width * plans["2 MP"].height <= 2_000_000
    assert float(plans["50 %"].scale) == pytest.approx(0.5, abs=0.01)
    assert float(plans["1.3 x"].scale) == pytest.approx(1.3, abs=0.01)
    assert plans["900 px"].width == 900
    type_into(fields.target, "many")
    assert "many" in fields.target.toolTip()
    type_into(fields.target, "40 x")
    assert "0.01 to 32" in fields.target.toolTip()
    type_into(fields.target, "")
    fields.kind.setCurrentIndex(fields.kind.findData("lettering"))
    fields.kind.activated.emit(fields.kind.currentIndex())
    fields.edges.slider.setValue(-40)
    QApplication.processEvents()
    line = loupe.table.current.docket.pixels
    assert (line.kind, line.hardness, line.target) == ("lettering", -40, None)
