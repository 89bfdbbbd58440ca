"""Signs in the pixels: JPEG artefacts, existing halos, softness, enlargement, noise, a lean."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

import numpy as np

from zinc_margin.facts.measurements import Measured
from zinc_margin.photo import level, noise, spectrum
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.coding_cost import coded_size
from zinc_margin.photo.colour import Colour
from zinc_margin.photo.edges import Edges, edges_of, fineness_of, sights
from zinc_margin.photo.jpeg_traces import blocks_of
from zinc_margin.photo.kind import kind_of
from zinc_margin.photo.origin import true_share
from zinc_margin.photo.sample import overlapping, sample
from zinc_margin.photo.spectrum import bands_of

_SIDE, _MOST = 128, 256  # px, and number of pieces
_FEWEST_EDGES, _FEWEST_FOR_HALO = 12, 24  # fewer edges give no reliable width, or no reliable halo


def measure(codes: Codes, colour: Colour) -> Measured:
    """Measure all signs on pieces spread evenly over a photo.

    Parameters
    ----------
    codes : ndarray (H, W, C), uint8 or uint16
    """
    pieces = sample(codes, colour, _SIDE, _MOST)
    with ThreadPoolExecutor(2, "measure") as pool:
        # The longest first; most of their time is spent in libraries, which run side by side.
        found = pool.submit(edges_of, pieces)
        share = pool.submit(true_share, pieces)
        fineness = pool.submit(fineness_of, pieces)
        bands = pool.submit(
            lambda: bands_of(overlapping(codes, colour, spectrum.SIDE, spectrum.MOST))
        )
        coded = pool.submit(coded_size, codes)
        lean = pool.submit(lambda: level.lean_of(level.small_tones(codes)))
        noises = pool.submit(lambda: noise.noise_of(sample(codes, colour, noise.SIDE, noise.MOST)))
        traces = pool.submit(blocks_of, pieces)
        kind = pool.submit(kind_of, codes)
    loudness, noisy = noises.result()
    step, blocky, grid = traces.result()
    edges = found.result()
    result = len(edges.sigma_px)
    sigma, sharpest = None, None
    if result >= _FEWEST_EDGES:
        sigma = float(np.quantile(edges.sigma_px, 0.1))
        x, y = edges.places[result // 10]
        sharpest = (int(x), int(y))
    halo, where = _halo(edges) if result >= _FEWEST_FOR_HALO else (0.0, None)
    return Measured(
        noise=loudness,
        blocks=step,
        grid=grid,
        halo=halo,
        edge_px=sigma,
        true_share=share.result(),
        kind=kind.result(),
        coded=coded.result(),
        bands=bands.result(),
        fineness=fineness.result(),
        lean=lean.result(),
        places=tuple(
            (name, place[0], place[1])
            for name, place in (
                ("noise", noisy),
                ("blocks", blocky),
                ("halo", where),
                ("edge", sharpest),
                *sights(pieces, edges).items(),
            )
            if place is not None
        ),
    )


def _halo(edges: Edges) -> tuple[float, tuple[int, int]]:
    """Return the median overshoot of the sharpest third of the edges, and its clearest place."""
    sharp = max(1, len(edges.halo) // 3)
    halo = edges.halo[:sharp]
    x, y = edges.places[int((halo * edges.contrast[:sharp]).argmax())]
    return max(0.0, float(np.median(halo))), (int(x), int(y))
