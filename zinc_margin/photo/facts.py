"""What a photo is: told by its header, and later by its pixels."""

from __future__ import annotations

from dataclasses import asdict, dataclass, field
from fractions import Fraction
from pathlib import Path
from typing import Any

from zinc_margin.photo.said import Said

FLIPPED_ACROSS, FLIPPED_DOWN = (2, 3, 6, 7), (3, 4, 7, 8)
"""EXIF orientations that exchange left and right, and top and bottom, of what is stored."""


@dataclass(frozen=True)
class Measured:
    """What the pixels tell.

    Attributes
    ----------
    noise : float
        Standard deviation of the finest-grained noise, in L*.
    blocks : float
        By how much steps on JPEG's 8-pixel grid exceed those beside it, in L*.
    grid : (int, int) or None
        The first column and row of the upright photo at which a square of that grid seems to
        begin, each 0 to 7; as sure as `blocks` is large.
    halo : float
        Usual overshoot beside sharp edges, on both sides, as a share of their step.
    edge_px : float or None
        Width (Gaussian sigma, in pixels) of the sharpest tenth of the edges; None where too few
        edges stand clear to tell.
    true_share : float
        The share of pixels each way that carry detail of their own; under 1 when the photo was
        enlarged before.
    lean : (float, float) or None
        By how many degrees, clockwise, its long edges lean from level and upright, and how sure
        that is, 0–1; None where there are too few.
    kind : str
        What the picture seems to be: ``photo``, ``lettering`` or ``drawing``.
    fineness : float or None
        Power of detail at its pixels ÷ that of detail twice as coarse; None where nothing goes on.
    places : tuple of (str, int, int)
        Where each tell-tale shows best: its name, x and y in the upright photo.
    """

    noise: float
    blocks: float = 0.0
    halo: float = 0.0
    edge_px: float | None = None
    true_share: float = 1.0
    places: tuple[tuple[str, int, int], ...] = ()
    lean: tuple[float, float] | None = None
    kind: str = "photo"
    fineness: float | None = None
    grid: tuple[int, int] | None = None

    def plain(self) -> dict[str, Any]:
        """Return the figures as JSON has them."""
        return asdict(self) | {"places": {name: [x, y] for name, x, y in self.places}}

    @classmethod
    def from_plain(cls, value: Any) -> Measured:
        """Read what `plain` wrote.

        Raises
        ------
        KeyError, TypeError, ValueError
            When it is something else.
        """
        edge = value["edge_px"]
        figures = {name: float(value[name]) for name in ("noise", "blocks", "halo", "true_share")}
        if not all(0 <= figure < 1e6 for figure in figures.values()) or not figures["true_share"]:
            raise ValueError("figures out of range")
        places = tuple((str(name), int(x), int(y)) for name, (x, y) in value["places"].items())
        lean, grid = value.get("lean"), value.get("grid")
        return cls(
            edge_px=None if edge is None else float(edge),
            places=places,
            lean=None if lean is None else (float(lean[0]), float(lean[1])),
            grid=None if grid is None else (int(grid[0]) % 8, int(grid[1]) % 8),
            kind=str(value.get("kind", "photo")),
            fineness=None if value.get("fineness") is None else float(value["fineness"]),
            **figures,
        )


@dataclass(frozen=True)
class Facts:
    """What a photo is.

    Attributes
    ----------
    path : Path
    format : str
        ``JPEG``, ``PNG`` or ``TIFF``.
    width, height : int
        Pixels of the upright picture.
    bits : int
        8 or 16, as stored.
    kind : str
        ``RGB``, ``grey`` or ``CMYK``.
    profile : str or None
        The name of the embedded profile; None when there is none.
    profile_use : str
        ``own``; ``assumed`` (no profile: taken as sRGB); ``damaged`` (likewise); ``converted``
        (tables or CMYK: the pixels come as wide RGB).
    orientation : int
        The EXIF flag, 1 to 8; `width` and `height` have it applied.
    tag_x, tag_y : Fraction or None
        The resolution that the file notes, in pixels per inch; None when absent or nonsense.
    alpha : bool
    file_bytes : int
    digest : str or None
        SHA-256 of the file; None until it has been read to its end.
    measured : Measured or None
        None until the pixels have been looked at.
    interest : (Fraction, Fraction) or None
        Where the subject is, as shares of the upright photo's width and height; put there by the
        person, kept with the photo.
    said : Said
        Its title, date and author, by its metadata.
    jpeg_quality : int or None
        How finely a JPEG was coded, 1 to 100, by its quantisation of lightness; None for others.
    page, pages : int
        Which page of its file it is, from 1, and of how many.
    """

    path: Path
    format: str
    width: int
    height: int
    bits: int
    kind: str
    profile: str | None = None
    profile_use: str = "assumed"
    orientation: int = 1
    tag_x: Fraction | None = None
    tag_y: Fraction | None = None
    alpha: bool = False
    file_bytes: int = 0
    digest: str | None = None
    measured: Measured | None = None
    interest: tuple[Fraction, Fraction] | None = None
    said: Said = field(default_factory=Said)
    jpeg_quality: int | None = None
    page: int = 1
    pages: int = 1

    @property
    def tag_ppi(self) -> Fraction | None:
        """The noted resolution across the upright picture."""
        return self.tag_x

    @property
    def upright(self) -> bool:
        """Whether the picture is taller than wide."""
        return self.height > self.width

    @property
    def own_grid(self) -> tuple[int, int]:
        """The first column and row of the upright picture at which an 8-pixel square begins.

        Of a JPEG as it is stored: squares are counted from its first corner, which may have come
        to lie elsewhere.
        """
        return (
            self.width % 8 if self.orientation in FLIPPED_ACROSS else 0,
            self.height % 8 if self.orientation in FLIPPED_DOWN else 0,
        )

    @property
    def channels(self) -> int:
        """Channels of the pixels as they are worked on."""
        return 1 if self.kind == "grey" else 3

    @property
    def working_bits(self) -> int:
        """Depth of the pixels as they are worked on."""
        return 16 if self.profile_use == "converted" else self.bits
