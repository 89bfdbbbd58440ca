"""Apply this photo's decisions to the selected photos; the user ticks which ones."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QPushButton, QVBoxLayout, QWidget

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.parts import text
from zinc_margin.desktop.widgets.refusals import carry_out
from zinc_margin.docket.transfer import PARTS

_TICKED = ("size", "paper")


class ApplyDialog(Dialog):
    """Asks which parts to apply to the selected photos; one undo reverts all of them."""

    def __init__(self, parent: QWidget, table: Table) -> None:
        super().__init__(parent, "Apply to the selected photos")
        self.table = table
        column = QVBoxLayout(self)
        column.setContentsMargins(24, 20, 24, 20)
        column.setSpacing(8)
        one = table.current
        head = text(f"From {one.name} to {len(table.chosen)} selected photos" if one else "")
        head.setFont(theme.serif(18))
        column.addWidget(head)
        self.boxes: dict[str, QCheckBox] = {}
        for key, label in PARTS.items():
            box = QCheckBox(label)
            box.setChecked(key in _TICKED)
            box.toggled.connect(self._refresh)
            column.addWidget(box)
            self.boxes[key] = box
        column.addWidget(
            text(
                "Each photo keeps its own crop position, rotation, file name and "
                "measurements. One undo reverts all of them.",
                soft=True,
            )
        )
        column.addWidget(self.sentence)
        buttons = QHBoxLayout()
        self.apply = QPushButton("Apply")
        self.apply.setObjectName("make")
        self.apply.clicked.connect(partial(carry_out, self, self._apply))
        cancel = QPushButton("Cancel")
        cancel.setObjectName("second")
        cancel.setAutoDefault(False)
        cancel.clicked.connect(self.reject)
        buttons.addWidget(self.apply)
        buttons.addWidget(cancel)
        buttons.addStretch(1)
        column.addLayout(buttons)
        self.setMinimumWidth(460)
        self._refresh()

    @property
    def parts(self) -> tuple[str, ...]:
        """The ticked parts."""
        return tuple(key for key, box in self.boxes.items() if box.isChecked())

    def _refresh(self) -> None:
        self.apply.setEnabled(bool(self.parts))

    def _apply(self) -> None:
        self.table.apply_to_chosen(self.parts)
        self.accept()
