"""What a photo is: told by its header, and later by its pixels."""

from __future__ import annotations

from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path


@dataclass(frozen=True)
class Measured:
    """What the pixels tell.

    Attributes
    ----------
    noise : float
        Standard deviation of the finest-grained noise, in L*.
    """

    noise: float


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
    measured : Measured or None
        None until the pixels have been looked at.
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
    measured: Measured | None = None

    @property
    def tag_ppi(self) -> Fraction | None:
        """The noted resolution across the upright picture."""
        return self.tag_x

    @property
    def upright(self) -> bool:
        """Whether the picture is taller than wide."""
        return self.height > self.width

    @property
    def channels(self) -> int:
        """Channels of the pixels as they are worked on."""
        return 1 if self.kind == "grey" else 3

    @property
    def working_bits(self) -> int:
        """Depth of the pixels as they are worked on."""
        return 16 if self.profile_use == "converted" else self.bits
