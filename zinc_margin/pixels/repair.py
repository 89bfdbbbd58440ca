"""Remove JPEG artefacts, noise and existing halos from a photo."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from zinc_margin.keeping.job import Job
from zinc_margin.photo.arrays import Plane
from zinc_margin.pixels import nets
from zinc_margin.pixels.source import Source
from zinc_margin.pixels.tiles import LUMA, SQUARE, Tiled, luma_of, to_codes
from zinc_margin.pixels.upscale import double
from zinc_margin.plan.crop.places import Box
from zinc_margin.plan.parts import Repair
from zinc_margin.plan.pixels.repair import NOISE_FULL

_STEP, _SEAM = 0.012, 0.016
"""Largest seam of a colour difference, 0 to 1, at full strength: at half size, and in finer detail.
"""
_MOST_BLED, _BLEEDS = 0.1, 0.3
"""Largest correction of a colour difference at edges, 0 to 1, and the cleaning strength from which
it is fully applied.
"""
_WINDOW, _FLAT = 5, np.float32(1e-4)
"""Window in pixels at half size, and the variance of lightness that counts as flat."""
_ENOUGH = 0.012
"""If cleaning changes a tile by less than this (rms, 0 to 1), a second pass is skipped. On thirteen
photographs of JPEG quality 40 that loses 0.02 dB and saves four tenths of the time.
"""
_MARGIN = 12  # pixels around a tile for enlarging; even


class Repaired(Tiled):
    """A photo without JPEG artefacts, noise and existing halos.

    Lightness is repaired at full size; colour at half size, where JPEG stores it and where the eye
    sees no more.
    """

    # Cleaning needs wide surroundings, so its tiles are larger.
    largest = 384
    # Pixels further away change the result by at most a twentieth of an 8-bit step.
    pad = 40

    def __init__(
        self,
        parent: Source,
        repair: Repair,
        asked: nets.Asked,
        crispness: float = 0.0,
        nearby: bool = False,
    ) -> None:
        super().__init__(parent, crispness, nearby)
        self._asked = asked
        self._jpeg, self._noise = repair.clean / 100, repair.denoise / 100
        self._halo, self._reach = repair.dehalo / 100, repair.halo_share
        self._grid = repair.grid

    def _made(self, place: Box, job: Job) -> NDArray[np.uint16]:
        y, x = self._inner()
        repaired, _, _ = self._repaired(self.padded(place, self.pad, job))
        _, _, wide, high = place
        return to_codes(repaired[:, y : y + high, x : x + wide])

    def _inner(self) -> tuple[int, int]:
        """Return the offset of the tile itself in the result of `_repaired`."""
        left, top = self._grid
        return self.pad - top, self.pad - left

    def _repaired(self, padded: Plane) -> tuple[np.ndarray, np.ndarray, nets.Seen]:
        """Return repaired planes (C, H, W), their lightness, and the cleaner's hidden output."""
        # Tiles and their surroundings are whole JPEG squares; cropped by this much, they start at a
        # square.
        left, top = self._grid
        high, wide = (side - SQUARE for side in padded.shape[1:])
        planes = padded[:, top : top + high, left : left + wide]
        light = luma = luma_of(planes)
        seen: nets.Seen = ()
        mends = bool(self._jpeg or self._noise)
        if mends:
            strengths = (self._jpeg, self._noise) if self._noise else (self._jpeg,)
            # The finer method runs four passes without this shortcut.
            enough = _ENOUGH if len(self._asked) == 2 else 0.0
            change, seen = nets.mean_correction(
                self._asked, luma, strengths, enough=enough, together=self.nearby
            )
            light = luma + change
        if self._halo:
            light = _without_halos(light, self._halo, self._reach)
        if planes.shape[0] == 1:
            return light[None], light, seen
        out = np.empty_like(planes)
        for channel in (0, 2):
            difference = planes[channel] - luma
            out[channel] = light + (self._colour(difference, light) if mends else difference)
        # Green is the rest of the luma.
        out[1] = (light - LUMA[0] * out[0] - LUMA[2] * out[2]) / LUMA[1]
        return out, light, seen

    def _colour(self, difference: Plane, light: Plane) -> Plane:
        """Return a repaired colour difference (H, W), guided by the repaired lightness (H, W).

        JPEG codes colour so coarsely that squares of uniform colour remain, with visible seams.
        Detail between half and full size is kept if it exceeds these seams and the noise.
        """
        half, led = _halve(difference), _halve(light)
        strengths = self._jpeg, self._noise * 0.5
        change = (
            nets.mean_correction(
                ("clean",), half * np.float32(0.5) + np.float32(0.5), strengths
            ).change
            * 2
        )
        rest = difference - _between(half)
        half = half + change
        half += _seams(half, led, _STEP * self._jpeg)
        loud = (2 * NOISE_FULL * self._noise) ** 2 + (_SEAM * self._jpeg) ** 2
        rest *= rest**2 / (rest**2 + np.float32(loud))
        return np.asarray(_between(half) + rest + self._edges(half, light, led))

    def _edges(self, half: Plane, light: Plane, led: Plane) -> Plane:
        """Return full-size detail that a half-size colour difference (h, w) lacks, from lightness.

        Coded at half size or coarser, colour bleeds over hard edges of lightness. Where the two
        correlate locally, the difference follows the repaired lightness in its finest octave.
        """
        slope, _ = _lines(half, led)
        finest = light - _between(led)
        change = _between(_mean(slope)) * finest
        change /= 1 + (change / np.float32(_MOST_BLED)) ** 4
        return np.asarray(change * np.float32(min(1.0, max(self._jpeg, self._noise) / _BLEEDS)))


class RepairedTwice(Repaired):
    """A photo repaired and doubled in one step.

    The enlarger also gets the cleaner's hidden output, because cleaned lightness alone does not
    show which part was in the file and which was guessed.

    Parameters
    ----------
    enlargers : tuple of str
        The enlargers, which use the cleaners' hidden output.
    share : float
        Share of their correction to apply.
    """

    zoom = 2
    pad = Repaired.pad + 16

    def __init__(
        self,
        parent: Source,
        repair: Repair,
        asked: nets.Asked,
        enlargers: nets.Asked,
        share: float,
        crispness: float = 0.0,
        nearby: bool = False,
    ) -> None:
        super().__init__(parent, repair, asked, crispness, nearby)
        self._enlargers, self._share = enlargers, np.float32(share)

    def _made(self, place: Box, job: Job) -> NDArray[np.uint16]:
        planes, light, seen = self._repaired(self.padded(place, self.pad, job))
        y, x = self._inner()
        _, _, wide, high = place
        # The hidden output is at half size, so the enlarger must start at an even position.
        top, left = (at - at % 2 - _MARGIN for at in (y, x))
        bottom, right = top + high + 2 * _MARGIN + 2, left + wide + 2 * _MARGIN + 2
        text = tuple(each[:, top // 2 : bottom // 2, left // 2 : right // 2] for each in seen)
        part = light[top:bottom, left:right]
        asked = self._enlargers[: len(text)]
        added = nets.mean_correction(asked, part, seen=text, together=self.nearby).change
        goal = double(
            planes[:, y - _MARGIN : y + high + _MARGIN, x - _MARGIN : x + wide + _MARGIN], _MARGIN
        )
        y, x = 2 * (y - top), 2 * (x - left)
        goal += self._share * added[y : y + goal.shape[1], x : x + goal.shape[2]]
        return to_codes(goal)


def _halve(plane: NDArray[np.float32]) -> NDArray[np.float32]:
    """Return a plane (H, W) of even sides at half size."""
    return plane.reshape(len(plane) // 2, 2, -1, 2).mean((1, 3), dtype=np.float32)


def _seams(colour: Plane, led: Plane, step: float) -> Plane:
    """Return the correction that removes small steps of colour where lightness has none.

    It is the mean of linear models of colour by lightness over small windows (K. He, J. Sun, X.
    Tang, "Guided image filtering", IEEE Trans. PAMI 35, 2013), limited to the size of a seam.

    Parameters
    ----------
    colour, led : ndarray
        (H, W), float32: the colour difference, and the lightness that guides it.
    step : float
        Largest step of a seam; larger ones belong to the picture.
    """
    slope, start = _lines(colour, led)
    change = _mean(slope) * led + _mean(start) - colour
    return np.asarray(change / (1 + (change / np.float32(max(step, 1e-6))) ** 4))


def _lines(colour: Plane, led: Plane) -> tuple[np.ndarray, np.ndarray]:
    """Return slope and offset of the local linear model of colour by lightness."""
    light, tint = _mean(led), _mean(colour)
    slope = (_mean(led * colour) - light * tint) / (_mean(led * led) - light * light + _FLAT)
    return slope, tint - slope * light


def _mean(plane: Plane) -> Plane:
    """Return the mean over a window around each place."""
    from scipy import ndimage

    return np.asarray(ndimage.uniform_filter(plane, _WINDOW, mode="nearest"))


def _between(half: Plane) -> Plane:
    """Return a half-size plane at full size (2H, 2W), by bilinear interpolation."""
    near, far = np.float32(0.75), np.float32(0.25)
    part = np.pad(half, 1, "edge")
    tall = np.empty((2 * len(half), part.shape[1]), np.float32)
    tall[0::2] = near * part[1:-1] + far * part[:-2]
    tall[1::2] = near * part[1:-1] + far * part[2:]
    wide = np.empty((len(tall), 2 * half.shape[1]), np.float32)
    wide[:, 0::2] = near * tall[:, 1:-1] + far * tall[:, :-2]
    wide[:, 1::2] = near * tall[:, 1:-1] + far * tall[:, 2:]
    return wide


def _without_halos(luma: Plane, strength: float, share: float) -> Plane:
    """Remove thin bright and dark lines beside strong edges.

    Opening and closing remove structures thinner than their window; the change is limited to the
    photo's typical overshoot.
    """
    from scipy import ndimage

    low = ndimage.minimum_filter(luma, 13, mode="nearest")
    high = ndimage.maximum_filter(luma, 13, mode="nearest")
    room = (high - low) * np.float32(share)
    room *= np.clip((high - low - np.float32(0.08)) * np.float32(10), 0, 1)
    opened = ndimage.grey_opening(luma, 9, mode="nearest")
    closed = ndimage.grey_closing(luma, 9, mode="nearest")
    over = np.minimum(luma - opened, room)
    under = np.minimum(closed - luma, room)
    return np.asarray(luma - np.float32(strength) * (over - under), np.float32)
