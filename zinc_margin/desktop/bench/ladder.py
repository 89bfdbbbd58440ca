"""The ladder: the nest, and beside it every size as a table."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from typing import Any

from PySide6.QtCore import QAbstractTableModel, QItemSelectionModel, Qt
from PySide6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QHeaderView,
    QLineEdit,
    QPushButton,
    QTableView,
    QWidget,
)

from ...measure import words
from ...measure.lengths import plain_text
from ...measure.sizes import catalogue
from ...measure.ways import named_ways
from ...plan.consequences import size_name
from ...plan.ladder import Rung
from ...plan.reach import GRADES
from .. import theme
from ..parts import Choice, stacked, text
from ..state import Table
from .nest import Nest

_HEADS = ("size", "trimmed", "ppi", "sharp from", "grade")
_HELP = (
    "The print, lying as the photo lies",
    "How much of the picture its shape costs",
    "The photo's own pixels per inch on it",
    "The nearest distance from which it looks fully sharp",
    "full: meets what is asked. good: over your floor and sharp from where it is seen. "
    "distant: under the floor, yet sharp from there. thin: neither.",
)
_WIDTH = 352


class Rungs(QAbstractTableModel):
    """The sizes as rows."""

    def __init__(self) -> None:
        super().__init__()
        self.rungs: tuple[Rung, ...] = ()
        self.units = "cm"
        self.current = -1

    def show_rungs(self, rungs: tuple[Rung, ...], units: str, current: int) -> None:
        """Show other rows."""
        self.beginResetModel()
        self.rungs, self.units, self.current = rungs, units, current
        self.endResetModel()

    def rowCount(self, parent: Any = None) -> int:
        return len(self.rungs)

    def columnCount(self, parent: Any = None) -> int:
        return len(_HEADS)

    def headerData(self, section: int, orientation: Any, role: int = 0) -> Any:
        if orientation == Qt.Orientation.Horizontal:
            if role == Qt.ItemDataRole.DisplayRole:
                return _HEADS[section]
            if role == Qt.ItemDataRole.ToolTipRole:
                return _HELP[section]
            if role == Qt.ItemDataRole.TextAlignmentRole:
                return _aligned(section)
        return None

    def data(self, index: Any, role: int = 0) -> Any:
        rung = self.rungs[index.row()]
        if role == Qt.ItemDataRole.DisplayRole:
            return (
                rung.size.label,
                words.share(rung.trimmed_share).replace("under ", "< "),
                words.ppi(rung.effective_ppi),
                words.length(rung.sharp_from_mm, self.units),
                rung.grade,
            )[index.column()]
        if role == Qt.ItemDataRole.TextAlignmentRole:
            return _aligned(index.column())
        if role == Qt.ItemDataRole.FontRole and index.row() == self.current:
            return theme.sans(13, bold=True)
        if role == Qt.ItemDataRole.ToolTipRole:
            remark = f", {rung.way.remark}" if rung.way is not None and rung.way.remark else ""
            return size_name(rung.size, self.units) + remark
        return None


def _toggle(words_: str, help_: str) -> QPushButton:
    button = QPushButton(words_)
    button.setObjectName("choice")
    button.setCheckable(True)
    button.setToolTip(help_)
    return button


def _aligned(column: int) -> Qt.AlignmentFlag:
    side = Qt.AlignmentFlag.AlignLeft if column == 0 else Qt.AlignmentFlag.AlignRight
    return side | Qt.AlignmentFlag.AlignVCenter


class LadderBench(QWidget):
    """The bench for Size."""

    def __init__(self, table: Table) -> None:
        super().__init__()
        self.table = table
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        self.nest = Nest(table)
        row.addWidget(self.nest, 1)
        side = QWidget()
        side.setFixedWidth(_WIDTH)
        side.setAutoFillBackground(True)
        column = stacked(side, (8, 8, 4, 0), 6)
        families = list(
            dict.fromkeys(
                [size.family for size in catalogue()] + [way.family for way in named_ways()]
            )
        )
        shown = (("", "every size"), *((family, family) for family in families))
        self.family = Choice("Family of sizes", shown, lambda _: self.refresh())
        self.family.show_value("photo metric")
        top = QHBoxLayout()
        top.addWidget(self.family, 1)
        self._count = text("", soft=True, wrap=False)
        top.addWidget(self._count)
        column.addLayout(top)
        self.search = QLineEdit()
        self.search.setPlaceholderText("find: a3, 40, roll …")
        self.search.setAccessibleName("Find sizes")
        self.search.setClearButtonEnabled(True)
        self.search.textChanged.connect(lambda _: self.refresh())
        column.addWidget(self.search)
        self.only = QHBoxLayout()
        self.only.setSpacing(0)
        self.fits = _toggle("fits my shape", "Only sizes that trim under half a percent")
        self.enough = _toggle("no enlarging", "Only sizes that the photo's own pixels fill")
        for button in (self.fits, self.enough):
            button.toggled.connect(lambda _: self.refresh())
            self.only.addWidget(button)
        self.only.addStretch(1)
        column.addLayout(self.only)
        self.model = Rungs()
        self.view = QTableView()
        self.view.setModel(self.model)
        self.view.setAccessibleName("Print sizes")
        self.view.setShowGrid(False)
        self.view.verticalHeader().setVisible(False)
        self.view.verticalHeader().setDefaultSectionSize(25)
        self.view.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.view.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.view.setTabKeyNavigation(False)
        header = self.view.horizontalHeader()
        header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        header.setHighlightSections(False)
        header.setSectionsClickable(True)
        header.setSortIndicatorShown(True)
        self._sorted: tuple[int, Qt.SortOrder] = (-1, Qt.SortOrder.AscendingOrder)
        header.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        header.sortIndicatorChanged.connect(self._sort)
        for index, width in enumerate((92, 60, 44, 72, 52)):
            self.view.setColumnWidth(index, width)
        header.setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.view.clicked.connect(lambda index: self._choose(self.model.rungs[index.row()]))
        self.view.activated.connect(lambda index: self._choose(self.model.rungs[index.row()]))
        column.addWidget(self.view, 1)
        self.readout = text("", soft=True)
        self.readout.setMinimumHeight(56)
        self.readout.setContentsMargins(2, 4, 8, 6)
        column.addWidget(self.readout)
        row.addWidget(side)
        self.nest.chosen.connect(self._choose)
        self.nest.pointed.connect(self._point)

    def refresh(self) -> None:
        """Judge every size anew."""
        one = self.table.current
        if one is None:
            return
        plan = one.plan()
        family = self.family.currentData()
        rungs = self._wanted(one.ladder(), family)
        current = next(
            (
                index
                for index, rung in enumerate(rungs)
                if (rung.size.width_mm, rung.size.height_mm)
                == (plan.size.width_mm, plan.size.height_mm)
            ),
            -1,
        )
        if (rungs, self.table.units, current) != (
            self.model.rungs, self.model.units, self.model.current,
        ):  # fmt: skip
            self.model.show_rungs(rungs, self.table.units, current)
            if current >= 0:
                index = self.model.index(current, 0)
                flags = QItemSelectionModel.SelectionFlag
                self.view.selectionModel().select(index, flags.ClearAndSelect | flags.Rows)
                self.view.selectionModel().setCurrentIndex(index, flags.NoUpdate)
                self.view.scrollTo(index)
        self._count.setText(f"{len(rungs)} sizes")
        # the drawing stays readable with one family; of all together it takes those that matter
        self.nest.show_rungs(rungs if family else rungs[:: max(1, len(rungs) // 32)])
        self._point(None)

    def _wanted(self, rungs: Sequence[Rung], family: str) -> tuple[Rung, ...]:
        """Return the rungs that the filters leave, in the order asked for."""
        typed = plain_text(self.search.text()).replace("×", "x").replace(" ", "")
        found = [
            rung
            for rung in rungs
            if (not family or typed or rung.size.family == family)
            and typed in plain_text(rung.size.label).replace("×", "x").replace(" ", "")
            and (not self.fits.isChecked() or rung.trimmed_share < 0.005)
            and (not self.enough.isChecked() or rung.enlargement <= 1)
        ]
        column, order = self._sorted
        if column >= 0:
            keys: tuple[Callable[[Rung], Any], ...] = (
                lambda rung: float(rung.size.width_mm) * float(rung.size.height_mm),
                lambda rung: rung.trimmed_share,
                lambda rung: rung.effective_ppi,
                lambda rung: rung.sharp_from_mm,
                lambda rung: GRADES.index(rung.grade),
            )
            found.sort(key=keys[column], reverse=order == Qt.SortOrder.DescendingOrder)
        return tuple(found)

    def _sort(self, column: int, order: Qt.SortOrder) -> None:
        self._sorted = (column, order)
        self.refresh()

    def _choose(self, rung: Rung) -> None:
        one = self.table.current
        if one is not None:
            # the place in the free room stays; a frame of one's own belonged to the other shape
            crop = replace(one.docket.crop, frame=None)
            lie = one.docket.size.lie
            line = replace(
                one.docket.size,
                size=rung.size if rung.way is None else None,
                way=rung.way,
                lie=lie if lie == "across" else "auto",
            )
            self.table.lay(replace(one.docket, size=line, crop=crop))

    def _point(self, rung: Rung | None) -> None:
        one, units = self.table.current, self.table.units
        if rung is None:
            if one is not None:
                seen = words.length(one.plan().distance_mm, units)
                self.readout.setText(
                    f"Judged for one distance, {seen}. Seen from its own diagonal, every size of "
                    "one photo looks equally sharp."
                )
            return
        more = ""
        if rung.enlargement > 1:
            more = f" Enlarged {words.trimmed_zeros(rung.enlargement, 2)} × to what is asked."
        self.readout.setText(
            f"{size_name(rung.size, units)}: {words.ppi(rung.effective_ppi)} ppi, "
            f"{words.share(rung.trimmed_share)} trimmed, sharp from "
            f"{words.length(rung.sharp_from_mm, units)}: {rung.grade}.{more}"
        )
