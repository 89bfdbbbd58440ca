"""The loupe's views, and their rendering in a worker."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Protocol

import numpy as np
from PIL import Image

from zinc_margin.desktop.bench.edge_profile import EdgeProfile
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.docket.docket import Docket
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.photo.arrays import Codes
from zinc_margin.photo.colour import Colour
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.new_detail import SEEN_FROM, Invention, classical
from zinc_margin.pixels.profile import simulate_paper
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.crop.places import Box
from zinc_margin.plan.model import Plan
from zinc_margin.plan.parts import Repair

_KEPT = 8
_FIRST, _FIRST_KEPT = 64, 128
"""Pixels of the photo, each way, that networks enlarge, or only repair, in about a second."""
_AT_ONCE = 6_000_000
"""The most pixels held in memory while a large part is reduced."""


@dataclass(frozen=True, eq=False)
class View:
    """One version to show.

    Attributes
    ----------
    label : str
    docket : Docket or None
        A docket to render from the current photo.
    file : Photo or None
        Or a finished file.
    printed : bool
        Whether to simulate the paper.
    """

    label: str
    docket: Docket | None = None
    file: Photo | None = None
    printed: bool = False


def original(one: Print) -> Docket:
    """Return the docket that magnifies the photo's own pixels."""
    nothing = one.docket.pixels.hardness * 0
    blocks = replace(
        one.docket.pixels,
        method="blocks",
        hardness=nothing,
        clean=nothing,
        denoise=nothing,
        dehalo=nothing,
        grain=nothing,
    )
    return replace(one.docket, pixels=blocks, sharpen=replace(one.docket.sharpen, on=False))


def without_sharpening(one: Print) -> Docket:
    """Return this print's docket without sharpening."""
    return replace(one.docket, sharpen=replace(one.docket.sharpen, on=False))


def by_another(one: Print, plan: Plan) -> Docket | None:
    """Return this print's docket with another method; None if nothing is resampled."""
    now = plan.pixels.method
    if now is None:
        return None
    other = "lanczos" if now != "lanczos" else "mitchell"
    return replace(one.docket, pixels=replace(one.docket.pixels, method=other))


_LINES = 7
"""Distance of hatching lines, px."""
_LEAST = 0.08
"""The share from which an area is hatched."""
_OXIDE, _PAPER = (46, 59, 142), (246, 248, 248)
"""Blue, green, red."""


def hatch(picture: np.ndarray, much: np.ndarray, held: np.ndarray | None = None) -> np.ndarray:
    """Return a picture (H, W, 4) hatched in oxide by one map (H, W), in paper white by another.

    The lines are broader where a map is nearer to 1; the picture stays visible between them.
    """
    out = picture.copy()
    y, x = np.indices(picture.shape[:2])
    for tone, what, along in ((_PAPER, held, x - y), (_OXIDE, much, x + y)):
        if what is None:
            continue
        if what.shape != picture.shape[:2]:
            small = Image.fromarray(what.astype(np.float32))
            what = np.asarray(small.resize(picture.shape[1::-1], Image.Resampling.BILINEAR))
        broad = 1 + 3 * np.clip(what, 0, 1)
        out[(along % _LINES < broad) & (what > _LEAST), :3] = tone
    return out


class Looking:
    """Renders regions for the screen.

    It caches the renderers of the latest dockets, of one photo only: each holds the photo's pixels
    and its enlarged tiles.
    """

    def __init__(self) -> None:
        self._photo: Photo | None = None
        self._renderers: dict[str, Renderer] = {}
        self._screens: dict[tuple[int, int], tuple[Colour, Screen]] = {}

    def shown(
        self,
        photo: Photo,
        plan: Plan,
        box: Box,
        zoom: float,
        job: Job,
        printed: bool = False,
        show: Callable[[np.ndarray], object] | None = None,
    ) -> np.ndarray:
        """Return output pixels of a region as the screen shows them; runs in a worker.

        Parameters
        ----------
        box : (int, int, int, int)
            Left, top, width and height in the file.
        zoom : float
            Screen pixels per file pixel.
        printed : bool
            Whether to simulate the paper.
        show : callable, optional
            Receives the same while parts of a network's pixels are still missing.

        Returns
        -------
        ndarray (H, W, 4), uint8
        """
        job.check()
        renderer = self._renderer(photo, plan)
        if zoom <= 0.5 and box[2] * box[3] > _AT_ONCE:
            return self._in_strips(photo, renderer, box, zoom, job)
        if printed:
            codes = simulate_paper(renderer, box, plan.paper_px, job)
        elif show is None or not is_slow(plan):
            codes = renderer.region(*box, job)
        else:
            codes = self._renderer(photo, quick(plan)).region(*box, job)

            def show_so_far() -> None:
                show(_scale(self._screen(photo, codes), zoom))

            if self._fill_middle(codes, photo, plan, box, job):
                show_so_far()
            renderer.region(*box, job, codes, show_so_far)
        return _scale(self._screen(photo, codes), zoom)

    def _renderer(self, photo: Photo, plan: Plan) -> Renderer:
        if photo is not self._photo or len(self._renderers) >= _KEPT:
            self._renderers.clear()
            self._photo = photo
        key = repr((plan.docket, plan.sharpen, plan.pixels))
        renderer = self._renderers.get(key)
        if renderer is None:
            renderer = self._renderers[key] = Renderer(photo, plan)
        return renderer

    def _fill_middle(self, codes: Codes, photo: Photo, plan: Plan, box: Box, job: Job) -> bool:
        """Fill in the middle of a region ahead of its tiles, which take long; return if needed."""
        pixels = plan.pixels
        if not pixels.repair.any and pixels.doublings < 2:
            return False  # the tiles are there as soon
        height, width = codes.shape[:2]
        if self._renderer(photo, plan).holds(box[0] + width // 2, box[1] + height // 2):
            return False
        side = (_FIRST if pixels.doublings else _FIRST_KEPT) * float(pixels.scale)
        wide, high = min(width, round(side)), min(height, round(side))
        x, y = (width - wide) // 2, (height - high) // 2
        near = Renderer(photo, plan, nearby=True)
        codes[y : y + high, x : x + wide] = near.region(box[0] + x, box[1] + y, wide, high, job)
        return True

    def _in_strips(
        self, photo: Photo, renderer: Renderer, box: Box, zoom: float, job: Job
    ) -> np.ndarray:
        """Reduce a large part of a print strip by strip, to keep it out of memory as a whole."""
        left, top, width, height = box
        step = int(1 / zoom)
        rows = max(1, 512 // step) * step
        strips = []
        for y in range(0, height, rows):
            strip = renderer.region(left, top + y, width, min(rows, height - y), job)
            strips.append(
                np.asarray(Image.fromarray(self._screen(photo, strip), "RGBA").reduce(step))
            )
        goal = max(1, round(width * zoom)), max(1, round(height * zoom))
        small = Image.fromarray(np.concatenate(strips), "RGBA")
        return np.asarray(small.resize(goal, Image.Resampling.BOX))

    def of_file(self, file: Photo, plan: Plan, box: Box, zoom: float) -> np.ndarray:
        """Return the same part of a finished file at the same size on the screen."""
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
        stored = self._screens.get(key)
        if stored is None or stored[0] is not photo.colour:
            if len(self._screens) >= _KEPT:
                self._screens.clear()
            stored = (photo.colour, Screen(photo.colour, codes.dtype))
            self._screens[key] = stored
        return stored[1].show(codes)


def _scale(shown: np.ndarray, zoom: float) -> np.ndarray:
    """Magnify pixels as squares, or reduce them by averaging."""
    if zoom == 1:
        return shown
    if zoom > 1 and zoom == int(zoom):
        times = int(zoom)
        return np.repeat(np.repeat(shown, times, axis=0), times, axis=1)
    goal = max(1, round(shown.shape[1] * zoom)), max(1, round(shown.shape[0] * zoom))
    kind = Image.Resampling.BOX if zoom < 1 else Image.Resampling.BICUBIC
    return np.asarray(Image.fromarray(shown, "RGBA").resize(goal, kind))


def is_slow(plan: Plan) -> bool:
    """Return whether a plan needs a network."""
    return plan.pixels.doublings > 0 or plan.pixels.repair.any


def quick(plan: Plan) -> Plan:
    """Return a similar-looking plan that needs no network."""
    plain = classical(plan) if plan.pixels.doublings else plan
    return replace(plain, pixels=replace(plain.pixels, repair=Repair()))


def invention_sentence(invention: Invention) -> str:
    """Return a sentence about the amount of new detail in the view."""
    share = (
        f"New detail here: {words.share(invention.share)} of the area changed by more than "
        f"{SEEN_FROM:g} %"
    )
    if invention.fine:
        return f"{share}, including fine structure. Check lettering and faces."
    return f"{share}."


class LookedAt(Protocol):
    """A print viewed closely, at one place and scale."""

    table: Table
    edge: EdgeProfile

    def seen(self, plan: Plan) -> tuple[float, float, float, float]:
        """Return left, top, width and height of the view, in pixels of the print."""

    def places(self, one: Print) -> list[tuple[str, tuple[float, float]]]:
        """Return the places worth a look: names and places, 0 to 1 of the print each way."""

    def search(self) -> None:
        """Look for more such places."""

    def zoom_of(self, plan: Plan) -> float:
        """Return screen pixels per print pixel."""

    def pan(self, across: float, down: float) -> None:
        """Move by this many print pixels."""

    def look_at(self, x: float, y: float) -> None:
        """Show a place, 0 to 1 of the print each way."""

    def follow_edge(self, x: float, y: float) -> None:
        """Show the profile of the edge at a place, 0 to 1 of the print each way."""

    def step_zoom(self, step: int) -> None:
        """Use the next larger or smaller scale."""

    def render_soon(self) -> None:
        """Render the view soon."""
