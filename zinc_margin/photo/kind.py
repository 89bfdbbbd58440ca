"""The kind of a picture: photograph, lettering and line drawing, or pixel art."""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.arrays import Codes

_PIECE = 64  # px; small enough to be all lettering or all photograph
_MOST_PIECES = 400  # limits the time for large photos
_FLAT = 0.7
"""The share of equal neighbours. Photographs have grain everywhere; drawings have flat areas."""
_FEW_TONES = 64  # a pixel drawing has few colours
_HARD = 0.85  # share of strong steps without intermediate tones in pixel drawings


def kind_of(codes: Codes) -> str:
    """Return ``photo``, ``lettering`` or ``drawing``.

    In lettering and drawings most neighbouring pixels are equal, but there are strong steps. A
    pixel drawing has few tones and only hard steps; lettering has soft edges with intermediate
    tones.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
    """
    plane = codes[..., codes.shape[2] // 2]
    height, width = (side // _PIECE * _PIECE for side in plane.shape)
    if not height or not width:
        part = plane[None]
    else:
        count = (height // _PIECE) * (width // _PIECE)
        every = max(1, count // _MOST_PIECES)
        part = (
            plane[:height, :width]
            .reshape(height // _PIECE, _PIECE, width // _PIECE, _PIECE)
            .swapaxes(1, 2)
            .reshape(count, _PIECE, _PIECE)[::every]
        )
    if part.shape[1] < 3 or part.shape[2] < 3:
        return "photo"
    top = int(np.iinfo(codes.dtype).max)
    steps = np.abs(np.diff(part.astype(np.int32), axis=2))
    strong = steps > top // 8
    if (steps <= top // 250).mean() < _FLAT or strong.mean() < 2e-3:
        return "photo"
    if len(np.unique(part // max(1, top // 255))) > _FEW_TONES:
        return "lettering" if (steps == 0).mean() > _FLAT else "photo"
    # Beside a hard step both neighbours are flat; a soft edge takes two steps or more.
    middle = strong[:, :, 1:-1]
    alone = middle & (steps[:, :, :-2] == 0) & (steps[:, :, 2:] == 0)
    hard = float(alone.sum()) / max(1, int(middle.sum()))
    return "drawing" if hard > _HARD else "lettering"
