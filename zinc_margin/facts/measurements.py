"""The measurements of a photo's pixels."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any


@dataclass(frozen=True)
class Coded:
    """The bits needed to code a photo's pixels, at full size and halved three times.

    Attributes
    ----------
    lossy : tuple of float
        Bits per pixel, as a JPEG of quality 90.
    packed : tuple of float
        Bits per 8-bit sample, lossless.
    """

    lossy: tuple[float, ...]
    packed: tuple[float, ...]


@dataclass(frozen=True)
class Measured:
    """The measurements of a photo's pixels.

    Attributes
    ----------
    noise : float
        Standard deviation of the finest-grained noise, in L*.
    blocks : float
        By how much steps on JPEG's 8-pixel grid exceed other steps, in L*.
    grid : (int, int) or None
        The first column and row of the upright photo at which a square of that grid begins, each 0
        to 7; reliable only if `blocks` is large.
    halo : float
        Typical overshoot beside sharp edges, on both sides, as a share of their step.
    edge_px : float or None
        Width (Gaussian sigma, in pixels) of the sharpest tenth of the edges; None with too few
        clear edges.
    true_share : float
        The share of pixels each way that carry real detail; below 1 if the photo was enlarged
        before.
    lean : (float, float) or None
        Lean of the long edges in degrees clockwise, and its confidence, 0–1; None with too few
        edges.
    kind : str
        The probable kind: ``photo``, ``lettering`` or ``drawing``.
    fineness : float or None
        Power of the finest detail ÷ that of detail twice as coarse; None without detail.
    coded : Coded or None
        None for very small photos.
    bands : tuple of float or None
        Contrast per octave of detail, finest first, in L* rms; None for very small photos.
    places : tuple of (str, int, int)
        The clearest place of each finding: name, x and y in the upright photo.
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
    coded: Coded | None = None
    bands: tuple[float, ...] | None = None

    def plain(self) -> dict[str, Any]:
        """Return the figures as plain JSON data."""
        return asdict(self) | {"places": {name: [x, y] for name, x, y in self.places}}

    @classmethod
    def from_plain(cls, value: Any) -> Measured:
        """Read data written by `plain`.

        Parameters
        ----------
        value : Any
            A JSON value.

        Raises
        ------
        KeyError, TypeError, ValueError
            If it is anything else.
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
            coded=_read_coded(value.get("coded")),
            bands=_bands(value.get("bands")),
            fineness=None if value.get("fineness") is None else float(value["fineness"]),
            **figures,
        )


def _read_coded(value: Any) -> Coded | None:
    if value is None:
        return None
    lossy, packed = (tuple(float(bits) for bits in value[name]) for name in ("lossy", "packed"))
    if not len(lossy) == len(packed) == 4 or not all(0 < bits < 100 for bits in lossy + packed):
        raise ValueError("bits out of range")
    return Coded(lossy, packed)


def _bands(value: Any) -> tuple[float, ...] | None:
    if value is None:
        return None
    bands = tuple(float(contrast) for contrast in value)
    if len(bands) < 2 or not all(0 <= contrast < 1000 for contrast in bands):
        raise ValueError("contrasts out of range")
    return bands
