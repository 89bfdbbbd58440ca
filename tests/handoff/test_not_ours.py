"""What this program did not make, it does not replace: dockets, pages of crops, reports."""

from __future__ import annotations

import csv
import io
from pathlib import Path

import pytest

from tests.conftest import docket_of, facts_of
from zinc_margin.commands.program import main
from zinc_margin.docket import presets, racks, store, versions
from zinc_margin.handoff import report
from zinc_margin.handoff.batch import Item
from zinc_margin.keeping.own import OwnSizes
from zinc_margin.measure.errors import CannotDo
from zinc_margin.plan.build import plan


@pytest.fixture
def theirs(tmp_path):
    path = tmp_path / "notes.txt"
    path.write_text("Firing at 1200 degrees, twelve hours.")
    return path


def item(name):
    one = Item(Path(f"/photos/{name}"), docket_of("6x4cm"))
    one.plan = plan(facts_of(600, 400), one.docket)
    return one


@pytest.mark.parametrize("command", ["plan", "make"])
def test_a_docket_takes_no_other_files_place(jpeg, theirs, capsys, command):
    before, other = theirs.read_bytes(), jpeg.with_name("other.jpg")
    other.write_bytes(jpeg.read_bytes())
    out = ["--out", str(jpeg.with_name("out.tif"))] if command == "make" else []
    for path in (theirs, other):
        kept = path.read_bytes()
        code = main([command, str(jpeg), "--size", "6x4cm", "--save-docket", str(path), *out])
        assert code == 1 and "was kept" in capsys.readouterr().err
        assert path.read_bytes() == kept
    assert theirs.read_bytes() == before


def test_a_docket_takes_the_place_of_dockets(tmp_path):
    path = tmp_path / "a.json"
    store.save(docket_of("6x4cm"), path)
    store.save(docket_of("9x6cm"), path)
    versions.save([docket_of("6x4cm"), docket_of("9x6cm")], path)
    store.save(docket_of("6x4cm"), path)
    assert store.load(path).size.size.width_mm == 60


def test_reports_take_the_place_of_reports_alone(tmp_path):
    items = [item("kiln.jpg")]
    report.write_report(items, tmp_path, "First")
    report.write_report(items, tmp_path, "Second")
    assert "Second" in (tmp_path / "report.html").read_text()
    for name in ("report.html", "report.csv"):
        path = tmp_path / name
        ours = path.read_bytes()
        path.write_text("<p>the potter's own</p>")
        with pytest.raises(CannotDo, match="was kept"):
            report.write_report(items, tmp_path, "Third")
        assert path.read_text() == "<p>the potter's own</p>"
        path.write_bytes(ours)
    assert "Third" not in (tmp_path / "report.html").read_text()


def test_the_page_of_crops_takes_no_other_pages_place(jpeg, capsys):
    page = jpeg.with_name("mine.html")
    page.write_text("<h1>mine</h1>")
    asked = ["batch", str(jpeg), "--size", "6x4cm", "--look", str(page)]
    assert main(asked) != 0 and page.read_text() == "<h1>mine</h1>"


@pytest.mark.parametrize("name", ["=HYPERLINK(1).jpg", "+1.jpg", "-1.jpg", "@sum.jpg", " =1.jpg"])
def test_no_name_is_a_formula(name):
    rows = list(csv.DictReader(io.StringIO(report.table([item(name)]))))
    assert rows[0]["photo"] == f"'{name}"
    assert float(rows[0]["width_mm"]) == 60  # figures stay figures


def test_nothing_else_takes_another_files_place(jpeg, capsys, monkeypatch):
    """Slips, test strips, presets, racks and lists of one's own, where a letter lies already."""
    monkeypatch.chdir(jpeg.parent)
    strip = ["strip", jpeg.name, "--size", "6x4cm", "--strip-sheet", "A5", "--out"]
    make = ["make", jpeg.name, "--size", "6x4cm", "--printing-notes", "--out"]
    sizes = OwnSizes(jpeg.parent / "mine" / "sizes.json")
    for name, write in (
        ("out.tif.printing-notes.txt", lambda path: main([*make, "out.tif"])),
        ("strip.png", lambda path: main([*strip, path.name])),
        ("p.json", lambda path: main(["preset", "--export", "Album", path.name])),
        ("q.json", lambda path: presets.save(presets.shipped_presets()[0], path)),
        ("r.json", lambda path: racks.save([(jpeg, [docket_of()])], path)),
        ("s.json", sizes.write),
    ):
        path = jpeg.with_name(name)
        path.write_text("a letter")
        try:
            assert write(path) not in (0, None)
        except CannotDo as why:
            assert "was kept" in str(why)
        assert path.read_text() == "a letter", name
        path.unlink()
        assert write(path) in (0, None), capsys.readouterr().err
        assert path.stat().st_size
        if name.endswith("son") and name != "p.json":
            write(path)  # one of our own
    assert not (jpeg.parent / "out-2.tif").exists()
