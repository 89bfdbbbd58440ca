"""The last two lines of a docket: Finish, and File."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from typing import ClassVar

from zinc_margin.docket.line import Line
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.tones import WHITE


@dataclass(frozen=True)
class Margins:
    """Paper left free on the four sides of a sheet, in mm."""

    top: Fraction
    right: Fraction
    bottom: Fraction
    left: Fraction


@dataclass(frozen=True)
class FinishLine(Line):
    """6: the sheet.

    Attributes
    ----------
    sheet : PrintSize or None
        The paper; None: as large as the print with what lies round it.
    turned : bool
        The sheet lies across the way in which the photo lies.
    margins : Margins or None
        What is kept free of the picture.
    scales : bool
        The picture takes the size that the sheet's margins leave; else it keeps its own.
    place_x, place_y : Fraction
        Where a smaller picture lies in the room inside the margins, 0–1.
    tone : str
        Of the paper, ``#rrggbb``.
    caption, foot : str or None
        A line under the picture, and a small one at the sheet's foot; may hold fields.
    edition : str or None
        What the field ``{edition}`` stands for.
    caption_mm : Fraction or None
        Height of the caption's line; None: by the sheet.
    line_mm, line_gap_mm : Fraction
        Width of a key-line round the picture, and how far from it.
    line_tone : str
    marks : bool
        Crop marks.
    bleed_mm : Fraction
        Picture beyond the cut, mirrored.
    make_up : bool
        A borderless driver's overspill is made up for by as much mirrored picture.
    wrap_mm, tuck_mm : Fraction
        Depth of a canvas's bars, and what is folded behind them.
    wrap_strip_mm : Fraction or None
        How much of the picture's edge feeds a side; None: as wide as the side, a plain mirror.
    wrap_soften_mm : Fraction
        How widely a side is softened at its outer edge.
    wrap_tone : str or None
        A tone over the sides: ``#rrggbb`` or ``edge`` (the mean of the picture's edge).
    wrap_strength : Fraction
        Of that tone, 0–100.
    wrap_own : bool
        The sides are the picture's own edge, and the face is smaller.
    fold_marks : bool
    staple_mm : Fraction
        Plain material beyond the sides.
    pieces : PrintSize or None
        A sheet that the whole is spread over.
    roll_mm : Fraction or None
        Or a roll as wide as this.
    edge_mm : Fraction or None
        What cannot be printed along a piece's edges; None: as the device has it.
    join_mm : Fraction
        By how much neighbours overlap.
    """

    title: ClassVar[str] = "Finish"
    sheet: PrintSize | None = None
    turned: bool = False
    margins: Margins | None = None
    scales: bool = False
    place_x: Fraction = Fraction(1, 2)
    place_y: Fraction = Fraction(1, 2)
    tone: str = WHITE
    caption: str | None = None
    foot: str | None = None
    edition: str | None = None
    caption_mm: Fraction | None = None
    line_mm: Fraction = Fraction(0)
    line_gap_mm: Fraction = Fraction(0)
    line_tone: str = "#1a1a1a"
    marks: bool = False
    bleed_mm: Fraction = Fraction(0)
    make_up: bool = False
    wrap_mm: Fraction = Fraction(0)
    tuck_mm: Fraction = Fraction(0)
    wrap_strip_mm: Fraction | None = None
    wrap_soften_mm: Fraction = Fraction(0)
    wrap_tone: str | None = None
    wrap_strength: Fraction = Fraction(100)
    wrap_own: bool = False
    fold_marks: bool = False
    staple_mm: Fraction = Fraction(0)
    pieces: PrintSize | None = None
    roll_mm: Fraction | None = None
    edge_mm: Fraction | None = None
    join_mm: Fraction = Fraction(10)


@dataclass(frozen=True)
class GoalProfile:
    """An ICC profile of one's own, into which a file is converted.

    Attributes
    ----------
    path, name : str
    space : str
        ``RGB``, ``GRAY`` or ``CMYK``.
    """

    path: str
    name: str
    space: str


PLACES = (
    "top-left", "top", "top-right", "left", "middle", "right", "bottom-left", "bottom",
    "bottom-right",
)  # fmt: skip
FORMATS = ("tiff", "jpeg", "png", "webp", "jxl", "pdf")
SCREEN_FORMATS = ("webp", "jxl")
"""For screens: 8 bits, by quality or without loss."""


@dataclass(frozen=True)
class FileLine(Line):
    """7: what is written.

    Attributes
    ----------
    format : str
        One of `FORMATS`; a ``pdf`` has pages as large as their sheets.
    bits : int or None
        8 or 16; None: as the photo.
    quality : int
        JPEG quality, 1–100.
    packing : str
        How a TIFF is packed: ``none``, ``deflate``, ``lzw`` or ``zstd``.
    chroma : str
        How finely a JPEG keeps colour: ``full``, ``half`` (across) or ``quarter``.
    progressive : bool
        Of a JPEG.
    lossless : bool
        Of WebP and JPEG XL.
    colour : str
        ``own`` (the photo's profile), ``srgb``, ``wide``, ``grey``, or ``icc`` (`profile`).
    profile : GoalProfile or None
    intent : str
        ``relative``, ``perceptual``, ``saturation`` or ``absolute``.
    black_point : bool
        Black-point compensation.
    metadata : str
        What is carried from the photo: ``all``, ``copyright`` or ``none``.
    places : bool
        Whether where it was taken is carried.
    embed : bool
        Whether the docket is written into the file's XMP.
    rule : str or None
        The name's rule, with fields; `name` wins.
    folder_rule : str or None
        Folders inside `folder`, by rule, parted by ``/``.
    project, note : str or None
        What the fields ``{project}`` and ``{text}`` stand for.
    mark, mark_picture : str or None
        A line of text, or a picture's file, laid on the finished page; for screens.
    mark_place : str
        One of `PLACES`.
    mark_size, mark_strength : Fraction
        Its height in percent of the shorter side; how much it covers, percent.
    pdf_jpeg : bool
        A PDF holds its pictures as JPEG of that quality; else without loss.
    slip : bool
        A hand-over slip is written beside the file.
    max_bytes : int or None
        The file's most; quality gives way first (down to 80), then pixels.
    folder : str or None
        None: beside the photo.
    name : str or None
        Without its ending; None: by rule, photo and size.
    """

    title: ClassVar[str] = "File"
    format: str = "tiff"
    bits: int | None = None
    quality: int = 95
    packing: str = "none"
    chroma: str = "full"
    progressive: bool = False
    lossless: bool = False
    colour: str = "own"
    profile: GoalProfile | None = None
    intent: str = "relative"
    black_point: bool = True
    metadata: str = "all"
    places: bool = True
    embed: bool = False
    rule: str | None = None
    folder_rule: str | None = None
    project: str | None = None
    note: str | None = None
    mark: str | None = None
    mark_picture: str | None = None
    mark_place: str = "bottom-right"
    mark_size: Fraction = Fraction(4)
    mark_strength: Fraction = Fraction(60)
    pdf_jpeg: bool = False
    slip: bool = False
    max_bytes: int | None = None
    folder: str | None = None
    name: str | None = None

    @property
    def lossy(self) -> bool:
        """Whether its quality counts: pixels do not come back as they were."""
        if self.format == "pdf":
            return self.pdf_jpeg
        return self.format == "jpeg" or (self.format in SCREEN_FORMATS and not self.lossless)
