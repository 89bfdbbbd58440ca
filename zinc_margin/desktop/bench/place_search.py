"""Places found by a search: faces, and the most new detail."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from weakref import WeakKeyDictionary

from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.services.work import Lane
from zinc_margin.keeping.job import Job
from zinc_margin.photo.pixels import Photo
from zinc_margin.photo.subject_detection import faces_in
from zinc_margin.pixels.new_detail import invention
from zinc_margin.plan.crop.places import on_print
from zinc_margin.plan.model import Plan

Place = tuple[str, tuple[float, float]]
_SIDE = 160
_GRID = (0.15, 0.5, 0.85)


class Searched:
    """Searches once per photo, and once per method of enlarging it.

    Parameters
    ----------
    told : callable
        Called when something has been found.
    """

    def __init__(self, told: Callable[[], None]) -> None:
        self.lane = Lane(keeps_all=True)
        self._told = told
        self._faces: WeakKeyDictionary[Print, tuple[float, float] | None] = WeakKeyDictionary()
        self._added: WeakKeyDictionary[Print, tuple[object, tuple[float, float] | None]]
        self._added = WeakKeyDictionary()

    def places(self, one: Print, plan: Plan) -> list[Place]:
        """Return the result so far."""
        result: list[Place] = []
        face = self.face(one, plan)
        if face is not None:
            result.append(("largest face", face))
        key, added = self._added.get(one, (None, None))
        if added is not None and key == _key(plan):
            result.append(("most new detail", added))
        return result

    def look(self, one: Print, plan: Plan) -> bool:
        """Start searching; return whether there is anything left to search for."""
        photo = one.photo
        if photo is None:
            return False
        begun = self.look_for_face(one)
        if plan.pixels.doublings and self._added.get(one, (None, None))[0] != _key(plan):
            key, begun = _key(plan), True
            self._added[one] = key, None
            self.lane.run(
                lambda job: _newest_detail(photo, plan, job),
                partial(self._take_added, one, key),
            )
        return begun

    def look_for_face(self, one: Print) -> bool:
        """Start searching for faces; return whether that is new."""
        photo = one.photo
        if photo is None or one in self._faces:
            return False
        self._faces[one] = None
        self.lane.run(lambda job: _largest_face(photo), lambda place: self._take(one, place))
        return True

    def face(self, one: Print, plan: Plan) -> tuple[float, float] | None:
        """Return the largest face, 0–1 each way of the print; None if none is found (yet)."""
        face = self._faces.get(one)
        return None if face is None else on_print(plan, *face)

    def _take(self, one: Print, place: tuple[float, float] | None) -> None:
        self._faces[one] = place
        self._told()

    def _take_added(self, one: Print, key: object, place: tuple[float, float]) -> None:
        self._added[one] = key, place
        self._told()


def _key(plan: Plan) -> object:
    return repr((plan.pixels, plan.crop))


def _largest_face(photo: Photo) -> tuple[float, float] | None:
    """Return the centre of the largest face, in pixels of the photo; between faces is nothing."""
    faces = faces_in(photo.codes)
    if not faces:
        return None
    left, top, side = max(faces, key=lambda face: face[2])
    longer = max(photo.facts.width, photo.facts.height)
    return (left + side / 2) * longer, (top + side / 2) * longer


def _newest_detail(photo: Photo, plan: Plan, job: Job) -> tuple[float, float]:
    """Return the place with the most new detail, of a grid and the measured places."""
    pixels, measured = plan.pixels, plan.measured
    told = [on_print(plan, x, y) for _, x, y in measured.places] if measured else []
    grid = [(x, y) for y in _GRID for x in _GRID]
    best, most = (0.5, 0.5), -1.0
    for x, y in (*grid, *(place for place in told if place is not None)):
        width, height = min(_SIDE, pixels.width), min(_SIDE, pixels.height)
        left = min(pixels.width - width, max(0, round(x * pixels.width - width / 2)))
        top = min(pixels.height - height, max(0, round(y * pixels.height - height / 2)))
        part = left, top, width, height
        added = float(invention(photo, plan, part, job).moved.mean())
        if added > most:
            best, most = (x, y), added
    return best
