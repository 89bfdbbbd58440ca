"""The user's walls: photographs of rooms, each with marks."""

from __future__ import annotations

from dataclasses import dataclass, replace
from pathlib import Path
from typing import Any

from zinc_margin.gate.values import (
    figure,
    list_of,
    name_from,
    number,
    plain,
    record,
    size_from,
    text_from,
    whole,
)
from zinc_margin.keeping.own import OwnThings
from zinc_margin.measure.lengths import plain_text
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


_SPOT = list_of(figure(-_MOST_PX, _MOST_PX), 2, 2)
_WALL = record(
    {
        "name": text_from,
        "photo": name_from,
        "width": whole(1, _MOST_PX),
        "height": whole(1, _MOST_PX),
    },
    {
        "points": list_of(_SPOT, 2, 2),
        "apart_mm": number(1, _MOST_PX),
        "corners": list_of(_SPOT, 4, 4),
        "sides": size_from,
        "focal_px": figure(1, _MOST_PX),
        "middle": list_of(_SPOT, 1, 1),
    },
)


class OwnWalls(OwnThings[OwnWall]):
    """Walls, each with its photograph's path and marks."""

    word = "wall"
    most = 200

    def keep(self, wall: OwnWall) -> None:
        """Add a wall, replacing one with the same name."""
        self._put(replace(wall, name=self._named(wall.name, lambda _: False)))

    @classmethod
    def _read(cls, entry: Any) -> OwnWall:
        fields = _WALL(entry)
        name, photo, middle = fields.pop("name"), fields.pop("photo"), fields.pop("middle")
        return OwnWall(name, Path(photo), RoomMarks(**fields), middle and middle[0])

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
