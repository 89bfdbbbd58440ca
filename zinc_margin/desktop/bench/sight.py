"""One view of the loupe, rendered in a worker."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import partial

import numpy as np

from zinc_margin.desktop.bench.views import (
    Looking,
    View,
    hatch,
    invention_sentence,
    is_slow,
    quick,
)
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import CannotDo
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.new_detail import SEEN_FROM, acting, invention
from zinc_margin.pixels.profile import LEAST_SIDE, Profile, profile
from zinc_margin.plan.crop.places import Box, same_part
from zinc_margin.plan.model import Plan

_MOST_VEILED = 4_000_000
_PARTLY = "rough around the middle, working …"
_ACTING = "Oxide lines: sharpened. White lines: left alone (noise, deep shadows, brightest tones)."


@dataclass(frozen=True, eq=False)
class Sight:
    """The view.

    Attributes
    ----------
    plan : Plan
        The current print's plan; `box` and `zoom` are in its file's pixels.
    works : list of (View, Plan)
        The version in each pane.
    veil : str
        ``acting``, ``invented`` or empty.
    follows : bool
        Whether to show an edge profile.
    edge_at : (float, float) or None
        The edge's place, 0–1 of the print; None for the strongest visible edge.
    """

    photo: Photo
    plan: Plan
    works: list[tuple[View, Plan]]
    box: Box
    zoom: float
    veil: str = ""
    follows: bool = False
    edge_at: tuple[float, float] | None = None

    def render(
        self,
        looking: Looking,
        job: Job,
        show_some: Callable[..., None],
        show_edge: Callable[[Profile | None], None],
    ) -> tuple[list[np.ndarray], str]:
        """Return the panes' pictures, and a sentence about them.

        Parameters
        ----------
        show_some : callable
            Receives unfinished pictures, and a remark about them.
        """
        if self.follows and self.edge_at is not None:
            self._follow(self.edge_at, show_edge)
        so_far: list[np.ndarray] = []
        if any(is_slow(result) for _, result in self.works):
            # Show a plain rendering first; AI and repair follow.
            so_far = [self._picture(looking, v, quick(result), job)[0] for v, result in self.works]
            show_some(list(so_far))

        def show(at: int, pixels: np.ndarray) -> None:
            so_far[at] = pixels
            show_some(list(so_far), _PARTLY)

        try:
            rows = [
                self._picture(looking, view, result, job, partial(show, at))
                for at, (view, result) in enumerate(self.works)
            ]
        except CannotDo as why:  # AI cannot run here; keep the plain rendering
            return [], str(why)
        if self.follows and self.edge_at is None:
            self._follow(self._strongest(rows[0][0]), show_edge)
        return [pixels for pixels, _ in rows], " ".join({text for _, text in rows if text})

    def _picture(
        self,
        looking: Looking,
        view: View,
        other: Plan,
        job: Job,
        show: Callable[[np.ndarray], None] | None = None,
    ) -> tuple[np.ndarray, str]:
        if view.file is not None:
            return looking.of_file(view.file, other, self.box, self.zoom), ""
        part = same_part(other, self.plan, self.box)
        scale = self.zoom * self.box[2] / part[2]
        pixels = looking.shown(self.photo, other, part, scale, job, view.printed, show)
        if self.box[2] * self.box[3] > _MOST_VEILED:
            return pixels, ""
        if self.veil == "acting" and other.sharpen is not None:
            acts, held = acting(self.photo, other, part, job)
            return hatch(pixels, acts / 5, held / 5), _ACTING
        if self.veil == "invented" and other.pixels.doublings:
            result = invention(self.photo, other, part, job)
            return hatch(pixels, result.moved / (3 * SEEN_FROM)), invention_sentence(result)
        return pixels, ""

    def _follow(self, place: tuple[float, float], show: Callable[[Profile | None], None]) -> None:
        if min(self.plan.pixels.width, self.plan.pixels.height) < LEAST_SIDE:
            show(None)  # a few pixels have no edge
            return
        # Use a classical enlargement: its edges are nearly the same, and it is fast.
        show(profile(self.photo, quick(self.plan), place))

    def _middle(self) -> tuple[float, float]:
        left, top, across, down = self.box
        pixels = self.plan.pixels
        return (left + across / 2) / pixels.width, (top + down / 2) / pixels.height

    def _strongest(self, picture: np.ndarray) -> tuple[float, float]:
        """Return the place of the strongest visible edge, 0–1 of the print."""
        from scipy import ndimage

        light = ndimage.gaussian_filter(picture[..., 1].astype(np.float32), 1.5)
        if min(light.shape) < 2:  # a long print, all of it visible
            return self._middle()
        strength = np.hypot(*np.gradient(light))
        rim = min(24, *(side // 4 for side in strength.shape))
        inner = strength[rim : -rim or None, rim : -rim or None]
        row, column = np.unravel_index(int(inner.argmax()), inner.shape)
        height, width = strength.shape
        left, top, across, down = self.box
        return (
            (left + (column + rim + 0.5) / width * across) / self.plan.pixels.width,
            (top + (row + rim + 0.5) / height * down) / self.plan.pixels.height,
        )
