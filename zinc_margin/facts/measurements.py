"""The measurements of a photo's pixels."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

from zinc_margin.gate.values import figure, list_of, one_of, or_none, record, table_of, whole


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
        """Read data written by `plain`; raise `Wrong` if it is anything else."""
        fields = _MEASURED(value)
        coded = fields.pop("coded")
        kind = fields.pop("kind")
        places = tuple((name, x, y) for name, (x, y) in (fields.pop("places") or {}).items())
        return cls(
            **fields,
            places=places,
            coded=None if coded is None else Coded(coded["lossy"], coded["packed"]),
            kind="photo" if kind is None else kind,
        )


_BITS, _PLACE = figure(1e-9, 100), whole(0, 10**7)
_MEASURED = record(
    {
        "noise": figure(0, 1e6),
        "blocks": figure(0, 1e6),
        "halo": figure(0, 1e6),
        "true_share": figure(1e-6, 1e6),
        "edge_px": or_none(figure(0, 1e6)),
    },
    {
        "places": table_of(list_of(_PLACE, 2, 2), 100),
        "lean": list_of(figure(-360, 360), 2, 2),
        "grid": list_of(whole(0, 7), 2, 2),
        "kind": one_of("photo", "lettering", "drawing"),
        "coded": record({"lossy": list_of(_BITS, 4, 4), "packed": list_of(_BITS, 4, 4)}),
        "bands": list_of(figure(0, 1000), 2, 30),
        "fineness": figure(0, 1e6),
    },
)
