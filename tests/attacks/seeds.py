"""Small pictures of every kind that opens, to be damaged."""

from __future__ import annotations

import io
from collections.abc import Iterator

import imagecodecs
import numpy as np
import pillow_heif
import pyexiv2
import tifffile
from PIL import Image, PngImagePlugin

from tests.photo.layered import master
from zinc_margin.photo.colour import wide_rgb

WIDE, HIGH = 72, 48


def scene(seed: int = 0) -> np.ndarray:
    """A hard edge, a slope and some noise, (H, W, 3) uint8."""
    rows, columns = np.mgrid[0:HIGH, 0:WIDE]
    noise = np.random.default_rng(seed).normal(0, 6, (HIGH, WIDE, 3))
    base = np.stack([rows * 4, columns * 3, (rows > columns // 2) * 160], 2)
    return np.clip(base + noise, 0, 255).astype(np.uint8)


def _saved(image: Image.Image, form: str, **known: object) -> bytes:
    held = io.BytesIO()
    image.save(held, form, **known)
    return held.getvalue()


def _worded(data: bytes) -> bytes:
    """With EXIF, a place, IPTC, XMP and a thumbnail."""
    with pyexiv2.ImageData(data) as image:
        image.modify_exif(
            {
                "Exif.Image.Artist": "Kiln keeper",
                "Exif.Image.XResolution": "300/1",
                "Exif.Image.YResolution": "300/1",
                "Exif.Image.Orientation": "6",
                "Exif.Photo.ExposureTime": "1/125",
                "Exif.GPSInfo.GPSLatitude": "51/1 30/1 0/1",
            }
        )
        image.modify_iptc({"Iptc.Application2.Caption": "Stacked bowls"})
        image.modify_xmp({"Xmp.dc.title": "Bowls", "Xmp.dc.creator": ["Kiln keeper"]})
        return bytes(image.get_bytes())


def _tiff(codes: np.ndarray, **known: object) -> bytes:
    held = io.BytesIO()
    tifffile.imwrite(held, codes, metadata=None, **known)
    return held.getvalue()


def _pages() -> bytes:
    held = io.BytesIO()
    with tifffile.TiffWriter(held) as tiff:
        for seed in range(3):
            tiff.write(scene(seed), photometric="rgb", metadata=None)
    return held.getvalue()


def seeds() -> Iterator[tuple[str, bytes]]:
    """Yield names, with their endings, and files."""
    rgb = scene()
    image, grey = Image.fromarray(rgb), Image.fromarray(rgb[..., 0])
    deep = rgb.astype(np.uint16) * 257
    alpha = np.dstack([rgb, rgb[..., 1]])
    icc = wide_rgb().icc
    yield "plain.jpg", _saved(image, "JPEG", quality=88, dpi=(300, 300))
    yield "worded.jpg", _worded(_saved(image, "JPEG", quality=92, icc_profile=icc))
    yield "progressive.jpg", _saved(image, "JPEG", progressive=True, subsampling=0)
    yield "grey.jpg", _saved(grey, "JPEG")
    yield "two.jpg", _saved(image, "MPO", save_all=True, append_images=[image])
    words = PngImagePlugin.PngInfo()
    words.add_text("Title", "Stacked bowls" * 20, zip=True)
    yield "plain.png", _saved(image, "PNG", pnginfo=words, dpi=(300, 300))
    yield "worded.png", _worded(_saved(image, "PNG", icc_profile=icc))
    yield "palette.png", _saved(image.quantize(16), "PNG", transparency=3)
    yield "alpha.png", _saved(Image.fromarray(alpha), "PNG")
    yield "deep.png", bytes(imagecodecs.png_encode(deep))
    yield "deep-alpha.png", bytes(imagecodecs.png_encode(np.dstack([deep[..., 0], deep[..., 1]])))
    yield "plain.tif", _tiff(rgb, photometric="rgb", resolution=(300, 300), resolutionunit=2)
    yield "worded.tif", _worded(_tiff(rgb, photometric="rgb", iccprofile=icc))
    yield "deflate.tif", _tiff(deep, photometric="rgb", compression="deflate", predictor=True)
    yield "lzw.tif", _tiff(rgb, photometric="rgb", compression="lzw", rowsperstrip=7)
    yield "tiles.tif", _tiff(rgb, photometric="rgb", tile=(16, 16))
    yield "planes.tif", _tiff(np.moveaxis(rgb, 2, 0), photometric="rgb", planarconfig="separate")
    yield "jpeg.tif", _tiff(rgb, photometric="ycbcr", compression="jpeg")
    yield "big.tif", _tiff(rgb, photometric="rgb", bigtiff=True, byteorder=">")
    yield "extra.tif", _tiff(alpha, photometric="rgb", extrasamples=["assocalpha"])
    yield "lines.tif", _saved(grey.convert("1"), "TIFF")
    yield "pages.tif", _pages()
    yield "plain.webp", _saved(image, "WEBP", quality=80, icc_profile=icc)
    yield "alpha.webp", _saved(Image.fromarray(alpha), "WEBP", lossless=True)
    yield "plain.avif", _saved(image, "AVIF", quality=70)
    held = io.BytesIO()
    pillow_heif.from_pillow(image).save(held, quality=70)
    yield "plain.heic", held.getvalue()
    yield "plain.jxl", bytes(imagecodecs.jpegxl_encode(rgb, level=90))
    yield "layers.psd", master(np.dstack([rgb, rgb[..., 1]]), layers=-2, icc=icc, ppi=300)
    yield "deep.psb", master(deep, packed=False, big=True, layers=1)
    yield "packed.jxl", bytes(imagecodecs.jpegxl_encode_jpeg(_saved(image, "JPEG")))
