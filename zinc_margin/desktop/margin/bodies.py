"""What unfolds in the lines: their few controls. Numbers come from the plan alone."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QHBoxLayout, QSlider, QVBoxLayout, QWidget

from ...docket import store
from ...docket.docket import CropLine, Docket
from ...measure import words
from ...measure.errors import BadRequest
from ...measure.lengths import parse_length, parse_number
from ...measure.papers import papers
from ...measure.resolution import parse_ppi
from ...measure.sizes import parse_size
from ...plan import framing
from ...plan.consequences import METHOD_NAMES, size_name
from ...plan.model import Plan
from ...plan.notes import tag_sentence
from ..parts import Choice, Field, Link, NoteBox, Switch, clear, row, stacked, text
from ..state import Print, Table


class Body(QWidget):
    """The controls of one line."""

    def __init__(self, table: Table, line: str) -> None:
        super().__init__()
        self.table, self.line = table, line
        self.column = stacked(self, (0, 0, 0, 0))
        self.build()
        self._said = text("", soft=False)
        self._said.setVisible(False)
        self.column.addWidget(self._said)
        self._notes = QVBoxLayout()
        self._notes.setSpacing(2)
        self.column.addLayout(self._notes)
        self._shown: Sequence[tuple[str, tuple[str, ...]]] = ()
        for field in self.findChildren(Field):
            field.said = self._say

    def build(self) -> None:
        """Make the controls."""

    def show_plan(self, one: Print, plan: Plan) -> None:
        """Show what the docket says and the plan makes of it."""

    def refresh(self, one: Print, plan: Plan) -> None:
        """Bring the controls and the notes up to date."""
        self.show_plan(one, plan)
        notes = [note for note in plan.notes if note.line == self.line]
        shown = [(note.text, tuple(words_ for words_, _ in note.ways)) for note in notes]
        if shown != self._shown:
            self._shown = shown
            clear(self._notes)
            for note in notes:
                self._notes.addWidget(NoteBox(note.text, self._ways(note.code, note.ways)))

    def _ways(
        self, code: str, ways: tuple[tuple[str, Docket], ...]
    ) -> list[tuple[str, Callable[[], object]]]:
        # the docket is looked up when pressed: others may have changed lines meanwhile
        return [
            (shown, lambda code=code, index=index: self._take_way(code, index))  # type: ignore[misc]
            for index, (shown, _) in enumerate(ways)
        ]

    def _take_way(self, code: str, index: int) -> None:
        one = self.table.current
        if one is not None:
            for note in one.plan().notes:
                if note.code == code and index < len(note.ways):
                    self.table.lay(note.ways[index][1])
                    return

    def _say(self, why: str) -> None:
        self._said.setText(why)
        self._said.setVisible(bool(why))

    def decide(self, **fields: object) -> None:
        """Write into this line."""
        self.table.decide(self.line, **fields)


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
        self._why.setText(
            f"From {words.length(plan.distance_mm, units)} the eye can use "
            f"{plan.needed_ppi:.0f} ppi; this print has {words.ppi(plan.effective_ppi)} of the "
            f"photo's own: {plan.grade}."
        )

    def _take_size(self, typed: str) -> None:
        one = self.table.current
        size = parse_size(typed, self.table.units)
        if one is not None:
            # a new size begins with its largest frame, kept where the old one sat
            place = one.plan().turned.place_of(one.plan().crop)
            crop = replace(one.docket.crop, frame=None, place_x=place[0], place_y=place[1])
            line = replace(one.docket.size, size=size)
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


class PixelsBody(Body):
    """4: keep the pixels, or resample."""

    def build(self) -> None:
        self.choice = Switch(
            "Pixels",
            (("auto", "as suits"), ("keep", "keep"), ("resample", "to the ppi asked")),
            lambda key: self.decide(choice=key),
        )
        self.method = Choice(
            "Method", tuple(METHOD_NAMES.items()), lambda key: self.decide(method=key)
        )
        self.column.addLayout(row("Pixels", self.choice))
        self.column.addLayout(row("Method", self.method))
        self._why = text("", soft=True)
        self.column.addWidget(self._why)

    def show_plan(self, one: Print, plan: Plan) -> None:
        line = one.docket.pixels
        self.choice.show_value(line.choice)
        self.method.show_value(line.method)
        self.method.setEnabled(plan.pixels.method is not None)
        own, asked = words.ppi(plan.effective_ppi), words.ppi(plan.target_ppi)
        kept = plan.pixels.choice == "keep"
        if line.choice != "auto":
            why = "Your choice." if kept else f"From {own} ppi of its own to the {asked} asked."
        elif kept:
            why = f"{own} ppi of its own is enough from here, so nothing is resampled."
        elif plan.pixels.choice == "enlarge":
            why = f"{own} ppi of its own is too little from here, so it is enlarged to {asked}."
        else:
            why = f"{own} ppi of its own is over twice the {asked} asked, so it is reduced."
        self._why.setText(why)


class SharpenBody(Body):
    """5: the amount for this paper and distance."""

    def build(self) -> None:
        self.on = Switch(
            "Sharpen", (("on", "for this print"), ("off", "not at all")),
            lambda key: self.decide(on=key == "on"),
        )  # fmt: skip
        named = tuple((paper.name, paper.name.capitalize()) for paper in papers())
        self.paper = Choice("Paper", named, lambda key: self.decide(paper=key))
        self.distance = Field("Seen from", self._take_distance, 82)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 200)
        self.slider.setPageStep(10)
        self.slider.setAccessibleName("Strength, percent")
        self.slider.sliderPressed.connect(self.table.begin_drag)
        self.slider.sliderReleased.connect(self.table.end_drag)
        self.slider.valueChanged.connect(self._slide)
        self.strength = Field("Strength", self._take_strength, 52)
        self.column.addLayout(row("For", self.on))
        self.column.addLayout(row("Paper", self.paper))
        self.column.addLayout(row("Seen from", self.distance))
        strength = QHBoxLayout()
        strength.setSpacing(8)
        strength.addWidget(self.slider, 1)
        strength.addWidget(self.strength)
        holder = QWidget()
        holder.setLayout(strength)
        strength.setContentsMargins(0, 0, 0, 0)
        self.column.addLayout(row("Strength", holder))
        self._why = text(
            "At 100 % on the screen this looks a little too crisp. On paper it will not."
        )
        self.column.addWidget(self._why)

    def show_plan(self, one: Print, plan: Plan) -> None:
        line = one.docket.sharpen
        self.on.show_value("on" if line.on else "off")
        self.paper.show_value(line.paper)
        self.distance.show_value(words.length(plan.distance_mm, self.table.units))
        self.strength.show_value(f"{words.trimmed_zeros(line.strength, 1)} %")
        self.slider.blockSignals(True)
        self.slider.setValue(round(line.strength))
        self.slider.blockSignals(False)
        for widget in (self.paper, self.slider, self.strength):
            widget.setEnabled(line.on)
        self._why.setVisible(line.on)

    def _slide(self, value: int) -> None:
        one = self.table.current
        if one is None:
            return
        docket = replace(one.docket, sharpen=replace(one.docket.sharpen, strength=Fraction(value)))
        if self.slider.isSliderDown():
            self.table.slide(docket)
        else:
            self.table.lay(docket)

    def _take_strength(self, typed: str) -> None:
        value = parse_number(typed.replace("%", "").strip(), "percentage")
        self.decide(strength=store.checked("sharpen", "strength", str(value)))

    def _take_distance(self, typed: str) -> None:
        distance = parse_length(typed, self.table.units) if typed else None
        self.table.decide("size", distance_mm=distance)


class FinishBody(Body):
    """6: the sheet."""

    def build(self) -> None:
        self._what = text("")
        self.column.addWidget(self._what)

    def show_plan(self, one: Print, plan: Plan) -> None:
        size = size_name(plan.size, self.table.units)
        kind = "bands in paper white" if one.docket.crop.fit == "whole" else "no border"
        self._what.setText(f"The sheet is exactly the print, {size}, with {kind}.")


class FileBody(Body):
    """7: what is written, and where."""

    def __init__(self, table: Table, choose_folder: Callable[[], None]) -> None:
        self._choose_folder = choose_folder
        super().__init__(table, "file")

    def build(self) -> None:
        self.format = Switch(
            "Format", (("tiff", "TIFF"), ("jpeg", "JPEG"), ("png", "PNG")),
            lambda key: self.decide(format=key),
        )  # fmt: skip
        self.bits = Switch(
            "Depth", (("own", "as the photo"), ("8", "8-bit"), ("16", "16-bit")),
            lambda key: self.decide(bits=None if key == "own" else int(key)),
        )  # fmt: skip
        self.quality = Field("JPEG quality", self._take_quality, 52)
        self.name = Field("File name", self._take_name, 206)
        self.folder = Link("", self._choose_folder, "Choose another folder")
        self.column.addLayout(row("Format", self.format))
        self._depth, self._quality = QWidget(), QWidget()
        for holder, layout in (
            (self._depth, row("Depth", self.bits)),
            (self._quality, row("Quality", self.quality, "of 100")),
        ):
            layout.setContentsMargins(0, 0, 0, 0)
            holder.setLayout(layout)
            self.column.addWidget(holder)
        self.column.addLayout(row("Name", self.name))
        self.column.addLayout(row("Folder", self.folder))

    def show_plan(self, one: Print, plan: Plan) -> None:
        from ...handoff.names import ruled_name

        line = one.docket.file
        self.format.show_value(line.format)
        self.bits.show_value(str(line.bits) if line.bits else "own")
        self._depth.setVisible(line.format != "jpeg")
        self._quality.setVisible(line.format == "jpeg")
        self.quality.show_value(str(line.quality))
        self.name.show_value(line.name or ruled_name(one.facts.path, plan))
        folder = line.folder or str(one.facts.path.parent)
        metrics = self.folder.fontMetrics()
        shown = line.folder or "beside the photo"
        self.folder.setText(metrics.elidedText(shown, Qt.TextElideMode.ElideMiddle, 200))
        self.folder.setToolTip(f"{folder}\nPress to choose another folder.")

    def _take_quality(self, typed: str) -> None:
        try:
            value = int(typed)
        except ValueError:
            raise BadRequest(f"“{typed}” is no quality; type a whole number, 1 to 100.") from None
        self.decide(quality=store.checked("file", "quality", value))

    def _take_name(self, typed: str) -> None:
        for ending in (".tif", ".tiff", ".jpg", ".jpeg", ".png"):
            if typed.lower().endswith(ending):
                typed = typed[: -len(ending)]
        self.decide(name=store.checked("file", "name", typed) if typed else None)
