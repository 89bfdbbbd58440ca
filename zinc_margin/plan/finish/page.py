"""The parts of a finished sheet: paper, picture, sides, lines and words."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field
from fractions import Fraction

from zinc_margin.measure.resolution import tag_for
from zinc_margin.measure.sizes import PrintSize

Box = tuple[int, int, int, int]
"""Left, top, width and height, in pixels."""


@dataclass(frozen=True)
class Page:
    """One page of a file, as paper.

    Attributes
    ----------
    width_mm, height_mm : Fraction
    width, height : int
    tag_x, tag_y : (int, int)
        Pixels per inch as a rational: pixels ÷ tag is the paper's side exactly.
    """

    width_mm: Fraction
    height_mm: Fraction
    width: int
    height: int
    tag_x: tuple[int, int]
    tag_y: tuple[int, int]

    @classmethod
    def of(cls, sides_mm: Sequence[Fraction], width: int, height: int) -> Page:
        """Return a page of this size in mm and pixels, with the matching tag."""
        across, down = sides_mm
        return cls(across, down, width, height, tag_for(width, across), tag_for(height, down))

    @property
    def ppi(self) -> Fraction:
        """The tagged resolution across."""
        return Fraction(*self.tag_x)


@dataclass(frozen=True)
class Rule:
    """A filled rectangle: a line, a tick, a mark."""

    box: Box
    tone: str


@dataclass(frozen=True)
class Words:
    """One line of text.

    Attributes
    ----------
    box : Box
        The line's box; longer text is cut to its width.
    lies : str
        ``left``, ``centre`` or ``right`` in the box.
    face : str
        ``serif`` or ``sans``.
    """

    text: str
    box: Box
    lies: str = "centre"
    face: str = "serif"
    tone: str = "#1a1a1a"
    strength: float = 1.0


@dataclass(frozen=True)
class Overlay:
    """A small picture on a page.

    Attributes
    ----------
    path : str
    box : Box
        The picture is fitted into this box, keeping its shape.
    across, down : float
        Position in the box, 0 to 1.
    strength : float
    """

    path: str
    box: Box
    across: float
    down: float
    strength: float


@dataclass(frozen=True)
class Around:
    """The continuation of the picture beyond its edge.

    Attributes
    ----------
    across, down : int
        Widths in pixels at left and right, and at top and bottom.
    strip : Fraction
        Width of the mirrored strip of the picture relative to the side's width: 1 is a plain
        mirror.
    soften : float
        Softening at its outer edge, as a share of its width.
    tone : str or None
        A plain colour instead: ``#rrggbb``, or ``edge``.
    """

    across: int
    down: int
    strip: Fraction = Fraction(1)
    soften: float = 0.0
    tone: str | None = None


FourMm = tuple[Fraction, Fraction, Fraction, Fraction]


@dataclass(frozen=True, kw_only=True)
class Sheet:
    """A finished sheet.

    Attributes
    ----------
    page : Page
    tone : str
        Colour of the paper.
    left, top : int
        The print's position on it, without surroundings, in pixels.
    around : Around or None
    marks : tuple of Rule
    words : tuple of Words
    margins_mm, edges_mm, lost_mm : tuple of four Fraction
        Top, right, bottom, left: paper around the print; unprintable edges; the part of the print
        lost there.
    kept_mm : (Fraction, Fraction) or None
        The largest picture without loss, if part is lost.
    side_mm : Fraction
        Width of the canvas sides; 0 without.
    bars_mm : Fraction
        Depth of the canvas bars, part of `side_mm`.
    sides_within : bool
        Whether the picture's own edge forms the sides.
    face_mm : (Fraction, Fraction)
        Size of the front face.
    overlay : Overlay or None
        A picture over the page.
    bleed_mm : Fraction
        Picture beyond the cut.
    cut : bool
        Whether the sheet is cut to the print; a PDF page then has a trim box.
    """

    page: Page
    tone: str
    left: int
    top: int
    around: Around | None
    marks: tuple[Rule, ...]
    words: tuple[Words, ...]
    margins_mm: FourMm
    edges_mm: FourMm
    lost_mm: FourMm
    kept_mm: tuple[Fraction, Fraction] | None
    side_mm: Fraction
    bars_mm: Fraction
    sides_within: bool
    face_mm: tuple[Fraction, Fraction]
    overlay: Overlay | None = None
    bleed_mm: Fraction = Fraction(0)
    cut: bool = False


@dataclass(frozen=True)
class Piece:
    """One of the sheets that a large picture is spread over.

    Attributes
    ----------
    number : int
        From 1, row by row, in the order of assembly.
    row, column : int
        From 1.
    page : Page
    left, top : int
        Position of its part on its sheet.
    part : Box
        Its part of the whole.
    marks : tuple of Rule
    words : tuple of Words
    """

    number: int
    row: int
    column: int
    page: Page
    left: int
    top: int
    part: Box
    marks: tuple[Rule, ...] = ()
    words: tuple[Words, ...] = ()


@dataclass(frozen=True)
class Pieces:
    """A picture over several sheets.

    Attributes
    ----------
    rows, columns : int
    each : tuple of Piece
    join : (int, int)
        Overlap in pixels, between columns and between rows.
    paper : PrintSize or None
        The sheets; None for a roll.
    roll_mm : Fraction or None
        The roll's width.
    join_mm : Fraction
        Overlap of neighbours.
    waste : float
        Share of the paper without picture.
    map : Page
        The page that shows their assembly.
    """

    rows: int
    columns: int
    each: tuple[Piece, ...] = field(repr=False)
    join: tuple[int, int]
    paper: PrintSize | None
    roll_mm: Fraction | None
    join_mm: Fraction
    waste: float
    map: Page
