"""The command `hang`: a picture of a print on a photographed wall, at true size."""

from __future__ import annotations

import argparse
from dataclasses import replace
from pathlib import Path

from zinc_margin.commands.as_json import print_json
from zinc_margin.commands.decisions import checked_plan, docket_of, with_subject
from zinc_margin.commands.decisions import declare as declare_decisions
from zinc_margin.commands.units import units_of
from zinc_margin.keeping.own_walls import OwnWall, OwnWalls
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.room_marks import RoomMarks, Spot, parse_apart, parse_spots
from zinc_margin.measure.sizes import parse_size


def declare_hang(parser: argparse.ArgumentParser) -> None:
    """Declare the options of `hang`."""
    declare_decisions(parser)
    add = parser.add_argument
    add("--room", metavar="FILE", help="photograph of the room")
    add("--points", metavar="PLACES", help='two places on the wall, in pixels: "412,880 1630,884"')
    add("--apart", metavar="LENGTH", help="their distance on the wall: 240cm")
    add("--corners", metavar="PLACES", help="four corners of a rectangle on the wall")
    add(
        "--corners-size",
        metavar="SIZE",
        help=("the rectangle's size, instead of two places: 90x200cm"),
    )
    add("--hang-at", metavar="PLACE", help="centre of the print, in pixels")
    add("--wall", metavar="NAME", help="a saved wall, instead of the above")
    add("--keep-wall", metavar="NAME", help="save these marks under a name")
    add("--out", metavar="FILE", required=True, help="picture to write (.png)")
    add("--overwrite", action="store_true", help="replace FILE if it exists")
    parser.set_defaults(run=_hang)


def _hang(options: argparse.Namespace) -> int:
    from zinc_margin.handoff.on_wall import hang_in, read_room, small_page, write_hung
    from zinc_margin.photo.pixels import read_photo
    from zinc_margin.plan.finish.wall import hung_size

    docket = docket_of(options)
    wall = _saved_wall(options.wall) if options.wall is not None else None
    if wall is None and options.room is None:
        raise BadRequest("Give the room with --room FILE, or a saved wall with --wall NAME.")
    room = read_room(wall.photo if wall is not None else Path(options.room))
    if wall is not None:
        marks, middle = wall.marks, wall.middle
        if (marks.width, marks.height) != (room.marks.width, room.marks.height):
            raise BadRequest(
                f"{room.path.name} is not the photograph that you marked. Mark it again."
            )
    else:
        marks, middle = _with_marks(options, room.marks), None
    if options.hang_at is not None:
        (middle,) = parse_spots(options.hang_at, 1)
    photo = with_subject(read_photo(options.photo, page=docket.photo.page), options)
    plan = checked_plan(photo.facts, docket, options)
    small = plan.small(min(4000, max(marks.width, marks.height)))
    codes = hang_in(room.codes, marks, small_page(photo, small), plan, middle)
    out = Path(options.out)
    write_hung(out, codes, (photo.facts.path, room.path), options.overwrite)
    if options.keep_wall is not None:
        OwnWalls().keep(OwnWall(options.keep_wall, room.path.absolute(), marks, middle))
    wide, high = hung_size(plan)
    if options.json:
        print_json({"file": str(out), "hung_mm": [wide, high]})
        return 0
    print(f"Written: {out}; {words.pair(wide, high, units_of(options))} at true size.")
    return 0


def _saved_wall(name: str) -> OwnWall:
    walls = OwnWalls()
    wall = walls.find(name)
    if wall is None:
        known = ", ".join(one.name for one in walls.all) or "none is saved yet"
        raise BadRequest(f"You have no wall called “{name}”. Choose one of: {known}.")
    return wall


def _with_marks(options: argparse.Namespace, marks: RoomMarks) -> RoomMarks:
    unit = units_of(options)
    if options.points is not None:
        one, other = parse_spots(options.points, 2)
        marks = replace(marks, points=(one, other))
    if options.apart is not None:
        marks = replace(marks, apart_mm=parse_apart(options.apart, unit))
    if options.corners is not None:
        a, b, c, d = parse_spots(options.corners, 4)
        corners: tuple[Spot, Spot, Spot, Spot] = a, b, c, d
        marks = replace(marks, corners=corners)
    if options.corners_size is not None:
        marks = replace(marks, sides=parse_size(options.corners_size, unit))
    return marks
