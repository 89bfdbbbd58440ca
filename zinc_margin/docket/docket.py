"""The docket: every decision for one print, line by line, and never a result."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from fractions import Fraction
from typing import Any, ClassVar

from zinc_margin.docket.last_lines import FORMATS as FORMATS
from zinc_margin.docket.last_lines import PLACES as PLACES
from zinc_margin.docket.last_lines import FileLine, FinishLine
from zinc_margin.docket.last_lines import GoalProfile as GoalProfile
from zinc_margin.docket.last_lines import Margins as Margins
from zinc_margin.docket.line import Line
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.tones import WHITE
from zinc_margin.measure.ways import Way
from zinc_margin.photo.facts import Measured

VERSION = 1

RENDERER = 10
"""Goes up when the same docket begins to make other bits."""


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
    page : int or None
        Of a file of several pages, which one, from 1; None leaves it open.
    """

    title: ClassVar[str] = "Photo"
    ground: str = WHITE
    digest: str | None = None
    measured: Measured | None = None
    page: int | None = None


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
class Docket:
    """All seven lines.

    Attributes
    ----------
    version : str
        What this version of the photo is called, and is for.
    renderer : int
        With which its bits were made.
    """

    photo: PhotoLine = field(default_factory=PhotoLine)
    size: SizeLine = field(default_factory=SizeLine)
    crop: CropLine = field(default_factory=CropLine)
    pixels: PixelsLine = field(default_factory=PixelsLine)
    sharpen: SharpenLine = field(default_factory=SharpenLine)
    finish: FinishLine = field(default_factory=FinishLine)
    file: FileLine = field(default_factory=FileLine)
    version: str = "print"
    renderer: int = RENDERER
    extra: Mapping[str, Any] = field(default_factory=dict, kw_only=True)


LINES: tuple[str, ...] = ("photo", "size", "crop", "pixels", "sharpen", "finish", "file")
"""The lines' names, in the order of the work."""
