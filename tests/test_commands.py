"""The command line as a person runs it."""

from __future__ import annotations

import csv
import json
import os
import signal
import subprocess
import sys
import time

import numpy as np
import pytest
import tifffile
from PIL import Image

from zinc_margin import commands
from zinc_margin.docket import presets, versions
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.presets import Preset
from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.errors import CannotDo
from zinc_margin.measure.sizes import parse_size


@pytest.fixture
def run(capsys, tmp_path_factory, monkeypatch):
    # a machine without experience: what other tests taught it must not be told here
    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path_factory.mktemp("state")))

    def call(*words):
        code = commands.main([str(word) for word in words])
        out = capsys.readouterr()
        return code, out.out, out.err

    return call


def refused(result, code, *words):
    assert result[0] == code
    assert result[1] == ""
    assert result[2].startswith("zinc-margin: ") and result[2].count("\n") == 1
    for word in words:
        assert word in result[2]


def test_reach(run, jpeg):
    code, out, _ = run("reach", jpeg, "--ppi", "300", "--ppi", "150")
    assert code == 0
    assert "5.08 × 3.39 cm" in out and "10.16 × 6.77 cm" in out
    code, out, _ = run("reach", jpeg, "--ppi", "300", "--json")
    report = json.loads(out)
    assert report["photo"]["tag_ppi"] == 72
    assert report["reach"][0]["width_mm"] == pytest.approx(50.8)


def test_plan_prints_the_margin(run, jpeg):
    code, out, err = run("plan", jpeg, "--size", "6x4cm")
    assert code == 0 and err == ""
    assert "The tag changes nothing" in out
    assert "6 × 4 cm" in out


def test_a_folder_is_planned_before_and_after(run, jpeg, tmp_path):
    (tmp_path / "broken.jpg").write_bytes(b"no picture")
    code, said, _ = run("plan", tmp_path, "--size", "9x6cm", "--ppi", "200")
    assert code == 0
    rows = said.splitlines()
    assert rows[0].split("  ")[0] == "photo" and len(rows) == 4
    assert "600 × 400" in rows[2] and "709 × 472" in rows[2] and "1.18 ×" in rows[2]
    assert rows[3].startswith("1 file, about 1 MB in all") and "1 without a file" in rows[3]
    planned = json.loads(run("plan", jpeg, "--size", "9x6cm", "--ppi", "200", "--json")[1])
    told = json.loads(run("plan", tmp_path, "--size", "9x6cm", "--ppi", "200", "--json")[1])
    assert told["total"]["bytes"] == planned["file"]["bytes_estimate"]
    table = list(csv.DictReader(run("plan", tmp_path, "--size=9x6cm", "--csv")[1].splitlines()))
    assert [row["photo"] for row in table] == ["broken.jpg", "kiln.jpg"]
    assert table[0]["width_px"] == "" and "broken.jpg" in table[0]["remark"]
    # without decisions, every photo has its own
    assert "kiln.jpg" in run("plan", tmp_path)[1]


def test_plan_as_json(run, jpeg):
    code, out, _ = run("plan", jpeg, "--size", "11x17cm", "--ppi", "300", "--json")
    report = json.loads(out)
    assert code == 0
    assert report["schema"] == 1
    assert (report["pixels"]["width_px"], report["pixels"]["height_px"]) == (2008, 1299)
    assert report["print"]["label"] == "17 × 11 cm"
    assert report["pixels"]["method"] == "ai"
    assert report["crop"]["bands_mm"] == {"left": 0, "top": 0, "right": 0, "bottom": 0}
    assert "written" not in report


def test_options_reach_the_plan(run, jpeg):
    def report(*words):
        code, out, err = run("plan", jpeg, "--json", *words)
        assert code == 0, err
        return json.loads(out)

    square = report("--size", "4x4in", "--place", "0,1", "--keep-pixels")
    assert (square["crop"]["left_px"], square["crop"]["width_px"]) == (0, 400)
    assert square["pixels"]["method"] == "keep"
    whole = report("--size", "4x4in", "--fit", "whole", "--ppi", "100")
    assert whole["picture"] == {"left_px": 0, "top_px": 66, "width_px": 400, "height_px": 267}
    framed = report("--size", "3x2in", "--crop", "30,20,300,200", "--ppi", "100")
    assert framed["crop"]["left_px"] == 30 and framed["pixels"]["scale"] == 1
    turned = report("--size", "3x2in", "--rotate", "-2.5")
    assert turned["crop"]["angle_deg"] == -2.5
    given = report("--size", "2x3in", "--orient", "as-given")
    assert given["print"]["height_mm"] > given["print"]["width_mm"]
    paper = report("--size", "3x2in", "--paper", "matt", "--distance", "80cm", "--strength", "50")
    assert paper["sharpen"]["paper"] == "matt" and paper["distance_mm"] == [800, 800]
    assert report("--size", "3x2in", "--no-sharpen")["sharpen"] is None
    assert (
        report("--size", "3x2in", "--ppi", "72", "--method", "mitchell")["pixels"]["method"]
        == "mitchell"
    )


def test_make(run, jpeg, tmp_path):
    out = tmp_path / "out.tif"
    code, printed, err = run(
        "make", jpeg, "--size", "5x7in", "--ppi", "100", "--bits", "16", "--out", out, "--json"
    )
    assert (code, err) == (0, "")
    report = json.loads(printed)
    assert report["written"]["path"] == str(out)
    assert report["written"]["bytes"] == out.stat().st_size
    assert report["file"] == {
        "format": "tiff",
        "bits": 16,
        "bytes_estimate": report["file"]["bytes_estimate"],
        "max_bytes": None,
        "limited": None,
        "quality": None,
        "seconds_estimate": report["file"]["seconds_estimate"],
    }
    assert report["file"]["bytes_estimate"] == pytest.approx(out.stat().st_size, rel=0.02)
    assert tifffile.imread(out).shape == (500, 700, 3)


def test_make_and_plan_agree(run, jpeg, tmp_path):
    words = (jpeg, "--size", "A6", "--paper", "canvas", "--method", "lanczos", "--json")
    planned = json.loads(run("plan", *words)[1])
    made = json.loads(run("make", *words, "--out", tmp_path / "a.tif")[1])
    written = made.pop("written")
    assert made["file"]["bytes_estimate"] == written["bytes"] <= planned["file"]["bytes_estimate"]
    made["file"]["bytes_estimate"] = planned["file"]["bytes_estimate"]
    assert made == planned


def test_dockets_go_round(run, jpeg, tmp_path):
    saved = tmp_path / "d.json"
    first = run(
        "plan",
        jpeg,
        "--size",
        "A5",
        "--rotate",
        "1.25",
        "--paper",
        "baryta",
        "--save-docket",
        saved,
        "--json",
    )
    again = run("plan", jpeg, "--docket", saved, "--json")
    assert first[:2] == again[:2]
    changed = json.loads(run("plan", jpeg, "--docket", saved, "--size", "A6", "--json")[1])
    assert changed["sharpen"]["paper"] == "baryta" and changed["print"]["label"] == "A6"
    refused(run("plan", jpeg, "--size", "A5", "--save-docket", jpeg), 2, "the photo itself")
    (tmp_path / "broken.json").write_text("{")
    refused(run("plan", jpeg, "--docket", tmp_path / "broken.json"), 2, "broken.json")


def test_one_of_several_versions_is_started_from(run, jpeg, tmp_path):
    one = Docket(version="print", size=SizeLine(size=parse_size("A5")))
    two = Docket(version="small", size=SizeLine(size=parse_size("A6")))
    path = tmp_path / "both.json"
    versions.save((one, two), path)
    refused(run("plan", jpeg, "--docket", path), 2, "--docket-version: print; small")
    refused(run("plan", jpeg, "--docket", path, "--docket-version", "wall"), 2, "no version “wall”")
    refused(run("plan", jpeg, "--docket-version", "small"), 2, "--docket")
    report = json.loads(
        run("plan", jpeg, "--docket", path, "--docket-version", "small", "--json")[1]
    )
    assert report["print"]["label"] == "A6"
    with pytest.raises(CannotDo, match="exists and was kept"):
        presets.save(Preset("Small", "", one), path)
    presets.save(Preset("Small", "", one), tmp_path / "small.json")
    refused(run("plan", jpeg, "--docket", tmp_path / "small.json"), 2, "is a preset, not")


def test_a_frame_must_have_the_sizes_shape(run, jpeg):
    assert run("plan", jpeg, "--size", "3x2in", "--crop", "0,0,300,200.4")[0] == 0
    refused(
        run("plan", jpeg, "--size", "3x2in", "--crop", "0,0,300,300"), 2, "does not have the shape"
    )
    refused(
        run("plan", jpeg, "--size", "3x2in", "--crop", "400,0,300,200"), 2, "outside the picture"
    )


@pytest.mark.parametrize(
    "words",
    [
        ("--size", "0x8in"),
        ("--size", "12xin"),
        ("--size", "A4", "--ppi", "-3"),
        ("--size", "A4", "--ppi", "1e9"),
        ("--size", "A4", "--ppi", "300", "--keep-pixels"),
        ("--size", "A4", "--paper", "velvet"),
        ("--size", "A4", "--distance", "far"),
        ("--size", "A4", "--place", "2,0"),
        ("--size", "A4", "--place", "1"),
        ("--size", "A4", "--crop", "1,2,3"),
        ("--size", "A4", "--crop", "0,0,0,0"),
        ("--size", "A4", "--rotate", "9999"),
        ("--size", "A4", "--rotate", "askew"),
        ("--size", "A4", "--strength", "-5"),
        ("--size", "A4", "--quality", "200"),
        ("--size", "A4", "--bits", "12"),
        ("--size", "A4", "--method", "magic"),
        ("--size", "A4", "--sise", "A5"),
        ("--size", "900x900m", "--ppi", "10000"),
        (),
    ],
)
def test_wrong_requests_are_refused_with_one_sentence(run, jpeg, words):
    refused(run("plan", jpeg, *words), 2)


def test_wrong_outs(run, jpeg, tmp_path):
    refused(run("make", jpeg, "--size", "A6", "--out", tmp_path / "a.bmp"), 2, "suffix")
    refused(run("make", jpeg, "--size", "A6", "--out", jpeg, "--overwrite"), 2, "never overwritten")
    refused(
        run("make", jpeg, "--size", "A6", "--bits", "16", "--out", tmp_path / "a.jpg"), 2, "8 bits"
    )
    refused(run("make", jpeg, "--size", "A6", "--out", tmp_path / "no" / "a.tif"), 1, "no folder")
    refused(run("make", jpeg, "--size", "A6"), 2)
    refused(run("reach", tmp_path), 2, "folder")
    refused(run("reach", tmp_path / "gone.jpg"), 2, "no file")
    (tmp_path / "t.jpg").write_text("a letter")
    refused(run("plan", tmp_path / "t.jpg", "--size", "A4"), 1, "t.jpg")
    (tmp_path / "cut.jpg").write_bytes(jpeg.read_bytes()[:9000])
    refused(
        run("make", tmp_path / "cut.jpg", "--size", "A6", "--out", tmp_path / "o.tif"),
        1,
        "incomplete",
    )
    refused(run("frobnicate"), 2)
    refused(run(), 2)


def test_help_and_version(run, capsys):
    for words in (["--help"], ["make", "--help"], ["--version"]):
        with pytest.raises(SystemExit) as end:
            commands.main(words)
        assert end.value.code == 0
    assert "--keep-pixels" in capsys.readouterr().out


def test_an_interrupt_ends_it_cleanly(tmp_path):
    rng = np.random.default_rng(0)
    photo = tmp_path / "p.png"
    Image.fromarray(rng.integers(0, 256, (400, 600, 3), np.uint8)).save(photo)
    out = tmp_path / "out.tif"
    process = subprocess.Popen(
        [
            sys.executable,
            "-m",
            "zinc_margin.commands",
            "make",
            photo,
            "--size",
            "150x100cm",
            "--ppi",
            "300",
            "--out",
            out,
        ],
        stderr=subprocess.PIPE,
        stdout=subprocess.PIPE,
        text=True,
    )
    for _ in range(2400):
        if any(name.endswith(".part") for name in os.listdir(tmp_path)):
            break
        time.sleep(0.05)
    process.send_signal(signal.SIGINT)
    _, err = process.communicate(timeout=240)
    assert process.returncode == 130
    assert err == "zinc-margin: Stopped; nothing was written.\n"
    assert os.listdir(tmp_path) == ["p.png"]


def test_demo_writes_a_folder(run, tmp_path, monkeypatch):
    from zinc_margin.demo import folder

    def blank(name):
        size, kind = ((320, 480), np.uint16) if name.endswith(".tif") else ((400, 600), np.uint8)
        size = size[::-1] if name.startswith("phone") else size  # it is stored sideways
        return lambda step, part: np.zeros((*size, 3), kind)

    pictures = {
        name: (share, blank(name), stored) for name, (share, _, stored) in folder._PICTURES.items()
    }
    monkeypatch.setattr(folder, "_PICTURES", pictures)
    code, out, _ = run("demo", tmp_path / "demo")
    assert code == 0 and len(out.splitlines()) == 9
    phone = json.loads(run("reach", tmp_path / "demo" / "phone-kiln-corner.jpg", "--json")[1])
    assert (phone["photo"]["width_px"], phone["photo"]["height_px"]) == (600, 400)
    web = json.loads(run("reach", tmp_path / "demo" / "wall-web-copy.jpg", "--json")[1])
    assert (web["photo"]["width_px"], web["photo"]["tag_ppi"]) == (640, 72)
    wide = json.loads(run("reach", tmp_path / "demo" / "estuary-dawn.tif", "--json")[1])
    assert (wide["photo"]["bits"], wide["photo"]["profile"]) == (16, "Wide RGB")
    blocked = tmp_path / "file"
    blocked.touch()
    refused(run("demo", blocked), 1, "could not be written")


def test_ways_of_giving_a_size(run, jpeg):
    def size(*words):
        code, out, err = run("plan", jpeg, "--json", *words)
        assert code == 0, err
        report = json.loads(out)
        return (
            # the side that follows moves by up to half a pixel
            round(report["print"]["width_mm"], 1),
            round(report["print"]["height_mm"], 1),
            report["pixels"]["width_px"],
            report["pixels"]["height_px"],
        )

    assert size("--width", "15cm")[:2] == (150, 100)
    assert size("--height", "10cm")[:2] == (150, 100)
    assert size("--width", "12cm", "--height", "10cm")[:2] == (120, 100)
    assert size("--long-edge", "6in")[:2] == (152.4, 101.6)
    assert size("--short-edge", "10cm")[:2] == (150, 100)
    assert size("--within", "13x18cm")[:2] == (180, 120)
    assert size("--within", "300x300px")[2:] == (300, 200)
    assert size("--scale", "50%")[2:] == (300, 200)
    assert size("--megapixels", "0.06")[2:] == (300, 200)
    assert size("--screen", "320x240")[2:] == (320, 240)
    assert size("--mat", "12x9cm", "--reveal", "5mm")[:2] == (110, 80)
    assert size("--mat", "12x9cm", "--overlap", "5mm")[:2] == (130, 100)
    assert size("--size", "long edge 15 cm")[:2] == (150, 100)
    refused(run("plan", jpeg, "--width", "1m", "--size", "A4"), 2, "both give the size")
    refused(run("plan", jpeg, "--size", "A4", "--reveal", "5mm"), 2, "--mat")
    refused(run("plan", jpeg, "--scale", "0%"), 2)


def test_sizes(run):
    out = run("sizes")[1]
    assert "A3+" in out and "Roll 61 cm" in out and "Mat 27 × 36 cm" in out
    papers = json.loads(run("sizes", "--family", "paper", "--json")[1])["sizes"]
    assert {"label": "A4", "family": "paper", "width_mm": 210, "height_mm": 297} in papers
    assert {row["family"] for row in papers} == {"paper"}
    refused(run("sizes", "--family", "wallpaper"), 2, "panorama")


def test_ladder(run, jpeg):
    out = run("ladder", jpeg)[1]
    assert "10 × 15 cm" not in out and "15 × 10 cm" in out  # lying as the photo lies
    report = json.loads(run("ladder", jpeg, "--target", "150", "--distance", "2.2m", "--json")[1])
    assert (report["target_ppi"], report["distance_mm"]) == (150, [2200, 2200])
    rung = next(row for row in report["ladder"] if row["label"] == "15 × 10 cm")
    assert rung["effective_ppi"] == pytest.approx(600 / 15 * 2.54)
    assert rung["enlargement"] == 1  # enough for 150 ppi, so the pixels are kept
    assert rung["grade"] == "good"
    roll = next(row for row in report["ladder"] if row["label"] == "Roll 61 cm")
    assert (roll["width_mm"], roll["height_mm"]) == (915, 610)
    rolls = json.loads(run("ladder", jpeg, "--family", "roll", "--json")[1])["ladder"]
    assert {row["family"] for row in rolls} == {"roll"}


def test_compare(run, jpeg, tmp_path):
    other = tmp_path / "small.png"
    Image.new("RGB", (40, 60)).save(other)
    out = run("compare", jpeg, other, "--size", "9x6cm")[1]
    assert "kiln.jpg" in out and "6 × 9 cm" in out
    rows = json.loads(run("compare", jpeg, other, "--size", "long edge 9 cm", "--json")[1])[
        "compare"
    ]
    assert [row["grade"] for row in rows] == ["from a distance", "too few pixels"]
    assert rows[1]["print"]["height_mm"] == 90
    refused(run("compare", jpeg, tmp_path / "gone.jpg", "--size", "A4"), 2, "gone.jpg")


def test_reach_at_a_distance(run, jpeg):
    rows = json.loads(run("reach", jpeg, "--distance", "2.2m", "--json")[1])["reach"]
    assert rows[-1]["ppi"] == pytest.approx(39.7, abs=0.1)


def test_size_options_of_the_ladder(run, jpeg):
    code, out, _ = run(
        "plan",
        jpeg,
        "--sheet",
        "A4",
        "--border",
        "20mm",
        "--by",
        "desk",
        "--json",
        "--distance",
        "across a room",
        "--overspill",
        "3",
        "--floor",
        "90",
        "--max-bytes",
        "2MB",
    )
    report = json.loads(out)
    assert code == 0
    assert (report["print"]["width_mm"], report["print"]["height_mm"]) == (257, 170)
    assert (report["by"], report["target_ppi"], report["floor_ppi"]) == ("desk", 360, 90)
    assert report["distance_mm"] == [2000, 4000]
    assert report["crop"]["unseen_mm"]["top"] == pytest.approx((170 - 170 / (176 / 170)) / 2)
    assert report["file"]["max_bytes"] == 2_000_000
    assert report["measured"]["noise"] > 0 and len(report["measured"]["digest"]) == 64
    assert report["reason"].endswith(".")
    refused(run("plan", jpeg, "--size", "A4", "--border", "2cm"), 2, "--sheet")
    refused(run("plan", jpeg, "--size", "2 MB"), 2, "--max-bytes")
    refused(run("plan", jpeg, "--size", "A4", "--by", "moon"), 2, "desk-half")
    refused(run("plan", jpeg, "--size", "A4", "--distance", "far off"), 2, "across a room")


def test_make_under_a_byte_limit(run, jpeg, tmp_path):
    out = tmp_path / "entry.jpg"
    code, printed, err = run(
        "make", jpeg, "--within", "500x500px", "--max-bytes", "40 kB", "--out", out, "--json"
    )
    assert (code, err) == (0, "")
    report = json.loads(printed)
    assert 0.97 * 40_000 <= out.stat().st_size == report["written"]["bytes"] <= 40_000
    with Image.open(out) as image:
        assert image.size == (report["pixels"]["width_px"], report["pixels"]["height_px"])


def test_own_sizes_from_the_shell(run, jpeg, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    assert run("sizes", "--add", "House size", "54x36cm")[0] == 0
    assert run("sizes", "--add", "Show mat", "mat 27x36cm reveal 6mm")[0] == 0
    code, out, _ = run("sizes", "--family", "mine")
    assert code == 0 and "House size" in out and "Show mat" in out and "A4" not in out
    report = json.loads(run("plan", jpeg, "--size", "house size", "--json")[1])
    assert report["print"]["label"] == "House size" and report["print"]["width_mm"] == 540
    ladder = json.loads(run("ladder", jpeg, "--family", "mine", "--json")[1])["ladder"]
    assert {row["label"] for row in ladder} == {"House size", "Show mat"}
    assert run("sizes", "--export", tmp_path / "mine.json")[0] == 0
    refused(run("sizes", "--export", tmp_path / "mine.json"), 2, "kept")
    assert run("sizes", "--rename", "House size", "Hall size")[0] == 0
    assert run("sizes", "--remove", "show mat")[0] == 0
    code, out, _ = run("sizes", "--import", tmp_path / "mine.json")
    assert code == 0 and "2 sizes added" in out
    refused(run("sizes", "--add", "A4", "1x1m"), 2, "A4")
    refused(run("sizes", "--remove", "nobody"), 2, "nobody")
    refused(run("sizes", "--import", tmp_path / "gone.json"), 2, "gone.json")


def test_a_saved_docket_keeps_what_was_measured(run, jpeg, tmp_path):
    kept = tmp_path / "kiln.docket.json"
    assert run("plan", jpeg, "--size", "6x4cm", "--save-docket", kept)[0] == 0
    photo = json.loads(kept.read_text())["photo"]
    assert len(photo["digest"]) == 64 and photo["measured"]["noise"] > 0
    photo["measured"]["noise"] = 0.7
    kept.write_text(json.dumps(json.loads(kept.read_text()) | {"photo": photo}))
    report = json.loads(run("plan", jpeg, "--docket", kept, "--json")[1])
    assert report["sharpen"]["noise_floor"] == pytest.approx(
        1.75 * min(1, report["pixels"]["scale"])
    )


def test_crop_options(run, jpeg, tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    report = json.loads(
        run("plan", jpeg, "--size", "10x10cm", "--subject", "0.25,0.5", "--mirror", "--json")[1]
    )
    # mirrored, the subject lies at three quarters
    crop = report["crop"]
    assert (450 - crop["left_px"]) / crop["width_px"] == pytest.approx(0.75, abs=0.01)
    whole = json.loads(
        run("plan", jpeg, "--size", "10x10cm", "--fit", "border", "--border", "1", "--json")[1]
    )
    bands = whole["crop"]["bands_mm"]
    assert min(bands.values()) == pytest.approx(10, abs=0.2)
    refused(run("plan", jpeg, "--size", "10x10cm", "--subject", "2,0"), 2, "0 to 1")
    refused(run("plan", jpeg, "--size", "A4", "--fit", "whole", "--border", "1"), 2, "--fit border")


def test_quarters_and_mirror_keep_every_pixel(run, tmp_path):
    path = tmp_path / "kiln.png"
    codes = np.random.default_rng(4).integers(0, 256, (40, 60, 3)).astype(np.uint8)
    Image.fromarray(codes).save(path)
    out = tmp_path / "out.tif"
    assert (
        run(
            "make",
            path,
            "--size",
            "3x2cm",
            "--keep-pixels",
            "--no-sharpen",
            "--rotate",
            "90",
            "--mirror",
            "--out",
            out,
        )[0]
        == 0
    )
    assert np.array_equal(tifffile.imread(out), np.rot90(codes[:, ::-1], -1))


def test_strips(run, jpeg, tmp_path):
    out = tmp_path / "strip.pdf"
    code, said, err = run(
        "strip",
        jpeg,
        "--size",
        "12x8cm",
        "--strengths",
        "50,100,150",
        "--strip-sheet",
        "A6",
        "--at",
        "0.4,0.5",
        "--paper",
        "matt",
        "--method",
        "lanczos",
        "--out",
        out,
    )
    assert code == 0, err
    assert "matt" in said and "2:  100 %" in said and out.read_bytes().startswith(b"%PDF")
    code, said, err = run(
        "strip",
        jpeg,
        "--size",
        "12x8cm",
        "--papers",
        "gloss,cotton",
        "--method",
        "lanczos",
        "--out",
        tmp_path / "s.png",
    )
    assert code == 0 and "gloss, cotton rag" in said
    code, said, err = run(
        "strip",
        jpeg,
        "--size",
        "12x8cm",
        "--method",
        "lanczos",
        "--json",
        "--out",
        tmp_path / "j.png",
    )
    assert code == 0 and len(json.loads(said)["labels"]) == 5
    for words, told in (
        (("--at", "2,0"), "0 to 1"),
        (("--strengths", "50,900"), "0 to 300"),
        (("--strengths", "50", "--papers", "gloss"), "only one"),
        (("--strip-sheet", "2x2cm"), "does not fit"),
        (("--papers", "velvet"), "Unknown paper"),
    ):
        refused(
            run("strip", jpeg, "--size", "12x8cm", "--out", tmp_path / "x.png", *words), 2, told
        )
    assert not (tmp_path / "x.png").exists()


def test_sharpening_on_the_command_line(run, jpeg):
    def sharpen(*words):
        code, out, err = run("plan", jpeg, "--json", "--size", "30x20cm", *words)
        assert code == 0, err
        return json.loads(out)["sharpen"]

    assert sharpen("--paper", "canvas")["process"] == "photographic exposure"
    ink = sharpen("--paper", "canvas", "--process", "inkjet")
    assert ink["process"] == "inkjet" and ink["paper_sigma_mm"] == pytest.approx(0.08)
    own = sharpen("--paper", "my rag", "--paper-blur", "0.1mm", "--process", "dye")
    assert own["paper"] == "my rag" and own["paper_sigma_mm"] == pytest.approx(0.11)
    assert sharpen("--halo", "3", "--noise-floor", "0.5", "--lean", "0.4")["halo_limit"] == 3
    refused(run("plan", jpeg, "--size", "30x20cm", "--grain", "101"), 2, "0 to 100")
    refused(run("plan", jpeg, "--size", "30x20cm", "--paper", "velvet"), 2, "Unknown paper")
    out = run("plan", jpeg, "--screen", "1200x800", "--json")[1]
    assert json.loads(out)["sharpen"]["paper"] == "screen"


def test_a_docket_remembers_which_page_its_photo_is(run, tmp_path, scene):
    path = tmp_path / "roll.tif"
    with tifffile.TiffWriter(path) as tiff:
        for wide, high in ((120, 80), (60, 90)):
            tiff.write(scene(wide, high), photometric="rgb")
    kept = tmp_path / "second.json"
    code, out, _ = run(
        "make",
        path,
        "--page",
        2,
        "--size",
        "2x3cm",
        "--keep-pixels",
        "--save-docket",
        kept,
        "--out",
        tmp_path / "a.tif",
    )
    assert code == 0 and "has 2 pictures; page 2 is the photo" in out
    assert run("make", path, "--docket", kept, "--out", tmp_path / "b.tif")[0] == 0
    first, second = (tifffile.imread(tmp_path / f"{name}.tif") for name in "ab")
    assert first.shape == (90, 60, 3) and np.array_equal(first, second)
    code, out, _ = run("inspect", path, "--page", 2)
    assert "60 × 90 px" in out and "The file has 2 pages; this is page 2" in out
    refused(run("plan", path, "--page", 3, "--size", "2x3cm"), 2, "there is no page 3")


@pytest.mark.parametrize(
    ("words", "pixels"),
    [
        (("--pixels", "2x"), (1200, 800)),
        (("--pixels", "50%"), (300, 200)),
        (("--pixels", "600px"), (600, 400)),
        (("--ppi", "150"), (600, 400)),
        (("--long-edge", "450px"), (450, 300)),
        (("--scale", "2x"), (1200, 800)),
        (("--megapixels", "0.06MP"), (300, 200)),
        (("--size", "2x"), (1200, 800)),
        (("--crop", "0,0,150,100"), (150, 100)),
        (("--by", "entry"), (2000, 1333)),
    ],
)
def test_every_way_of_giving_a_size_stands_alone(run, jpeg, words, pixels):
    report = json.loads(run("plan", jpeg, *words, "--json")[1])
    assert (report["pixels"]["width_px"], report["pixels"]["height_px"]) == pixels


def test_a_side_in_pixels_names_the_option_that_takes_it(run, jpeg):
    refused(run("plan", jpeg, "--width", "600px"), 2, "--long-edge 600px")
    refused(run("plan", jpeg, "--by", "lab"), 2, "--size")


def test_who_prints_it_and_on_what(run, jpeg):
    asked = ("plan", jpeg, "--by", "lab", "--paper", "gloss", "--size", "24x18cm", "--json")
    report = json.loads(run(*asked)[1])
    assert (report["by"], report["sharpen"]["paper"]) == ("lab", "gloss")
    report = json.loads(run("plan", jpeg, "--size", "9x6cm", "--format", "png", "--json")[1])
    assert report["file"]["format"] == "png"


def test_needs(run):
    rows = json.loads(run("needs", "70x50cm", "--distance", "80cm", "--json")[1])["needs"]
    assert [row["for"] for row in rows] == ["asked", "least", "near"]
    assert (rows[0]["width_px"], rows[0]["height_px"]) == (8268, 5906)
    told = run("needs", "20x16in")[1]
    assert told.startswith("20 × 16 in") and "target of a lab" in told
    refused(run("needs", "1 m wide"), 2, "depends on the photo")


def test_units_as_asked_as_typed_and_as_the_locale_has_them(run, jpeg, monkeypatch):
    def told(*words):
        return run("plan", jpeg, *words)[1]

    assert "12 × 8 in" in told("--size", "12x8in")
    assert "30.48 × 20.32 cm" in told("--size", "12x8in", "--units", "cm")
    assert "12 × 8 in" in told("--size", "12x8", "--units", "in")
    monkeypatch.setenv("LANG", "en_US.UTF-8")
    assert "6 × 4 in" in told("--size", "6x4") and "9 × 6 cm" in told("--size", "9x6cm")


def test_an_entry_is_checked_against_its_limits(run, jpeg, tmp_path):
    for long_edge, verdict in (("2000px", 0), ("2400px", 1)):
        out = tmp_path / f"{long_edge}.jpg"
        made = run("make", jpeg, "--long-edge", long_edge, "--method", "lanczos", "--out", str(out))
        assert made[0] == 0
        code, told, _ = run("check", str(out), "--against", "entry")
        assert code == verdict and ("the limit is 2000 px" in told) == bool(verdict)


def test_a_ladder_of_a_file_that_is_enlarged_first(run, jpeg):
    told = run("ladder", jpeg, "--pixels", "7x", "--family", "photo")[1]
    assert "after enlarging 7 ×" in told
    refused(run("ladder", jpeg, "--pixels", "12MP"), 2, "a factor here, for example 7x")


def test_a_subject_is_looked_for_when_it_is_asked(run, jpeg):
    told = run("plan", jpeg, "--size", "10x10cm", "--find-subject")[2]
    assert told.startswith("Subject: ")


def test_the_sizes_that_a_maker_sells(run):
    sold = json.loads(run("sizes", "--by", "canvas", "--json")[1])["sizes"]
    assert {one["family"] for one in sold} == {"canvas", "canvas inch"}
    told = run("sizes", "--by", "mat", "--family", "mat inch", "--units", "in")[1]
    assert ("Mat 7½ × 9½ in" in told and "in a 14 × 11 in frame" in told) or "11 × 14 in" in told
    refused(run("sizes", "--by", "nobody"), 2, "Unknown maker")


def test_a_size_may_be_followed_by_words_and_options_come_first(run, jpeg):
    typed = "12x8cm 330 ppi sRGB 8-bit png matt"
    report = json.loads(run("plan", jpeg, "--size", typed, "--json")[1])
    above, below = report["sheet"]["tag_x"]
    assert above / below == pytest.approx(330, abs=0.2)
    assert (report["file"]["format"], report["sharpen"]["paper"]) == ("png", "matt")
    report = json.loads(run("plan", jpeg, "--size", typed, "--format", "tiff", "--json")[1])
    assert report["file"]["format"] == "tiff"
    refused(run("plan", jpeg, "--size", "gloss jpeg"), 2, "no size")
    refused(run("plan", jpeg, "--size", "12x8cm shiny"), 2, "“shiny” is not understood")


def test_a_goal_without_a_suffix_may_have_been_meant_as_a_folder(run, jpeg, tmp_path):
    goal = tmp_path / "prints"
    refused(run("make", jpeg, "--size", "12x8cm", "--out", str(goal)), 2, f"{goal}/ for a folder")
    assert not goal.exists()


def test_a_batch_takes_every_option_of_a_print(jpeg, tmp_path, capsys):
    out = tmp_path / "prints"
    line = ["batch", str(jpeg), "--out", str(out)]
    assert commands.main([*line, "--size", "12x8cm", "--ppi", "120", "--format", "tiff"]) == 0
    capsys.readouterr()
    (made,) = out.glob("*.tif")
    with Image.open(made) as image:
        assert image.size == (567, 378) and image.info["dpi"] == pytest.approx((120, 120), abs=0.1)
    assert commands.main([*line, "--quality", "101"]) == 2
    assert "1 to 100" in capsys.readouterr().err


def test_a_preset_is_kept_from_options(tmp_path, capsys, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    assert commands.main(["preset", "--keep", "Wall", "--size", "30x20cm", "--paper", "matt"]) == 0
    assert commands.main(["preset", "list"]) == 0
    assert "Wall" in capsys.readouterr().out
    kept = presets.find("Wall").docket
    assert kept.size.size.label == "30 × 20 cm" and kept.sharpen.paper == "matt"
    assert commands.main(["preset", "--keep", "Empty"]) == 2
    assert "needs the print's options" in capsys.readouterr().err


def test_needs_of_several_sizes(capsys):
    assert commands.main(["needs", "30x20cm", "A3", "--json"]) == 0
    several = json.loads(capsys.readouterr().out)["sizes"]
    assert commands.main(["needs", "A3", "--json"]) == 0
    assert several[1]["needs"] == json.loads(capsys.readouterr().out)["needs"]


def test_a_refused_option_names_the_commands_that_have_it(jpeg, capsys):
    assert commands.main(["plan", str(jpeg), "--strengths", "50"]) == 2
    assert "--strengths is an option of strip" in capsys.readouterr().err
    assert commands.main(["plan", str(jpeg), "--kiln"]) == 2
    assert "No command has --kiln" in capsys.readouterr().err
