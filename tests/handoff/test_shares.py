"""A batch made in shares, by several machines in one folder."""

from __future__ import annotations

import json
from concurrent.futures import ThreadPoolExecutor

import pytest
from PIL import Image

from tests.conftest import docket_of
from zinc_margin import commands
from zinc_margin.handoff.batch import Batch, items_of, share_of_batch
from zinc_margin.keeping import partials
from zinc_margin.measure.errors import BadRequest

SIZE = docket_of("6x4cm", file={"format": "jpeg"}, pixels={"method": "lanczos"})
COUNTED = docket_of(
    "6x4cm", file={"format": "jpeg", "rule": "kiln-{counter}"}, pixels={"method": "lanczos"}
)


@pytest.fixture
def photos(tmp_path, scene):
    """Seven photos, of which four have the same name."""
    found = []
    for folder, name in (("a", "dawn"), ("b", "dawn"), ("a", "noon"), ("b", "Dawn"),
                         ("c", "dawn"), ("c", "dusk"), ("c", "kiln")):  # fmt: skip
        path = tmp_path / folder / f"{name}.png"
        path.parent.mkdir(exist_ok=True)
        Image.fromarray(scene(240 + 8 * len(found), 160)).save(path)
        found.append(path)
    return found


def made(photos, docket, folder, share=None):
    share = None if share is None else share_of_batch(share)
    items = items_of(photos, [], lambda path: [docket])
    items = items if share is None else share.items(items)
    return Batch(items, folder, jobs=1, share=share).work()


@pytest.mark.parametrize("docket", [SIZE, COUNTED], ids=["named", "counted"])
def test_shares_at_once_make_what_one_batch_makes(photos, tmp_path, docket):
    whole = {item.photo: item.goal.name for item in made(photos, docket, tmp_path / "one")}
    with ThreadPoolExecutor(3) as pool:
        shares = [pool.submit(made, photos, docket, tmp_path / "many", f"{k}/3") for k in (3, 1, 2)]
        items = [item for share in shares for item in share.result()]
    assert {item.photo: item.goal.name for item in items} == whole
    for name in whole.values():
        same = [(tmp_path / folder / name).read_bytes() for folder in ("one", "many")]
        assert same[0] == same[1]
    # Each share has its own journal; a later run of everything knows them all.
    journals = sorted((tmp_path / "many").glob("zinc-margin-batch*.json"))
    assert [len(json.loads(path.read_text())["photos"]) for path in journals] == [3, 2, 2]
    again = made(photos, docket, tmp_path / "many")
    assert {item.state for item in again} == {"kept"}
    assert len(list((tmp_path / "many").glob("*.jpg"))) == 7


def test_a_share_of_the_command_line(capsys, photos, tmp_path):
    folders, out = [str(tmp_path / name) for name in "abc"], tmp_path / "out"

    def batch(*more):
        words = ("batch", *folders, "--size", "6x4cm", "--format", "jpeg", "--out", str(out))
        assert commands.main([*words, *more]) == 0
        return capsys.readouterr().out

    for share in ("1/2", "2/2"):
        assert f"report-{share.replace('/', '-of-')}.html" in batch("--share", share)
    assert len(list(out.glob("*.jpg"))) == 7
    assert batch().startswith("7 made before")


@pytest.mark.parametrize("text", ["0/2", "3/2", "2", "a/b", "1/0", "-1/2", ""])
def test_what_is_no_share(text):
    with pytest.raises(BadRequest, match="every eighth photo"):
        share_of_batch(text)


def test_only_the_machine_that_wrote_a_partial_file_sweeps_it(tmp_path, monkeypatch):
    part = tmp_path / ".kiln.tif.0123abcd.part"
    monkeypatch.setattr(partials.platform, "node", lambda: "clay")
    with partials.record(part):
        part.write_bytes(b"glaze")
        (entry,) = partials._folder().glob("*.json")
        raw = entry.read_bytes()
    part.write_bytes(b"glaze")
    entry.write_bytes(raw)  # as its process leaves it when it is killed
    monkeypatch.setattr(partials.platform, "node", lambda: "kiln")
    assert partials.sweep() == [] and part.exists()
    monkeypatch.setattr(partials.platform, "node", lambda: "clay")
    assert partials.sweep() == [part] and not entry.exists()
