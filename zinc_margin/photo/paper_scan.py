"""A paper's blur, measured on a scan of the printed test page.

The squares in its corners locate the page, white paper evens out the light, and the patches
linearise the tones. The slanted edges then give the combined blur of printer, paper and scanner; a
metal edge on the glass gives the scanner's alone.

References
----------
ISO 12233: spatial frequency response by slanted edges.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from itertools import combinations, permutations

import numpy as np

from zinc_margin.measure import paper_page as page
from zinc_margin.measure.errors import BadRequest

_OVERSAMPLE = 4  # edge profile samples per scan pixel, possible because the edges are slanted
_REACH_MM = 0.9
"""How far a profile extends on each side of an edge, in mm."""
_INSIDE = 0.84
"""The share of a target's side that is used."""
_LEAST_SCANNER, _LEAST_LEFT, _MOST_LEFT = 0.22, 0.3, 0.97
"""Scanner modulation, and range of the paper's modulation, in which frequencies are usable."""
_CONFIDENT = 0.08  # spread of the edges, as a share of the sigma, at which confidence is 0.75
_FINEST_PX = 0.75
"""Sigma, in scan pixels, below which the scanner's blur hides the paper's."""


@dataclass(frozen=True)
class Blur:
    """A paper's measured blur.

    Attributes
    ----------
    sigma_mm : float
        Sigma of the best-fitting Gaussian.
    spread : float
        Deviation between edges, as a share of the sigma.
    scan_ppi : float
    too_fine : bool
        Whether the paper blurs less than this scan can resolve.
    """

    sigma_mm: float
    spread: float
    scan_ppi: float
    too_fine: bool

    @property
    def confidence(self) -> float:
        """The confidence of the measurement, 0 to 1."""
        sure = max(0.0, 1 - self.spread / (4 * _CONFIDENT))
        return round(min(sure, 0.4) if self.too_fine else sure, 2)


def measured_blur(values: np.ndarray, page_ppi: float) -> Blur:
    """Measure a paper from a scan.

    Parameters
    ----------
    values : ndarray (H, W)
        The scan, with any tone curve; larger is lighter.
    page_ppi : float
        Resolution of the printed file, to subtract the blur of its pixels.

    Raises
    ------
    BadRequest
        If the page or the metal edge is not found.
    """
    try:
        with np.errstate(all="ignore"):  # what is not finite is refused below
            blur = _measured(values.astype(np.float32), page_ppi)
    except (ArithmeticError, IndexError, TypeError, ValueError) as why:
        # Any picture can come as a scan, and sums over what is not there fail in their own ways.
        raise BadRequest(_UNREADABLE) from why
    if not all(map(np.isfinite, (blur.sigma_mm, blur.spread, blur.scan_ppi))):
        raise BadRequest(_UNREADABLE)
    return blur


_UNREADABLE = (
    "This scan cannot be measured. Scan the whole page with its four squares, with a metal ruler "
    "across the box, in grey and without corrections."
)


def _measured(values: np.ndarray, page_ppi: float) -> Blur:
    to_px = _page_place(values)
    per_mm = float(np.sqrt(abs(np.linalg.det(to_px[:, :2]))))
    even = values / _white(values, to_px)
    light = _linear(even, to_px)
    scanner = _metal(light, to_px, per_mm)
    found = []
    grid = np.linspace(0.05, 0.5 * per_mm * 0.9, 240)
    pixel = np.sinc(grid * 25.4 / page_ppi) ** 2
    for target in page.TARGETS:
        whole = _response(light, to_px, target, per_mm, grid)
        if whole is None:
            continue
        alone = whole / np.maximum(scanner(grid) * pixel, 1e-3)
        # Use frequencies that the scanner still resolves and the paper has not erased.
        ends = (scanner(grid) < _LEAST_SCANNER) | (alone < _LEAST_LEFT)
        last = int(np.argmax(ends)) if ends.any() else len(grid)
        part = slice(0, last)
        told = (alone[part] < _MOST_LEFT) & (grid[part] > 0.4)
        if told.sum() < 6:
            found.append(0.0)
            continue
        f, lost = grid[part][told], -np.log(np.clip(alone[part][told], 1e-3, 1))
        square = 2 * np.pi**2 * f**2
        found.append(float(np.sqrt(max(0.0, (lost * square).sum() / (square**2).sum()))))
    if len(found) < 4:
        raise BadRequest("The slanted edges could not be measured. Scan the whole page, in focus.")
    sigma = float(np.median(found))
    spread = 1.4826 * float(np.median(np.abs(np.array(found) - sigma))) / max(sigma, 1e-4)
    too_fine = sigma * per_mm < _FINEST_PX or spread > 3 * _CONFIDENT
    return Blur(round(sigma, 4), round(spread, 3), round(per_mm * 25.4, 1), too_fine)


def _page_place(values: np.ndarray) -> np.ndarray:
    """Return the affine map (2, 3) from mm on the page to pixels of the scan (x, y)."""
    from scipy import ndimage

    step = max(1, round(min(values.shape) / 900))
    small = ndimage.uniform_filter(values, step)[::step, ::step]
    dark = small < 0.35 * np.quantile(small, 0.9)
    marks, _ = ndimage.label(dark)
    squares: list[tuple[tuple[float, float], float, float]] = []
    for number, where in enumerate(ndimage.find_objects(marks), 1):
        high, wide = (part.stop - part.start for part in where)
        if not 6 < high < small.shape[0] / 6 or not 0.75 < high / wide < 1.33:
            continue
        inside = ndimage.binary_fill_holes(marks[where] == number)
        filled = float(inside.mean())
        if filled < 0.7:
            continue
        holed = float((marks[where] == number).sum() / inside.sum())
        row, column = ndimage.center_of_mass(inside)
        at = (where[1].start + column + 0.5, where[0].start + row + 0.5)
        squares.append((at, float(inside.sum()), holed))
    best: tuple[float, np.ndarray] | None = None
    for four in combinations(sorted(squares, key=lambda one: -one[1])[:14], 4):
        areas = [one[1] for one in four]
        if max(areas) > 1.6 * min(areas) or sum(one[2] < 0.95 for one in four) != 1:
            continue
        for order in permutations(four):
            if order[0][2] >= 0.95:
                continue
            fit = _affine([one[0] for one in order])
            if fit is None:
                continue
            off, to_px = fit
            side = float(np.sqrt(abs(np.linalg.det(to_px[:, :2])))) * page.MARK
            if np.linalg.det(to_px[:, :2]) <= 0 or not 0.7 < side**2 / float(np.mean(areas)) < 1.4:
                continue
            if best is None or off < best[0]:
                best = off, to_px
    if best is None or best[0] > 3:
        raise BadRequest("No page found. Scan the whole page with its four squares, not mirrored.")
    return _refine(values, best[1] * step)


def _affine(places: list[tuple[float, float]]) -> tuple[float, np.ndarray] | None:
    mm = np.array([(x, y, 1.0) for x, y in page.MARKS])
    px = np.array(places)
    solved, *_ = np.linalg.lstsq(mm, px, rcond=None)
    to_px = solved.T
    across, down = to_px[:, 0], to_px[:, 1]
    lengths = float(np.linalg.norm(across)), float(np.linalg.norm(down))
    if abs(lengths[0] / max(lengths[1], 1e-6) - 1) > 0.03:
        return None
    off = float(np.abs(mm @ solved - px).max())
    return off, to_px


def _refine(values: np.ndarray, to_px: np.ndarray) -> np.ndarray:
    """Return the map refined by the squares' measured centres."""
    from scipy import ndimage

    per_mm = np.sqrt(abs(np.linalg.det(to_px[:, :2])))
    places = []
    for x, y in page.MARKS:
        column, row = to_px @ (x, y, 1.0)
        reach = round(0.8 * page.MARK * per_mm)
        top, left = max(0, round(row) - reach), max(0, round(column) - reach)
        part = values[top : top + 2 * reach, left : left + 2 * reach]
        dark = ndimage.binary_fill_holes(part < (part.min() + part.max()) / 2)
        marks, _ = ndimage.label(dark)
        middle = marks[min(reach, part.shape[0] - 1), min(reach, part.shape[1] - 1)]
        at_row, at_column = ndimage.center_of_mass(marks == (middle or 1))
        places.append((left + at_column + 0.5, top + at_row + 0.5))
    fit = _affine(places)
    return to_px if fit is None else fit[1]


def _means(values: np.ndarray, to_px: np.ndarray, places: np.ndarray, half: float) -> np.ndarray:
    """Return the mean of a small square around each place, in mm."""
    per_mm = np.sqrt(abs(np.linalg.det(to_px[:, :2])))
    reach = max(1, round(half * per_mm))
    rows = []
    for x, y in places:
        column, row = to_px @ (x, y, 1.0)
        top, left = max(0, round(row) - reach), max(0, round(column) - reach)
        part = values[top : top + 2 * reach + 1, left : left + 2 * reach + 1]
        rows.append(float(np.median(part)) if part.size else np.nan)
    return np.array(rows)


def _white(values: np.ndarray, to_px: np.ndarray) -> np.ndarray:
    """Return the brightness of white paper at every pixel, from a fitted quadratic surface."""
    places = [(float(x), y) for x in range(14, 160, 8) for y in (22.0, 95.5)]
    places += [(x, float(y)) for y in range(14, 112, 7) for x in (4.0, 166.5)]
    places += [(float(x), 52.6) for x in range(20, 160, 26)]
    spots = np.array(places)
    levels = _means(values, to_px, spots, 0.7)
    good = np.isfinite(levels) & (levels > 0.6 * np.nanmedian(levels))
    terms = _terms(spots[good, 0], spots[good, 1])
    solved, *_ = np.linalg.lstsq(terms, levels[good], rcond=None)
    back = np.linalg.inv(to_px[:, :2])
    rows, columns = np.mgrid[: values.shape[0] : 8, : values.shape[1] : 8].astype(np.float32) + 0.5
    x, y = columns - to_px[0, 2], rows - to_px[1, 2]
    mm_x, mm_y = back[0, 0] * x + back[0, 1] * y, back[1, 0] * x + back[1, 1] * y
    mm_x, mm_y = np.clip(mm_x, 0, page.WIDTH), np.clip(mm_y, 0, page.HEIGHT)
    coarse = (_terms(mm_x.ravel(), mm_y.ravel()) @ solved).reshape(mm_x.shape)
    full = coarse.repeat(8, 0).repeat(8, 1)[: values.shape[0], : values.shape[1]]
    return np.maximum(full, 1e-3).astype(np.float32)


def _terms(x: np.ndarray, y: np.ndarray) -> np.ndarray:
    x, y = x / page.WIDTH, y / page.HEIGHT
    return np.stack([np.ones_like(x), x, y, x * y, x * x, y * y], 1)


def _linear(values: np.ndarray, to_px: np.ndarray) -> np.ndarray:
    """Return reflected light, using the known reflectance of the patches."""
    levels = _means(values, to_px, np.array(page.PATCHES), 0.32 * page.PATCH)
    light = np.array(
        [((step + 16) / 116) ** 3 if step > 8 else step / 903.3 for step in page.STEPS]
    )
    order = np.argsort(levels)
    levels, light = np.maximum.accumulate(levels[order]), light[order]
    if len(np.unique(np.round(levels, 4))) < 6:
        raise BadRequest("The grey patches look alike. Scan in grey, without corrections.")
    known_x, known_y = np.append(levels, 1.0), np.append(light, 1.0)
    known_x += np.arange(len(known_x)) * 1e-6
    out = np.interp(values, known_x, known_y).astype(np.float32)
    above = values > known_x[-1]
    out[above] = values[above] / known_x[-1]
    return out


def _response(
    light: np.ndarray, to_px: np.ndarray, target: page.Target, per_mm: float, grid: np.ndarray
) -> np.ndarray | None:
    """Return the modulation transfer of one slanted edge at frequencies in cycles per mm."""
    half = target.side / 2 * _INSIDE
    corners = (
        np.array(
            [(target.x + a * half, target.y + b * half, 1.0) for a in (-1, 1) for b in (-1, 1)]
        )
        @ to_px.T
    )
    x0, y0 = np.maximum(0, np.floor(corners.min(0)).astype(int))
    x1, y1 = np.ceil(corners.max(0)).astype(int)
    part = light[y0:y1, x0:x1]
    if part.shape != (y1 - y0, x1 - x0):
        return None
    rows, columns = np.mgrid[y0:y1, x0:x1] + 0.5
    back = np.linalg.inv(to_px[:, :2])
    x = back[0, 0] * (columns - to_px[0, 2]) + back[0, 1] * (rows - to_px[1, 2]) - target.x
    y = back[1, 0] * (columns - to_px[0, 2]) + back[1, 1] * (rows - to_px[1, 2]) - target.y
    inside = (np.abs(x) < half) & (np.abs(y) < half)
    slant = np.radians(page.SLANT_DEG)
    first, second = (x, y) if target.upright else (y, x)
    across = first * np.cos(slant) + second * np.sin(slant)
    along = second * np.cos(slant) - first * np.sin(slant)
    return edge_response(part[inside], across[inside], along[inside], per_mm, grid)


def edge_response(
    light: np.ndarray, across: np.ndarray, along: np.ndarray, per_mm: float, grid: np.ndarray
) -> np.ndarray | None:
    """Return the modulation transfer of an edge.

    Parameters
    ----------
    light, across, along : ndarray (N,)
        Each pixel's light, and its approximate position across and along the edge, in mm.
    per_mm : float
        Pixels per mm.
    grid : ndarray (M,)
        Frequencies, cycles per mm.

    Returns
    -------
    ndarray (M,) or None
        None if the edge cannot be measured.
    """
    near = np.abs(across) < 2.2 * _REACH_MM
    light, across, along = light[near], across[near], along[near]
    if len(light) < 4000:
        return None
    for _ in range(2):
        across = across - _bend(light, across, along)
    step = 1 / (per_mm * _OVERSAMPLE)
    reach = int(_REACH_MM / step)
    bins = np.floor(across / step + 0.5).astype(int)
    held = np.abs(bins) <= reach
    counts = np.bincount(bins[held] + reach, minlength=2 * reach + 1)
    sums = np.bincount(bins[held] + reach, light[held], 2 * reach + 1)
    if (counts == 0).sum() > 0.1 * len(counts):
        return None
    profile = np.interp(
        np.arange(len(counts)), np.flatnonzero(counts), (sums / np.maximum(counts, 1))[counts > 0]
    )
    spread = np.diff(profile)
    if abs(spread.sum()) < 0.02:
        return None
    spread = spread * np.hanning(2 * reach)
    place = (np.arange(2 * reach) + 0.5 - reach) * step
    waves = np.exp(-2j * np.pi * grid[:, None] * place[None])
    transfer = np.abs(waves @ spread) / abs(float(spread.sum()))
    # Correct for the difference of neighbours and the width of a bin.
    return np.asarray(transfer / np.maximum(np.sinc(grid * step) ** 2, 1e-3))


def _bend(light: np.ndarray, across: np.ndarray, along: np.ndarray) -> np.ndarray:
    """Return the edge's position for every pixel, from a line through its crossings."""
    low, high = np.median(light[across < -_REACH_MM]), np.median(light[across > _REACH_MM])
    if abs(high - low) < 0.01:
        return np.zeros_like(across)
    share = np.clip((light - low) / (high - low), -0.2, 1.2)
    strips = np.digitize(along, np.quantile(along, np.linspace(0, 1, 25)[1:-1]))
    places, offsets = [], []
    for strip in range(24):
        part = (strips == strip) & (np.abs(across) < _REACH_MM)
        if part.sum() < 60:
            continue
        # Light beside an edge that steps at d falls short by d on one side.
        bins = np.floor(across[part] / 0.03).astype(int)
        counts = np.bincount(bins - bins.min())
        means = np.bincount(bins - bins.min(), share[part]) / np.maximum(counts, 1)
        at = (np.flatnonzero(counts) + bins.min() + 0.5) * 0.03
        offsets.append(float(at[-1] - np.trapezoid(means[counts > 0], at)))
        places.append(float(np.mean(along[part])))
    if len(places) < 6:
        return np.zeros_like(across)
    slope, level = np.polyfit(places, offsets, 1)
    return np.asarray(slope * along + level)


_FEWEST_COLUMNS = 20
_NO_METAL = (
    "No straight metal edge was found across the box. Lay a metal ruler over it, slightly at an "
    "angle, and scan again."
)


def _metal(
    light: np.ndarray, to_px: np.ndarray, per_mm: float
) -> Callable[[np.ndarray], np.ndarray]:
    """Return the scanner's modulation transfer, as a function of cycles per mm."""
    from scipy import ndimage

    left, top, width, height = page.METAL
    places = np.array([(left + 3, top + 6), (left + width - 3, top + height - 1)])
    corners = np.column_stack([places, np.ones(2)]) @ to_px.T
    x0, y0 = np.maximum(0, np.floor(corners.min(0)).astype(int))
    x1, y1 = np.ceil(corners.max(0)).astype(int)
    part = light[y0:y1, x0:x1]
    if min(part.shape, default=0) < 40:
        raise BadRequest("The scan ends above the box for the metal edge. Scan the whole page.")
    soft = ndimage.gaussian_filter(part, 0.15 * per_mm)
    slope = np.abs(np.diff(soft, axis=0))
    rows = slope.argmax(0) + 1.0
    columns = np.arange(part.shape[1])
    strong = slope.max(0) > 0.4 * np.median(slope.max(0))
    if strong.sum() < _FEWEST_COLUMNS:
        raise BadRequest(_NO_METAL)
    line = np.polyfit(columns[strong], rows[strong], 1)
    for _ in range(6):
        off = np.abs(np.polyval(line, columns) - rows)
        near = strong & (off < max(2.0, 2 * float(np.median(off[strong]))))
        if near.sum() < _FEWEST_COLUMNS:
            raise BadRequest(_NO_METAL)
        line = np.polyfit(columns[near], rows[near], 1)
    if slope.max(0)[near].mean() * per_mm * 0.4 < 0.02 or near.mean() < 0.5:
        raise BadRequest(_NO_METAL)
    angle = np.arctan(line[0])
    row, column = np.mgrid[: part.shape[0], : part.shape[1]] + 0.5
    across = ((row - 0.5 - np.polyval(line, column - 0.5)) * np.cos(angle)) / per_mm
    along = column / per_mm
    if float(part[across < -0.5].mean()) > float(part[across > 0.5].mean()):
        across = -across
    grid = np.linspace(0.0, 0.5 * per_mm, 400)
    found = edge_response(part.ravel(), across.ravel(), along.ravel(), per_mm, grid)
    if found is None:
        raise BadRequest(_NO_METAL)
    return lambda frequency: np.asarray(np.interp(frequency, grid, found))
