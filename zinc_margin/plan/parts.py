"""The parts of a plan, one per line."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.file import GoalProfile
from zinc_margin.measure.makers import Maker
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.plan.crop.rotation import Turned


@dataclass(frozen=True)
class Sides:
    """Four lengths, in mm on the print, or four counts."""

    left: Fraction
    top: Fraction
    right: Fraction
    bottom: Fraction

    @classmethod
    def none(cls) -> Sides:
        """Return four zeros."""
        return cls(Fraction(0), Fraction(0), Fraction(0), Fraction(0))

    @property
    def any(self) -> bool:
        """Whether any side is above zero."""
        return max(self.left, self.top, self.right, self.bottom) > 0


@dataclass(frozen=True)
class Mat:
    """A mat over a print; sizes are (width, height) in mm, in the print's orientation.

    Attributes
    ----------
    opening : (Fraction, Fraction)
    reveal : Fraction
        Visible paper around the picture; negative if the mat overlaps it.
    frame : (Fraction, Fraction) or None
        The mat's outer size, if known.
    """

    opening: tuple[Fraction, Fraction]
    reveal: Fraction
    frame: tuple[Fraction, Fraction] | None


@dataclass(frozen=True, kw_only=True)
class SizePart:
    """The size, as later lines need it.

    Attributes
    ----------
    size : PrintSize
        The size in its final orientation.
    units : str
        ``cm`` or ``in``: as the size was given, else those in use.
    fixed : str
        The requested side: ``width`` or ``height`` (the other follows the pixels), ``both``, or
        ``none`` (both follow).
    maker : Maker
    target_ppi, floor_ppi : Fraction
    near_mm, far_mm : float
        Viewing distances.
    near_ppi, far_ppi : float
        Resolvable ppi at these distances.
    distance_said : bool
    in_pixels : bool
        Whether a pixel count was requested instead of a length.
    overspill_mm : Fraction
        Borderless overspill past each edge; 0 without.
    unseen_mm : Sides
        The part hidden by a mat or lost in borderless printing.
    made_up : bool
        Whether the file has extra picture to compensate for the overspill.
    mat : Mat or None
    """

    size: PrintSize
    units: str
    fixed: str
    maker: Maker
    target_ppi: Fraction
    floor_ppi: Fraction
    near_mm: float
    far_mm: float
    near_ppi: float
    far_ppi: float
    distance_said: bool
    in_pixels: bool
    overspill_mm: Fraction
    unseen_mm: Sides
    made_up: bool
    mat: Mat | None


@dataclass(frozen=True, kw_only=True)
class CropPart:
    """The crop, as later lines need it.

    Attributes
    ----------
    turned : Turned
    frame : Frame
        The frame in the print's exact shape, or of the whole picture.
    is_own : bool
        Whether the user drew the frame.
    is_whole : bool
        Whether the whole picture is shown.
    border_mm : Fraction
        The least border around a whole picture.
    place : (Fraction, Fraction)
        Place of the largest frame in its free room, 0–1 each.
    exact_ppi : Fraction
        Resolution before enlarging, the smaller of both directions, for the exact shape.
    """

    turned: Turned
    frame: Frame
    is_own: bool
    is_whole: bool
    border_mm: Fraction
    place: tuple[Fraction, Fraction]
    exact_ppi: Fraction


@dataclass(frozen=True)
class Repair:
    """The repairs before resampling, each 0 to 100.

    Attributes
    ----------
    clean, denoise, dehalo : float
        Repair of JPEG artefacts, noise and existing halos.
    halo_share : float
        Largest overshoot of a halo, as a share of the edge's step.
    grid : (int, int)
        First column and row, in the mirrored and quarter-turned picture, at which a square of
        JPEG's 8-pixel grid begins.
    """

    clean: float = 0.0
    denoise: float = 0.0
    dehalo: float = 0.0
    halo_share: float = 0.0
    grid: tuple[int, int] = (0, 0)

    @property
    def any(self) -> bool:
        """Whether any repair is active."""
        return bool(self.clean or self.denoise or self.dehalo)


@dataclass(frozen=True)
class Coding:
    """How coarsely a file was coded as JPEG, and how much of that is repaired.

    Attributes
    ----------
    quality : float or None
        1 to 100; None if it was never coded as JPEG.
    cleaned : float
        The clean-up, 0 to 100.
    usual_clean : float
        The clean-up that suits the quality.
    """

    quality: float | None = None
    cleaned: float = 0.0
    usual_clean: float = 0.0

    @property
    def repaired(self) -> float:
        """The share of its damage that is repaired, 0 to 1."""
        return min(1.0, self.cleaned / self.usual_clean) if self.usual_clean else 0.0


@dataclass(frozen=True)
class Pixels:
    """The file's pixels.

    Attributes
    ----------
    choice : str
        ``keep``, ``reduce``, ``enlarge`` or ``turn`` (resampled at scale 1, only to rotate).
    method : str or None
        The resampling method; None if pixels are kept.
    width, height : int
        Value for the file.
    tag_x, tag_y : (int, int)
        Pixels per inch as a rational, each way: pixels ÷ tag is the print's side exactly.
    scale : Fraction
        Output ÷ source pixels, the same both ways.
    doublings : int
        Number of ×2 steps by AI before the rest is resampled.
    network : str or None
        The AI network's kind of picture: ``photo`` or ``lettering``.
    share : float
        Share of the AI correction to apply.
    hardness : float
        Edges, −100 (soft) to 100 (hard).
    repair : Repair
        Repairs before resampling.
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
    hardness: float = 0.0
    repair: Repair = field(default_factory=Repair)

    @property
    def ppi(self) -> Fraction:
        """The tagged resolution across."""
        return Fraction(*self.tag_x)

    @property
    def lower_ppi(self) -> float:
        """The lower of the tagged resolutions, across and down."""
        return min(above / below for above, below in (self.tag_x, self.tag_y))


@dataclass(frozen=True, kw_only=True)
class PixelsPart:
    """The pixels, as later lines need them.

    Attributes
    ----------
    pixels : Pixels
    crop : Frame
        The printed box of the rotated picture.
    picture : (int, int, int, int)
        Left, top, width, height of the picture in the file, in pixels.
    goal_ppi : Fraction
        Resolution of a resampled file.
    effective_ppi : Fraction
        Resolution before enlarging, the smaller of both directions.
    true_ppi : float
        The same for real detail only, if the photo was enlarged earlier.
    trimmed_share : float
        Share of the rotated picture's area, 0–1.
    trimmed_mm, bands_mm : Sides
        Lengths on the print.
    coding : Coding
        How the photo's file was coded.
    grain : Grain or None
        Added grain.
    """

    pixels: Pixels
    crop: Frame
    picture: tuple[int, int, int, int]
    goal_ppi: Fraction
    effective_ppi: Fraction
    true_ppi: float
    trimmed_share: float
    trimmed_mm: Sides
    bands_mm: Sides
    coding: Coding
    grain: Grain | None = None


@dataclass(frozen=True)
class Sharpening:
    """Output sharpening, as the renderer needs it.

    Attributes
    ----------
    paper, process : str
    paper_mm : float
        Sigma of the blur of paper and process.
    sigma_mm, sigma_px : float
        The finer scale; the broader one is 2.5 times as wide.
    amount : float
    breadth : float
    acutance_before, acutance_after : float
        Acutance of edges from the near end.
    bound : str or None
        Why it is not as crisp as the photo: the ``far`` end, missing ``detail``, or the largest
        ``amount``; None if it is.
    halo : float
        Highest overshoot next to an edge, in L*.
    noise : float
        Coring threshold in L*: smaller differences count as noise.
    shadows, highlights : float
        Reduction in shadows and highlights, 0 to 1.
    crispness : tuple of four float or None
        Without and with sharpening, from the near end and from the far end; 1 is as crisp as the
        photo. None without the photo's spectrum.
    edges : (float, float) or None
        All gradients relative to the photo's, without and with sharpening, from the near end.
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
    edges: tuple[float, float] | None = None


@dataclass(frozen=True)
class Grain:
    """Added grain.

    Attributes
    ----------
    deviation : float
        Standard deviation of lightness in mid-tones, in L*.
    size_px : float
        Diameter of a grain.
    """

    deviation: float
    size_px: float


@dataclass(frozen=True)
class ByteFit:
    """How a byte limit changes a print.

    Attributes
    ----------
    times : float
        Factor on the pixels each way.
    ppi : (float, float)
        The range of the file's ppi; equal ends if the bytes are known exactly.
    quality : (int, int)
        The range of a JPEG's quality.
    free_ppi : float
    free_quality, free_bytes : int
        Resolution, quality and predicted bytes without the limit.
    """

    times: float
    ppi: tuple[float, float]
    quality: tuple[int, int]
    free_ppi: float
    free_quality: int
    free_bytes: int

    @property
    def exact(self) -> bool:
        """Whether the range is a single value."""
        return self.ppi[0] == self.ppi[1] and self.quality[0] == self.quality[1]


@dataclass(frozen=True)
class FileParts:
    """The file to write.

    Attributes
    ----------
    format : str
    bits, quality, channels : int
        Bits per sample; lossy quality, 1–100; number of channels.
    unlimited_bytes : int
        Predicted size of this picture, whatever the limit.
    max_bytes : int or None
        The byte limit, or None.
    fit : ByteFit or None
        What the limit changes; None if nothing.
    colour : str
        ``own`` without conversion, else the docket's target.
    is_srgb : bool
        Whether the file's colours are sRGB.
    lossy : bool
        Whether `quality` applies.
    compression, subsampling : str
        For a TIFF; for a JPEG.
    progressive, lossless, pdf_jpeg : bool
        For JPEG; for WebP and JPEG XL; for pictures in a PDF.
    profile : GoalProfile or None
        The profile if `colour` is ``icc``.
    intent : str
    black_point : bool
    metadata : str
        Copied metadata: ``all``, ``copyright`` or ``none``.
    places, embeds : bool
        Whether the location is copied; whether the docket is embedded.
    printing_notes : bool
        Whether to write printing notes next to the file.
    written_bytes : int or None
        The size of the finished file; None until it is written.
    folder, name : str or None
        Chosen by the user; None: next to the photo, named by rule.
    folder_rule, rule, project, note : str or None
        Rules and texts for names.
    """

    format: str
    bits: int
    quality: int
    unlimited_bytes: int
    channels: int
    max_bytes: int | None = None
    fit: ByteFit | None = None
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
    folder_rule: str | None = None
    rule: str | None = None
    project: str | None = None
    note: str | None = None
    written_bytes: int | None = None

    @property
    def bytes_estimate(self) -> int:
        """The predicted size in bytes, at most the limit; the actual one of a finished file."""
        if self.written_bytes is not None:
            return self.written_bytes
        if self.max_bytes is None:
            return self.unlimited_bytes
        return min(self.max_bytes, self.unlimited_bytes)
