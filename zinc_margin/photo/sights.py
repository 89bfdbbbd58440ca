"""Places of a photo that are worth looking at closely, found on its samples."""

from __future__ import annotations

import numpy as np

from zinc_margin.photo.edges import Edges
from zinc_margin.photo.sample import Sample

Place = tuple[int, int]


def sights(pieces: Sample, edges: Edges) -> dict[str, Place]:
    """Return where to look: x and y in the photo.

    Returns
    -------
    dict
        ``contrast`` (the strongest edge), ``smooth`` (the longest gradient without texture),
        ``shadow`` (the deepest that is not plain black), ``texture`` (the busiest), as far as
        each is there.
    """
    tiles = pieces.tiles
    fields: dict[str, Place] = {}
    if len(edges.contrast):
        best = int(edges.contrast.argmax())
        fields["contrast"] = (int(edges.places[best, 0]), int(edges.places[best, 1]))
    if not len(tiles):
        return fields
    fine = np.abs(np.diff(tiles, 2, axis=2)).mean(axis=(1, 2))
    mean = tiles.mean(axis=(1, 2))
    quarter = max(1, pieces.side // 4)
    coarse = tiles[:, : quarter * 4, : quarter * 4].reshape(len(tiles), 4, quarter, 4, quarter)
    means = coarse.mean(axis=(2, 4)).reshape(len(tiles), -1)
    span = means.max(axis=1) - means.min(axis=1)
    seen = (mean > 2) & (mean < 98)
    if seen.any():
        fields["texture"] = _middle(pieces, np.where(seen, fine, -1))
        quiet = seen & (fine <= np.quantile(fine[seen], 0.3))
        fields["smooth"] = _middle(pieces, np.where(quiet & (span < 20), span, -1))
        fields["shadow"] = _middle(pieces, np.where(mean > 2, -mean, -1e9))
    return fields


def _middle(pieces: Sample, score: np.ndarray) -> Place:
    top, left = pieces.places[int(score.argmax())]
    return int(left) + pieces.side // 2, int(top) + pieces.side // 2
