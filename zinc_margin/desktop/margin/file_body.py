"""What unfolds in line 7, File."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QWidget

from ...docket import store
from ...measure import words
from ...measure.amounts import parse_bytes
from ...measure.errors import BadRequest
from ...plan.model import Plan
from ..parts import Field, Link, Switch, row, text
from ..state import Print, Table
from .body import Body


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
        self.name = Field("File name", self._take_name, 198)
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
        self.packed = Switch(
            "Pictures in it", (("whole", "without loss"), ("jpeg", "as JPEG")),
            lambda key: self.decide(pdf_jpeg=key == "jpeg"),
        )  # fmt: skip
        self._packed = QWidget()
        packed = row("Pictures", self.packed)
        packed.setContentsMargins(0, 0, 0, 0)
        self._packed.setLayout(packed)
        self.column.addWidget(self._packed)
        self.column.addLayout(row("At most", self.most, self.most_hint))
        self.column.addLayout(row("Name", self.name))
        self.column.addLayout(row("Folder", self.folder))
        self.slip = Switch(
            "Hand-over slip", (("no", "no"), ("yes", "beside the file")),
            lambda key: self.decide(slip=key == "yes"),
        )  # fmt: skip
        self.column.addLayout(row("Slip", self.slip))

    def show_plan(self, one: Print, plan: Plan) -> None:
        from ...handoff.names import ruled_name

        line = one.docket.file
        self.format.show_value(line.format)
        self.bits.show_value(str(line.bits) if line.bits else "own")
        lossy = line.format == "jpeg" or (line.format == "pdf" and line.pdf_jpeg)
        self._depth.setVisible(not lossy)
        self._quality.setVisible(lossy)
        self._packed.setVisible(line.format == "pdf")
        self.packed.show_value("jpeg" if line.pdf_jpeg else "whole")
        self.slip.show_value("yes" if line.slip else "no")
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
