"""The controls of line 3, Crop. Numbers come from the plan."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent, QWheelEvent
from PySide6.QtWidgets import QVBoxLayout

from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.margin.fit_choice import FitChoice
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.model.view import GUIDES, OFF, SURROUNDS
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, NoteBox, clear, row, text
from zinc_margin.desktop.widgets.refusals import refusable
from zinc_margin.docket.crop import CropLine
from zinc_margin.docket.docket import check_value
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.lengths import parse_length, parse_number
from zinc_margin.measure.sizes import parse_ratio
from zinc_margin.photo.subject_detection import Found, found_words
from zinc_margin.plan.crop import framing, turns
from zinc_margin.plan.model import Plan
from zinc_margin.plan.text.lines import picture_words

_SIDES = {
    "width": "Width of the frame",
    "height": "Height of the frame",
    "left": "Frame from the left",
    "top": "Frame from the top",
}


class AngleField(Field):
    """Degrees; the arrow keys step by a hundredth, the wheel by a tenth."""

    def __init__(self, take: Callable[[str], None], step: Callable[[Fraction], None]) -> None:
        super().__init__(
            "Rotate, degrees clockwise",
            take,
            70,
            "Arrow keys: 0.01°, with Shift 0.1°. Wheel: 0.1°.",
        )
        self._step = step

    @refusable
    def keyPressEvent(self, event: QKeyEvent) -> None:
        sign = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1}.get(Qt.Key(event.key()))
        if sign is None:
            super().keyPressEvent(event)
            return
        large = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        self._step(Fraction(sign, 10 if large else 100))

    @refusable
    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.angleDelta().y():
            self._step(Fraction(1 if event.angleDelta().y() > 0 else -1, 10))
        event.accept()


class CropBody(Body):
    """3: the part of the picture to print."""

    def build(self) -> None:
        self.fit = FitChoice(partial(self._take_word, "fit"))
        self.column.addWidget(self.fit)
        self.border = Field("Least border", self._take_border, 70)
        self._border = self.held("Border", self.border, "at least, all round")
        self.shape = Field(
            "Shape of the frame",
            self._take_shape,
            82,
            "A ratio, for example 16:9, 5/4 or 1.618. The print then has no fixed size.",
        )
        self.free = Link("free", self._free, "The print takes the frame's shape and size")
        self.as_photo = Link("as photo", self._as_photo, "The whole picture's shape")
        self.column.addLayout(row("Shape", self.shape, self.free, self.as_photo))
        self.sides = {
            side: Field(
                name,
                partial(self._take_side, side),
                70,
                "Pixels of the picture, or a length on the print with its unit: 1200, 12 cm",
            )
            for side, name in _SIDES.items()
        }
        self.column.addLayout(row("Frame", self.sides["width"], "×", self.sides["height"], "px"))
        self.column.addLayout(row("From", self.sides["left"], ",", self.sides["top"], "px"))
        self._frame = text("", soft=True)
        self.column.addWidget(self._frame)
        self.angle = AngleField(self._take_angle, self._turn_by)
        self.less = Link("−0.01", partial(self._turn_by, Fraction(-1, 100)))
        self.more = Link("+0.01", partial(self._turn_by, Fraction(1, 100)))
        self.level = Link(
            "straighten along a line",
            partial(self.shell.begin_crop, "level"),
            "Draw along an edge that should be level or upright (L)",
        )
        self.column.addLayout(row("Rotate", self.angle, self.less, self.more))
        self.left = Link(
            "quarter left", partial(self.turn_quarter, False), "By 90° counter-clockwise ([)"
        )
        self.right = Link("quarter right", partial(self.turn_quarter, True), "By 90° clockwise (])")
        self.mirror = Link("mirror", self.mirror_it, "Mirror left and right (M)")
        self.column.addLayout(row("", self.level))
        self.column.addLayout(row("", self.left, self.right, self.mirror))
        self.guide = Choice("Guides", tuple(GUIDES.items()), partial(self._look, "guide"), 128)
        self.grid = Field("Columns and rows of the grid", self._take_grid, 56)
        self.column.addLayout(row("Guides", self.guide, self.grid))
        self.off = Choice("Trimmed part", tuple(OFF.items()), partial(self._look, "off"), 84)
        self.surround = Choice(
            "Surround", tuple(SURROUNDS.items()), partial(self._look, "surround"), 96
        )
        self.column.addLayout(row("Trimmed part", self.off, self.surround))
        self.mark = Link(
            "set it", partial(self.shell.begin_crop, "mark"), "Then click on the subject (I)"
        )
        self.seek = Link("find it", self._find, "Faces, else the most salient region")
        self.unmark = Link("remove it", partial(self.table.put_mark, None))
        self.column.addLayout(row("Subject", self.mark, self.seek, self.unmark))
        self._offer = QVBoxLayout()
        self.column.addLayout(self._offer)
        self._offered_for: Print | None = None
        self.largest = Link("largest centred frame", self._reset)
        self.column.addLayout(row("", self.largest))

    def _look(self, field: str, key: str) -> None:
        self.table.look(**{field: key})

    def show_plan(self, one: Print, plan: Plan) -> None:
        line, units, view = one.docket.crop, self.table.units, self.table.view
        self.fit.show_print(one, units)
        self._border.setVisible(line.fit == "border")
        self.border.show_value(words.small(min(plan.bands_mm.left, plan.bands_mm.top), units))
        frame = framing.current_frame(plan)
        near = (frame.width / frame.height).limit_denominator(2000)
        self.shape.show_value(words.shape(near.numerator, near.denominator).removeprefix("about "))
        self.free.setEnabled(not framing.is_free(one.docket))
        for side, field in self.sides.items():
            field.show_value(words.trimmed_zeros(getattr(frame, side), 2))
            field.setEnabled(line.fit == "trim")
        free = ", free shape" if framing.is_free(one.docket) else ""
        self._frame.setText(f"{picture_words(plan, units)}{free}.")
        self.angle.show_value(f"{words.trimmed_zeros(line.turn, 2)}°")
        self.guide.show_value(view.guide)
        self.grid.setVisible(view.guide == "grid")
        self.grid.show_value(f"{view.grid[0]} × {view.grid[1]}")
        self.off.show_value(view.off)
        self.surround.show_value(view.surround)
        if self._offered_for is not one:
            clear(self._offer)
        self.unmark.setVisible(one.facts.subject is not None)
        fresh = replace(CropLine(), fit=line.fit, turn=line.turn, mirror=line.mirror)
        self.largest.setEnabled(replace(line, border_mm=None, extra={}) != fresh)

    def _find(self) -> None:
        clear(self._offer)
        self._offer.addWidget(text("Searching for faces …", soft=True))
        self.shell.find_subject(self._offer_found)

    def _offer_found(self, found: Found | None) -> None:
        """Offer the detected subject, without deciding anything."""
        clear(self._offer)
        self._offered_for = self.table.current
        words_ = found_words(found)
        said = f"{words_[:1].upper()}{words_[1:]}."
        if found is None:
            self._offer.addWidget(text(said, soft=True))
            return

        def take() -> None:
            clear(self._offer)
            self.table.put_mark((found.x, found.y))

        self._offer.addWidget(NoteBox(said, (("Use as the subject point", take),)))

    def _plan(self) -> Plan | None:
        one = self.table.current
        return one.plan() if one is not None else None

    def _take_border(self, typed: str) -> None:
        unit = "in" if words.unit(self.table.units) == "in" else "mm"
        border = parse_length(typed, unit) if typed and typed != "0" else None
        self.decide(border_mm=border if typed != "0" else Fraction(0))

    def _take_shape(self, typed: str) -> None:
        plan = self._plan()
        if plan is None:
            return
        ratio = parse_ratio(typed)
        self.table.lay(framing.reshape(plan, ratio))
        made, other = self._plan(), plan.again(framing.reshape(plan, ratio, "short-edge"))
        if made is not None and made.size != other.size:
            units = self.table.units
            self.table.offer(
                f"The print keeps its longer side: {_sides(made, units)}.",
                f"Keep the shorter side: {_sides(other, units)}",
                partial(self.table.lay, other.docket),
            )

    def _free(self) -> None:
        plan = self._plan()
        if plan is not None:
            self.table.lay(framing.free_shape(plan))

    def _as_photo(self) -> None:
        plan = self._plan()
        if plan is not None:
            self.table.lay(framing.as_photo(plan))

    def _take_side(self, side: str, typed: str) -> None:
        plan = self._plan()
        if plan is None:
            return
        plain = typed.lower().removesuffix("px").strip()
        if re.fullmatch(r"[\d.,]+", plain):
            value = Fraction(0) if plain in ("0", "0.0") else parse_number(plain)
        else:
            value = parse_length(typed) * plan.px_per_mm
        self.table.lay(framing.with_frame(plan, framing.type_side(plan, side, value)))

    def _take_angle(self, typed: str) -> None:
        plain = typed.replace("°", "").strip()
        sign = -1 if plain.startswith(("-", "−")) else 1
        number = plain.lstrip("-−+ ")
        angle = sign * (Fraction(0) if number in ("0", "") else parse_number(number, "angle"))
        self._turn_to(check_value("crop", "turn", str(angle)))

    def _turn_by(self, step: Fraction) -> None:
        one = self.table.current
        if one is not None:
            self._turn_to(one.docket.crop.turn + step)

    def _turn_to(self, angle: Fraction) -> None:
        plan = self._plan()
        if plan is not None:
            self.table.lay(turns.rotate_to(plan, angle))

    def turn_quarter(self, right: bool) -> None:
        """Turn the picture by 90°."""
        plan = self._plan()
        if plan is not None:
            self.table.lay(turns.quarter(plan, right))

    def mirror_it(self) -> None:
        """Mirror the visible picture."""
        plan = self._plan()
        if plan is not None:
            self.table.lay(turns.mirror(plan))

    def _take_grid(self, typed: str) -> None:
        match = re.fullmatch(r"\s*(\d+)\s*[x×*]\s*(\d+)\s*", typed)
        grid = (int(match[1]), int(match[2])) if match else (0, 0)
        if not all(1 <= part <= 40 for part in grid):
            raise BadRequest(f"“{typed}” is not a grid. Type columns and rows, for example 4 × 3.")
        self.table.look(grid=grid)

    def _reset(self) -> None:
        one = self.table.current
        if one is not None:
            line = one.docket.crop
            fresh = replace(CropLine(), fit=line.fit, turn=line.turn, mirror=line.mirror)
            self.table.lay(replace(one.docket, crop=fresh))


def _sides(plan: Plan, units: str) -> str:
    return words.pair(plan.size.width_mm, plan.size.height_mm, units)
