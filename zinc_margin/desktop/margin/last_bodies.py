"""What unfolds in the last two lines: Finish and File."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from ...docket import store
from ...measure import words
from ...measure.amounts import parse_bytes
from ...measure.errors import BadRequest
from ...plan.consequences import size_name
from ...plan.model import Plan
from ..parts import Field, Link, Switch, row, text
from ..state import Print, Table
from .body import Body


class FinishBody(Body):
    """6: the sheet."""

    def build(self) -> None:
        self._what = text("")
        self.column.addWidget(self._what)

    def show_plan(self, one: Print, plan: Plan) -> None:
        size = size_name(plan.size, self.table.units)
        kind = "bands in paper white" if one.docket.crop.fit == "whole" else "no border"
        told = f"The sheet is exactly the print, {size}, with {kind}."
        mat = plan.mat
        if mat is not None:
            units = self.table.units
            told += f" The mat's opening is {words.pair(*mat.opening, units)}"
            told += f", its frame {words.pair(*mat.frame, units)}." if mat.frame else "."
            if mat.reveal < 0:
                told += f" It hides {words.small(-mat.reveal, units)} of the picture all round."
            elif mat.reveal > 0:
                told += f" {words.small(mat.reveal, units)} of paper show all round."
        self._what.setText(told)


class FileBody(Body):
    """7: what is written, and where."""

    def __init__(self, table: Table, choose_folder: Callable[[], None]) -> None:
        self._choose_folder = choose_folder
        super().__init__(table, "file")

    def build(self) -> None:
        self.format = Switch(
            "Format", (("tiff", "TIFF"), ("jpeg", "JPEG"), ("png", "PNG"), ("pdf", "PDF")),
            lambda key: self.decide(format=key),
        )  # fmt: skip
        self.bits = Switch(
            "Depth", (("own", "as the photo"), ("8", "8-bit"), ("16", "16-bit")),
            lambda key: self.decide(bits=None if key == "own" else int(key)),
        )  # fmt: skip
        self.quality = Field("JPEG quality", self._take_quality, 52)
        self.most = Field("File size at most", self._take_most, 82)
        self.most_hint = text("", soft=True, wrap=False)
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
        self.column.addLayout(row("At most", self.most, self.most_hint))
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
        self.most.show_value(words.size_in_bytes(line.max_bytes) if line.max_bytes else "")
        self.most_hint.setText("" if line.max_bytes else "no limit; or 2 MB")
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

    def _take_most(self, typed: str) -> None:
        self.decide(max_bytes=parse_bytes(typed) if typed else None)

    def _take_name(self, typed: str) -> None:
        for ending in (".tif", ".tiff", ".jpg", ".jpeg", ".png", ".pdf"):
            if typed.lower().endswith(ending):
                typed = typed[: -len(ending)]
        self.decide(name=store.checked("file", "name", typed) if typed else None)
