"""The Finish line from the command line, as a person types it."""

from __future__ import annotations

import json

import pypdfium2
import pytest
import tifffile
from PIL import Image

from zinc_margin.commands.program import main


def run(capsys, *arguments):
    code = main([str(part) for part in arguments])
    out, err = capsys.readouterr()
    return code, out, err


def test_a_bordered_sheet_with_words(jpeg, tmp_path, capsys):
    out = tmp_path / "sheet.tif"
    code, told, _ = run(
        capsys,
        "make",
        jpeg,
        "--sheet",
        "A3+",
        "--border",
        "20mm",
        "--caption",
        "{name}",
        "--key-line",
        "0.5mm,black,2mm",
        "--ppi",
        "60",
        "--out",
        out,
        "--printing-notes",
        "--json",
    )
    assert code == 0
    report = json.loads(told)
    assert report["print"]["width_mm"] == 443 and report["sheet"]["width_mm"] == 483
    assert report["sheet"]["margins_mm"] == {"top": 20, "right": 20, "bottom": 20, "left": 20}
    assert tifffile.imread(out).shape == (777, 1141, 3)
    assert "100 %" in (tmp_path / "sheet.tif.printing-notes.txt").read_text()


def test_a_size_of_its_own_is_kept_on_a_sheet(jpeg, capsys):
    code, told, _ = run(
        capsys,
        "plan",
        jpeg,
        "--size",
        "15x10cm",
        "--sheet",
        "A4",
        "--margins",
        "20,20,30,20mm",
        "--json",
    )
    report = json.loads(told)
    assert code == 0 and report["print"]["width_mm"] == 150
    assert report["sheet"]["margins_mm"]["top"] == 50  # 20 + half of the 60 that are free


def test_a_canvas_with_all_its_measures(jpeg, tmp_path, capsys):
    code, told, _ = run(
        capsys,
        "make",
        jpeg,
        "--size",
        "30x20cm",
        "--ppi",
        "50",
        "--wrap",
        "32mm+14mm",
        "--wrap-strip",
        "20mm",
        "--wrap-soften",
        "10mm",
        "--wrap-tone",
        "#222",
        "--fold-marks",
        "--staple",
        "10mm",
        "--out",
        tmp_path / "canvas.png",
        "--json",
    )
    report = json.loads(told)["sheet"]
    assert code == 0 and report["face_mm"] == [300, 200]
    assert report["width_mm"] == pytest.approx(300 + 92 + 20, abs=0.1)


def test_pieces_into_a_folder_and_a_pdf(jpeg, tmp_path, capsys):
    asked = [
        "make",
        jpeg,
        "--size",
        "60x40cm",
        "--ppi",
        "25",
        "--pieces",
        "A4",
        "--unprintable-edge",
        "5mm",
    ]
    code, told, _ = run(capsys, *asked, "--join", "10mm", "--out", f"{tmp_path}/wall/", "--json")
    report = json.loads(told)
    assert code == 0 and len(report["written"]) == len(report["pieces"]["each"]) == 8
    assert len(list((tmp_path / "wall").glob("*.tif"))) == 8
    code, _, _ = run(capsys, *asked, "--out", tmp_path / "wall.pdf")
    assert code == 0 and len(pypdfium2.PdfDocument(tmp_path / "wall.pdf")) == 9


def test_a_folder_takes_a_single_file_named_by_rule(jpeg, tmp_path, capsys):
    code, _, _ = run(
        capsys,
        "make",
        jpeg,
        "--size",
        "15x10cm",
        "--ppi",
        "100",
        "--format",
        "png",
        "--out",
        f"{tmp_path}/new/",
    )
    assert code == 0 and [path.suffix for path in (tmp_path / "new").iterdir()] == [".png"]


def test_an_overspill_in_percent_is_made_up_for(jpeg, capsys):
    _, told, _ = run(
        capsys, "plan", jpeg, "--size", "30x20cm", "--overspill", "1%", "--make-up", "--json"
    )
    report = json.loads(told)
    assert report["sheet"]["width_mm"] == 306 and report["crop"]["unseen_mm"]["left"] == 0


def test_several_on_one_sheet(jpeg, tmp_path, capsys):
    code, told, _ = run(
        capsys,
        "together",
        jpeg,
        jpeg,
        "--sheet",
        "A4",
        "--grid",
        "1x2",
        "--ppi",
        "60",
        "--out",
        tmp_path / "two.jpg",
    )
    assert code == 0 and "two.jpg" in told
    assert run(capsys, "together", jpeg, "--sheet", "A4", "--out", jpeg)[0] == 2


def test_prints_are_asked_for_in_a_sentence(jpeg, tmp_path, capsys):
    other = tmp_path / "wall.png"
    Image.open(jpeg).rotate(90, expand=True).save(other)
    line = ("together", jpeg, other, "--ppi", "60", "--crop-marks", "--out", tmp_path / "s.pdf")
    code, told, _ = run(
        capsys,
        *line,
        "--prints",
        "two 9x13 and four passport, on A4 sheets",
        "--prints",
        f"{other.name}: one 13 x 18",
    )
    assert code == 0 and told.startswith("7 prints on 2 sheets of 21 × 29.7 cm")
    assert len(pypdfium2.PdfDocument(tmp_path / "s.pdf")) == 2
    code, told, _ = run(capsys, "made", "s.pdf")
    assert code == 0 and told.count("printed on a shared sheet, s.pdf") == 3  # copies are one
    for wrong, said in (
        (("--prints", "two 9x13"), "Give the sheet"),
        (("--prints", "oven.tif: two 9x13 on A4"), "not one of the given photos"),
        (("--prints", "two hats on A4"), "“two hats” cannot be read"),
    ):
        code, _, why = run(capsys, *line, "--overwrite", *wrong)
        assert code == 2 and said in why
    code, _, why = run(capsys, "together", jpeg, "--sheet", "A4")
    assert code == 2 and "--out FILE, or --on PRINTER" in why


@pytest.mark.parametrize(
    ("typed", "said"),
    [
        (["--size", "60x40cm", "--sheet", "A4"], "does not fit on A4"),
        (["--size", "15x10cm", "--caption", "{nix}"], "Unknown caption field {nix}"),
        (["--size", "15x10cm", "--wrap", "1+2+3"], "like this: 32mm+14mm"),
        (["--size", "15x10cm", "--margins", "1,2"], "is not a border"),
        (["--size", "15x10cm", "--overspill", "90%"], "size.overspill_share"),
        (["--size", "15x10cm", "--wrap-tone", "mauve"], "Unknown colour"),
        (
            ["--size", "90x60cm", "--pieces", "A6", "--unprintable-edge", "6cm"],
            "cover the whole sheet",
        ),
        (["--size", "15x10cm", "--place-on-sheet", "1"], "0.5,0.4"),
    ],
)
def test_what_cannot_be_meant_is_one_sentence(jpeg, typed, said, capsys):
    code, out, err = run(capsys, "plan", jpeg, *typed)
    assert code == 2 and said in err and out == "" and err.count("\n") == 1
