"""The controls of line 5, Sharpen. Numbers come from the plan."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from fractions import Fraction
from functools import partial

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QMenu, QVBoxLayout, QWidget

from zinc_margin.desktop.margin.body import Body, hint
from zinc_margin.desktop.margin.sentence import Part, add_field, sentence, tick
from zinc_margin.desktop.margin.slider_row import SliderRow
from zinc_margin.desktop.model.events import Event, StripMade
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Field, Link, column_layout, row, text
from zinc_margin.desktop.widgets.refusals import carry_out
from zinc_margin.docket.docket import check_value
from zinc_margin.docket.sharpen import SharpenLine
from zinc_margin.keeping.own import OwnPaper
from zinc_margin.measure import words
from zinc_margin.measure.distances import named_distances, parse_distance
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.measure.lengths import parse_length
from zinc_margin.measure.papers import SCREEN, papers, processes
from zinc_margin.plan.model import Plan
from zinc_margin.plan.sharpen.strip import apply_column
from zinc_margin.plan.text.sharpen_words import paper_takes, sharpening_reason

_OWN = "own"


class SharpenBody(Body):
    """5: the amount for this paper, process and distance."""

    states_itself = True

    def build(self) -> None:
        self.on = self.switch("on", "Sharpen", (("yes", "for this print"), ("no", "not at all")))
        self.paper = Part("Paper", "The paper", self._fill_papers)
        self.process = Part("Printing process", "How it is printed", self._fill_processes)
        self.distance = Part("Viewing distance", "Where it is seen from", self._fill_distances)
        self.blur = Field(
            "Blur of your own paper", self._take_blur, 82, "As a standard deviation: 0.06 mm"
        )
        self.keep = Link("keep this paper", self._keep_paper, "Save with this maker and strength")
        self.strength = SliderRow(self, "Strength, percent", "strength")
        self._by = text("by", soft=True, wrap=False)
        stated = QVBoxLayout()
        stated.setSpacing(0)
        stated.addLayout(sentence("On", self.paper, self._by, self.process))
        stated.addLayout(sentence("seen from", self.distance))
        self.column.addLayout(stated)
        for part in (self.paper, self.process, self.distance):
            part.be_decision()
        self.takes = text("")
        self.column.addWidget(self.takes)
        self._blur = self.held("Blur", self.blur, self.keep)
        self.column.addLayout(row("Strength", self.strength))
        self.column.addLayout(row("Sharpen", self.on))
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
        self.shadows = self.entry("shadows", "Left alone in deep shadows, percent", 52)
        self.highlights = self.entry("highlights", "Left alone near white, percent", 52)
        rows.addLayout(row("Fine – broad", self.breadth, "0 to 1"))
        rows.addLayout(row("Overshoot", self.halo, "L* at most"))
        rows.addLayout(row("Noise", self.noise, "L* left alone"))
        rows.addLayout(row("Left alone", self.shadows, "of tones below L* 16"))
        rows.addLayout(row("", self.highlights, "of tones above L* 90"))
        self.column.addWidget(self._fine)

    def show_plan(self, one: Print, plan: Plan) -> None:
        line, result = one.docket.sharpen, plan.sharpen
        on = bool(plan.settled.sharpen.on)
        paper = plan.settled.sharpen.paper or ""
        self.paper.show_value("a screen" if paper == SCREEN else paper)
        self._blur.setVisible(line.sigma_mm is not None and paper != SCREEN)
        self.blur.show_value(f"{float(line.sigma_mm):g} mm" if line.sigma_mm is not None else "")
        self.process.show_value(result.process if result is not None else "its printer")
        self.distance.show_value(words.span(plan.near_mm, plan.far_mm, self.table.units))
        self.takes.setText(paper_takes(plan, self.table.units))
        shown = f"{words.trimmed_zeros(line.strength, 1)} %"
        self.strength.show_value(float(line.strength), shown, on)
        self.strip.setEnabled(on)
        for part in (self._by, self.process):
            part.setVisible(paper != SCREEN)
        if result is not None:
            self.breadth.show_value(f"{result.breadth:.2f}")
            self.halo.show_value(f"{result.halo:.1f}")
            self.noise.show_value(f"{result.noise:.2f}")
        why = sharpening_reason(plan, self.table.units)
        if on and paper != SCREEN:
            why += " At 100 % on the screen it looks slightly too crisp. On paper it will not."
        self._why.setText(why)

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

    def _fill_papers(self, menu: QMenu) -> None:
        now = self._line().paper or ""
        own = [(paper.name, f"{paper.name} (yours)") for paper in self.table.papers.all]
        named = [(paper.name, paper.name) for paper in papers()]
        known = {name for name, _ in (*named, *own)} | {SCREEN, ""}
        new = [(now, now)] if now not in known else []
        for name, shown in (*named, (SCREEN, "a screen"), *own, *new, (_OWN, "a paper of yours …")):
            call = partial(carry_out, self, partial(self._take_paper, name))
            tick(menu.addAction(shown, call), name == now)

    def _fill_processes(self, menu: QMenu) -> None:
        now = self._line().process
        hows = [(one.key, one.name) for one in processes()]
        for key, shown in (("", "at the printer's setting"), *hows):
            call = partial(carry_out, self, partial(self._take_word, "process", key))
            tick(menu.addAction(shown, call), key == (now or ""))

    def _fill_distances(self, menu: QMenu) -> None:
        typed = Field("Viewing distance, typed", self._take_distance, 200)
        typed.setPlaceholderText(hint("distance", self.table.units).split(";")[0])
        typed.show_help(hint("distance", self.table.units))
        add_field(menu, typed)
        for name, _ in named_distances():
            menu.addAction(name, partial(carry_out, self, partial(self._take_distance, name)))
        menu.addAction("automatic", partial(carry_out, self, partial(self._take_distance, "")))

    def _line(self) -> SharpenLine:
        one = self.table.current
        return SharpenLine() if one is None else one.plan().settled.sharpen

    def _take_distance(self, typed: str) -> None:
        seen = parse_distance(typed, words.unit(self.table.units))
        self.table.decide("size", distance=seen)
        self.table.hear_units(typed)
