"""What unfolds in the first three lines: Photo, Size and Crop. Numbers come from the plan."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

from ...docket import store
from ...docket.docket import CropLine
from ...measure import words
from ...measure.lengths import parse_length, parse_number
from ...measure.resolution import parse_ppi
from ...measure.sizes import parse_size
from ...measure.ways import parse_way
from ...plan import framing
from ...plan.answers import answers
from ...plan.model import Plan
from ...plan.notes import tag_sentence
from ..parts import Field, Link, Switch, row, text
from ..state import Print
from .body import Body


class PhotoBody(Body):
    """1: what the file is, and what its tag is worth."""

    def build(self) -> None:
        self._facts = text("", soft=True)
        self._true = text("")
        self.column.addWidget(self._true)
        self.column.addWidget(self._facts)

    def show_plan(self, one: Print, plan: Plan) -> None:
        facts = one.facts
        told = any(note.code == "tag-is-a-note" for note in plan.notes)
        self._true.setVisible(not told)
        self._true.setText(tag_sentence(facts, plan.target_ppi, self.table.units))
        parts = [f"{facts.path.name}, {words.size_in_bytes(facts.file_bytes)}."]
        if facts.orientation > 1:
            parts.append("Stored turned; shown upright as its flag says.")
        if facts.measured is not None:
            parts.append(f"Noise {facts.measured.noise:.2f} L*, left alone by sharpening.")
        self._facts.setText(" ".join(parts))


class SizeBody(Body):
    """2: how large, how fine, from where."""

    def build(self) -> None:
        self.print_size = Field("Print size", self._take_size, 118)
        self.other = text("", soft=True, wrap=False)
        self.ppi = Field("Resolution asked of it", self._take_ppi, 82)
        self.ppi_hint = text("", soft=True, wrap=False)
        self.floor = Field("Lowest resolution you take", self._take_floor, 82)
        self.floor_hint = text("", soft=True, wrap=False)
        self.distance = Field("Seen from", self._take_distance, 82)
        self.distance_hint = text("", soft=True, wrap=False)
        self.turn = Link("turn it the other way", self.swap, "R")
        self.column.addLayout(row("Size", self.print_size, self.other))
        self.column.addLayout(row("", self.turn))
        self.column.addLayout(row("Asked of it", self.ppi, self.ppi_hint))
        self.column.addLayout(row("Lowest I take", self.floor, self.floor_hint))
        self.column.addLayout(row("Seen from", self.distance, self.distance_hint))
        self._why = text("")
        self.column.addWidget(self._why)
        self._answers = text("", soft=True)
        self.column.addWidget(self._answers)

    def swap(self) -> None:
        """Turn the size by a quarter against the photo, or back."""
        one = self.table.current
        if one is not None:
            line = one.docket.size
            lie = "auto" if line.lie == "across" else "across"
            crop = replace(one.docket.crop, frame=None)
            self.table.lay(replace(one.docket, size=replace(line, lie=lie), crop=crop))

    def show_plan(self, one: Print, plan: Plan) -> None:
        units, line = self.table.units, one.docket.size
        size = plan.size
        named = not size.label[:1].isdigit()
        pair = words.pair(size.width_mm, size.height_mm, units)
        self.print_size.show_value(size.label if named else pair)
        other = "in" if units == "cm" else "cm"
        beside = pair if named else words.pair(size.width_mm, size.height_mm, other)
        self.other.setText(beside)
        self.ppi.show_value(f"{words.ppi(plan.target_ppi)} ppi")
        self.ppi_hint.setText("" if line.ppi else "what most labs ask")
        self.floor.show_value(f"{words.ppi(plan.floor_ppi)} ppi")
        self.floor_hint.setText("" if line.floor else "half of 360")
        self.distance.show_value(words.length(plan.distance_mm, units))
        usual = "its diagonal" if plan.distance_mm > 300 else "in the hand"
        self.distance_hint.setText("" if line.distance_mm else usual)
        seen = words.length(plan.distance_mm, units)
        self._why.setText(
            f"From {seen} the eye can use {plan.needed_ppi:.0f} ppi; this print has "
            f"{words.ppi(plan.effective_ppi)} of the photo's own: {plan.grade}."
        )
        found = answers(plan)
        self._answers.setText(
            f"Without enlarging: up to {words.pair(*found.unenlarged_mm, units)}. Sharp from "
            f"{seen}: up to {words.pair(*found.unseen_mm, units)}. This size at "
            f"{words.ppi(plan.target_ppi)} ppi asks for {words.megapixels(*found.pixels)}."
        )

    def _take_size(self, typed: str) -> None:
        one = self.table.current
        way = parse_way(typed, self.table.units)
        size = None if way is not None else parse_size(typed, self.table.units)
        if one is not None:
            # a new size begins with its largest frame, kept where the old one sat
            place = one.plan().turned.place_of(one.plan().crop)
            crop = replace(one.docket.crop, frame=None, place_x=place[0], place_y=place[1])
            line = replace(one.docket.size, size=size, way=way)
            self.table.lay(replace(one.docket, size=line, crop=crop))

    def _take_ppi(self, typed: str) -> None:
        self.decide(ppi=parse_ppi(typed) if typed else None)

    def _take_floor(self, typed: str) -> None:
        self.decide(floor=parse_ppi(typed) if typed else None)

    def _take_distance(self, typed: str) -> None:
        self.decide(distance_mm=parse_length(typed, self.table.units) if typed else None)


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
