"""Papers of one's own: kept whole, found again, refused in words."""

from __future__ import annotations

from fractions import Fraction

import pytest

from zinc_margin.keeping.own import OwnPaper, OwnPapers
from zinc_margin.measure.errors import BadRequest, ZincError


def test_kept_and_found_again(tmp_path):
    path = tmp_path / "papers.json"
    mine = OwnPapers(path)
    mine.keep(OwnPaper("Kiln Rag", Fraction("0.061"), Fraction(85), "desk"))
    again = OwnPapers(path).find("kiln rag")
    assert again == OwnPaper("kiln rag", Fraction("0.061"), Fraction(85), "desk")
    mine.keep(OwnPaper("kiln rag", Fraction("0.07")))
    assert len(OwnPapers(path).all) == 1 and OwnPapers(path).all[0].sigma_mm == Fraction("0.07")
    mine.remove("KILN RAG")
    assert OwnPapers(path).all == ()


@pytest.mark.parametrize("name", ["", " ", "lustre", "screen", "x" * 61])
def test_names_that_cannot_be(tmp_path, name):
    mine = OwnPapers(tmp_path / "papers.json")
    with pytest.raises(BadRequest):
        mine.keep(OwnPaper(name, Fraction("0.05")))
    assert not mine.path.exists()


def test_a_broken_file_is_left_as_it_is(tmp_path):
    path = tmp_path / "papers.json"
    for text in (
        "{",
        "[]",
        '{"zinc_margin_papers": 9}',
        '{"zinc_margin_papers": 1, "papers": [{}]}',
    ):
        path.write_text(text)
        broken = OwnPapers(path)
        assert broken.all == () and "left unchanged" in broken.broken[0]
        assert path.read_text() == text
    folder = tmp_path / "shut"
    folder.mkdir()
    folder.joinpath("papers.json").mkdir()
    shut = OwnPapers(folder / "papers.json")
    assert shut.broken
    with pytest.raises(ZincError):
        shut.keep(OwnPaper("Kiln rag", Fraction("0.07")))
