"""Files made, and read back through other libraries."""

from __future__ import annotations

import os
import shutil
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import imagecodecs
import numpy as np
import pikepdf
import pyexiv2
import pypdfium2
import pytest
import tifffile
from PIL import Image

from tests.conftest import docket_of, resampled
from zinc_margin.handoff import make as making
from zinc_margin.handoff import names
from zinc_margin.handoff.formats import registry
from zinc_margin.handoff.formats import tiff as tiff_format
from zinc_margin.handoff.make import make_file
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import BadRequest, Cancelled, CannotDo
from zinc_margin.measure.formats import formats
from zinc_margin.photo import colour as colours
from zinc_margin.photo.pixels import read_photo
from zinc_margin.pixels import render
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan
from zinc_margin.plan.file.name import ruled_name
from zinc_margin.plan.text.sharpen_words import sharpen_rows


def made(path: Path, docket, out: Path, **options):
    photo = read_photo(path)
    ending = {".tif": "tiff", ".jpg": "jpeg", ".png": "png", ".pdf": "pdf"}[out.suffix]
    docket = replace(docket, file=replace(docket.file, format=ending))
    worked = plan(photo.facts, docket)
    return photo, worked, make_file(photo, worked, out, **options)


def save_rich(path: Path, picture: np.ndarray) -> Path:
    """A photo with EXIF, GPS, IPTC and XMP, stored turned."""
    Image.fromarray(picture).save(path, quality=93, icc_profile=colours.wide_rgb().icc)
    with pyexiv2.Image(str(path)) as image:
        image.modify_exif(
            {
                "Exif.Image.Make": "Tidewater",
                "Exif.Image.Orientation": "6",
                "Exif.Image.Copyright": "Kiln keeper",
                "Exif.Image.XResolution": "72/1",
                "Exif.Photo.ExposureTime": "1/125",
                "Exif.Photo.PixelXDimension": "600",
                "Exif.Photo.LensModel": "a long name that does not fit four bytes",
                "Exif.GPSInfo.GPSLatitude": "51/1 30/1 0/1",
                "Exif.GPSInfo.GPSLatitudeRef": "N",
            }
        )
        image.modify_iptc(
            {"Iptc.Application2.Caption": "Stacked bowls", "Iptc.Application2.City": "Rivermouth"}
        )
        image.modify_xmp(
            {"Xmp.dc.title": {'lang="x-default"': "Bowls"}, "Xmp.tiff.Orientation": "6"}
        )
    return path


@pytest.mark.parametrize("bits", [8, 16])
@pytest.mark.parametrize("ending", ["tif", "png"])
@pytest.mark.parametrize("channels", [1, 3])
def test_what_is_written_is_what_was_rendered(tmp_path, scene, monkeypatch, bits, ending, channels):
    monkeypatch.setattr(render, "BAND_ROWS", 50)
    source = tmp_path / "photo.tif"
    picture = scene(160, 120, np.uint16)[..., :channels].squeeze()
    tifffile.imwrite(source, picture, photometric="rgb" if channels == 3 else "minisblack")
    out = tmp_path / f"out.{ending}"
    photo, worked, written = made(source, resampled("16x12cm", 60, file={"bits": bits}), out)
    if ending == "tif":
        found = tifffile.imread(out)
    else:
        found = imagecodecs.png_decode(out.read_bytes())
    expected = Renderer(photo, worked).region(0, 0, worked.pixels.width, worked.pixels.height)
    assert found.dtype == (np.uint8 if bits == 8 else np.uint16)
    assert np.array_equal(found.reshape(expected.shape), expected)
    assert written.bytes == out.stat().st_size
    assert sorted(item.name for item in tmp_path.iterdir()) == sorted(["photo.tif", out.name])


def test_a_jpeg_is_near_what_was_rendered(jpeg, tmp_path):
    out = tmp_path / "out.jpg"
    photo, worked, _ = made(jpeg, resampled("12x8cm", 150, file={"quality": 97}), out)
    found = np.asarray(Image.open(out)).astype(int)
    expected = Renderer(photo, worked).region(0, 0, worked.pixels.width, worked.pixels.height)
    assert np.abs(found - expected).mean() < 2
    assert Image.open(out).info["jfif_density"] == (150, 150)


def test_a_flat_picture_is_flat_in_the_file(tmp_path):
    source = tmp_path / "flat.png"
    Image.new("RGB", (60, 40), (17, 130, 201)).save(source)
    for ending in ("tif", "png"):
        docket = resampled("15x10cm", 127, pixels={"method": "lanczos"})
        made(source, docket, tmp_path / f"o.{ending}")
        found = np.asarray(Image.open(tmp_path / f"o.{ending}"))
        assert (found.reshape(-1, 3) == (17, 130, 201)).all()


@pytest.mark.parametrize("ending", ["tif", "jpg", "png"])
def test_tags_profile_and_metadata(tmp_path, scene, ending):
    source = save_rich(tmp_path / "rich.jpg", scene(600, 400))
    out = tmp_path / f"out.{ending}"
    photo, worked, _ = made(source, resampled("11x17cm", 300, pixels={"method": "lanczos"}), out)
    assert photo.facts.upright
    assert (worked.pixels.width, worked.pixels.height) == (1299, 2008)
    image = Image.open(out)
    image.load()
    assert image.size == (1299, 2008)
    assert image.info["icc_profile"] == colours.wide_rgb().icc
    with pyexiv2.Image(str(out)) as told:
        exif, iptc, xmp = told.read_exif(), told.read_iptc(), told.read_xmp()
    for tag, pixels, mm in (("X", 1299, 110), ("Y", 2008, 170)):
        noted = Fraction(exif[f"Exif.Image.{tag}Resolution"].replace(" ", "/"))
        assert pixels / noted * Fraction("25.4") == mm
    assert exif["Exif.Image.ResolutionUnit"] == "2"
    assert exif.get("Exif.Image.Orientation", "1") == "1"
    assert exif["Exif.Photo.PixelXDimension"] == "1299"
    assert exif["Exif.Image.Make"] == "Tidewater"
    assert exif["Exif.Image.Copyright"] == "Kiln keeper"
    assert exif["Exif.Photo.LensModel"] == "a long name that does not fit four bytes"
    assert exif["Exif.Image.Software"].startswith("Zinc Margin")
    assert "Exif.GPSInfo.GPSLatitude" in exif
    assert iptc["Iptc.Application2.City"] == "Rivermouth"
    assert xmp["Xmp.dc.title"] == {'lang="x-default"': "Bowls"}
    assert "Xmp.tiff.Orientation" not in xmp
    # read by another library, and by ourselves
    ours = read_photo(out).facts
    assert (ours.width, ours.height, ours.orientation, ours.profile) == (1299, 2008, 1, "Wide RGB")
    assert float(ours.tag_x) == pytest.approx(1299 / 11 * 2.54, abs=0.02)
    assert image.getexif().get_ifd(0x8769)[0x829A] == pytest.approx(1 / 125)


def test_a_photo_that_is_a_tiff_carries_too(tmp_path, scene):
    source = tmp_path / "s.tif"
    tifffile.imwrite(
        source,
        scene(60, 40, np.uint16),
        photometric="rgb",
        compression="zlib",
        extratags=[(315, 2, 0, "Kiln keeper", True)],
    )
    made(source, resampled("6x4cm", 300), tmp_path / "o.tif")
    with tifffile.TiffFile(tmp_path / "o.tif") as tiff:
        tags = tiff.pages[0].tags
        assert tags[315].value == "Kiln keeper"
        assert tags[259].value == 1
        assert tiff.pages[0].iccprofile == colours.srgb().icc


def test_big_tiffs(tmp_path, scene, monkeypatch):
    monkeypatch.setattr(tiff_format, "_BIG_TIFF_FROM", 1000)
    source = save_rich(tmp_path / "rich.jpg", scene(90, 60))
    _, worked, _ = made(source, resampled("6x9cm", 100), tmp_path / "big.tif")
    with tifffile.TiffFile(tmp_path / "big.tif") as tiff:
        assert tiff.is_bigtiff
        assert tiff.pages[0].tags[34665].value["LensModel"].startswith("a long name")
        assert tiff.pages[0].asarray().shape == (worked.pixels.height, worked.pixels.width, 3)


# what may never happen


def test_the_photo_is_never_written_over(jpeg, tmp_path):
    before = jpeg.read_bytes()
    (tmp_path / "link.jpg").symlink_to(jpeg)
    os.link(jpeg, tmp_path / "hard.jpg")
    for name in ("kiln.jpg", "link.jpg", "hard.jpg", "../" + tmp_path.name + "/kiln.jpg"):
        for overwrite in (False, True):
            with pytest.raises(BadRequest, match="never overwritten"):
                made(jpeg, docket_of(), tmp_path / name, overwrite=overwrite)
    assert jpeg.read_bytes() == before


def test_existing_files_are_kept_unless_told(jpeg, tmp_path):
    out = tmp_path / "there.tif"
    out.write_text("somebody's")
    with pytest.raises(BadRequest, match="already exists"):
        made(jpeg, docket_of("6x4cm"), out)
    assert out.read_text() == "somebody's"
    made(jpeg, docket_of("6x4cm"), out, overwrite=True)
    assert tifffile.imread(out).shape[2] == 3


def test_a_name_taken_meanwhile_is_kept(jpeg, tmp_path, monkeypatch):
    out = tmp_path / "race.tif"
    original = registry.Writer.write

    def slow(*arguments):
        original(*arguments)
        out.write_text("somebody's")

    monkeypatch.setattr(registry.Writer, "write", slow)
    with pytest.raises(CannotDo, match="appeared"):
        made(jpeg, docket_of("6x4cm"), out)
    assert out.read_text() == "somebody's"


def test_cancelling_leaves_nothing(jpeg, tmp_path, monkeypatch):
    monkeypatch.setattr(render, "BAND_ROWS", 20)
    seen = []

    def show(share, left):
        seen.append(share)
        if share > 0.3:
            job.cancel()

    job = Job(show, every_s=0)

    with pytest.raises(Cancelled):
        made(
            jpeg,
            resampled("30x20cm", 200, pixels={"method": "lanczos"}),
            tmp_path / "out.tif",
            job=job,
        )
    assert 0.3 < seen[-1] < 1
    assert [item.name for item in tmp_path.iterdir()] == ["kiln.jpg"]


def test_folders_and_missing_places(jpeg, tmp_path):
    with pytest.raises(BadRequest, match="folder"):
        folder = tmp_path / "a.tif"
        folder.mkdir()
        made(jpeg, docket_of(), folder)
    with pytest.raises(CannotDo, match="no folder"):
        made(jpeg, docket_of(), tmp_path / "nowhere" / "out.tif")


@pytest.mark.skipif(os.geteuid() == 0, reason="root may write everywhere")
def test_no_permission_to_write(jpeg, tmp_path):
    shut = tmp_path / "shut"
    shut.mkdir(mode=0o500)
    with pytest.raises(CannotDo, match="permission to write"):
        made(jpeg, docket_of("6x4cm"), shut / "out.tif")


def test_a_full_disk_is_said_beforehand(jpeg, tmp_path, monkeypatch):
    usage = making.shutil.disk_usage(tmp_path)
    monkeypatch.setattr(making.shutil, "disk_usage", lambda _: usage._replace(free=1000))
    with pytest.raises(CannotDo, match=r"needs .* the disk has only 1 kB left"):
        made(jpeg, docket_of("6x4cm"), tmp_path / "out.tif")


@pytest.mark.parametrize(
    ("errno", "words"),
    [
        (28, "disk is full"),
        (13, "permission to write"),
        (2, "has disappeared"),
        (5, "did not store"),
        (75, "could not be written"),
    ],
)
@pytest.mark.parametrize("ending", ["tif", "jpg", "png"])
def test_what_goes_wrong_while_writing(jpeg, tmp_path, monkeypatch, errno, words, ending):
    def failing(writer, out, *arguments):
        out.write(b"half")
        raise OSError(errno, os.strerror(errno))

    monkeypatch.setattr(registry.Writer, "write", failing)
    with pytest.raises(CannotDo, match=words):
        made(jpeg, docket_of("6x4cm"), tmp_path / f"out.{ending}")
    assert [item.name for item in tmp_path.iterdir()] == ["kiln.jpg"]


def test_jpegs_too_large_are_refused_beforehand(jpeg, tmp_path, monkeypatch):
    with pytest.raises(BadRequest, match="65535"):
        made(jpeg, resampled("600x400cm", 300), tmp_path / "out.jpg")
    monkeypatch.setattr(registry, "memory_available", lambda: 1_000_000)
    with pytest.raises(CannotDo, match="memory"):
        made(jpeg, resampled("30x20cm", 300), tmp_path / "out.jpg")


# names


def test_names_by_rule(jpeg, tmp_path):
    photo = read_photo(jpeg)

    def name(size):
        return ruled_name(jpeg, plan(photo.facts, docket_of(size)))

    assert name("30x20cm") == "kiln-30x20cm"
    assert name("12x9in") == "kiln-12x9in"
    assert name("A3+") == "kiln-A3+"
    assert "/" not in name("8 1/2 x 11 in")
    worked = plan(photo.facts, docket_of("A4"))
    first = names.goal(jpeg, worked)
    assert first == tmp_path / "kiln-A4.tif"
    first.touch()
    assert names.goal(jpeg, worked).name == "kiln-A4-2.tif"
    (tmp_path / "kiln-A4-2.tif").symlink_to("nowhere")
    assert names.goal(jpeg, worked).name == "kiln-A4-3.tif"


def test_endings():
    assert names.format_of(Path("A.TIFF")) == "tiff"
    for wrong in ("a.bmp", "a", "a.jpg.txt"):
        with pytest.raises(BadRequest, match="suffixes"):
            names.format_of(Path(wrong))


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_a_pdf_is_one_page_as_large_as_the_print(tmp_path, scene, dtype):
    source = tmp_path / "photo.tif"
    tifffile.imwrite(source, scene(180, 120, dtype), photometric="rgb")
    docket = resampled("17x11cm", 60)
    photo, worked, written = made(source, docket, tmp_path / "out.pdf")
    with pikepdf.open(written.path) as pdf:
        (page,) = pdf.pages
        assert [float(v) * 25.4 / 72 for v in page.MediaBox[2:]] == pytest.approx(
            [170, 110], abs=0.01
        )
        assert page.TrimBox == page.MediaBox
        assert pdf.Root.ViewerPreferences.PrintScaling == "/None"
        picture = page.Resources.XObject.P
        raw = np.frombuffer(picture.read_bytes(), np.uint8 if dtype == np.uint8 else ">u2")
        width, height = worked.pixels.width, worked.pixels.height
        expected = Renderer(photo, worked).region(0, 0, width, height)
        assert np.array_equal(raw.reshape(height, width, 3), expected)
    shown = pypdfium2.PdfDocument(written.path)[0].render(scale=1).to_numpy()
    assert shown.shape[:2] == (312, 482)


def test_the_file_and_its_folder_are_on_the_disk_before_it_has_its_name(
    jpeg, tmp_path, monkeypatch
):
    order: list[tuple[str, int]] = []
    sync, link = os.fsync, os.link

    def watched(descriptor: int) -> None:
        order.append(("sync", os.fstat(descriptor).st_ino))
        sync(descriptor)

    def named(source, goal, **how) -> None:
        order.append(("name", os.stat(source).st_ino))
        link(source, goal, **how)

    monkeypatch.setattr(os, "fsync", watched)
    monkeypatch.setattr(os, "link", named)
    out = tmp_path / "out.png"
    made(jpeg, docket_of("6x4cm"), out)
    whole, folder = out.stat().st_ino, tmp_path.stat().st_ino
    assert order.index(("sync", whole)) < order.index(("name", whole))
    assert order.index(("name", whole)) < order.index(("sync", folder))


@pytest.mark.parametrize("ending", ["png", "tif", "jpg"])
def test_each_axis_has_its_own_resolution(jpeg, tmp_path, ending):
    photo = read_photo(jpeg)
    one = plan(
        photo.facts,
        docket_of("6x4cm", file={"format": {"png": "png", "tif": "tiff", "jpg": "jpeg"}[ending]}),
    )
    tags = {"tag_x": (300, 1), "tag_y": (150, 1)}
    one = replace(one, pixels=replace(one.pixels, **tags))
    out = tmp_path / f"out.{ending}"
    make_file(photo, one, out)
    with Image.open(out) as image:
        across, down = image.info["dpi"]
    assert (round(float(across)), round(float(down))) == (300, 150)


def latin(path: Path, picture: np.ndarray) -> Path:
    """A photo whose artist's name is in Latin-1, as older cameras and programs write it."""
    exif = Image.Exif()
    exif[0x013B], exif[0x010F] = "Mxller", "Tidewater"
    Image.fromarray(picture).save(path, exif=exif.tobytes().replace(b"Mxller", b"M\xfcller"))
    return path


@pytest.mark.parametrize("rights", [True, False])
@pytest.mark.parametrize("form", list(formats()))
def test_names_that_are_no_utf8_are_carried(tmp_path, scene, form, rights):
    photo = read_photo(latin(tmp_path / "photo.jpg", scene(60, 40)))
    assert photo.facts.said.author == "Müller" and photo.facts.said.readable
    file = {"format": form, "metadata": "copyright" if rights else "all", "places": False}
    worked = plan(photo.facts, resampled("6x4cm", 60, file=file))
    out = tmp_path / f"out{formats()[form].endings[0]}"
    make_file(photo, worked, out)
    if form == "pdf":  # a PDF's pages carry none
        return
    with pyexiv2.Image(str(out)) as image:
        exif = image.read_exif("latin-1")
    assert exif["Exif.Image.Artist"] == "Müller"
    assert ("Exif.Image.Make" in exif) is not rights


def test_metadata_that_is_damaged_is_said_and_the_print_is_made(tmp_path, scene, monkeypatch):
    source = tmp_path / "photo.jpg"
    Image.fromarray(scene(60, 40)).save(source)

    def broken(path, *more):
        if Path(path) == source:
            raise RuntimeError("corrupted metadata")
        return pyexiv2_image(path, *more)

    pyexiv2_image = pyexiv2.Image
    monkeypatch.setattr(pyexiv2, "Image", broken)
    photo = read_photo(source)
    worked = plan(photo.facts, resampled("6x4cm", 60, file={"format": "jpeg"}))
    assert "metadata-damaged" in [note.code for note in worked.notes]
    make_file(photo, worked, tmp_path / "out.jpg")
    with Image.open(tmp_path / "out.jpg") as image:
        assert image.getexif()[274] == 1 and image.size == (142, 94)


def test_a_job_is_checked_between_slices_of_a_band():
    job, given = Job(), []

    class Part:
        def let_go(self):
            given.append("band")

    slices = making._flush(iter([np.zeros((300, 4, 3), np.uint8)]), Part(), job)
    assert len(next(slices)) == 64
    job.cancel()
    with pytest.raises(Cancelled):
        next(slices)
    assert given == []


@pytest.mark.parametrize(("short", "refused"), [(1, True), (0, False)])
def test_a_tiff_needs_just_its_bytes_of_free_disk(jpeg, tmp_path, monkeypatch, short, refused):
    docket = docket_of("6x4cm", pixels={"choice": "keep"})
    needed = plan(read_photo(jpeg).facts, docket).file.bytes_estimate
    usage = shutil.disk_usage(tmp_path)
    monkeypatch.setattr(
        making.shutil, "disk_usage", lambda path: usage._replace(free=needed - short)
    )
    if refused:
        with pytest.raises(CannotDo, match="nothing was written"):
            made(jpeg, docket, tmp_path / "out.tif")
        assert not (tmp_path / "out.tif").exists()
    else:
        made(jpeg, docket, tmp_path / "out.tif")


def test_a_lab_that_enlarges_gets_a_file_of_the_photos_own_samples(scene, tmp_path):
    source = tmp_path / "photo.png"
    Image.fromarray(scene(300, 200)).save(source)
    docket = docket_of("60x40cm", size={"maker": "lab-enlarges"}, file={"colour": "own"})
    photo, planned, _ = made(source, docket, tmp_path / "print.tif")
    assert planned.sharpen is None and "sharpens for its own" in sharpen_rows(planned, "cm")[1]
    assert np.array_equal(tifffile.imread(tmp_path / "print.tif"), scene(300, 200))
    wanted = replace(docket, sharpen=replace(docket.sharpen, on=True))
    assert plan(photo.facts, wanted).sharpen is not None
