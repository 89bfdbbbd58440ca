"""The controls of line 5, Sharpen. Numbers come from the plan."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from fractions import Fraction
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.margin.body import Body, hint
from zinc_margin.desktop.margin.slider_row import SliderRow
from zinc_margin.desktop.model.events import Event, StripMade
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, column_layout, row, text
from zinc_margin.docket.docket import check_value
from zinc_margin.keeping.own import OwnPaper
from zinc_margin.measure import words
from zinc_margin.measure.distances import parse_distance
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.lengths import parse_length
from zinc_margin.measure.papers import SCREEN, papers, processes
from zinc_margin.plan.model import Plan
from zinc_margin.plan.sharpen.strip import apply_column
from zinc_margin.plan.text.phrases import seen_hint
from zinc_margin.plan.text.sharpen_words import sharpening_reason

_OWN = "own"
_FINE = (
    ("shadows", "Deep shadows", "Reduction in deep shadows, percent"),
    ("highlights", "Near white", "Reduction near white, percent"),
    ("grain", "Grain", "Grain, percent"),
)


class SharpenBody(Body):
    """5: the amount for this paper, process and distance."""

    def build(self) -> None:
        self.on = self.switch("on", "Sharpen", (("yes", "for this print"), ("no", "not at all")))
        self.paper = Choice("Paper", (), self._take_paper, 190)
        self.blur = Field("Blur of your own paper", self._take_blur, 82, "Its sigma: 0.06 mm")
        self.keep = Link("keep this paper", self._keep_paper, "Save with this maker and strength")
        hows = tuple((one.key, one.name) for one in processes())
        self.process = Choice(
            "Printed by",
            (("", "at the printer's setting"), *hows),
            partial(self._take_word, "process"),
            190,
        )
        self.distance = Field("Viewing distance", self._take_distance, 104)
        self.seen_hint = text("", soft=True, wrap=False)
        self.strength = SliderRow(self, "Strength, percent", "strength")
        self.column.addLayout(row("For", self.on))
        self.column.addLayout(row("Paper", self.paper))
        self._blur = QWidget()
        blur = row("Its blur", self.blur, self.keep)
        blur.setContentsMargins(0, 0, 0, 0)
        self._blur.setLayout(blur)
        self.column.addWidget(self._blur)
        self.column.addLayout(row("Printed by", self.process))
        self.column.addLayout(row("Viewing distance", self.distance, self.seen_hint))
        self.column.addLayout(row("Strength", self.strength))
        self.strip = Link("make a test strip …", self.shell.dialogs.make_strip)
        self.more = Link("more", self._unfold)
        self.measure = Link(
            "measure this paper …", self._measure, ("With a printed and scanned page")
        )
        self.column.addLayout(row("", self.strip, self.more))
        self.column.addLayout(row("", self.measure))
        self._which = QWidget()
        self._which.setVisible(False)
        self._which_row = row("Looked right", QWidget())
        self._which_row.setContentsMargins(0, 0, 0, 0)
        self._which.setLayout(self._which_row)
        self.column.addWidget(self._which)
        self.table.subscribe(self._hear)
        self._build_more()
        self._why = text("")
        self.column.addWidget(self._why)

    def _build_more(self) -> None:
        self._fine = QWidget()
        self._fine.setVisible(False)
        rows = column_layout(self._fine, (0, 0, 0, 0))
        empty = "Empty: automatic for the photo"
        self.breadth = Field("From fine edges to broad ones", self._number("breadth"), 52, empty)
        self.halo = Field("Highest overshoot", self._number("halo"), 52, empty)
        self.noise = Field("Noise floor", self._number("noise"), 52, empty)
        self.grain_size = Field("Size of a grain", self._take_grain_size, 70)
        rows.addLayout(row("Fine, broad", self.breadth, "0 to 1"))
        rows.addLayout(row("Overshoot", self.halo, "L* at most"))
        rows.addLayout(row("Noise", self.noise, "L* left alone"))
        self.sliders = {field: SliderRow(self, name, field) for field, _, name in _FINE}
        for field, label, _ in _FINE:
            rows.addLayout(row(label, self.sliders[field]))
        rows.addLayout(row("Grain size", self.grain_size, "on the print"))
        self.column.addWidget(self._fine)

    def show_plan(self, one: Print, plan: Plan) -> None:
        line, result = one.docket.sharpen, plan.sharpen
        on = bool(plan.settled.sharpen.on)
        own = [(paper.name, f"{paper.name} (yours)") for paper in self.table.papers.all]
        named = [(paper.name, paper.name.capitalize()) for paper in papers()]
        known = {name for name, _ in (*named, *own)} | {SCREEN}
        paper = plan.settled.sharpen.paper or ""
        new = [(paper, paper)] if paper not in known else []
        self.paper.show_words(
            [*named, (SCREEN, "Screen"), *own, *new, (_OWN, ("a paper of yours …"))]
        )
        self.paper.show_value(paper)
        self._blur.setVisible(line.sigma_mm is not None and paper != SCREEN)
        self.blur.show_value(f"{float(line.sigma_mm):g} mm" if line.sigma_mm is not None else "")
        self.process.show_value(line.process or "")
        self.distance.show_value(words.span(plan.near_mm, plan.far_mm, self.table.units))
        self.distance.show_help(hint("distance", self.table.units))
        self.seen_hint.setText(seen_hint(one.docket.size.distance))
        shown = f"{words.trimmed_zeros(line.strength, 1)} %"
        self.strength.show_value(float(line.strength), shown, on)
        for widget in (self.paper, self.strip):
            widget.setEnabled(on)
        self.process.setEnabled(on and paper != SCREEN)
        if result is not None:
            self.breadth.show_value(f"{result.breadth:.2f}")
            self.halo.show_value(f"{result.halo:.1f}")
            self.noise.show_value(f"{result.noise:.2f}")
        for field, slider in self.sliders.items():
            value = float(getattr(line, field))
            slider.show_value(value, f"{words.trimmed_zeros(value, 0)} %")
        self.grain_size.show_value(f"{float(line.grain_mm):g} mm")
        sentence = sharpening_reason(plan, self.table.units)
        if on and paper != SCREEN:
            sentence += " At 100 % on the screen it looks slightly too crisp. On paper it will not."
        self._why.setText(sentence)

    def _hear(self, event: Event) -> None:
        if isinstance(event, StripMade):
            self.ask_which(event.strengths)

    def ask_which(self, strengths: Sequence[Fraction]) -> None:
        """Ask, after a test strip was made, which of its columns looked right."""
        while self._which_row.count() > 1:
            item = self._which_row.takeAt(1)
            widget = item.widget() if item is not None else None
            if widget is not None:
                widget.deleteLater()
        for number, strength in enumerate(strengths, 1):
            link = Link(str(number), partial(self._looked_right, strength), f"{strength} %")
            link.setAccessibleName(f"Column {number} of the strip, {strength} %, looked right")
            self._which_row.addWidget(link)
        self._which_row.addStretch(1)
        self._which.setVisible(True)

    def _looked_right(self, strength: Fraction) -> None:
        one = self.table.current
        if one is not None and one.plan().sharpen is not None:
            self.table.lay(apply_column(one.plan(), strength))

    def unfold(self, part: QWidget) -> None:
        """Show the finer controls."""
        if part is self._fine:
            self._unfold()

    def _unfold(self) -> None:
        there = self._fine.isHidden()
        self._fine.setVisible(there)
        self.more.setText("less" if there else "more")

    def _number(self, field: str) -> Callable[[str], None]:
        def take(typed: str) -> None:
            value = typed.replace(",", ".").strip() or None
            self.decide(**{field: check_value("sharpen", field, value)})

        return take

    def _take_paper(self, name: str) -> None:
        one = self.table.current
        if one is None:
            return
        if name == _OWN:
            result = one.plan().sharpen
            sigma = Fraction(round(result.paper_mm * 1000), 1000) if result else Fraction(1, 20)
            self.decide(paper="own paper", sigma_mm=sigma)
            self.blur.setFocus()
            self.blur.selectAll()
        else:
            self.table.take_paper(name)

    def _take_blur(self, typed: str) -> None:
        value = parse_length(typed, "mm") if typed else None
        self.decide(
            sigma_mm=check_value("sharpen", "sigma_mm", None if value is None else str(value))
        )

    def _keep_paper(self) -> None:
        one = self.table.current
        if one is None:
            return
        line, sigma = one.docket.sharpen, one.docket.sharpen.sigma_mm
        name = line.paper or ""
        if name in ("", "own paper"):
            name = f"own paper {len(self.table.papers.all) + 1}"
        try:
            if sigma is None:
                raise BadRequest("A paper of your own needs a blur.")
            stored = OwnPaper(name, sigma, line.strength, one.plan().maker.key)
            self.table.papers.keep(stored)
        except ZincError as why:
            self.show_refusal(str(why))
            return
        self.decide(paper=name)

    def _measure(self) -> None:
        from zinc_margin.desktop.dialogs.paper import PaperDialog

        dialog = PaperDialog(self.window(), self.table, self._take_paper)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()

    def _take_grain_size(self, typed: str) -> None:
        size = parse_length(typed, "mm")
        self.decide(grain_mm=check_value("sharpen", "grain_mm", str(size)))

    def _take_distance(self, typed: str) -> None:
        seen = parse_distance(typed, words.unit(self.table.units))
        self.table.decide("size", distance=seen)
        self.table.hear_units(typed)
