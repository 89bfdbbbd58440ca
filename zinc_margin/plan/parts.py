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
        Paper seen round the picture; negative where the mat overlaps it.
    frame : (Fraction, Fraction) or None
        The mat's outer size, where it is known.
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
        Lying as it will be printed.
    maker : Maker
    target_ppi, floor_ppi : Fraction
    near_mm, far_mm : float
        From where it is seen.
    near_ppi, far_ppi : float
        What the eye can use from there.
    distance_said : bool
    in_pixels : bool
        Whether a number of pixels was requested, not a length.
    overspill_mm : Fraction
        By how much a borderless driver passes each edge; 0 without.
    unseen_mm : Sides
        What a mat covers, or a borderless driver cuts off.
    made_up : bool
        Whether the file carries more picture in place of what the driver cuts off.
    mat : Mat or None
    """

    size: PrintSize
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
        Of the print's exact shape, or the whole picture.
    is_own : bool
        Whether the frame is of the user's own.
    is_whole : bool
        Whether all of the picture is shown.
    border_mm : Fraction
        The least, round a picture shown whole.
    place : (Fraction, Fraction)
        Where the largest frame sits in its free room, 0–1 each.
    exact_ppi : Fraction
        Of the photo's own pixels on the print, the lower way, by the exact shape.
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
        """Whether any repair is active."""
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


@dataclass(frozen=True, kw_only=True)
class PixelsPart:
    """The pixels, as later lines need them.

    Attributes
    ----------
    pixels : Pixels
    crop : Frame
        The box of the turned picture that is printed.
    picture : (int, int, int, int)
        Left, top, width, height of the picture in the file, in pixels.
    goal_ppi : Fraction
        Of a resampled file.
    effective_ppi : Fraction
        Of the photo's own pixels on the print, the lower way.
    true_ppi : float
        The same without pixels that an earlier enlarging invented.
    trimmed_share : float
        Of the turned picture's area, 0–1.
    trimmed_mm, bands_mm : Sides
        On the print.
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


@dataclass(frozen=True)
class Sharpening:
    """Output sharpening, as the renderer needs it.

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
        or the largest ``amount`` of all; None if nothing does.
    halo : float
        Highest overshoot next to an edge, in L*.
    noise : float
        Differences of this size, in L*, are taken for noise and left.
    shadows, highlights : float
        How much is held back at the ends, 0 to 1.
    crispness : tuple of four float or None
        From the near end without sharpening and with it, and from the far end likewise, 1 where it
        is as crisp as the photo; None if the photo's spectrum is not known.
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
    """Added grain.

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
class FileParts:
    """The file to write.

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
        Whether a slip is written next to the file.
    folder, name : str or None
        As they were chosen; None: next to the photo, by rule.
    folder_rule, rule, project, note : str or None
        What file names are made of.
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
    folder_rule: str | None = None
    rule: str | None = None
    project: str | None = None
    note: str | None = None

    @property
    def bytes_estimate(self) -> int:
        """The predicted size in bytes, at most the limit."""
        if self.max_bytes is None:
            return self.unlimited_bytes
        return min(self.max_bytes, self.unlimited_bytes)
