"""PDF at true size: pages as large as their sheets, pictures embedded without loss, no scaling.

References
----------
ISO 32000-1: image XObjects, ICC-based colour, page boxes, viewer preferences, output intents.
"""

from __future__ import annotations

import io
import zlib
from collections.abc import Sequence
from dataclasses import dataclass
from fractions import Fraction

import numpy as np
import pikepdf
from pikepdf import Array, Dictionary, Name, Stream, String

from .. import __version__


@dataclass(frozen=True, eq=False)
class Page:
    """One page with one picture.

    Attributes
    ----------
    width_mm, height_mm : Fraction
        Of the sheet.
    box_mm : (Fraction, Fraction, Fraction, Fraction)
        Left, top, width and height of the picture on it.
    codes : ndarray (H, W, C), uint8 or uint16
    icc : bytes
        Its profile.
    jpeg : bytes or None
        The picture as JPEG, embedded instead of the codes.
    trim_mm : (Fraction, Fraction, Fraction, Fraction) or None
        Left, top, width and height of the finished print, where it is cut; None: the whole page.
    """

    width_mm: Fraction
    height_mm: Fraction
    box_mm: tuple[Fraction, Fraction, Fraction, Fraction]
    codes: np.ndarray
    icc: bytes
    jpeg: bytes | None = None
    trim_mm: tuple[Fraction, Fraction, Fraction, Fraction] | None = None

    @classmethod
    def filled(cls, width_mm: Fraction, height_mm: Fraction, codes: np.ndarray, icc: bytes) -> Page:
        """Return a page that its picture fills."""
        box = (Fraction(0), Fraction(0), width_mm, height_mm)
        return cls(width_mm, height_mm, box, codes, icc)


def _points(mm: Fraction) -> float:
    return float(mm * 72 / Fraction("25.4"))


def pdf_data(pages: Sequence[Page], title: str) -> bytes:
    """Return pages as a PDF file that asks for no scaling when it is printed."""
    with pikepdf.new() as pdf:
        for page in pages:
            _add(pdf, page)
        pdf.Root.ViewerPreferences = Dictionary(
            PrintScaling=Name("/None"), PickTrayByPDFSize=True, NumCopies=1
        )
        profile = Stream(pdf, pages[0].icc)
        profile.N = pages[0].codes.shape[2]
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


def _add(pdf: pikepdf.Pdf, page: Page) -> None:
    width, height = _points(page.width_mm), _points(page.height_mm)
    left, top, across, down = page.box_mm
    place = (_points(across), _points(down), _points(left), height - _points(top + down))
    picture = _picture(pdf, page)
    drawing = f"q {place[0]:.6f} 0 0 {place[1]:.6f} {place[2]:.6f} {place[3]:.6f} cm /P Do Q"
    box = Array([0, 0, width, height])
    made = Dictionary(
        Type=Name.Page, MediaBox=box, CropBox=box, BleedBox=box,
        Resources=Dictionary(XObject=Dictionary(P=picture)),
        Contents=pdf.make_indirect(Stream(pdf, drawing.encode("ascii"))),
    )  # fmt: skip
    trim = page.trim_mm or (Fraction(0), Fraction(0), page.width_mm, page.height_mm)
    x, y = _points(trim[0]), height - _points(trim[1] + trim[3])
    made.TrimBox = Array([x, y, x + _points(trim[2]), y + _points(trim[3])])
    pdf.pages.append(pikepdf.Page(pdf.make_indirect(made)))


def _picture(pdf: pikepdf.Pdf, page: Page) -> pikepdf.Object:
    codes = page.codes
    height, width, channels = codes.shape
    profile = Stream(pdf, page.icc)
    profile.N = channels
    profile.Alternate = Name.DeviceRGB if channels == 3 else Name.DeviceGray
    if page.jpeg is not None:
        made = Stream(pdf, page.jpeg)
        made.Filter, bits = Name.DCTDecode, 8
    else:
        bits = codes.dtype.itemsize * 8
        raw = codes if bits == 8 else codes.astype(">u2")
        made = Stream(pdf, zlib.compress(raw.tobytes(), 6))
        made.Filter = Name.FlateDecode
    made.Type, made.Subtype = Name.XObject, Name.Image
    made.Width, made.Height, made.BitsPerComponent = width, height, bits
    made.ColorSpace = Array([Name.ICCBased, pdf.make_indirect(profile)])
    return pdf.make_indirect(made)
