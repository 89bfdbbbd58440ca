"""Pieces, sheets of several prints and slips as files, read back by other libraries."""

from __future__ import annotations

import io
from dataclasses import replace
from fractions import Fraction as F

import numpy as np
import pikepdf
import pypdfium2
import pytest
import tifffile
from PIL import Image, ImageCms

from tests.conftest import photo_of, resampled
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.finish import Margins
from zinc_margin.handoff.delivery import deliver, in_folder
from zinc_margin.handoff.make import make_file
from zinc_margin.handoff.shared_files import make_together
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import BadRequest, Cancelled, CannotDo
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.colour import wide_rgb
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.build import plan
from zinc_margin.plan.finish.shared_sheet import Laying, lay_out, sheets_of, wanted_print

A4 = parse_size("A4")


def together(prints, laying):
    return sheets_of(prints, laying, lay_out(prints, laying))


@pytest.fixture
def photo(scene):
    return photo_of(scene(600, 400))


def in_pieces(photo, form="tiff", size="60x40cm", **finish):
    finish = {"pieces": A4, "edge_mm": F(5), "join_mm": F(12)} | finish
    docket = resampled(size, 40, finish=finish, file={"format": form}, sharpen={"on": False})
    return plan(photo.facts, docket)


def test_files_sort_in_the_order_of_laying_and_join(photo, tmp_path):
    one = in_pieces(photo)
    folder = tmp_path / "wall"
    made = deliver(photo, one, folder)
    names = sorted(path.name for path in folder.iterdir())
    assert names[0].endswith("-0-map.png") and len(names) == len(made) + 1
    assert [each.path.name for each in made] == names[1:]
    joined = np.zeros((one.whole.height, one.whole.width, 3), np.uint8)
    for piece, each in zip(one.pieces.each, made, strict=True):
        with tifffile.TiffFile(each.path) as file:
            page = file.asarray()
            n, d = file.pages[0].tags["XResolution"].value
            assert F(page.shape[1]) * d / n * F("25.4") == piece.page.width_mm
        x, y, wide, high = piece.part
        part = page[piece.top : piece.top + high, piece.left : piece.left + wide]
        seen = joined[y : y + high, x : x + wide]
        assert np.array_equal(part[seen.any(2)], seen[seen.any(2)])  # where they overlap
        joined[y : y + high, x : x + wide] = part
    whole = page_of(photo, replace(one, pieces=None)).region(0, 0, joined.shape[1], joined.shape[0])
    assert np.array_equal(joined, whole)
    with Image.open(folder / names[0]) as drawn:
        assert drawn.size == (one.pieces.map.width, one.pieces.map.height)


def test_a_name_that_is_taken_stops_it_before_anything_is_written(photo, tmp_path):
    one = in_pieces(photo)
    deliver(photo, one, tmp_path / "wall")
    before = {path: path.stat().st_mtime_ns for path in (tmp_path / "wall").iterdir()}
    with pytest.raises(BadRequest, match="already exists"):
        deliver(photo, one, tmp_path / "wall")
    assert {path: path.stat().st_mtime_ns for path in (tmp_path / "wall").iterdir()} == before


def test_pieces_that_were_begun_and_stopped_leave_only_whole_files(photo, tmp_path):
    one = in_pieces(photo)

    def after_two(share: float, left: float | None) -> None:
        if share > 2.2 / len(one.pieces.each):
            stop.cancel()

    stop = Job(after_two, every_s=0)

    with pytest.raises(Cancelled):
        deliver(photo, one, tmp_path / "wall", job=stop)
    left = sorted((tmp_path / "wall").iterdir())
    assert 1 <= len(left) <= 3
    for path in left:
        tifffile.imread(path)
    stop.cancel()
    with pytest.raises(Cancelled):
        deliver(photo, one, tmp_path / "other", job=stop)
    assert not (tmp_path / "other").exists()


def test_pieces_do_not_go_into_one_picture(photo, tmp_path):
    with pytest.raises(BadRequest, match=r"need a folder \(DIR/\) or a \.pdf"):
        deliver(photo, in_pieces(photo), tmp_path / "wall.tif")
    with pytest.raises(CannotDo, match="could not be created"):
        deliver(photo, in_pieces(photo), tmp_path / "no" / "where")


@pytest.mark.parametrize("lossy", [False, True])
def test_pieces_as_pages_of_a_pdf(photo, tmp_path, lossy):
    one = in_pieces(photo, "pdf")
    docket = replace(one.docket, file=replace(one.docket.file, pdf_jpeg=lossy))
    one = plan(photo.facts, docket)
    (made,) = deliver(photo, one, tmp_path / "wall.pdf")
    with pikepdf.open(made.path) as pdf:
        assert len(pdf.pages) == len(one.pieces.each) + 1
        for page, piece in zip(pdf.pages, one.pieces.each, strict=False):
            sides = [float(side) / 72 * 25.4 for side in page.MediaBox[2:]]
            assert sides == pytest.approx(
                [float(piece.page.width_mm), float(piece.page.height_mm)], abs=0.01
            )
            image = page.Resources.XObject.P
            assert (image.Width, image.Height) == (piece.page.width, piece.page.height)
            assert bytes(image.ColorSpace[1].read_bytes()) == photo.colour.icc
            expected = page_of(photo, replace(one, cut=piece)).region(
                0, 0, piece.page.width, piece.page.height
            )
            if lossy:
                found = np.asarray(Image.open(io.BytesIO(image.read_raw_bytes())))
                assert np.abs(found.astype(int) - expected).mean() < 4
            else:
                found = np.frombuffer(image.read_bytes(), np.uint8).reshape(expected.shape)
                assert np.array_equal(found, expected)
        assert pdf.Root.ViewerPreferences.PrintScaling == "/None"
    seen = pypdfium2.PdfDocument(made.path)
    assert len(seen) == len(one.pieces.each) + 1


def test_boxes_of_a_page_that_is_cut(photo, tmp_path):
    docket = resampled(
        "15x10cm", 100, finish={"marks": True, "bleed_mm": F(3)}, file={"format": "pdf"}
    )
    one = plan(photo.facts, docket)
    out = tmp_path / "card.pdf"
    make_file(photo, one, out)
    page = pypdfium2.PdfDocument(out)[0]

    def mm(box):
        return [side / 72 * 25.4 for side in box]

    left, low, right, high = mm(page.get_trimbox())
    assert (right - left, high - low) == pytest.approx((150, 100), abs=0.01)
    wide = mm(page.get_bleedbox())
    assert wide == pytest.approx([left - 3, low - 3, right + 3, high + 3], abs=0.01)
    sides = [side / 72 * 25.4 for side in page.get_size()]
    assert sides == pytest.approx([float(one.page.width_mm), float(one.page.height_mm)], abs=0.01)


def test_a_sheet_as_png_tiff_and_jpeg_says_its_own_size(photo, tmp_path):
    docket = resampled("15x10cm", 254, finish={"sheet": A4, "caption": "{name}"})
    one = plan(photo.facts, docket)
    for ending in (".png", ".tif", ".jpg"):
        form = {".png": "png", ".tif": "tiff", ".jpg": "jpeg"}[ending]
        made = plan(photo.facts, replace(docket, file=replace(docket.file, format=form)))
        out = tmp_path / f"sheet{ending}"
        make_file(photo, made, out)
        with Image.open(out) as read:
            assert read.size == (2970, 2100) == (one.page.width, one.page.height)
            assert read.info["dpi"] == pytest.approx((254, 254), abs=0.02)


def test_a_slip_lies_beside_the_file(photo, tmp_path):
    docket = resampled("15x10cm", 100, file={"printing_notes": True}, size={"maker": "desk"})
    one = plan(photo.facts, docket)
    (made,) = deliver(photo, one, in_folder(photo.facts.path, one, tmp_path))
    slip = (made.path.parent / (made.path.name + ".printing-notes.txt")).read_text("utf-8")
    assert made.path.name in slip and "100 %" in slip and "15 × 10 cm" in slip


# several photos on one sheet


def three(scene):
    shapes = (600, 400), (400, 600), (500, 500)
    photos = [photo_of(scene(*shape, seed=n)) for n, shape in enumerate(shapes)]
    photos[1] = photo_of(scene(*shapes[1], np.uint16, 5), wide_rgb())
    return photos


def pairs(photos, size="9x6cm"):
    docket = replace(Docket(), size=replace(Docket().size, size=parse_size(size)))
    return [wanted_print(at, photo.facts, docket) for at, photo in enumerate(photos)]


def test_prints_at_their_own_sizes_lie_beside_each_other(scene, tmp_path):
    photos = three(scene)
    wish = Laying(A4, None, F(10), F(5), False, F(254), turns=False)
    (page,) = together(pairs(photos), wish)
    cells = sorted(page.cells, key=lambda cell: cell.which)
    assert [cell.plan.pixels.width for cell in cells] == [900, 600, 900]
    assert not any(cell.turned for cell in cells)
    (made,) = make_together(photos, [page], tmp_path / "sheet.tif")
    sheet = tifffile.imread(made.path)
    assert sheet.shape == (2970, 2100, 3) and sheet.dtype == np.uint16
    cell = cells[0]
    part = page_of(photos[0], cell.plan).region(0, 0, 900, 600)
    found = sheet[cell.top : cell.top + 600, cell.left : cell.left + 900]
    assert np.array_equal(found, part.astype(np.uint16) * 257)
    assert (sheet[:100] == 65535).all()


def test_a_canvas_keeps_to_its_place_among_others(scene):
    """It is printed flat there: sides would lie over its neighbours."""
    photo = three(scene)[0]
    (one,) = pairs([photo])
    canvas = replace(one.docket, size=replace(one.docket.size, maker="canvas"))
    (page,) = together(
        [wanted_print(0, photo.facts, canvas)], Laying(A4, (2, 2), F(10), F(5), False, F(100))
    )
    (cell,) = page.cells
    assert page_of(photo, cell.plan).shape[:2] == (cell.plan.pixels.height, cell.plan.pixels.width)


def test_colours_are_brought_into_one_space(scene, tmp_path):
    photos = three(scene)
    wish = Laying(A4, None, F(10), F(5), False, F(100), turns=False)
    (page,) = together(pairs(photos), wish)
    (made,) = make_together(photos, [page], tmp_path / "sheet.png")
    cell = next(cell for cell in page.cells if cell.which == 1)
    wide = cell.plan.pixels
    part = page_of(photos[1], cell.plan).region(0, 0, wide.width, wide.height)
    goal = ImageCms.ImageCmsProfile(io.BytesIO(photos[0].colour.icc))
    own = ImageCms.ImageCmsProfile(io.BytesIO(photos[1].colour.icc))
    turn = ImageCms.buildTransform(
        own,
        goal,
        "RGB",
        "RGB",
        ImageCms.Intent.RELATIVE_COLORIMETRIC,
        ImageCms.Flags.BLACKPOINTCOMPENSATION,
    )
    eight = Image.fromarray((part // 257).astype(np.uint8))
    expected = np.asarray(ImageCms.applyTransform(eight, turn)).astype(int)
    with Image.open(made.path) as read:
        sheet = np.asarray(read.convert("RGB")).astype(int)
    found = sheet[cell.top : cell.top + wide.height, cell.left : cell.left + wide.width]
    off = np.abs(found - expected)
    assert off.mean() < 0.6 and np.quantile(off, 0.99) <= 2


def test_a_grid_holds_all_and_goes_on_to_a_second_sheet(scene, tmp_path):
    photos = three(scene)
    pages = together(pairs(photos), Laying(A4, (2, 1), F(10), F(10), True, F(60)))
    assert [len(page.cells) for page in pages] == [2, 1]
    for page in pages:
        for cell, words in zip(page.cells, page.words, strict=True):
            assert cell.plan.size.width_mm <= 90
            assert words.box[1] >= cell.top + cell.plan.pixels.height
    made = make_together(photos, pages, tmp_path / "rack.jpg")
    assert [each.path.name for each in made] == ["rack-1.jpg", "rack-2.jpg"]
    (pdf,) = make_together(photos, pages, tmp_path / "rack.pdf")
    assert len(pypdfium2.PdfDocument(pdf.path)) == 2


def test_what_is_too_large_for_the_sheet_is_named(scene):
    with pytest.raises(BadRequest, match=r"made-up\.tif at 90 × 60 cm"):
        together(pairs(three(scene), "90x60cm"), Laying(A4))
    with pytest.raises(BadRequest, match="do not fit"):
        together(pairs(three(scene)), Laying(A4, (40, 40)))
    with pytest.raises(BadRequest, match="leaves no space"):
        together(pairs(three(scene)), Laying(A4, border_mm=F(200)))


def test_margins_are_read_clockwise_from_the_top():
    from zinc_margin.docket.finish import parse_margins
    from zinc_margin.docket.finish_input import parse_overspill, parse_wrap

    assert parse_margins("20,20,30,20mm") == Margins(F(20), F(20), F(30), F(20))
    assert parse_margins("2 cm") == Margins(F(20), F(20), F(20), F(20))
    assert parse_margins("1,0,1,0in") == Margins(F("25.4"), F(0), F("25.4"), F(0))
    assert parse_wrap("32mm+14mm") == {"wrap_mm": F(32), "tuck_mm": F(14)}
    assert parse_overspill("1.5 %")["overspill_share"] == F(3, 200)
    for wrong in ("1,2,3", "a", "1,,2,3"):
        with pytest.raises(BadRequest):
            parse_margins(wrong)


def test_a_turned_print_is_the_same_print_to_the_bit(scene, tmp_path):
    photo = photo_of(scene(600, 400))
    laying = Laying(parse_size("7x10cm"), None, F(5), F(5), False, F(254))
    sheets = together(pairs([photo]), laying)
    (cell,) = sheets[0].cells
    assert cell.turned
    (made,) = make_together([photo], sheets, tmp_path / "turned.tif")
    left, top, wide, high = cell.box
    found = tifffile.imread(made.path)[top : top + high, left : left + wide]
    standing = page_of(photo, cell.plan).region(0, 0, high, wide)
    assert np.array_equal(np.rot90(found, -1), standing)
