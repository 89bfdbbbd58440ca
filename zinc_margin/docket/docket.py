"""The docket: every decision for one print, line by line, and never a result."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, ClassVar

from ..measure.sizes import PrintSize
from ..measure.tones import WHITE
from ..measure.ways import Way
from ..photo.facts import Measured

VERSION = 1


@dataclass(frozen=True)
class Line:
    """One line of the margin.

    Attributes
    ----------
    extra : Mapping
        Fields that a later version wrote and this one does not know; kept as they are.
    """

    title: ClassVar[str] = ""
    extra: Mapping[str, Any] = field(default_factory=dict, kw_only=True)


@dataclass(frozen=True)
class PhotoLine(Line):
    """1: the photo itself, and what was measured of it.

    Attributes
    ----------
    ground : str
        The paper tone on which a see-through photo is laid before anything else, ``#rrggbb``.
    digest : str or None
        SHA-256 of the photo's file as it was measured.
    measured : Measured or None
        Holds for the photo of that digest, so that a docket makes the same file for ever.
    """

    title: ClassVar[str] = "Photo"
    ground: str = WHITE
    digest: str | None = None
    measured: Measured | None = None


@dataclass(frozen=True)
class SizeLine(Line):
    """2: how large, how fine, and from where it is seen.

    Attributes
    ----------
    size : PrintSize or None
        None: worked out from the photo, or from `way`.
    way : Way or None
        Another way of saying how large: one side, a box to fit into, a mat, pixels …
    lie : str
        ``auto`` as the photo lies; ``as-given``; ``across`` the way the photo does not lie.
    maker : str or None
        Where it is printed: a key of the makers; None takes the usual one, a lab.
    ppi : Fraction or None
        The resolution that is asked; None takes the maker's.
    floor : Fraction or None
        Under it enlarging is preferred; None takes half of the device's own (of a 360-ppi one).
    distance_mm : Fraction or None
        None takes the print's diagonal, and never less than 30 cm.
    overspill_mm : Fraction or None
        By how much a borderless driver blows the picture past each edge of the paper; None: not
        borderless.
    overspill_share : Fraction or None
        The same as a share of the print's longer side; the mm win where both are given.
    """

    title: ClassVar[str] = "Size"
    size: PrintSize | None = None
    way: Way | None = None
    lie: str = "auto"
    maker: str | None = None
    ppi: Fraction | None = None
    floor: Fraction | None = None
    distance_mm: Fraction | None = None
    overspill_mm: Fraction | None = None
    overspill_share: Fraction | None = None


@dataclass(frozen=True)
class Frame:
    """A crop frame in pixels of the upright, turned picture."""

    left: Fraction
    top: Fraction
    width: Fraction
    height: Fraction


@dataclass(frozen=True)
class CropLine(Line):
    """3: what of the picture is printed.

    Attributes
    ----------
    fit : str
        ``trim`` fills the size; ``whole`` shows all of the picture, with bands; ``border`` shows
        all of it inside a border of one's own.
    border_mm : Fraction or None
        The least border round the picture; None takes a twentieth of the shorter side.
    place_x, place_y : Fraction or None
        Where the largest frame sits in its free room, 0–1; None: by the photo's point of
        interest, else in the middle.
    frame : Frame or None
        A frame of the user's own; None takes the largest.
    turn : Fraction
        Degrees, clockwise positive, about the picture's centre, over −360 and under 360.
    mirror : bool
        Left and right exchanged, before the turn.
    """

    title: ClassVar[str] = "Crop"
    fit: str = "trim"
    border_mm: Fraction | None = None
    place_x: Fraction | None = None
    place_y: Fraction | None = None
    frame: Frame | None = None
    turn: Fraction = Fraction(0)
    mirror: bool = False


METHODS = ("learned", "learned-fine", "lanczos", "mitchell", "catmull-rom", "edges", "blocks")
"""How pixels can be worked out; the first two only enlarge."""


@dataclass(frozen=True)
class PixelsLine(Line):
    """4: keep the pixels, or resample them.

    Attributes
    ----------
    choice : str
        ``auto``, ``keep`` or ``resample`` (to the Size line's ppi, or to `target`).
    target : Way or None
        How many pixels a resampled file has: ``scale`` (of the frame's own), ``megapixels`` (never
        over), ``long-edge-px``, ``reach`` (a ppi of its own); None: the ppi that is asked.
    kind : str
        What the picture is: ``photo``, ``lettering`` (and line drawings), ``drawing`` (of pixels).
    method : str or None
        ``learned``, ``learned-fine``, ``lanczos``, ``mitchell``, ``catmull-rom``, ``edges`` or
        ``blocks``; None: what suits the kind and the enlargement.
    crisp : Fraction
        How the resampling leans: −100 (smooth) to 100 (crisp); 0 is the method as it is.
    clean, denoise, dehalo : Fraction or None
        How much of JPEG's blocks, of noise and of old halos is taken away first, 0 to 100; None:
        by what was measured, when the photo is enlarged.
    """

    title: ClassVar[str] = "Pixels"
    choice: str = "auto"
    target: Way | None = None
    kind: str = "photo"
    method: str | None = None
    crisp: Fraction = Fraction(0)
    clean: Fraction | None = None
    denoise: Fraction | None = None
    dehalo: Fraction | None = None


@dataclass(frozen=True)
class SharpenLine(Line):
    """5: output sharpening.

    Attributes
    ----------
    on : bool
    paper : str or None
        Its name; None: the usual one, or ``screen`` where pixels were asked for.
    sigma_mm : Fraction or None
        The blur of a paper of one's own; None: as the paper of that name has it.
    process : str or None
        How it is printed, a key of the processes; None: as the maker prints.
    strength : Fraction
        Percent of the amount that is worked out, 0–300.
    lean : Fraction or None
        From fine edges (0) to broad ones (1); None: 0.2, more for a soft photo.
    halo, noise : Fraction or None
        In L*: the highest overshoot, and the differences that are left alone; None: by the photo.
    shadows, highlights : Fraction
        How much is held back in deep shadows and near white, percent.
    grain : Fraction
        Of grain laid on, 0–100.
    grain_mm : Fraction
        Its size on the print.
    """

    title: ClassVar[str] = "Sharpen"
    on: bool = True
    paper: str | None = None
    sigma_mm: Fraction | None = None
    process: str | None = None
    strength: Fraction = Fraction(100)
    lean: Fraction | None = None
    halo: Fraction | None = None
    noise: Fraction | None = None
    shadows: Fraction = Fraction(80)
    highlights: Fraction = Fraction(50)
    grain: Fraction = Fraction(0)
    grain_mm: Fraction = Fraction(3, 20)


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


@dataclass(frozen=True)
class Docket:
    """All seven lines.

    Attributes
    ----------
    version : str
        What this version of the photo is called, and is for.
    """

    photo: PhotoLine = field(default_factory=PhotoLine)
    size: SizeLine = field(default_factory=SizeLine)
    crop: CropLine = field(default_factory=CropLine)
    pixels: PixelsLine = field(default_factory=PixelsLine)
    sharpen: SharpenLine = field(default_factory=SharpenLine)
    finish: FinishLine = field(default_factory=FinishLine)
    file: FileLine = field(default_factory=FileLine)
    version: str = "print"
    extra: Mapping[str, Any] = field(default_factory=dict, kw_only=True)


LINES: tuple[str, ...] = ("photo", "size", "crop", "pixels", "sharpen", "finish", "file")
"""The lines' names, in the order of the work."""
