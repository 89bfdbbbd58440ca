"""A print on the user's wall: a photograph of the room and a known length on its wall."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import replace
from pathlib import Path

import numpy as np
from PIL import Image
from PySide6.QtWidgets import QFileDialog, QWidget

from zinc_margin.desktop.dialogs.page import PageDialog
from zinc_margin.desktop.dialogs.room_view import RoomView
from zinc_margin.desktop.model.prints import Print
from zinc_margin.desktop.services.work import Job, Lane
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, image_of_rgb, row, text
from zinc_margin.handoff.on_wall import Room, hang_in, read_room, small_page, write_hung
from zinc_margin.keeping.own_walls import OwnWall, OwnWalls
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.room_marks import RoomMarks, Spot, parse_apart, scaled_spot
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo.endings import PHOTO_ENDINGS, with_both_cases
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.finish.own_wall import hang_print, usual_middle, view_of
from zinc_margin.plan.finish.wall import hung_size

_SEEN_PX, _WRITTEN_PX = 1500, 4000
_KINDS = f"Photos ({with_both_cases(PHOTO_ENDINGS)})"
_NOTHING = (
    "Choose a photograph of the wall, taken upright. Then drag the two crosses to points "
    "with a known distance: the ends of a sideboard, or the sides of a door."
)
_HAND = (
    "Drag the crosses and the print, and type the distance of the crosses. If the wall is "
    "seen at an angle, also mark four corners of a door, a window or a picture. Keys: Space, "
    "arrows."
)


class WallDialog(PageDialog):
    """Hangs the current print in a photographed room, and saves the picture.

    Parameters
    ----------
    units : str
        Units of displayed lengths, and of numbers without a unit.
    """

    page: RoomView

    def __init__(self, parent: QWidget, one: Print, units: str) -> None:
        super().__init__(
            parent, "On your own wall", RoomView(self._moved, self._tell), "Save the picture …"
        )
        self._one, self._units, self.plan = one, units, one.plan()
        self.room: Room | None = None
        self._small: np.ndarray | None = None
        self._pages: dict[int, np.ndarray] = {}
        self.reading = Lane()
        self.walls = OwnWalls()
        self.page.setMinimumSize(760, 420)
        self.which = Choice("Wall", (), self._take_wall, 240)
        self.choose = Link("choose a photograph …", self.ask_room, "JPEG, TIFF, PNG …")
        self.forget = Link("remove this wall", self._forget, "Its photograph is kept")
        self.apart = Field("Distance of the crosses", self._take_apart, 90, "2 m, 90 cm, 36 in")
        self.apart.show_value("2 m" if units == "cm" else "80 in")
        self.corners = Link("mark four corners", self._take_corners)
        self.sides = Field(
            ("Size of the marked rectangle"), self._take_sides, 110, "A door: 90 x 200 cm"
        )
        self.told = text(_NOTHING, soft=True)
        self.lay_out(
            (row("Wall", self.which, self.choose, self.forget),),
            (
                row("Crosses are", self.apart, "apart"),
                row("In perspective", self.corners, "its size, if known", self.sides),
            ),
            told=self.told,
        )
        self.save.setEnabled(False)
        self._list_walls()
        self._allow(False)
        if self.walls.all:
            self._take_wall(self.walls.all[-1].name)

    # the room

    def _list_walls(self, chosen: str = "") -> None:
        self.which.clear()
        for wall in self.walls.all:
            self.which.addItem(wall.name, wall.name)
        self.which.setVisible(bool(self.walls.all))
        self.forget.setVisible(bool(self.walls.all))
        if chosen:
            self.which.show_value(chosen)

    def _allow(self, is_room: bool) -> None:
        for part in (self.apart, self.corners, self.sides):
            part.setEnabled(is_room)
        marked = is_room and self.page.marks is not None and self.page.marks.corners is not None
        self.sides.setEnabled(marked)
        self.apart.setEnabled(is_room and not self.page.by_sides)
        self.corners.setText("without corners" if marked else "mark four corners")

    def ask_room(self) -> None:
        """Ask for a photograph of a room."""
        path, _ = QFileDialog.getOpenFileName(
            self, "Photograph of the wall", str(Path.home()), _KINDS
        )
        if path:
            self.open_room(Path(path))

    def open_room(self, path: Path, wall: OwnWall | None = None) -> None:
        """Read a photograph of a room, and show the print in it."""
        self.told.setText(f"Reading {path.name} …")

        def done(room: Room) -> None:
            kept = wall or next((one for one in self.walls.all if one.photo == path), None)
            self._show_room(room, kept)

        def failed(why: ZincError) -> None:
            self.told.setText(str(why))

        self.reading.run(lambda job: read_room(path.absolute()), done, failed)

    def _show_room(self, room: Room, wall: OwnWall | None) -> None:
        self.room = room
        size = room.marks.width, room.marks.height
        self._small = np.asarray(_reduce(room.codes))
        if wall is not None and (wall.marks.width, wall.marks.height) == size:
            marks, middle = wall.marks, wall.middle
            if marks.apart_mm is not None:
                self.apart.show_value(words.length(marks.apart_mm, self._units))
            self.sides.show_value("" if marks.sides is None else marks.sides.label)
        else:
            wide, high = size
            points = (0.3 * wide, 0.62 * high), (0.7 * wide, 0.62 * high)
            apart = parse_apart(self.apart.text(), self._units)
            marks, middle = replace(room.marks, points=points, apart_mm=apart), None
            self.sides.show_value("")
        if middle is None:
            view = view_of(marks)
            middle = view.spot(*usual_middle(view, marks))
        self.page.show_room(image_of_rgb(self._small), marks, middle)
        self._allow(True)
        self.told.setText(_HAND)
        self._again()

    def _take_wall(self, name: str) -> None:
        self.which.show_value(name)
        wall = self.walls.find(name)
        if wall is not None:
            self.open_room(wall.photo, wall)

    def _forget(self) -> None:
        name = self.which.value
        if name:
            try:
                self.walls.remove(name)
            except ZincError as why:
                self.told.setText(str(why))
                return
            self._list_walls()

    # the marks

    def _marks(self) -> RoomMarks:
        if self.page.marks is None:
            raise BadRequest(_NOTHING)
        return self.page.marks

    def _take_apart(self, typed: str) -> None:
        apart = parse_apart(typed, self._units)
        self.page.marks = replace(self._marks(), apart_mm=apart)
        self._again()

    def _take_sides(self, typed: str) -> None:
        sides = parse_size(typed, self._units) if typed.strip() else None
        self.page.marks = replace(self._marks(), sides=sides)
        self._allow(True)
        self._again()

    def _take_corners(self) -> None:
        marks = self._marks()
        if marks.corners is None:
            wide, high = marks.width, marks.height
            left, right, top, bottom = 0.35 * wide, 0.65 * wide, 0.3 * high, 0.75 * high
            corners = (left, top), (right, top), (right, bottom), (left, bottom)
            self.page.marks = replace(marks, corners=corners)
        else:
            self.page.marks = replace(marks, corners=None, sides=None)
            self.sides.show_value("")
        self._allow(True)
        self._again()

    def _moved(self, marks: RoomMarks, middle: Spot) -> None:
        self._again()

    def _tell(self) -> None:
        chosen = self.page.chosen
        self.told.setText(_HAND if chosen is None else f"Selected: {chosen}. Arrows move it.")
        self.page.setAccessibleDescription(self.told.text())

    # the print

    def _again(self) -> None:
        """Render the room with the print again."""
        marks, middle = self._marks(), self.page.middle
        self.page.label = (
            "" if marks.apart_mm is None else words.length(marks.apart_mm, self._units)
        )
        wide, high = hung_size(self.plan)
        size = words.pair(wide, high, self._units)
        try:
            view = view_of(marks)
            self.page.outline = hang_print(self.plan, view, view.on_wall(middle)).face
        except BadRequest as why:
            self.page.outline = ()
            self.sentence.setText(str(why))
            self.save.setEnabled(False)
            return
        self.sentence.setText(f"{size} at true size.")
        self.save.setEnabled(True)
        room = self._small
        assert room is not None
        by = room.shape[1] / marks.width
        small, at = marks.scaled(by), scaled_spot(middle, by)

        def work(job: Job) -> np.ndarray:
            return hang_in(room, small, self._page(_SEEN_PX), self.plan, at)

        def show(codes: np.ndarray) -> None:
            if self._small is room:
                self.page.show_image(image_of_rgb(codes))

        self.lane.run(work, show, self._failed)

    def _page(self, longest: int) -> np.ndarray:
        """Return the print's page; runs in a worker."""
        if longest not in self._pages:
            photo = self._one.photo or read_photo(self._one.facts.path, measured=False)
            self._pages[longest] = small_page(photo, self.plan.small(longest))
        return self._pages[longest]

    def _failed(self, why: ZincError) -> None:
        self.sentence.setText(str(why))

    # The output.

    def ask_where(self) -> None:
        """Ask for the file, and write it."""
        near = self._one.facts.path.with_name(f"{self._one.name}-on-the-wall.png")
        path, _ = QFileDialog.getSaveFileName(self, "Save the picture", str(near), "PNG (*.png)")
        if path:
            self.write(Path(path))

    def write(self, path: Path) -> None:
        """Write the room with the print, and save the wall for other prints."""
        room, middle = self.room, self.page.middle
        if room is None:
            return
        marks, source = self._marks(), self._one.facts.path
        self.save.setEnabled(False)

        def work(job: Job) -> None:
            codes = hang_in(room.codes, marks, self._page(_WRITTEN_PX), self.plan, middle)
            write_hung(path, codes, (source, room.path), True)
            self.walls.keep(_wall(room, marks, middle))

        def done(_: None) -> None:
            self.save.setEnabled(True)
            self.sentence.setText(f"Written: {path.name}, in {path.parent.name}.")
            self._list_walls(_wall(room, marks, middle).name)

        def failed(why: ZincError) -> None:
            self.save.setEnabled(True)
            self.sentence.setText(str(why))

        self.reading.run(work, done, failed)

    def done(self, result: int) -> None:
        room, marks = self.room, self.page.marks
        if room is not None and marks is not None:
            with suppress(ZincError):  # an unsaved wall must be marked again next time
                self.walls.keep(_wall(room, marks, self.page.middle))
        self.reading.stop()
        super().done(result)


def _wall(room: Room, marks: RoomMarks, middle: Spot) -> OwnWall:
    """Return the marks to save, named after the photograph."""
    return OwnWall(room.path.stem[:60], room.path, marks, middle)


def _reduce(codes: np.ndarray) -> Image.Image:
    image = Image.fromarray(codes)
    image.thumbnail((_SEEN_PX, _SEEN_PX), Image.Resampling.LANCZOS)
    return image
