"""The Plan: every number of one print, and the notes that go with it."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction

from ..docket.docket import Docket, Frame
from ..measure.sizes import PrintSize
from .geometry import Turned


@dataclass(frozen=True)
class Sides:
    """Four lengths, in mm on the print, or four counts."""

    left: Fraction
    top: Fraction
    right: Fraction
    bottom: Fraction


@dataclass(frozen=True)
class Note:
    """A remark: what is odd, why it matters, and the ways out.

    Attributes
    ----------
    code : str
        For programs; stable.
    line : str
        The margin's line that it belongs to.
    text : str
    ways : tuple of (str, Docket)
        What to press, and the docket that pressing makes.
    grave : bool
        Whether the line needs a look.
    """

    code: str
    line: str
    text: str
    ways: tuple[tuple[str, Docket], ...] = ()
    grave: bool = False


@dataclass(frozen=True)
class Sharpening:
    """Output sharpening as the renderer needs it.

    Attributes
    ----------
    paper : str
    sigma_mm, sigma_px : float
        The finer scale; the broader is 2.5 times as wide.
    amount : float
    lean : float
    acutance_before, acutance_after : float
    bound : str or None
        ``amount`` where the largest amount was not enough, else None.
    halo : float
        Highest overshoot beside an edge, in L*.
    noise : float
        Differences of this size, in L*, are taken for noise and left.
    """

    paper: str
    sigma_mm: float
    sigma_px: float
    amount: float
    lean: float
    acutance_before: float
    acutance_after: float
    bound: str | None
    halo: float
    noise: float


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
    """

    choice: str
    method: str | None
    width: int
    height: int
    tag_x: tuple[int, int]
    tag_y: tuple[int, int]
    scale: Fraction


@dataclass(frozen=True)
class FileParts:
    """What is written."""

    format: str
    bits: int
    quality: int
    bytes_estimate: int
    channels: int


@dataclass(frozen=True)
class Plan:
    """Every number of one print.

    Attributes
    ----------
    docket : Docket
        Whose plan it is.
    size : PrintSize
        Lying as it will be printed.
    turned : Turned
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
    needed_ppi : float
        From the docket's distance.
    effective_ppi : Fraction
        Of the photo's own pixels on the print, the lower way.
    grade : str
        ``full``, ``good``, ``distant`` or ``thin``.
    sharp_from_mm, distance_mm : float
    sharpen : Sharpening or None
    file : FileParts
    notes : tuple of Note
    """

    docket: Docket
    size: PrintSize
    turned: Turned
    crop: Frame
    trimmed_share: float
    trimmed_mm: Sides
    bands_mm: Sides
    picture: tuple[int, int, int, int]
    pixels: Pixels
    target_ppi: Fraction
    floor_ppi: Fraction
    needed_ppi: float
    effective_ppi: Fraction
    grade: str
    sharp_from_mm: float
    distance_mm: float
    sharpen: Sharpening | None
    file: FileParts
    notes: tuple[Note, ...] = ()

    @property
    def enlargement(self) -> float:
        """How many times the photo's own pixels are stretched to meet the target."""
        return float(self.target_ppi / self.effective_ppi)
