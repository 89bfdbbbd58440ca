"""Labs: every kind of bad file is refused with its own reason, good ones are taken."""

from __future__ import annotations

import json
import os
from fractions import Fraction

import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.conftest import photo_of, resampled
from tests.handoff.test_outgoing import emptied, spoilt_by
from zinc_margin.commands.program import main
from zinc_margin.handoff.checking import check, read_as_lab
from zinc_margin.handoff.labs import broken, every, find, shipped_labs
from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.order import MANIFEST, RECEIPT, Line, order_name, receive, send
from zinc_margin.keeping.files import digest_of
from zinc_margin.keeping.folders import own_folder
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import BadRequest, Cancelled, CannotDo
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.colour import srgb, wide_rgb
from zinc_margin.plan.build import plan

SIZE = parse_size("15x10cm")
HARBOUR = find("lab:harbour")


@pytest.fixture
def good(tmp_path, scene):
    photo = photo_of(scene(600, 400))
    one = plan(photo.facts, resampled("15x10cm", 200, file={"format": "jpeg", "quality": 90}))
    path = tmp_path / "kiln-15x10cm.jpg"
    make_file(photo, one, path)
    return path


def codes(path, size=None):
    return [finding.code for finding in check(path, HARBOUR, size or SIZE)]


def test_what_the_program_makes_for_it_is_taken(good):
    assert check(good, HARBOUR, SIZE) == []
    assert check(good, HARBOUR) == []  # by its own tag


def spoiled(tmp_path, good, how):
    with Image.open(good) as image:
        picture, icc = image.convert("RGB"), srgb().icc
    out = tmp_path / "bad.jpg"
    if how == "format":
        out = tmp_path / "bad.png"
        picture.save(out, icc_profile=icc)
    elif how == "no-profile":
        picture.save(out)
    elif how == "profile":
        picture.save(out, icc_profile=wide_rgb().icc)
    elif how == "shape":
        picture.crop((0, 0, 700, 787)).save(out, icc_profile=icc)
    elif how == "pixels":
        picture.resize((600, 400)).save(out, icc_profile=icc)
    elif how == "bits":
        out = tmp_path / "bad.tif"
        deep = np.asarray(picture).astype(np.uint16) * 257
        tifffile.imwrite(out, deep, photometric="rgb", iccprofile=icc, metadata=None)
    elif how == "name":
        out = tmp_path / "ünglücklich_.jpg"
        picture.save(out, icc_profile=icc)
    elif how == "unreadable":
        out.write_bytes(good.read_bytes()[:-3000])
    elif how == "bytes":
        out = tmp_path / "bad.tif"
        large = np.zeros((4400, 6600, 3), np.uint8)
        tifffile.imwrite(out, large, photometric="rgb", iccprofile=icc, metadata=None)
    return out


@pytest.mark.parametrize(
    "how",
    ["format", "no-profile", "profile", "shape", "pixels", "bits", "name", "unreadable", "bytes"],
)
def test_each_kind_of_bad_file_has_its_own_reason(tmp_path, good, how):
    bad = spoiled(tmp_path, good, how)
    assert how in codes(bad)
    for finding in check(bad, HARBOUR, SIZE):
        assert finding.text.endswith(".") and finding.way.endswith(".")
    receipt = send([Line(bad, SIZE), Line(good, SIZE)], HARBOUR, tmp_path / "box")
    first, second = receipt["files"]
    assert not first["accepted"] and first["reasons"] and second["accepted"]
    assert not receipt["accepted"]


def test_sending_goes_on_where_it_was_cut_off(tmp_path, good):
    other = tmp_path / "second.jpg"
    other.write_bytes(good.read_bytes())
    box, stop = tmp_path / "box", Job(lambda share, left: stop.cancel(), every_s=0)
    with pytest.raises(Cancelled):
        send([Line(good, SIZE), Line(other, SIZE)], HARBOUR, box, stop)
    (folder,) = box.iterdir()
    assert [path.name for path in folder.iterdir()] == [good.name]
    os.utime(folder / good.name, (1, 1))
    receipt = send([Line(good, SIZE), Line(other, SIZE)], HARBOUR, box)
    assert receipt["accepted"] and (folder / good.name).stat().st_mtime == 1
    assert json.loads((folder / RECEIPT).read_text())["accepted"]
    assert list(box.iterdir()) == [folder] and receipt["folder"] == folder.name


def test_a_second_order_in_the_box_leaves_the_first_alone(tmp_path, good):
    box = tmp_path / "box"
    first = box / str(send([Line(good, SIZE)], HARBOUR, box)["folder"])
    held = {path: path.read_bytes() for path in first.iterdir()}
    elsewhere = tmp_path / "elsewhere" / good.name
    elsewhere.parent.mkdir()
    with Image.open(good) as picture:
        picture.transpose(Image.Transpose.FLIP_LEFT_RIGHT).save(
            elsewhere, quality=95, icc_profile=picture.info["icc_profile"]
        )
    for line in (Line(elsewhere, SIZE), Line(good, SIZE, 2)):
        assert send([line], HARBOUR, box)["accepted"]
    assert len(list(box.iterdir())) == 3
    assert {path: path.read_bytes() for path in first.iterdir()} == held


def test_no_link_in_a_box_is_followed(tmp_path, good, monkeypatch):
    """Whoever can write into the box must not have files written elsewhere."""
    box, victim = tmp_path / "box", tmp_path / "letters.txt"
    victim.write_text("as it was")
    lines = [Line(good, SIZE)]
    folder = box / order_name(lines, [digest_of(good)], HARBOUR)
    folder.mkdir(parents=True)
    for name in (good.name, f".{good.name}.part", f".{MANIFEST}.part"):
        (folder / name).symlink_to(victim)
    assert send(lines, HARBOUR, box)["accepted"]
    assert victim.read_text() == "as it was" and not (folder / good.name).is_symlink()
    other = [Line(good, SIZE, 2)]
    (box / order_name(other, [digest_of(good)], HARBOUR)).symlink_to(tmp_path)
    with pytest.raises(CannotDo, match="a link to another place"):
        send(other, HARBOUR, box)


def test_what_is_sent_is_read_back(tmp_path, good, monkeypatch):
    """A box on a failing disk, and a file that changes while it is sent."""
    monkeypatch.setattr(os, "fsync", spoilt_by(emptied))
    with pytest.raises(CannotDo, match="could not be written to"):
        send([Line(good, SIZE)], HARBOUR, tmp_path / "box")
    monkeypatch.undo()
    digests = iter(("0" * 64, "1" * 64))
    monkeypatch.setattr("zinc_margin.handoff.order.digest_of", lambda path: next(digests))
    with pytest.raises(CannotDo, match="changed while it was being sent"):
        send([Line(good, SIZE)], HARBOUR, tmp_path / "box")
    assert not [path for path in (tmp_path / "box").rglob("*") if path.is_file()]


def test_what_did_not_arrive_whole_is_noticed(tmp_path, good):
    box = tmp_path / "box"
    box /= str(send([Line(good, SIZE)], HARBOUR, box)["folder"])
    (box / good.name).write_bytes(good.read_bytes()[:-1] + b"x")
    assert "arrived incomplete" in receive(box)["files"][0]["reasons"][0]
    (box / good.name).unlink()
    assert receive(box)["files"][0]["reasons"] == ["The file did not arrive."]
    (box / MANIFEST).write_text("{")
    with pytest.raises(BadRequest, match="no readable order"):
        receive(box)


def test_a_counter_of_ones_own_is_described_in_a_file(tmp_path, good):
    terms = {
        "key": "lab:mine",
        "title": "Mine",
        "ppi": "250",
        "floor": "200",
        "formats": ["jpeg"],
        "bits": [8],
        "profiles": ["sRGB"],
        "most_bytes": 1000,
        "enlarges": False,
        "tolerance": "0.01",
        "bleed_mm": "0",
        "name": ".*",
    }
    path = tmp_path / "mine.json"
    path.write_text(json.dumps(terms))
    assert [f.code for f in check(good, find(str(path)), SIZE)] == ["bytes"]
    path.write_text(json.dumps(terms | {"name": "("}))
    with pytest.raises(BadRequest, match="does not describe a lab"):
        find(str(path))
    with pytest.raises(BadRequest, match=r"Unknown lab .* Choose one of: lab:harbour"):
        find("lab:nowhere")
    assert all(lab.ppi > 0 for lab in shipped_labs())


def test_bleed_belongs_to_the_shape(tmp_path, scene):
    photo = photo_of(scene(600, 400))
    press = find("lab:book-press")
    one = plan(photo.facts, resampled("15x10cm", 300, finish={"bleed_mm": Fraction(3)}))
    out = tmp_path / "page.tif"
    make_file(photo, one, out)
    assert check(out, press, SIZE) == []
    assert [f.code for f in check(out, HARBOUR, SIZE)] == ["shape"]


def test_the_commands(good, tmp_path, capsys):
    assert main(["inspect", str(good)]) == 0
    told = capsys.readouterr().out
    assert "JPEG of 1181 × 787 px" in told and "prints 15 × 10 cm" in told
    assert main(["check", str(good), "--against", "lab:harbour", "--size", "15x10cm"]) == 0
    assert (
        main(["check", str(good), "--against", "lab:harbour", "--size", "60x40cm", "--json"]) == 1
    )
    report = json.loads(capsys.readouterr().out.split("\n", 1)[1])
    assert [f["code"] for f in report["files"][0]["findings"]] == ["pixels"]
    box = str(tmp_path / "box")
    asked = ["send", str(good), "--to", "harbour", "--size", "15x10cm", "--box", box]
    assert main(asked) == 0 and "accepted" in capsys.readouterr().out
    assert main(["check", str(tmp_path / "nothing.jpg"), "--against", "harbour"]) == 2


def test_a_device_is_checked_for_but_takes_no_orders(tmp_path, scene):
    path = tmp_path / "kiln.webp"
    Image.fromarray(scene(180, 120)).save(path, icc_profile=wide_rgb().icc)
    desk = find("device:desk")
    assert [each.code for each in check(path, desk, parse_size("9x6cm"))] == ["format", "pixels"]
    assert [each.code for each in check(path, find("device:projector"))] == ["profile"]
    with pytest.raises(BadRequest, match="is a device"):
        send([Line(path, parse_size("9x6cm"))], desk, tmp_path / "box")
    assert not (tmp_path / "box").exists()


@pytest.mark.parametrize(("ending", "form"), [("png", "png"), ("tif", "tiff")])
@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("channels", [1, 3])
def test_a_lab_reads_how_deep_a_file_is(tmp_path, scene, ending, form, bits, channels):
    photo = photo_of(scene(60, 40, np.uint16)[..., :channels])
    one = plan(photo.facts, resampled("6x4cm", 60, file={"format": form, "bits": bits}))
    path = tmp_path / f"kiln.{ending}"
    make_file(photo, one, path)
    file = read_as_lab(path)
    assert (file.format, file.bits) == (form, bits)
    assert (file.width, file.height) == (one.page.width, one.page.height)
    assert file.space == ("grey" if channels == 1 else "RGB")


ENDLESS = "1e999999999"


def described(**changes):
    raw = {
        "key": "lab:kiln",
        "title": "Kiln",
        "ppi": "300",
        "floor": "150",
        "formats": ["jpeg"],
        "bits": [8],
        "profiles": [],
        "most_bytes": 10**7,
        "enlarges": False,
        "tolerance": "1",
        "bleed_mm": "0",
        "name": ".*",
    }
    return raw | changes


@pytest.mark.parametrize(
    ("part", "value"),
    [
        ("ppi", ENDLESS),
        ("ppi", "0"),
        ("ppi", None),
        ("ppi", "1/0"),
        ("floor", [1]),
        ("tolerance", ENDLESS),
        ("bleed_mm", "-1"),
        ("bits", ["x"]),
        ("bits", 8),
        ("formats", "jpeg"),
        ("formats", [3]),
        ("profiles", {}),
        ("most_bytes", ENDLESS),
        ("name", "("),
        ("title", 3),
        ("key", ""),
    ],
)
def test_a_lab_of_ones_own_that_is_wrong_says_where(tmp_path, part, value):
    path = tmp_path / "kiln.json"
    path.write_text(json.dumps(described(**{part: value})))
    with pytest.raises(BadRequest, match=f"a lab: {part} must"):
        find(str(path))


def test_one_broken_lab_stops_no_other(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    folder = own_folder("data") / "labs"
    folder.mkdir(parents=True)
    (folder / "a.json").write_text(json.dumps(described(ppi=ENDLESS)))
    (folder / "b.json").write_text(json.dumps(described()))
    (folder / "c.json").write_text("[" * 100_000)
    (folder / "d.json").write_bytes(b"\xff\xfe\0")
    assert [lab.key for lab in every() if lab not in shipped_labs()] == ["lab:kiln"]
    assert find("kiln").name == "Kiln" and find("lab:harbour") is not None
    sentences = broken()
    assert len(sentences) == 3 and all(str(folder) in each for each in sentences)
    with pytest.raises(BadRequest, match=r"Unknown lab .*a.json does not describe a lab"):
        find("lab:nowhere")


@pytest.mark.parametrize(
    ("limits", "codes", "text"),
    [
        ({"least_px": 1181}, [], ""),
        ({"least_px": 2000}, ["too-short"], "1181 px long; at least 2000 px are required, 819 px"),
        ({"least_megapixels": "0.9"}, [], ""),
        ({"least_megapixels": "4"}, ["too-few-megapixels"], "0.93 MP; at least 4 MP"),
        ({"least_bytes": 1}, [], ""),
        ({"least_bytes": 10**7}, ["too-light"], "at least 10 MB are required"),
    ],
)
def test_lower_limits_say_by_how_much_a_file_is_short(tmp_path, good, limits, codes, text):
    path = tmp_path / "agency.json"
    path.write_text(json.dumps(described(**limits)))
    found = check(good, find(str(path)), SIZE)
    assert [each.code for each in found] == codes
    assert all(text in each.text and each.way for each in found)
