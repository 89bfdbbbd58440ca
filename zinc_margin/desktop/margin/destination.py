"""The destination sentence: maker, paper and size, each changed with one click."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from PySide6.QtGui import QColor, QPainter, QPaintEvent
from PySide6.QtWidgets import QGridLayout, QHBoxLayout, QMenu, QWidget

from zinc_margin.desktop.margin.body import hint
from zinc_margin.desktop.margin.ledger_line import INDENT
from zinc_margin.desktop.margin.sentence import Part, add_field, tick
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import Field, text
from zinc_margin.desktop.widgets.refusals import carry_out
from zinc_margin.keeping.own import FAMILY as MINE
from zinc_margin.measure.makers import makers
from zinc_margin.measure.papers import SCREEN, papers
from zinc_margin.measure.units import family_in
from zinc_margin.measure.words import local
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.ladder import Rung
from zinc_margin.plan.text.lines import size_name
from zinc_margin.plan.text.phrases import destination_parts


class Destination(QWidget):
    """Below the photo's name: *Printed by a lab, on lustre, at 50 × 40 cm*."""

    def __init__(self, table: Table) -> None:
        super().__init__()
        self.table = table
        grid = QGridLayout(self)
        grid.setContentsMargins(INDENT, 4, 8, 7)
        grid.setVerticalSpacing(1)
        first, second = QHBoxLayout(), QHBoxLayout()
        for line in (first, second):
            line.setSpacing(5)
        self.begins = text("", soft=True, wrap=False)
        self.maker = Part("Printed by", "The maker, or the screen", self._fill_makers)
        self.on = text("on", soft=True, wrap=False)
        self.paper = Part("Paper", "The paper", self._fill_papers)
        self.at = text("at", soft=True, wrap=False)
        self.extent = Part("Size", "The size: choose or type", self._fill_sizes)
        above: tuple[QWidget, ...] = (self.begins, self.maker)
        below: tuple[QWidget, ...] = (self.on, self.paper, self.at, self.extent)
        for line, parts in ((first, above), (second, below)):
            for part in parts:
                line.addWidget(part)
        for line in (first, second):
            line.addStretch(1)
        grid.addLayout(first, 0, 0)
        grid.addLayout(second, 1, 0)

    def refresh(self, plan: Plan) -> None:
        """Update the sentence."""
        begins, maker, paper, size = destination_parts(plan, self.table.units)
        self.begins.setText(begins)
        self.maker.show_value(maker)
        self.on.setVisible(paper is not None)
        self.paper.setVisible(paper is not None)
        self.paper.show_value(paper or "")
        self.extent.show_value(size)

    def _act(self, take: Callable[..., None], given: object) -> Callable[[], object]:
        return partial(carry_out, self, partial(take, given))

    def _fill_makers(self, menu: QMenu) -> None:
        one = self.table.current
        now = None if one is None else one.plan().maker.key
        for maker in makers():
            action = menu.addAction(maker.name, self._act(self.table.take_maker, maker.key))
            tick(action, maker.key == now)

    def _fill_papers(self, menu: QMenu) -> None:
        one = self.table.current
        if one is None:
            return
        plan = one.plan()
        now, offered = plan.settled.sharpen.paper, plan.maker.papers
        own = [paper.name for paper in self.table.papers.all]
        rest = [each.name for each in papers() if each.name not in offered]
        for index, names in enumerate((offered, own, rest)):
            names = [name for name in names if name != SCREEN]
            if index and names:
                menu.addSeparator()
            for name in names:
                action = menu.addAction(name, self._act(self.table.take_paper, name))
                tick(action, name == now)

    def _fill_sizes(self, menu: QMenu) -> None:
        one = self.table.current
        if one is None:
            return
        typed = Field("Size, typed", self.table.take_typed, 240)
        typed.setPlaceholderText(
            "8x10, A3, 10x8 gloss jpeg …"
            if self.table.units == "in"
            else "30x20, A3, 18x13 gloss jpeg …"
        )
        typed.show_help(hint("size", self.table.units))
        add_field(menu, typed)
        plan = one.plan()
        for rung in offered_rungs(one, plan, self.table):
            words = f"{local(size_name(rung.size, self.table.units))}\t{rung.grade}"
            action = menu.addAction(words, self._act(self.table.take_rung, rung))
            now = (plan.size.width_mm, plan.size.height_mm)
            tick(action, (rung.size.width_mm, rung.size.height_mm) == now)
        menu.addSeparator()
        menu.addAction("more sizes …", partial(self.table.open_line, "size"))

    def paintEvent(self, event: QPaintEvent) -> None:
        t = theme.tones()
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(t.paper))
        painter.setPen(QColor(t.ink))
        painter.drawLine(0, self.height() - 1, self.width(), self.height() - 1)


def offered_rungs(one: Print, plan: Plan, table: Table) -> list[Rung]:
    """Return the user's sizes, and the maker's main ones, in the current units."""
    every = one.ladder(table.own.all)
    known = sorted({rung.size.family for rung in every})
    sold = [family_in(family, table.units, known) for family in plan.maker.families[:1]]
    own = [rung for rung in every if rung.size.family == MINE]
    return [*own, *(rung for rung in every if rung.size.family in sold)]
