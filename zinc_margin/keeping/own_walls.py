"""The user's walls: photographs of rooms, each with marks."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from zinc_margin.keeping.own import OwnThings
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.plain import Wrong, number, plain, size_from, text_from
from zinc_margin.measure.room_marks import RoomMarks, Spot

_MOST_PX = 10**6


@dataclass(frozen=True)
class OwnWall:
    """A photograph of a room with marks.

    Attributes
    ----------
    name : str
    photo : Path
    marks : RoomMarks
    middle : Spot or None
        The centre of hung prints, in pixels of the photograph; None until one is moved.
    """

    name: str
    photo: Path
    marks: RoomMarks
    middle: Spot | None = None


class OwnWalls(OwnThings[OwnWall]):
    """Walls, each with its photograph's path and marks."""

    word = "wall"
    most = 200

    def keep(self, wall: OwnWall) -> None:
        """Add a wall, replacing one with the same name."""
        self._put(replace(wall, name=self._named(wall.name, lambda _: False)))

    @classmethod
    def _read(cls, entry: Any) -> OwnWall:
        points = _spots(entry.get("points"), 2)
        corners = _spots(entry.get("corners"), 4)
        sides, apart = entry.get("sides"), entry.get("apart_mm")
        focal, middle = entry.get("focal_px"), _spots(entry.get("middle"), 1)
        marks = RoomMarks(
            int(number(1, _MOST_PX)(entry["width"])),
            int(number(1, _MOST_PX)(entry["height"])),
            None if points is None else (points[0], points[1]),
            None if apart is None else number(1, _MOST_PX)(apart),
            None if corners is None else (corners[0], corners[1], corners[2], corners[3]),
            None if sides is None else size_from(sides),
            None if focal is None else float(number(1, _MOST_PX)(focal)),
        )
        return OwnWall(
            text_from(entry["name"]),
            Path(text_from(entry["photo"])),
            marks,
            None if middle is None else middle[0],
        )

    @classmethod
    def _plain(cls, thing: OwnWall) -> Any:
        marks = thing.marks
        return {
            "name": thing.name,
            "photo": str(thing.photo),
            "width": marks.width,
            "height": marks.height,
            "points": _plain_spots(marks.points),
            "apart_mm": plain(marks.apart_mm),
            "corners": _plain_spots(marks.corners),
            "sides": plain(marks.sides),
            "focal_px": None if marks.focal_px is None else round(marks.focal_px, 2),
            "middle": None if thing.middle is None else _plain_spots((thing.middle,)),
        }

    @classmethod
    def _name(cls, thing: OwnWall) -> str:
        return plain_text(thing.name)


def _plain_spots(spots: tuple[Spot, ...] | None) -> list[list[float]] | None:
    return None if spots is None else [[round(x, 2), round(y, 2)] for x, y in spots]


def _spots(raw: Any, count: int) -> tuple[Spot, ...] | None:
    if raw is None:
        return None
    if not isinstance(raw, list) or len(raw) != count:
        raise Wrong(f"does not have {count} places")
    spots = []
    for each in raw:
        if not isinstance(each, list) or len(each) != 2:
            raise Wrong("has a place without two numbers")
        across, down = (float(number(-_MOST_PX, _MOST_PX)(side)) for side in each)
        spots.append((across, down))
    return tuple(spots)
