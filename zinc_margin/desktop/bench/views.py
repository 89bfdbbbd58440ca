"""What a pane of the loupe can show, and how it is rendered away from the window."""

from __future__ import annotations

from dataclasses import dataclass, replace
from threading import Event

import numpy as np
from PIL import Image

from ...docket.docket import Docket
from ...measure.errors import Cancelled
from ...photo.pixels import Photo
from ...pixels.display import Screen
from ...pixels.render import Renderer
from ...plan.model import Plan
from ..state import Print

_KEPT = 8
_AT_ONCE = 6_000_000
"""Pixels that are held at a time when a large part is made small."""
Box = tuple[int, int, int, int]


@dataclass(frozen=True, eq=False)
class View:
    """One thing to show.

    Attributes
    ----------
    label : str
    docket : Docket or None
        Rendered from the photo on the table.
    file : Photo or None
        Or a finished file, as it is.
    """

    label: str
    docket: Docket | None = None
    file: Photo | None = None


def original(one: Print) -> Docket:
    """Return the docket that blows the photo's own pixels up plainly."""
    blocks = replace(one.docket.pixels, method="blocks", crisp=one.docket.pixels.crisp * 0)
    return replace(one.docket, pixels=blocks, sharpen=replace(one.docket.sharpen, on=False))


def unsharpened(one: Print) -> Docket:
    """Return this print's docket without sharpening."""
    return replace(one.docket, sharpen=replace(one.docket.sharpen, on=False))


def by_another(one: Print, plan: Plan) -> Docket | None:
    """Return this print's docket by another method; None where nothing is resampled."""
    now = plan.pixels.method
    if now is None:
        return None
    other = "lanczos" if now != "lanczos" else "mitchell"
    return replace(one.docket, pixels=replace(one.docket.pixels, method=other))


class Looking:
    """Renders regions for the screen; it keeps the renderers of the latest dockets."""

    def __init__(self) -> None:
        self._renderers: dict[str, tuple[Photo, Renderer]] = {}
        self._screens: dict[tuple[int, int], tuple[Photo, Screen]] = {}

    def shown(self, photo: Photo, plan: Plan, box: Box, zoom: float, cancel: Event) -> np.ndarray:
        """Return output pixels of a region as the screen shows them; runs in a worker.

        Parameters
        ----------
        box : (int, int, int, int)
            Left, top, width and height in the file.
        zoom : float
            Pixels of the screen for one of the file.

        Returns
        -------
        ndarray (H, W, 4), uint8
        """
        if cancel.is_set():
            raise Cancelled
        key = repr((plan.docket, plan.sharpen))
        kept = self._renderers.get(key)
        if kept is None or kept[0] is not photo:
            if len(self._renderers) >= _KEPT:
                self._renderers.clear()
            kept = (photo, Renderer(photo, plan))
            self._renderers[key] = kept
        if zoom <= 0.5 and box[2] * box[3] > _AT_ONCE:
            return self._in_strips(photo, kept[1], box, zoom, cancel)
        return _scaled(self._screen(photo, kept[1].region(*box, cancel)), zoom)

    def _in_strips(
        self, photo: Photo, renderer: Renderer, box: Box, zoom: float, cancel: Event
    ) -> np.ndarray:
        """Make a large part of a print small, strip after strip: it never lies in memory whole."""
        left, top, width, height = box
        step = int(1 / zoom)
        rows = max(1, 512 // step) * step
        strips = []
        for y in range(0, height, rows):
            strip = renderer.region(left, top + y, width, min(rows, height - y), cancel)
            strips.append(
                np.asarray(Image.fromarray(self._screen(photo, strip), "RGBA").reduce(step))
            )
        goal = max(1, round(width * zoom)), max(1, round(height * zoom))
        small = Image.fromarray(np.concatenate(strips), "RGBA")
        return np.asarray(small.resize(goal, Image.Resampling.BOX))

    def of_file(self, file: Photo, plan: Plan, box: Box, zoom: float) -> np.ndarray:
        """Return the same part of a finished file, as large on the screen."""
        height, width = file.codes.shape[:2]
        across, down = width / plan.pixels.width, height / plan.pixels.height
        left, top = int(box[0] * across), int(box[1] * down)
        right = min(width, max(left + 1, round((box[0] + box[2]) * across)))
        bottom = min(height, max(top + 1, round((box[1] + box[3]) * down)))
        part = self._screen(file, np.ascontiguousarray(file.codes[top:bottom, left:right]))
        goal = (max(1, round(box[2] * zoom)), max(1, round(box[3] * zoom)))
        kind = Image.Resampling.BOX if goal[0] < part.shape[1] else Image.Resampling.NEAREST
        return np.asarray(Image.fromarray(part, "RGBA").resize(goal, kind))

    def _screen(self, photo: Photo, codes: np.ndarray) -> np.ndarray:
        key = (id(photo.colour), codes.dtype.itemsize)
        kept = self._screens.get(key)
        if kept is None or kept[0].colour is not photo.colour:
            if len(self._screens) >= _KEPT:
                self._screens.clear()
            kept = (photo, Screen(photo.colour, codes.dtype))
            self._screens[key] = kept
        return kept[1].show(codes)


def _scaled(shown: np.ndarray, zoom: float) -> np.ndarray:
    """Show whole pixels as squares; fewer pixels as the mean of those that they stand for."""
    if zoom == 1:
        return shown
    if zoom > 1 and zoom == int(zoom):
        times = int(zoom)
        return np.repeat(np.repeat(shown, times, axis=0), times, axis=1)
    goal = max(1, round(shown.shape[1] * zoom)), max(1, round(shown.shape[0] * zoom))
    kind = Image.Resampling.BOX if zoom < 1 else Image.Resampling.BICUBIC
    return np.asarray(Image.fromarray(shown, "RGBA").resize(goal, kind))
