"""PDF pages, each with a picture, its boxes and its profile."""

from __future__ import annotations

import io
from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from fractions import Fraction
from typing import TYPE_CHECKING

import numpy as np

from zinc_margin import __version__
from zinc_margin.handoff.formats.bands import pack
from zinc_margin.photo.arrays import Codes

if TYPE_CHECKING:
    import pikepdf
    from pikepdf import Array

_Box = tuple[Fraction, Fraction, Fraction, Fraction]


@dataclass(frozen=True, eq=False)
class Picture:
    """A picture as it is embedded.

    Attributes
    ----------
    width, height, channels, bits : int
    data : bytes
        Deflated rows, each as the difference from the one above (PNG filter 2), or a JPEG.
    jpeg : bool
    """

    width: int
    height: int
    channels: int
    bits: int
    data: bytes
    jpeg: bool = False

    @classmethod
    def of_bands(cls, bands: Iterable[np.ndarray]) -> Picture:
        """Pack bands (rows, W, C), uint8 or uint16, from the top; keep only packed data in memory.

        Parameters
        ----------
        bands : sequence of ndarray
            From the top.
        """
        height, shape, bits = 0, (0, 0, 0), 8

        def measured() -> Iterator[Codes]:
            nonlocal height, shape, bits
            for band in bands:
                height, shape, bits = height + len(band), band.shape, band.dtype.itemsize * 8
                yield band

        packed = b"".join(pack(measured()))
        return cls(shape[1], height, shape[2], bits, packed)


@dataclass(frozen=True, eq=False)
class PdfPage:
    """One page with one picture.

    Attributes
    ----------
    width_mm, height_mm : Fraction
        Size of the sheet.
    box_mm : (Fraction, Fraction, Fraction, Fraction)
        Left, top, width and height of the picture.
    picture : Picture
    icc : bytes
        The picture's profile.
    trim_mm : (Fraction, Fraction, Fraction, Fraction) or None
        Left, top, width and height after cutting; None: the picture's box.
    bleed_mm : Fraction
        Picture beyond the cut.
    """

    width_mm: Fraction
    height_mm: Fraction
    box_mm: _Box
    picture: Picture
    icc: bytes
    trim_mm: _Box | None = None
    bleed_mm: Fraction = Fraction(0)

    @classmethod
    def filled(
        cls, width_mm: Fraction, height_mm: Fraction, picture: Picture, icc: bytes
    ) -> PdfPage:
        """Return a page that its picture fills."""
        box = (Fraction(0), Fraction(0), width_mm, height_mm)
        return cls(width_mm, height_mm, box, picture, icc)

    def cut_at(self, trim_mm: _Box, bleed_mm: Fraction) -> PdfPage:
        """Return the page with its trim and bleed boxes.

        Parameters
        ----------
        trim_mm : _Box
            Left, top, width and height of the cut, in mm.
        bleed_mm : Fraction
            Picture beyond the cut, in mm, 0 or more.
        """
        return replace(self, trim_mm=trim_mm, bleed_mm=bleed_mm)


def _points(mm: Fraction) -> float:
    return float(mm * 72 / Fraction("25.4"))


def pdf_data(pages: Sequence[PdfPage], title: str) -> bytes:
    """Return pages as a PDF file that requests printing without scaling."""
    import pikepdf
    from pikepdf import Array, Dictionary, Name, Stream, String

    with pikepdf.new() as pdf:
        for page in pages:
            _add(pdf, page)
        pdf.Root.ViewerPreferences = Dictionary(
            PrintScaling=Name("/None"), PickTrayByPDFSize=True, NumCopies=1
        )
        profile = Stream(pdf, pages[0].icc)
        profile.N = pages[0].picture.channels
        pdf.Root.OutputIntents = Array(
            [
                pdf.make_indirect(
                    Dictionary(
                        Type=Name.OutputIntent,
                        S=Name("/GTS_PDFX"),
                        OutputConditionIdentifier=String("Custom"),
                        Info=String("The picture's own profile"),
                        DestOutputProfile=pdf.make_indirect(profile),
                    )
                )
            ]
        )
        pdf.docinfo["/Title"] = title
        pdf.docinfo["/Creator"] = f"Zinc Margin {__version__}"
        held = io.BytesIO()
        pdf.save(held)
        return held.getvalue()


def _add(pdf: pikepdf.Pdf, page: PdfPage) -> None:
    import pikepdf
    from pikepdf import Array, Dictionary, Name, Stream

    width, height = _points(page.width_mm), _points(page.height_mm)
    left, top, across, down = page.box_mm
    place = (_points(across), _points(down), _points(left), height - _points(top + down))
    picture = _picture(pdf, page)
    drawing = f"q {place[0]:.6f} 0 0 {place[1]:.6f} {place[2]:.6f} {place[3]:.6f} cm /P Do Q"
    box = Array([0, 0, width, height])
    result = Dictionary(
        Type=Name.Page,
        MediaBox=box,
        CropBox=box,
        Resources=Dictionary(XObject=Dictionary(P=picture)),
        Contents=pdf.make_indirect(Stream(pdf, drawing.encode("ascii"))),
    )
    trim = page.trim_mm or page.box_mm
    more = page.bleed_mm
    result.TrimBox = _box(trim, page)
    result.BleedBox = _box(
        (trim[0] - more, trim[1] - more, trim[2] + 2 * more, trim[3] + 2 * more), page
    )
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(result)))


def _box(box: _Box, page: PdfPage) -> Array:
    """Return a box in PDF coordinates: from the bottom left, in points."""
    from pikepdf import Array

    left, top, wide, high = box
    sides = left, page.height_mm - top - high, left + wide, page.height_mm - top
    return Array([_points(side) for side in sides])


def _picture(pdf: pikepdf.Pdf, page: PdfPage) -> pikepdf.Object:
    from pikepdf import Array, Dictionary, Name, Stream

    picture = page.picture
    profile = Stream(pdf, page.icc)
    profile.N = picture.channels
    profile.Alternate = {1: Name.DeviceGray, 3: Name.DeviceRGB, 4: Name.DeviceCMYK}[
        picture.channels
    ]
    result = Stream(pdf, picture.data)
    if picture.jpeg:
        result.Filter = Name.DCTDecode
        if picture.channels == 4:  # a JPEG stores inks inverted
            result.Decode = Array([1, 0] * 4)
    else:
        result.Filter = Name.FlateDecode
        result.DecodeParms = Dictionary(
            Predictor=15,
            Colors=picture.channels,
            BitsPerComponent=picture.bits,
            Columns=picture.width,
        )
    result.Type, result.Subtype = Name.XObject, Name.Image
    result.Width, result.Height, result.BitsPerComponent = (
        picture.width,
        picture.height,
        picture.bits,
    )
    result.ColorSpace = Array([Name.ICCBased, pdf.make_indirect(profile)])
    return pdf.make_indirect(result)
