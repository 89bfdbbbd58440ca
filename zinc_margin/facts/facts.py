"""The facts about a photo from its header."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path

from zinc_margin.facts.measured import Measured


@dataclass(frozen=True)
class Said:
    """Title, author and date for captions; empty if the photo has none.

    Attributes
    ----------
    title, author : str
    date : str
        ``2026-05-09``.
    readable : bool
        False where its metadata are there and damaged, so they cannot be carried.
    """

    title: str = ""
    date: str = ""
    author: str = ""
    readable: bool = True


FLIPPED_ACROSS, FLIPPED_DOWN = (2, 3, 6, 7), (3, 4, 7, 8)
"""EXIF orientations that swap left and right, and those that swap top and bottom."""


SAMPLES = {"grey": 1, "RGB": 3, "CMYK": 4}
"""Samples of a stored pixel, without alpha, by kind of photo."""


@dataclass(frozen=True)
class Facts:
    """The facts about a photo.

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
    subject : (Fraction, Fraction) or None
        Where the subject is, as shares of the upright photo's width and height; put there by the
        person, kept with the photo.
    said : Said
        Its title, date and author, by its metadata.
    jpeg_quality : int or None
        How finely a JPEG was coded, 1 to 100, by its quantisation of lightness; None for others.
    page, pages : int
        Which page of its file it is, from 1, and of how many.
    layered : bool
        Whether the file holds layers, next to the picture that they make.
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
    subject: tuple[Fraction, Fraction] | None = None
    said: Said = field(default_factory=Said)
    jpeg_quality: int | None = None
    page: int = 1
    pages: int = 1
    layered: bool = False

    @property
    def upright(self) -> bool:
        """Whether the picture is taller than wide."""
        return self.height > self.width

    @property
    def own_grid(self) -> tuple[int, int]:
        """The first column and row of the upright picture at which an 8-pixel square begins.

        JPEG counts squares from the first stored corner, which rotation may move.
        """
        return (
            self.width % 8 if self.orientation in FLIPPED_ACROSS else 0,
            self.height % 8 if self.orientation in FLIPPED_DOWN else 0,
        )

    @property
    def channels(self) -> int:
        """Channels of the decoded pixels."""
        return 1 if self.kind == "grey" else 3

    @property
    def working_bits(self) -> int:
        """Bit depth of the decoded pixels."""
        return 16 if self.profile_use == "converted" else self.bits
