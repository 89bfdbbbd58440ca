"""Presets in the window: view, apply, save, describe, export, import, remove."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace
from fractions import Fraction
from functools import partial
from pathlib import Path

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QListWidget,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from zinc_margin.desktop.dialogs.base import Dialog
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.context_menus import Entry, with_menu
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, accept_any, row, text
from zinc_margin.docket import presets
from zinc_margin.docket.finish_input import parse_share
from zinc_margin.docket.photo import PhotoLine
from zinc_margin.handoff.machine import this_machine
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.plan.size.suitability import judge
from zinc_margin.plan.text.phrases import skipped_words

_TOO_SMALL = (("make", "made, with a note"), ("enlarge", "enlarged"), ("skip", "skipped"))
_KIND = "Presets (*.json)"


class PresetDialog(Dialog):
    """Every preset, its effect on this photo, and its actions."""

    def __init__(self, parent: QWidget, table: Table) -> None:
        super().__init__(parent, "Presets")
        self.table = table
        whole = QHBoxLayout(self)
        whole.setContentsMargins(20, 18, 20, 18)
        whole.setSpacing(20)
        self.list = QListWidget()
        self.list.setAccessibleName("Presets")
        self.list.setFixedWidth(280)
        self.list.currentRowChanged.connect(self._show)
        with_menu(self.list, self._menu)
        whole.addWidget(self.list)
        right = QVBoxLayout()
        right.setSpacing(8)
        whole.addLayout(right, 1)
        self.name = text("")
        self.name.setFont(theme.serif(18))
        self.about = text("")
        self.does = text("", soft=True)
        self.here = text("")
        for part in (self.name, self.about, self.does, self.here):
            right.addWidget(part)
        laid = QHBoxLayout()
        self.apply_one = QPushButton("Apply to this photo")
        self.apply_all = QPushButton("Apply to all open photos")
        self.apply_one.setObjectName("make")
        self.apply_all.setObjectName("second")
        self.apply_one.clicked.connect(partial(self._apply, False))
        self.apply_all.clicked.connect(partial(self._apply, True))
        for button in (self.apply_one, self.apply_all):
            button.setAutoDefault(False)
            laid.addWidget(button)
        laid.addStretch(1)
        right.addLayout(laid)
        links = QHBoxLayout()
        self.export_link = Link("export …", self._ask_export)
        self.import_link = Link("import …", self._ask_import)
        self.remove = Link("remove", self._remove)
        for link in (self.export_link, self.import_link, self.remove):
            links.addWidget(link)
        links.addStretch(1)
        right.addLayout(links)
        right.addSpacing(14)
        right.addWidget(text("Save this photo's settings as a preset:"))
        self.new_name = Field("Name", accept_any, 260)
        self.new_about = Field("Its purpose", accept_any, 260)
        self.small = Choice("Photos that are too small", _TOO_SMALL, self._take_small, 160)
        self.most = Field("Skip a photo if this share is trimmed", self._take_most, 70, "25 %")
        right.addLayout(row("Name", self.new_name))
        right.addLayout(row("For", self.new_about))
        right.addLayout(row("Too small", self.small))
        right.addLayout(row("Skip", "if more is trimmed than", self.most))
        self.keep = QPushButton("Keep")
        self.keep.setObjectName("second")
        self.keep.setAutoDefault(False)
        self.keep.clicked.connect(self._keep)
        stored = QHBoxLayout()
        stored.addWidget(self.keep)
        stored.addStretch(1)
        right.addLayout(stored)
        right.addStretch(1)
        right.addWidget(self.sentence)
        self.every: list[presets.Preset] = []
        self._own: set[str] = set()
        self._small = "make"
        self._most: Fraction | None = None
        self.small.show_value("make")
        self.resize(860, 560)
        self._fill("")

    def _menu(self, at: QPoint) -> Iterator[Entry]:
        item = self.list.itemAt(at)
        if item is None:
            return
        self.list.setCurrentItem(item)
        for part in (self.apply_one, self.apply_all, self.export_link, self.remove):
            yield part.text(), part.click if part.isEnabled() else None

    def _fill(self, name: str) -> None:
        """List all presets, the user's first, and select the one with this name."""
        own = presets.own()
        self._own = {each.name for each in own}
        self.every = [*own, *presets.shipped_presets()]
        self.list.clear()
        for each in self.every:
            self.list.addItem(each.name)
        names = [each.name for each in self.every]
        self.list.setCurrentRow(names.index(name) if name in names else 0)

    @property
    def chosen(self) -> presets.Preset:
        """The selected preset."""
        return self.every[max(0, self.list.currentRow())]

    def _show(self) -> None:
        if not self.every:
            return
        each = self.chosen
        self.name.setText(each.name)
        self.about.setText(each.about)
        self.about.setVisible(bool(each.about))
        small = dict(_TOO_SMALL)[each.too_small]
        skipped = ""
        if each.most_trimmed is not None:
            skipped = f" Photos that would lose more than {words.share(float(each.most_trimmed))} "
            skipped += "are skipped."
        self.does.setText(f"In a batch, photos that are too small are {small}.{skipped}")
        one = self.table.current
        self.here.setVisible(one is not None)
        if one is not None:
            try:
                plan, why = judge(one.facts, each.docket_for(one.docket), each, this_machine())
                trimmed = words.share(plan.trimmed_share)
                said = f"{plan.size.label}, {trimmed} trimmed, {plan.grade}"
                if why is not None:
                    said = skipped_words(why)
            except ZincError as wrong:
                said = str(wrong)
            self.here.setText(f"{one.name}: {said}.")
        self.remove.setVisible(each.name in self._own and self.list.currentRow() < len(self._own))

    def _apply(self, on_all: bool) -> None:
        one, each = self.table.current, self.chosen
        if one is None:
            return
        chosen = self.table.prints if on_all else [one]
        refused = 0
        for photo in chosen:
            laid = replace(each.docket_for(photo.docket), version=photo.docket.version)
            try:
                self.table.write_version(photo, photo.which, laid)
            except BadRequest:
                refused += 1
        done = len(chosen) - refused
        self.sentence.setText(
            f"Applied to {done} photo{'' if done == 1 else 's'}; undo reverts it for each."
            + (f" {refused} cannot be printed with it and were not changed." if refused else "")
        )
        self._show()

    def _ask_export(self) -> None:
        start = Path.home() / f"{self.chosen.name}.json"
        path, _ = QFileDialog.getSaveFileName(self, "Export preset", str(start), _KIND)
        if path:
            self.export(Path(path))

    def export(self, path: Path) -> None:
        """Write the selected preset to a file."""
        self._try(partial(presets.save, self.chosen, path), f"Written: {path.name}.")

    def _ask_import(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "Import preset", str(Path.home()), _KIND)
        if path:
            self.import_(Path(path))

    def import_(self, path: Path) -> None:
        """Save a preset from a file."""

        def take() -> None:
            each = presets.load(path)
            if each.name in self._own:
                raise BadRequest(
                    f"A preset called {each.name} already exists and was kept. Remove it first."
                )
            presets.keep(each)
            self._fill(each.name)

        self._try(take, f"Imported from {path.name}.")

    def _remove(self) -> None:
        name = self.chosen.name

        def take_away() -> None:
            presets.remove(name)
            self._fill("")

        self._try(take_away, f"{name} was removed.")

    def _take_small(self, key: str) -> None:
        self._small = key
        self.small.show_value(key)

    def _take_most(self, typed: str) -> None:
        self._most = parse_share(typed) if typed else None
        self.most.show_value(words.share(float(self._most)) if self._most is not None else "")

    def _keep(self) -> None:
        one, name = self.table.current, self.new_name.text().strip()
        if one is None:
            return

        def keep() -> None:
            if not name or len(name) > 100:
                raise BadRequest("Type a name of at most 100 characters.")
            if name in self._own:
                raise BadRequest(f"A preset called {name} already exists. Choose another name.")
            docket = replace(one.docket, photo=PhotoLine())
            about = self.new_about.text().strip()[:1000]
            presets.keep(presets.Preset(name, about, docket, self._small, self._most))
            self._fill(name)

        self._try(keep, f"Saved: {name}.")

    def _try(self, call: Callable[[], object], said: str) -> None:
        try:
            call()
        except ZincError as why:
            said = str(why)
        self.sentence.setText(said)
