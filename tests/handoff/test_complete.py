"""A part that is missing is named when the program starts, not when a print is made."""

from __future__ import annotations

import copy
import dataclasses
from fractions import Fraction

import numpy as np
import pytest

from zinc_margin.commands import main
from zinc_margin.handoff import complete
from zinc_margin.handoff.complete import check_complete, missing_parts
from zinc_margin.handoff.formats import registry
from zinc_margin.measure import formats as formats_module
from zinc_margin.measure import kernels as kernels_module
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.formats import formats
from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.papers import Paper, papers
from zinc_margin.measure.tables import table
from zinc_margin.plan.pixels.detail import CLEAN, surviving_detail

odd = Paper("blotting", Fraction("0.1"))  # in no catalogue, so no docket can name it


@pytest.fixture
def changed(monkeypatch):
    """Give a table's readers another table; they read it anew, and the shipped one afterwards."""

    def change(module, read, name, edit):
        shipped = copy.deepcopy(table(name))
        edit(shipped)
        monkeypatch.setattr(module, "table", lambda asked: shipped)
        read.cache_clear()

    yield change
    monkeypatch.undo()
    formats.cache_clear()
    kernels.cache_clear()


def test_the_shipped_program_is_whole():
    assert list(missing_parts()) == []
    check_complete()


def test_a_format_that_nothing_writes_is_named(changed):
    changed(
        formats_module,
        formats,
        "formats",
        lambda held: held["formats"].append(held["formats"][0] | {"key": "slate"}),
    )
    assert registry.missing_writers() == ["slate"]
    with pytest.raises(CannotDo, match="what writes slate is missing"):
        check_complete()


@pytest.mark.parametrize("part", ["name", "endings", "bits", "quality", "overhead"])
def test_a_format_that_lacks_a_part_is_named(changed, part):
    changed(formats_module, formats, "formats", lambda held: held["formats"][2].pop(part))
    with pytest.raises(CannotDo, match="table of formats"):
        check_complete()


@pytest.mark.parametrize(
    "edit",
    [
        lambda entry: entry.pop("name"),
        lambda entry: entry.pop("b"),
        lambda entry: entry.update(shape="oval"),
        lambda entry: entry.update(shape="lanczos"),
        lambda entry: entry.update(sharpness=3),
    ],
)
def test_a_kernel_that_lacks_a_part_or_has_a_strange_one_is_named(changed, edit):
    changed(kernels_module, kernels, "kernels", lambda held: edit(held["kernels"][4]))
    with pytest.raises(CannotDo, match="table of kernels"):
        check_complete()


def test_another_cubic_is_planned_by_its_own_weights(changed):
    entry = {"key": "soft", "name": "bicubic, soft", "shape": "cubic", "b": "1", "c": "0"}
    changed(kernels_module, kernels, "kernels", lambda held: held["kernels"].append(entry))
    found = surviving_detail("soft", 3.0, CLEAN, np.array([0.0, 0.2, 0.4]))
    sharper = surviving_detail("catmull-rom", 3.0, CLEAN, np.array([0.0, 0.2, 0.4]))
    assert found.own[0] == pytest.approx(1, abs=0.02)
    assert found.own[0] > found.own[1] > found.own[2] > 0
    assert (found.own[1:] < sharper.own[1:]).all()
    assert list(complete.unplanned_parts()) == []


def test_what_cannot_be_planned_is_named_at_the_start(monkeypatch, tmp_path):
    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    check_complete()
    check_complete()  # proved before
    monkeypatch.setattr(complete, "papers", lambda: (*papers(), odd))
    assert any("paper blotting" in part for part in complete.unplanned_parts())
    (proof,) = (tmp_path / "zinc-margin").glob("complete-*")
    proof.unlink()
    with pytest.raises(CannotDo, match="paper blotting"):
        check_complete()


def test_a_maker_that_prints_by_an_unknown_process_is_named(monkeypatch):
    odd = dataclasses.replace(complete.makers()[0], process="etching")
    monkeypatch.setattr(complete, "makers", lambda: (odd,))
    assert any("etching" in part for part in missing_parts())


def test_a_lab_that_asks_for_an_unknown_format_is_named(monkeypatch):
    odd = dataclasses.replace(complete.labs.shipped_labs()[0], formats=("slate",))
    monkeypatch.setattr(complete.labs, "shipped_labs", lambda: (odd,))
    assert any("slate" in part for part in missing_parts())


def test_the_command_line_says_so_in_one_sentence_and_does_nothing(monkeypatch, capsys, jpeg):
    monkeypatch.setattr(complete, "missing_writers", lambda: ["tiff"])
    folder = set(jpeg.parent.iterdir())
    code = main(["make", str(jpeg), "--size", "6x4cm", "--out", str(jpeg.parent / "x.tif")])
    assert code != 0 and set(jpeg.parent.iterdir()) == folder
    said = capsys.readouterr()
    assert "what writes tiff is missing" in said.err and "Traceback" not in said.err
