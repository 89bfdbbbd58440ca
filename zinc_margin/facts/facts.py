"""The facts about a photo from its header."""

from __future__ import annotations

from dataclasses import dataclass, field
from fractions import Fraction
from pathlib import Path

from zinc_margin.facts.measurements import Measured


@dataclass(frozen=True)
class Said:
    """Title, author and date for captions; empty if the photo has none.

    Attributes
    ----------
    title, author : str
    date : str
        ``2026-05-09``.
    readable : bool
        False if the metadata is damaged and cannot be copied.
    copied_bytes : int
        The most that its EXIF, IPTC and XMP can take in a file.
    """

    title: str = ""
    date: str = ""
    author: str = ""
    readable: bool = True
    copied_bytes: int = 0


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
        Size of the upright picture, in pixels.
    bits : int
        8 or 16, as stored.
    kind : str
        ``RGB``, ``grey`` or ``CMYK``.
    profile : str or None
        The name of the embedded profile, or None.
    profile_use : str
        ``own``; ``assumed`` (no profile, sRGB assumed); ``damaged`` (sRGB assumed); ``converted``
        (tables or CMYK, pixels converted to wide RGB).
    orientation : int
        The EXIF flag, 1 to 8, already applied to `width` and `height`.
    tag_x, tag_y : Fraction or None
        The file's resolution tag, in pixels per inch; None if absent or nonsense.
    alpha : bool
    file_bytes : int
    digest : str or None
        SHA-256 of the file; None until it has been read completely.
    measured : Measured or None
        None until the pixels have been measured.
    subject : (Fraction, Fraction) or None
        The subject point set by the user, as shares of the upright photo's width and height.
    said : Said
        Title, date and author from the metadata.
    jpeg_quality : int or None
        A JPEG's quality, 1 to 100, from its luminance quantisation table; None for other files.
    page, pages : int
        The page of its file, from 1, and the number of pages.
    layered : bool
        Whether the file has layers besides the composite picture.
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
