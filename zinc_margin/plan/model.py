"""The Plan: every number of one print, and the notes that go with it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import Docket
from zinc_margin.docket.file import GoalProfile
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measured import Measured
from zinc_margin.facts.said import Said
from zinc_margin.measure.makers import Maker
from zinc_margin.measure.printer_papers import PrinterPapers
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.crop.turned import Turned
from zinc_margin.plan.finish.page import Page, Piece, Pieces, Sheet


@dataclass(frozen=True)
class Sides:
    """Four lengths, in mm on the print, or four counts."""

    left: Fraction
    top: Fraction
    right: Fraction
    bottom: Fraction

    @classmethod
    def none(cls) -> Sides:
        """Four times nothing."""
        return cls(Fraction(0), Fraction(0), Fraction(0), Fraction(0))

    @property
    def any(self) -> bool:
        """Whether any of the four is more than nothing."""
        return max(self.left, self.top, self.right, self.bottom) > 0


@dataclass(frozen=True)
class Machine:
    """What the machine can do that is planned for.

    Attributes
    ----------
    without_networks : str or None
        Why what was learned cannot run here; None where it can.
    printers : tuple of PrinterPapers
        What the system's printers told, as far as they were asked.
    """

    without_networks: str | None = None
    printers: tuple[PrinterPapers, ...] = ()


@dataclass(frozen=True)
class Remedy:
    """A way out of what a note says.

    Attributes
    ----------
    code : str
        For programs; `plan.text` says it.
    docket : Docket
        That taking it makes.
    values : Mapping
        Numbers for the words, lengths in mm.
    """

    code: str
    docket: Docket
    values: Mapping[str, Any] = field(default_factory=dict)


@dataclass(frozen=True)
class Note:
    """A remark: what is odd, and the ways out; `plan.text` says it in words.

    Attributes
    ----------
    code : str
        For programs; stable.
    line : str
        The margin's line that it belongs to.
    values : Mapping
        Numbers and codes that the words need: lengths in mm, resolutions in ppi, shares of 0–1.
    remedies : tuple of Remedy
    grave : bool
        Whether the line needs a look.
    """

    code: str
    line: str
    values: Mapping[str, Any] = field(default_factory=dict)
    remedies: tuple[Remedy, ...] = ()
    grave: bool = False


@dataclass(frozen=True)
class Sharpening:
    """Output sharpening as the renderer needs it.

    Attributes
    ----------
    paper, process : str
    paper_mm : float
        The sigma by which paper and process blur.
    sigma_mm, sigma_px : float
        The finer scale; the broader is 2.5 times as wide.
    amount : float
    breadth : float
    acutance_before, acutance_after : float
        Of edges, from the near end.
    bound : str or None
        What keeps it from being as crisp as the photo: the ``far`` end, the photo's ``detail``,
        or the largest ``amount`` of all; None where nothing does.
    halo : float
        Highest overshoot beside an edge, in L*.
    noise : float
        Differences of this size, in L*, are taken for noise and left.
    shadows, highlights : float
        How much is held back at the ends, 0 to 1.
    crispness : tuple of four float or None
        From the near end without sharpening and with it, and from the far end likewise, 1 where it
        is as crisp as the photo; None where the photo's spectrum is not known.
    """

    paper: str
    process: str
    paper_mm: float
    sigma_mm: float
    sigma_px: float
    amount: float
    breadth: float
    acutance_before: float
    acutance_after: float
    bound: str | None
    halo: float
    noise: float
    shadows: float = 0.8
    highlights: float = 0.5
    crispness: tuple[float, float, float, float] | None = None


@dataclass(frozen=True)
class Grain:
    """Grain that is laid on.

    Attributes
    ----------
    deviation : float
        Of lightness in mid-tones, in L*.
    size_px : float
        Across one grain.
    """

    deviation: float
    size_px: float


@dataclass(frozen=True)
class Repair:
    """What is taken away before anything is resampled, each 0 to 100.

    Attributes
    ----------
    clean, denoise, dehalo : float
        Of JPEG's blocks, of noise, of old halos.
    halo_share : float
        The most that a halo reaches past its edge, as a share of the edge's step.
    grid : (int, int)
        The first column and row of the picture as it is set (mirrored, turned by quarters) at which
        a square of JPEG's 8-pixel grid begins.
    """

    clean: float = 0.0
    denoise: float = 0.0
    dehalo: float = 0.0
    halo_share: float = 0.0
    grid: tuple[int, int] = (0, 0)

    @property
    def any(self) -> bool:
        """Whether there is anything to mend."""
        return bool(self.clean or self.denoise or self.dehalo)


@dataclass(frozen=True)
class Pixels:
    """The file's pixels.

    Attributes
    ----------
    choice : str
        ``keep``, ``reduce``, ``enlarge`` or ``turn`` (resampled at scale 1 for a turn's sake).
    method : str or None
        The kernel; None when kept.
    width, height : int
        Of the file.
    tag_x, tag_y : (int, int)
        Pixels per inch as a rational, each way: pixels ÷ tag is the print's side exactly.
    scale : Fraction
        Output ÷ source pixels, the same both ways.
    doublings : int
        How often the learned enlarger makes the photo twice as large before the rest is resampled.
    network : str or None
        Which kind of picture it was learned from: ``photo`` or ``lettering``.
    share : float
        How much of the learned correction is taken.
    crisp : float
        How a kernel leans, −100 (smooth) to 100 (crisp).
    repair : Repair
        What is taken away before anything else.
    """

    choice: str
    method: str | None
    width: int
    height: int
    tag_x: tuple[int, int]
    tag_y: tuple[int, int]
    scale: Fraction
    doublings: int = 0
    network: str | None = None
    share: float = 1.0
    crisp: float = 0.0
    repair: Repair = field(default_factory=Repair)


@dataclass(frozen=True)
class FileParts:
    """What is written.

    Attributes
    ----------
    format : str
    bits, quality, channels : int
        Of each sample; of a lossy format, 1–100; as written.
    unlimited_bytes : int
        Predicted, were there no limit.
    max_bytes : int or None
        The limit, which only making the file can meet.
    colour : str
        ``own`` where nothing is converted, else the goal, as the docket has it.
    is_srgb : bool
        Whether the file's colours are sRGB, converted or not.
    lossy : bool
        Whether `quality` counts.
    compression, subsampling : str
        Of a TIFF; of a JPEG.
    progressive, lossless, pdf_jpeg : bool
        Of a JPEG; of WebP and JPEG XL; of a PDF's pictures.
    profile : GoalProfile or None
        Where `colour` is ``icc``.
    intent : str
    black_point : bool
    metadata : str
        What is carried: ``all``, ``copyright`` or ``none``.
    places, embeds : bool
        Whether where it was taken is carried, and the docket written into the file.
    printing_notes : bool
        Whether a slip is written beside the file.
    folder, name : str or None
        As they were chosen; None: beside the photo, by rule.
    """

    format: str
    bits: int
    quality: int
    unlimited_bytes: int
    channels: int
    max_bytes: int | None = None
    colour: str = "own"
    is_srgb: bool = False
    lossy: bool = False
    compression: str = "none"
    subsampling: str = "4:4:4"
    progressive: bool = False
    lossless: bool = False
    pdf_jpeg: bool = False
    profile: GoalProfile | None = None
    intent: str = "relative"
    black_point: bool = True
    metadata: str = "all"
    places: bool = True
    embeds: bool = False
    printing_notes: bool = False
    folder: str | None = None
    name: str | None = None

    @property
    def bytes_estimate(self) -> int:
        """What the file will have, about."""
        if self.max_bytes is None:
            return self.unlimited_bytes
        return min(self.max_bytes, self.unlimited_bytes)


@dataclass(frozen=True)
class Mat:
    """A mat as it lies over a print; sizes are (width, height) in mm, lying as the print lies.

    Attributes
    ----------
    opening : (Fraction, Fraction)
    reveal : Fraction
        Paper seen round the picture; negative where the mat overlaps it.
    frame : (Fraction, Fraction) or None
        The mat's outer size, where it is known.
    """

    opening: tuple[Fraction, Fraction]
    reveal: Fraction
    frame: tuple[Fraction, Fraction] | None


@dataclass(frozen=True)
class Plan:
    """Every number of one print.

    Attributes
    ----------
    facts : Facts
    docket : Docket
    machine : Machine
        What it was worked out from.
    settled : Docket
        The same with what follows from where the print is made.
    matte : str
        The tone under a see-through photo.
    measured : Measured or None
        What holds of the photo's pixels: the docket's figures, else the facts'.
    maker : Maker
        Where it is printed.
    overspill_mm : Fraction
        By how much a borderless driver passes each edge; 0 where it does not.
    size : PrintSize
        Lying as it will be printed.
    turned : Turned
    frame : Frame
        Of the print's exact shape (or the whole picture), as it was asked for.
    crop : Frame
        The box of the turned picture that is printed; whole pixels when they are kept.
    trimmed_share : float
        Of the turned picture's area, 0–1.
    trimmed_mm, bands_mm : Sides
        On the print.
    picture : (int, int, int, int)
        Left, top, width, height of the picture in the file, in pixels.
    pixels : Pixels
    target_ppi, floor_ppi : Fraction
    near_ppi, far_ppi : float
        What the eye can use from the near end of where it is seen, and from the far one.
    effective_ppi : Fraction
        Of the photo's own pixels on the print, the lower way.
    true_ppi : float
        The same without pixels that an earlier enlarging invented.
    judged_ppi : float
        By which it is judged: the photo's own, or the file's where that is reduced below it.
    grade : str
        ``ample``, ``good``, ``from a distance`` or ``too few pixels``.
    sharp_from_mm : float
    near_mm, far_mm : float
        From where it is seen.
    sharpen : Sharpening or None
    grain : Grain or None
    file : FileParts
    unseen_mm : Sides
        Of the print, what a mat covers or a borderless driver throws away.
    mat : Mat or None
    sheet : Sheet or None
        None where the file is the print itself.
    pieces : Pieces or None
        Where the whole is spread over several files.
    cut : Piece or None
        The one piece that this plan makes.
    notes : tuple of Note
    """

    facts: Facts = field(repr=False)
    docket: Docket
    settled: Docket = field(repr=False)
    machine: Machine
    matte: str
    measured: Measured | None = field(repr=False)
    maker: Maker
    overspill_mm: Fraction
    size: PrintSize
    turned: Turned
    frame: Frame
    crop: Frame
    trimmed_share: float
    trimmed_mm: Sides
    bands_mm: Sides
    picture: tuple[int, int, int, int]
    pixels: Pixels
    target_ppi: Fraction
    floor_ppi: Fraction
    near_ppi: float
    far_ppi: float
    effective_ppi: Fraction
    true_ppi: float
    judged_ppi: float
    grade: str
    sharp_from_mm: float
    near_mm: float
    far_mm: float
    sharpen: Sharpening | None
    file: FileParts
    grain: Grain | None = None
    unseen_mm: Sides = field(default_factory=Sides.none)
    mat: Mat | None = None
    sheet: Sheet | None = None
    pieces: Pieces | None = None
    cut: Piece | None = None
    notes: tuple[Note, ...] = ()

    @property
    def said(self) -> Said:
        """What the photo says of itself, for names."""
        return self.facts.said

    @property
    def provisional(self) -> bool:
        """Whether the photo's pixels have not been measured yet."""
        return self.measured is None

    @property
    def whole(self) -> Page:
        """The page that is finished: the sheet, or the print itself."""
        if self.sheet is not None:
            return self.sheet.page
        pixels, size = self.pixels, self.size
        return Page(
            size.width_mm, size.height_mm, pixels.width, pixels.height, pixels.tag_x, pixels.tag_y
        )

    @property
    def page(self) -> Page:
        """The page that its file holds: the whole, or its one piece."""
        return self.whole if self.cut is None else self.cut.page

    @property
    def trimmed_part(self) -> Sides:
        """What falls off each side, as a share of the turned picture's width or height."""
        wide, high = self.turned.box
        crop = self.crop
        return Sides(
            crop.left / wide,
            crop.top / high,
            (wide - crop.left - crop.width) / wide,
            (high - crop.top - crop.height) / high,
        )

    @property
    def px_per_mm(self) -> Fraction:
        """Pixels of the turned picture for a mm of the print, across."""
        return self.frame.width / (self.size.width_mm - self.bands_mm.left - self.bands_mm.right)

    @property
    def paper_px(self) -> float:
        """How far paper and process blur, in pixels of the file; 0 where it is not sharpened."""
        if self.sharpen is None:
            return 0.0
        return self.sharpen.paper_mm * self.pixels.width / float(self.size.width_mm)

    @property
    def enlargement(self) -> float:
        """How many times the photo's own pixels are stretched to meet the target."""
        return float(self.target_ppi / self.effective_ppi)
