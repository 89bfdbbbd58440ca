"""Controls below the families: save, name, export and import the user's sizes."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QWidget

from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.widgets.parts import Link, column_layout, text
from zinc_margin.measure.errors import ZincError
from zinc_margin.measure.lengths import plain_text
from zinc_margin.plan.text.lines import size_name


class Mine(QWidget):
    """A field for a name, with its actions."""

    def __init__(self, table: Table) -> None:
        super().__init__()
        self.table = table
        column = column_layout(self, (0, 0, 0, 0), 2)
        self.name = QLineEdit()
        self.name.setAccessibleName("Name of your size")
        self.name.setPlaceholderText("a name for the chosen size")
        self.name.returnPressed.connect(self._keep)
        self.keep = Link("keep", self._keep, "Save the chosen size under this name")
        top = QHBoxLayout()
        top.addWidget(self.name, 1)
        top.addWidget(self.keep)
        column.addLayout(top)
        self.rename = Link("rename", self._rename, "Rename the chosen size")
        self.remove = Link("remove", self._remove, "Remove the chosen size from yours")
        self.import_link = Link("import …", self._import, "Add the sizes of a file")
        self.export_link = Link("export …", self._export, "Write your sizes to a file")
        below = QHBoxLayout()
        below.setSpacing(12)
        for link in (self.rename, self.remove, self.import_link, self.export_link):
            below.addWidget(link)
        below.addStretch(1)
        column.addLayout(below)
        self.said = text("", soft=True)
        column.addWidget(self.said)

    def refresh(self) -> None:
        """Update the links."""
        own = self.table.own.all
        chosen = self._chosen()
        self.rename.setEnabled(chosen is not None)
        self.remove.setEnabled(chosen is not None)
        self.export_link.setEnabled(bool(own))
        if not own and not self.said.text():
            self.said.setText(
                "None yet. Choose or type a size, name it here, and press keep: then its "
                "name works wherever a size can be typed."
            )
        one = self.table.current
        if one is not None:
            shown = size_name(one.plan().size, self.table.units)
            self.name.setToolTip(f"Saves {shown}")

    def _chosen(self) -> str | None:
        """Return the name of the selected size, if it is one of the user's."""
        one = self.table.current
        if one is None:
            return None
        line = one.docket.size
        label = line.way.label if line.way is not None else line.size.label if line.size else ""
        for own in self.table.own.all:
            if label and plain_text(own.label) == plain_text(label):
                return own.label
        return None

    def _keep(self) -> None:
        one = self.table.current
        if one is None:
            return
        size = one.docket.size.way or one.docket.size.size or one.plan().size
        name = self.name.text()
        self._do(partial(self.table.own.add, name, size), f"Saved as “{name.strip()}”.")

    def _rename(self) -> None:
        chosen, new = self._chosen(), self.name.text()
        if chosen is not None:
            self._do(
                partial(self.table.own.rename, chosen, new), (f"It is now called “{new.strip()}”.")
            )

    def _remove(self) -> None:
        chosen = self._chosen()
        if chosen is not None:
            self._do(
                partial(self.table.own.remove, chosen), (f"“{chosen}” was removed from your sizes.")
            )

    def _import(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Import sizes", "", "Sizes (*.json)")
        if path:
            self.import_file(Path(path))

    def import_file(self, path: Path) -> None:
        """Add the sizes of a file."""

        def work() -> str:
            added, stored = self.table.own.take_in(path)
            return f"{added} added; {stored} already existed and were kept."

        self._do(work)

    def _export(self) -> None:
        path, _ = QFileDialog.getSaveFileName(self, "Write your sizes", "sizes.json")
        if path:
            count = len(self.table.own.all)
            self._do(partial(self.table.own.write, Path(path)), f"{count} written to {path}.")

    def _do(self, work: Callable[[], str | None], sentence: str = "") -> None:
        try:
            said = work() or sentence
            self.name.clear()
        except ZincError as why:
            said = str(why)
        self.said.setText(said)
        self.table.own_changed()
