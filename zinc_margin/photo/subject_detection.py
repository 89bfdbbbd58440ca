"""A photo's probable subject: faces, else the most salient region.

References
----------
T. Ahonen, A. Hadid, M. Pietikäinen, "Face recognition with local binary patterns", ECCV (2004);
P. Viola, M. Jones, "Rapid object detection using a boosted cascade of simple features", CVPR
(2001): the cascade that ships with scikit-image.
X. Hou, L. Zhang, "Saliency detection: a spectral residual approach", CVPR (2007).
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from fractions import Fraction
from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.pixels import Photo

_SIDES = (640, 500)
"""Longer sides, in pixels, at which faces are searched; a real face is found at both."""
_LEAST_FACE = 24  # px; the window of the cascade
_NEIGHBOURS = 4  # overlapping detections needed for a face; fewer raise false finds
_SALIENT_SIDE = 64  # px; salience is a matter of large shapes
_GREY = np.array([0.299, 0.587, 0.114], np.float32)
_TELLING = 0.3
"""Below this share of the salience, the brightest region is not a subject."""


@dataclass(frozen=True)
class Found:
    """A detected subject.

    Attributes
    ----------
    x, y : Fraction
        Its centre, 0 to 1 of the upright photo.
    kind : str
        ``faces``, or ``region`` for a salient region.
    count : int
        Number of faces.
    confidence : float
        0 to 1.
    """

    x: Fraction
    y: Fraction
    kind: str
    count: int
    confidence: float


def found_subject(codes: Codes) -> Found | None:
    """Return the probable subject; None if nothing is salient.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
        The upright photo.
    """
    if min(codes.shape[:2]) < 2 * _LEAST_FACE:
        return None
    faces = faces_in(codes)
    if faces:
        left, top = (min(face[at] for face in faces) for at in (0, 1))
        right, bottom = (max(face[at] + face[2] for face in faces) for at in (0, 1))
        # Several estimates of one scene must agree; a single small one may be a pattern.
        large = max(face[2] for face in faces)
        sure = min(0.95, 0.55 + 0.1 * (len(faces) - 1) + 1.5 * large)
        high = codes.shape[0] / max(codes.shape[:2])
        wide = codes.shape[1] / max(codes.shape[:2])
        return Found(
            _share((left + right) / 2 / wide),
            _share((top + bottom) / 2 / high),
            "faces",
            len(faces),
            round(sure, 2),
        )
    return _region(codes)


def with_found_subject(photo: Photo) -> tuple[Photo, Found | None]:
    """Return a photo with its detected subject, unless the user set one."""
    if photo.facts.subject is not None:
        return photo, None
    found = found_subject(photo.codes)
    if found is None:
        return photo, None
    return replace(photo, facts=replace(photo.facts, subject=(found.x, found.y))), found


def found_words(found: Found | None) -> str:
    """Describe the detected subject."""
    if found is None:
        return "no subject found"
    if found.kind == "region":
        what = "a salient region"
    else:
        what = "a face" if found.count == 1 else f"{found.count} faces"
    return f"{what}, {found.confidence:.0%} sure"


def _share(value: float) -> Fraction:
    return Fraction(min(1000, max(0, round(value * 1000))), 1000)


def faces_in(codes: Codes) -> list[tuple[float, float, float]]:
    """Return faces as left, top and side, as shares of the photo's longer side.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
        The upright photo.
    """
    if min(codes.shape[:2]) < 2 * _LEAST_FACE:
        return []
    seen = []
    for side in _SIDES:
        small = _small(codes, side)
        boxes = _cascade().detect_multi_scale(
            small,
            scale_factor=1.2,
            step_ratio=1,
            min_size=(_LEAST_FACE, _LEAST_FACE),
            max_size=(max(small.shape), max(small.shape)),
            min_neighbor_number=_NEIGHBOURS,
            intersection_score_threshold=0.5,
        )
        longer = max(small.shape)
        seen.append(
            [(box["c"] / longer, box["r"] / longer, box["width"] / longer) for box in boxes]
        )
    # A real face is found at both sizes; a face-like pattern usually at only one.
    faces: list[tuple[float, float, float]] = []
    for one in seen[0]:
        if any(_same(one, other) for other in seen[1]) and not any(_same(one, f) for f in faces):
            faces.append(one)
    return faces


def _same(one: tuple[float, float, float], other: tuple[float, float, float]) -> bool:
    middles = (abs(one[at] + one[2] / 2 - other[at] - other[2] / 2) for at in (0, 1))
    return max(middles) < one[2] / 2 and 0.5 < one[2] / other[2] < 2


@cache
def _cascade() -> Any:
    from skimage.data import lbp_frontal_face_cascade_filename
    from skimage.feature import Cascade

    return Cascade(lbp_frontal_face_cascade_filename())


def _small(codes: Codes, longer: int) -> NDArray[np.uint8]:
    """Return a photo's greys (h, w), uint8, reduced to this longer side; never enlarged."""
    from scipy import ndimage

    step = max(1, max(codes.shape[:2]) // (2 * longer))
    part = codes[::step, ::step].astype(np.float32) * np.float32(255 / np.iinfo(codes.dtype).max)
    grey = part @ _GREY if codes.shape[2] >= 3 else part[..., 0]
    zoom = min(1.0, longer / max(grey.shape))
    if zoom < 1:
        soft = ndimage.gaussian_filter(grey, 0.4 / zoom)
        grey = ndimage.zoom(soft, zoom, order=1, grid_mode=True, mode="grid-constant")
    return np.clip(np.rint(grey), 0, 255).astype(np.uint8)


def _region(codes: Codes) -> Found | None:
    """Return the centre of the most salient region."""
    from scipy import ndimage

    grey = _small(codes, _SALIENT_SIDE).astype(np.float32) / 255
    spectrum = np.fft.fft2(grey)
    size = np.log(np.abs(spectrum) + 1e-6)
    residual = size - ndimage.uniform_filter(size, 3)
    salient = np.abs(np.fft.ifft2(np.exp(residual + 1j * np.angle(spectrum)))) ** 2
    salient = ndimage.gaussian_filter(salient, 2.5)
    salient -= np.median(salient)
    np.clip(salient, 0, None, out=salient)
    total = float(salient.sum())
    if total <= 0 or float(grey.std()) < 0.01:
        return None
    marks, count = ndimage.label(salient > 0.4 * salient.max())
    held = ndimage.sum(salient, marks, np.arange(1, count + 1))
    best = int(np.argmax(held)) + 1
    share = float(held[best - 1]) / total
    if share < _TELLING:
        return None
    row, column = ndimage.center_of_mass(salient, marks, best)
    return Found(
        _share((column + 0.5) / grey.shape[1]),
        _share((row + 0.5) / grey.shape[0]),
        "region",
        0,
        round(min(0.6, share), 2),
    )
