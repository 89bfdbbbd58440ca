"""Our own files say what they are; another's is left alone and called by its name."""

from __future__ import annotations

import json
from threading import Thread

import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.document import to_json
from zinc_margin.gate.documents import document_text, read_document
from zinc_margin.keeping import partials
from zinc_margin.keeping.folders import own_folder
from zinc_margin.keeping.own import OwnPaper, OwnPapers, OwnSizes
from zinc_margin.measure.errors import BadRequest, CannotDo
from zinc_margin.measure.sizes import parse_size

PLAIN = st.recursive(
    st.none() | st.booleans() | st.integers() | st.text(max_size=20),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=5), inner),
    max_leaves=8,
)


@given(st.dictionaries(st.text(max_size=8), PLAIN, max_size=5))
def test_what_is_written_is_read_and_only_the_kind_is_taken_off(held):
    held.pop("zinc_margin_sizes", None)
    text = document_text({"zinc_margin_sizes": 1, "ü": "½"} | held)
    assert text.endswith("}\n") and "ü" in text  # letters stay readable
    held = {"ü": "½"} | held
    assert read_document(text, "it", "zinc_margin_sizes", 1) == held


@given(st.text(max_size=200) | PLAIN.map(json.dumps))
def test_whatever_a_file_holds_there_is_one_sentence(text):
    with pytest.raises(BadRequest) as why:
        read_document(text, "/rack.json", "zinc_margin_rack", 1)
    sentence = str(why.value)
    assert sentence.startswith("/rack.json is ") and sentence.endswith("left unchanged.")
    assert "\n" not in sentence


def test_a_file_of_another_kind_is_called_by_its_name():
    with pytest.raises(BadRequest, match="is a docket, not a list of papers"):
        read_document(to_json(Docket()), "/p.json", "zinc_margin_papers", 1)
    with pytest.raises(BadRequest, match="is not a rack of Zinc Margin"):
        read_document("{}", "/p.json", "zinc_margin_rack", 1)
    with pytest.raises(BadRequest, match="version 7; this program reads version 1"):
        read_document('{"zinc_margin_rack": 7}', "/p.json", "zinc_margin_rack", 1)


def test_deep_nesting_is_no_crash():
    with pytest.raises(BadRequest, match="not readable JSON"):
        read_document("[" * 100_000, "/p.json", "zinc_margin_rack", 1)


@pytest.mark.parametrize("keeper", [OwnSizes, OwnPapers])
@pytest.mark.parametrize(
    "body",
    [
        "",
        "{",
        "[]",
        "null",
        '{"zinc_margin_WORDs": 1}',
        '{"zinc_margin_WORDs": 2}',
        '{"zinc_margin_WORDs": 1, "WORDs": [null]}',
        '{"zinc_margin_WORDs": 1, "WORDs": {}}',
        '{"zinc_margin_WORDs": 1, "WORDs": [{"name": 3}]}',
        '{"zinc_margin_WORDs": 1, "WORDs": [{"width_mm": "x"}]}',
    ],
)
def test_a_list_that_is_damaged_is_left_as_it_is(tmp_path, keeper, body):
    path = tmp_path / "mine.json"
    text = body.replace("WORD", keeper.word)
    path.write_text(text)
    own = keeper(path)
    assert own.all == ()
    assert all("left unchanged" in said and str(path) in said for said in own.broken)
    with pytest.raises(BadRequest, match="left unchanged"):
        keeper.read(path)
    assert path.read_text() == text


def test_what_is_good_in_a_list_is_had_and_the_rest_stays_in_it(tmp_path):
    path = tmp_path / "sizes.json"
    sizes = OwnSizes(path)
    sizes.add("House", parse_size("54x36cm"))
    sizes.add("Card", parse_size("10x15cm"))
    raw = json.loads(path.read_text())
    strange = {"label": "of a later version", "circle_mm": "300"}
    raw["sizes"].insert(1, strange)
    path.write_text(json.dumps(raw))
    again = OwnSizes(path)
    assert [size.label for size in again.all] == ["House", "Card"]
    (said,) = again.broken
    assert "size 2" in said and str(path) in said
    again.add("Roll end", parse_size("61x30cm"))
    assert strange in json.loads(path.read_text())["sizes"]
    assert [size.label for size in OwnSizes(path).all] == ["House", "Card", "Roll end"]


@pytest.mark.parametrize("keeper", [OwnSizes, OwnPapers])
def test_two_windows_keep_each_others(tmp_path, keeper):
    def keep(own, name):
        if isinstance(own, OwnSizes):
            own.add(name, parse_size("10x10cm"))
        else:
            own.keep(OwnPaper(name, parse_size("1x1mm").width_mm / 20))

    windows = [keeper(tmp_path / "mine" / "own.json") for _ in range(4)]

    def work(at):
        for n in range(6):
            keep(windows[at], f"of {at} number {n}")

    threads = [Thread(target=work, args=(at,)) for at in range(4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join(60)
    assert len(keeper(tmp_path / "mine" / "own.json").all) == 24
    windows[0].remove("of 3 number 5")
    assert len(windows[0].all) == 23


def test_one_who_holds_on_is_not_waited_for_for_ever(tmp_path, monkeypatch):
    monkeypatch.setattr(partials, "_PATIENCE", 0.05)
    own = OwnSizes(tmp_path / "sizes.json")
    with partials.alone_in(tmp_path), pytest.raises(CannotDo, match="Another program"):
        own.add("House", parse_size("54x36cm"))
    own.add("House", parse_size("54x36cm"))
    with partials.alone_in(tmp_path / "nowhere"):
        pass


def test_both_lists_are_kept_by_one_rule(tmp_path):
    sizes, papers = OwnSizes(tmp_path / "s.json"), OwnPapers(tmp_path / "p.json")
    sizes.add("House  size", parse_size("54x36cm"))
    papers.keep(OwnPaper("Kiln rag", parse_size("54x36cm").width_mm / 10000))
    for own, add in (
        (sizes, lambda name: sizes.add(name, parse_size("10x10cm"))),
        (papers, lambda name: papers.keep(OwnPaper(name, papers.all[0].sigma_mm))),
    ):
        before = own.path.read_bytes()
        for name in ("", "   ", "x" * 61):
            with pytest.raises(BadRequest, match="needs a name"):
                add(name)
        assert own.path.read_bytes() == before
        copy = tmp_path / f"{own.word}-copy.json"
        own.write(copy)
        assert type(own)(copy).all == own.all
        own.remove(own._name(own.all[0]).upper())
        assert own.all == () and type(own)(own.path).all == ()


def test_the_usual_files_are_in_the_programs_own_folder():
    assert OwnSizes.usual_file() == own_folder("data") / "sizes.json"
    assert OwnPapers.usual_file() == own_folder("data") / "papers.json"
