"""The ladder: the nest, and a table of every size or of the selected photos."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

from PySide6.QtCore import QItemSelectionModel, QModelIndex, Qt, QTimer
from PySide6.QtGui import QResizeEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPushButton,
    QTableView,
    QWidget,
)

from zinc_margin.desktop.bench.canvas import Bench
from zinc_margin.desktop.bench.nest import Nest
from zinc_margin.desktop.bench.own_sizes import Mine
from zinc_margin.desktop.bench.rows import Cell, Row, Rows
from zinc_margin.desktop.model.events import ALL_LINES
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.widgets.parts import Choice, Link, column_layout, text
from zinc_margin.desktop.widgets.refusals import refusable
from zinc_margin.docket.size import SizeLine
from zinc_margin.keeping.own import FAMILY as MINE
from zinc_margin.measure import words
from zinc_margin.measure.lengths import plain_text
from zinc_margin.measure.makers import usual_maker
from zinc_margin.measure.sizes import PrintSize, catalogue
from zinc_margin.measure.units import family_in
from zinc_margin.measure.ways import named_ways
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.grade import AMPLE, GOOD, GRADES
from zinc_margin.plan.size.ladder import Rung, sizes_of_shape
from zinc_margin.plan.size.needs import needs
from zinc_margin.plan.size.suitability import Carried
from zinc_margin.plan.text.lines import size_name
from zinc_margin.plan.text.phrases import need_words
from zinc_margin.plan.text.reasons import judged_from, reason_for, reason_of

_HEADS = ("size", "trimmed", "ppi", "enlarged", "sharp from", "grade")
_HELP = (
    "The print, in the photo's orientation",
    "How much of the picture its shape trims",
    "Pixels per inch before enlarging",
    "Enlargement needed for the target",
    "Nearest distance from which it looks fully sharp",
    "ample: meets the target. good: above the minimum, or two thirds of the target. from a "
    "distance: below that, but sufficient from there. too few pixels: less.",
)
_NEEDS = ("size", "MP", "ppi", "", "seen from", "pixels")
_WIDTH = 466
_WIDTHS = (84, 64, 50, 66, 80, 102)
_SPARED = (1, 3)
"""Columns that are hidden if the bench is narrower than this many px."""
_NARROW = 800
_TABLE_EVERY_MS = 250


def _bare(typed: str) -> str:
    return plain_text(typed).replace("×", "x").replace(" ", "")


def _toggle(words_: str, help_: str) -> QPushButton:
    button = QPushButton(words_)
    button.setObjectName("choice")
    button.setCheckable(True)
    button.setToolTip(help_)
    return button


class LadderBench(Bench):
    """The bench for Size."""

    reads = ALL_LINES - {"sharpen", "file"}

    def __init__(self, table: Table, shell: Shell) -> None:
        super().__init__()
        self.table = table
        self.back = Link("back", partial(shell.show_needs, False))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.nest = Nest(table)
        row.addWidget(self.nest, 1)
        self._side = side = QWidget()
        side.setFixedWidth(_WIDTH)
        side.setObjectName("panel")
        side.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = column_layout(side, (8, 8, 4, 0), 6)
        column.addWidget(self._build_filters())
        self.mine = Mine(table)
        column.addWidget(self.mine)
        column.addWidget(self._build_question())
        self._build_table()
        column.addWidget(self.view, 1)
        self.readout = text("", soft=True)
        self.readout.setMinimumHeight(74)
        self.readout.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.readout.setContentsMargins(2, 4, 8, 6)
        column.addWidget(self.readout)
        column.addWidget(self.back)
        row.addWidget(side)
        self._soon = QTimer(self)
        self._soon.setSingleShot(True)
        self._soon.setInterval(_TABLE_EVERY_MS)
        self._soon.timeout.connect(self._refresh)
        self.nest.let_go.connect(self._refresh)
        self.nest.chosen.connect(self._take_rung)
        self.nest.pointed.connect(self._point)

    def _build_filters(self) -> QWidget:
        self._filters = QWidget()
        column = column_layout(self._filters, (0, 0, 0, 0), 6)
        self._families = list(
            dict.fromkeys(
                [size.family for size in catalogue()] + [way.family for way in named_ways()]
            )
        )
        self.family = Choice("Family of sizes", (), self._filter)
        self._list_families("photo")
        top = QHBoxLayout()
        top.addWidget(self.family, 1)
        self._count = text("", soft=True, wrap=False)
        top.addWidget(self._count)
        column.addLayout(top)
        below = QHBoxLayout()
        below.setSpacing(0)
        self.search = QLineEdit()
        self.search.setPlaceholderText("find: a3, 40, roll …")
        self.search.setAccessibleName("Find sizes")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(self._filter)
        below.addWidget(self.search, 1)
        self.fits = _toggle("fits my shape", "Only sizes that trim less than half a percent")
        self.enough = _toggle("no enlarging", "Only sizes that the photo fills without enlarging")
        for button in (self.fits, self.enough):
            button.toggled.connect(self._filter)
            below.addWidget(button)
        column.addLayout(below)
        return self._filters

    def _list_families(self, wanted: str) -> None:
        """List the families in the current units, then those in the others."""
        units = self.table.units
        own = [one for one in self._families if family_in(one, units, self._families) == one]
        rest = [one for one in self._families if one not in own]
        shown = (("", "every size"), *((one, one) for one in (*own, MINE, *rest)))
        self.family.show_words(shown)
        self.family.show_value(family_in(wanted, units, self._families))
        self._shown_in = units

    def _build_question(self) -> QWidget:
        """Build the row above the table for several photos."""
        self._question = QWidget()
        column = column_layout(self._question, (0, 0, 0, 0), 4)
        self._asked = text("")
        self._none_fits = False
        column.addWidget(self._asked)
        self.size_for_all = Link("Give all of them this size", self._give_size)
        self.more_for_all = Link("apply more than the size …", self._apply_more)
        for link in (self.size_for_all, self.more_for_all):
            column.addWidget(link, 0, Qt.AlignmentFlag.AlignLeft)
        alone = Link("back to this photo only", partial(self.table.choose, []))
        column.addWidget(alone, 0, Qt.AlignmentFlag.AlignLeft)
        return self._question

    def _give_size(self) -> None:
        one, count = self.table.current, self.table.apply_to_chosen()
        if one is not None:
            given = size_name(one.plan().size, self.table.units)
            photos = "1 photo" if count == 1 else f"{count or 'No'} photos"
            self.table.say(f"{photos} changed to {given}. Ctrl+Z in this photo takes it back.")

    def _apply_more(self) -> None:
        from zinc_margin.desktop.dialogs.apply import ApplyDialog

        dialog = ApplyDialog(self.window(), self.table)
        dialog.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        dialog.open()

    def _build_table(self) -> None:
        self.model = Rows()
        self.view = QTableView()
        self.view.setModel(self.model)
        self._cell = Cell(self.view)
        self.view.setItemDelegate(self._cell)
        self.view.setAccessibleName("Print sizes")
        self.view.setShowGrid(False)
        self.view.verticalHeader().setVisible(False)
        self.view.verticalHeader().setDefaultSectionSize(25)
        self.view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.view.setTabKeyNavigation(False)
        self.view.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        header = self.view.horizontalHeader()
        header.setHighlightSections(False)
        header.setSectionsClickable(True)
        header.setSortIndicatorShown(True)
        self._sorted: tuple[int, Qt.SortOrder] = (-1, Qt.SortOrder.AscendingOrder)
        header.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        header.sortIndicatorChanged.connect(self._sort)
        self.view.clicked.connect(self._take)
        self.view.activated.connect(self._take)

    def resizeEvent(self, event: QResizeEvent) -> None:
        """Leave space for the nest: in a narrow window the table has fewer columns."""
        self._spare()
        super().resizeEvent(event)

    def _spare(self) -> None:
        narrow = self.width() < _NARROW
        self._side.setFixedWidth(_WIDTH - sum(_WIDTHS[at] for at in _SPARED) if narrow else _WIDTH)
        for at in _SPARED:
            self.view.setColumnHidden(at, narrow)

    def _filter(self, typed: object) -> None:
        self.refresh()

    def refresh(self) -> None:
        """Grade every size again; during a drag, update the table only now and then."""
        self.nest.update()
        if self.nest.pulling:
            if not self._soon.isActive():
                self._soon.start()
            return
        self._refresh()

    def _refresh(self) -> None:
        one = self.table.current
        if self._shown_in != self.table.units:
            self._list_families(self.family.currentData())
        several = bool(self.table.chosen)
        self._filters.setVisible(not several)
        self._question.setVisible(several)
        self.mine.setVisible(not several and self.family.currentData() == MINE)
        for button in (self.fits, self.enough):
            button.setVisible(one is not None)
        self.back.setVisible(one is None)
        if one is None:
            self._show_needs()
        elif several:
            self._show_photos(one)
        else:
            self._show_sizes(one)
        self._point(None)

    def _show_needs(self) -> None:
        """Show the pixels that sizes need while no photo is open."""
        family, typed = self.family.currentData(), self._typed()
        sizes = [
            size
            for size in (*catalogue(), *self.table.own.all)
            if isinstance(size, PrintSize)
            and (not family or typed or size.family == family)
            and typed in _bare(size.label)
        ]
        self._fill(_NEEDS, sizes, self._need_row, -1)
        self._count.setText(f"{len(sizes)} sizes")
        self.nest.show_rungs(())

    def _need_row(self, size: PrintSize) -> Row:
        units = self.table.units
        asked, *rest = rows = needs(size, SizeLine())
        cells = (
            size.label,
            words.megapixels(*asked.pixels).removesuffix(" MP"),
            words.resolution(asked.ppi, units).split()[0],
            "",
            words.length(rest[-1].mm or 0, units),
            f"{asked.pixels[0]} × {asked.pixels[1]}",
        )
        told = (": ".join(need_words(row, usual_maker().name, units)) for row in rows)
        tip = "\n".join((size_name(size, units), *told))
        return Row(tuple(words.local(cell) for cell in cells), words.local(tip))

    def _show_sizes(self, one: Print) -> None:
        plan = one.plan()
        family = self.family.currentData()
        self.mine.refresh()
        rungs = self._wanted(one.ladder(self.table.own.all), family)
        self._none_fits = not rungs and self.fits.isChecked() and not self._typed()
        if self._none_fits:
            unit = words.unit(self.table.units)
            rungs = sizes_of_shape(one.facts, one.docket, plan, unit)
        size = (plan.size.width_mm, plan.size.height_mm)
        sizes = [(rung.size.width_mm, rung.size.height_mm) for rung in rungs]
        current = sizes.index(size) if size in sizes else -1
        self._fill(_HEADS, rungs, partial(self._size_row, plan), current)
        self._count.setText(f"{len(rungs)} sizes")
        self.nest.show_rungs(rungs)

    def _show_photos(self, one: Print) -> None:
        carried = self.table.carried()
        current = self.table.chosen.index(one) if one in self.table.chosen else -1
        self._fill(("photo", *_HEADS[1:]), carried, self._photo_row, current)
        full = sum(row.plan.grade in (AMPLE, GOOD) for row in carried)
        name = size_name(one.plan().size, self.table.units)
        self._asked.setText(
            f"{len(carried)} photos at the size of {one.name}, {name}: {full} are good or ample."
        )
        self.nest.show_rungs(())

    def _fill(
        self,
        heads: tuple[str, ...],
        meanings: Sequence[Any],
        describe: Callable[[Any], Row],
        current: int,
    ) -> None:
        units = self.table.units
        heads = tuple("px/cm" if head == "ppi" and units == "px/cm" else head for head in heads)
        before = self.model.current, len(self.model.meanings)
        self.model.show_rows(heads, _HELP, meanings, describe, current)
        if before == (current, len(meanings)):
            return
        header = self.view.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        for index, width in enumerate(_WIDTHS):
            self.view.setColumnWidth(index, width)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self._spare()
        if current >= 0:
            at = self.model.index(current, 0)
            flags = QItemSelectionModel.SelectionFlag
            self.view.selectionModel().select(at, flags.ClearAndSelect | flags.Rows)
            self.view.selectionModel().setCurrentIndex(at, flags.NoUpdate)
            self.view.scrollTo(at)
        else:  # the row of an earlier size is no longer chosen
            self.view.selectionModel().clear()

    def _size_row(self, plan: Plan, rung: Rung) -> Row:
        units = self.table.units
        cells = (
            rung.size.label,
            words.share(rung.trimmed_share).replace("under ", "< "),
            words.resolution(rung.judged_ppi, units).split()[0],
            words.times(rung.enlargement),
            words.length(rung.sharp_from_mm, units),
            rung.grade,
        )
        frame = rung.way.frame if rung.way is not None else None
        outer = f", in a {words.pair(*frame, units)} frame" if frame is not None else ""
        why = reason_for(rung, plan, units)
        told = f"{size_name(rung.size, units)}{outer}\n{why}"
        return Row(tuple(words.local(cell) for cell in cells), words.local(told))

    def _photo_row(self, row: Carried) -> Row:
        units, plan = self.table.units, row.plan
        cells = (
            row.facts.path.stem,
            words.share(plan.trimmed_share).replace("under ", "< "),
            words.resolution(plan.effective_ppi, units).split()[0],
            words.times(plan.enlargement),
            words.length(plan.sharp_from_mm, units),
            plan.grade,
        )
        shown = (cells[0], *(words.local(cell) for cell in cells[1:]))
        return Row(shown, f"{row.facts.path.name}\n{words.local(reason_of(plan, units))}")

    def _typed(self) -> str:
        return _bare(self.search.text())

    def _wanted(self, rungs: Sequence[Rung], family: str) -> tuple[Rung, ...]:
        """Return the rungs that pass the filters, in the chosen order."""
        typed = self._typed()
        rows = [
            rung
            for rung in rungs
            if (not family or typed or rung.size.family == family)
            and typed in _bare(rung.size.label)
            and (not self.fits.isChecked() or rung.trimmed_share < 0.005)
            and (not self.enough.isChecked() or rung.enlargement <= 1)
        ]
        column, order = self._sorted
        if column >= 0:
            keys: tuple[Callable[[Rung], Any], ...] = (
                lambda rung: float(rung.size.width_mm) * float(rung.size.height_mm),
                lambda rung: rung.trimmed_share,
                lambda rung: rung.judged_ppi,
                lambda rung: rung.enlargement,
                lambda rung: rung.sharp_from_mm,
                lambda rung: GRADES.index(rung.grade),
            )
            rows.sort(key=keys[column], reverse=order == Qt.SortOrder.DescendingOrder)
        return tuple(rows)

    def _sort(self, column: int, order: Qt.SortOrder) -> None:
        self._sorted = (column, order)
        self.refresh()

    @refusable
    def _take_rung(self, rung: Rung) -> None:
        self.table.take_rung(rung)

    @refusable
    def _take(self, index: QModelIndex) -> None:
        meaning = self.model.meanings[index.row()]
        if isinstance(meaning, Rung):
            self.table.take_rung(meaning)
        elif isinstance(meaning, PrintSize):
            self.readout.setText(self.model.row(index.row()).tip)
        else:
            self.table.activate(self.table.prints.index(self.table.chosen[index.row()]))

    def _point(self, rung: Rung | None) -> None:
        one, units = self.table.current, self.table.units
        if one is None:
            self.readout.setText(
                "No photo is open: these are the pixels that each size needs. Choose one."
            )
            return
        plan = one.plan()
        if rung is None:
            none = "No size on sale here has this photo's shape; these do. "
            sentence = judged_from(plan, units)
            self.readout.setText(none + sentence if self._none_fits else sentence)
            return
        more = ""
        if rung.enlargement > 1:
            asked = words.resolution(plan.target_ppi, units)
            more = f" Enlarged {words.times(rung.enlargement)}, it meets the target of {asked}."
        why = reason_for(rung, plan, units)
        self.readout.setText(
            f"{size_name(rung.size, units)}: {rung.grade}, "
            f"{words.share(rung.trimmed_share)} trimmed. {why}{more}"
        )
