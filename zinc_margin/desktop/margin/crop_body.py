"""What unfolds in line 3, Crop. Numbers come from the plan."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from ...docket import store
from ...docket.docket import CropLine
from ...measure import words
from ...measure.lengths import parse_number
from ...plan import framing
from ...plan.model import Plan
from ..parts import Field, Link, Switch, row, text
from ..state import Print
from .body import Body


class CropBody(Body):
    """3: what of the picture is printed."""

    def build(self) -> None:
        self.fit = Switch(
            "Fit", (("trim", "trim to fill"), ("whole", "whole, with bands")), self._take_fit
        )
        self.angle = Field("Turn, degrees clockwise", self._take_angle, 70)
        self.less = Link("−0.1", lambda: self._turn_by(Fraction(-1, 10)))
        self.more = Link("+0.1", lambda: self._turn_by(Fraction(1, 10)))
        self.left = Link("quarter left", lambda: self._turn_by(Fraction(-90)))
        self.right = Link("quarter right", lambda: self._turn_by(Fraction(90)))
        self.largest = Link("largest frame, centred", self._reset)
        self.column.addLayout(row("Fit", self.fit))
        self.column.addLayout(row("Turn", self.angle, self.less, self.more))
        self.column.addLayout(row("", self.left, self.right))
        self.column.addLayout(row("Frame", self.largest))
        self._frame = text("", soft=True)
        self.column.addWidget(self._frame)

    def show_plan(self, one: Print, plan: Plan) -> None:
        line = one.docket.crop
        self.fit.show_value(line.fit)
        self.angle.show_value(f"{words.trimmed_zeros(line.turn, 2)}°")
        crop = plan.crop
        parts = [
            words.trimmed_zeros(side, 1) for side in (crop.width, crop.height, crop.left, crop.top)
        ]
        self._frame.setText(
            f"{parts[0]} × {parts[1]} px of the picture, from {parts[2]}, {parts[3]}."
        )
        default = (line.frame, line.place_x, line.place_y) == (None, Fraction(1, 2), Fraction(1, 2))
        self.largest.setEnabled(not default)

    def _take_fit(self, key: str) -> None:
        self.decide(fit=key)

    def _take_angle(self, typed: str) -> None:
        plain = typed.replace("°", "").strip()
        sign = -1 if plain.startswith(("-", "−")) else 1
        angle = sign * parse_number(plain.lstrip("-−+ "), "number of degrees")
        self._turn_to(store.checked("crop", "turn", str(angle)))

    def _turn_by(self, step: Fraction) -> None:
        one = self.table.current
        if one is not None:
            self._turn_to(one.docket.crop.turn + step)

    def _turn_to(self, angle: Fraction) -> None:
        one = self.table.current
        if one is not None:
            self.table.lay(framing.turned_by(one.plan(), angle))

    def _reset(self) -> None:
        one = self.table.current
        if one is not None:
            line = replace(CropLine(), fit=one.docket.crop.fit, turn=one.docket.crop.turn)
            self.table.lay(replace(one.docket, crop=line))
