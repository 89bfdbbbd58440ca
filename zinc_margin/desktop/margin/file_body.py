"""The controls of line 7, File."""

from __future__ import annotations

from dataclasses import replace
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtGui import QShowEvent
from PySide6.QtWidgets import QFileDialog, QVBoxLayout, QWidget

from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.margin.file_more import FileMore
from zinc_margin.desktop.model.events import OwnChanged
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, NoteBox, clear, row, text
from zinc_margin.docket import presets
from zinc_margin.docket.docket import check_value
from zinc_margin.handoff.labs import Lab, every, find
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.formats import formats
from zinc_margin.measure.words import parse_bytes
from zinc_margin.plan.file.name import ruled_name
from zinc_margin.plan.model import Plan

_COLOURS = (
    ("own", "as the photo"),
    ("srgb", "sRGB"),
    ("wide", "wide RGB"),
    ("grey", "grey"),
    ("icc", "an ICC profile …"),
)
_COMPRESSIONS = (("none", "none"), ("deflate", "deflate"), ("lzw", "LZW"), ("zstd", "Zstandard"))
_SUBSAMPLINGS = (("4:4:4", "4:4:4"), ("4:2:2", "4:2:2"), ("4:2:0", "4:2:0"))
_WIDE = 190


class FileBody(Body):
    """7: the file and its folder."""

    def build(self) -> None:
        kinds = tuple((form.key, form.name) for form in formats().values())
        self.format = self.choice("format", "Format", kinds)
        depths = (("", "as the photo"), ("8", "8-bit"), ("16", "16-bit"))
        self.bits = self.switch("bits", "Bit depth", depths)
        self.compression = self.choice("compression", "Compression", _COMPRESSIONS)
        stored = (("no", "lossless"), ("yes", "as JPEG"))
        self.packed = self.switch("pdf_jpeg", "Pictures in it", stored)
        self.lossless = self.switch("lossless", "Loss", (("no", "by quality"), ("yes", "lossless")))
        self.quality = Field("Quality", self._take_quality, 52)
        self.subsampling = self.switch("subsampling", "Subsampling", _SUBSAMPLINGS)
        self.colour = Choice("Colours", _COLOURS, self._take_colour, _WIDE)
        self.most = Field("Largest file size", self._take_most, 82)
        self.most_hint = text("", soft=True, wrap=False)
        self.name = Field("File name", self.table.take_file_name, 188)
        self.name.literal = True
        self.folder = Link("", self.shell.choose_folder, "Choose another folder")
        self.column.addLayout(row("Format", self.format))
        self._rows = {
            "compression": self.held("Compression", self.compression),
            "packed": self.held("Pictures", self.packed),
            "lossless": self.held("Loss", self.lossless),
            "bits": self.held("Bit depth", self.bits),
            "quality": self.held("Quality", self.quality, "of 100"),
            "subsampling": self.held("Subsampling", self.subsampling),
        }
        self.column.addLayout(row("Colours", self.colour))
        self.column.addLayout(row("Largest file", self.most, self.most_hint))
        self.column.addLayout(row("Name", self.name))
        self.column.addLayout(row("Folder", self.folder))
        self.table.observe(self.list_standing, OwnChanged)
        self.preset = Choice("Preset", (), self._apply_preset, _WIDE)
        self.column.addLayout(row("Preset", self.preset))
        self.check = Choice(
            "Check against",
            (("", "nothing"), *((c.key, c.name) for c in every())),
            self._take_check,
            _WIDE,
        )
        self.column.addLayout(row("Check against", self.check))
        self._findings = QVBoxLayout()
        self._findings.setSpacing(2)
        self.column.addLayout(self._findings)
        self._lab: Lab | None = None
        self._shown_findings: list[tuple[str, str, str]] | None = None
        self._more = Link("more …", self._unfold)
        self.column.addLayout(
            row(
                "",
                self._more,
                Link("batch …", self.shell.dialogs.show_batch, "All open photos (Ctrl+R)"),
                Link(
                    "presets …",
                    self.shell.dialogs.show_presets,
                    "Apply, save, import and export presets",
                ),
            )
        )
        self.more = FileMore(self)
        self.more.setVisible(False)
        self.column.addWidget(self.more)

    def unfold(self, part: QWidget) -> None:
        """Show the rest of the file's controls."""
        if part is self.more:
            self._unfold()

    def _unfold(self) -> None:
        self.more.show()
        self._more.hide()

    def show_plan(self, one: Print, plan: Plan) -> None:
        line, form = plan.settled.file, plan.file.format
        self.format.show_value(form)
        lossy, screen = plan.file.lossy, formats()[form].screen
        shown = {
            "compression": form == "tiff",
            "packed": form == "pdf",
            "lossless": screen,
            "bits": not lossy and not screen,
            "quality": lossy,
            "subsampling": form == "jpeg",
        }
        for name, there in shown.items():
            self._rows[name].setVisible(there)
        self.quality.show_value(str(line.quality))
        own = [("icc", line.profile.name)] if line.profile is not None else [_COLOURS[-1]]
        self.colour.show_words([*_COLOURS[:-1], *own])
        self.colour.show_value(plan.file.colour)
        self.most.show_value(words.size_in_bytes(line.max_bytes) if line.max_bytes else "")
        self.most_hint.setText("" if line.max_bytes else "no limit; or 2 MB")
        self.name.show_value(line.name or ruled_name(one.facts.path, plan))
        self.name.show_help(f"The file's name. It will be {self.shell.goal(one, plan)}.")
        folder = line.folder or str(one.facts.path.parent)
        metrics = self.folder.fontMetrics()
        label = line.folder or "next to the photo"
        self.folder.setText(metrics.elidedText(label, Qt.TextElideMode.ElideMiddle, 200))
        self.folder.setToolTip(f"{folder}\nClick to choose another folder.")
        self._show_check(one, plan)
        self.preset.show_value("")
        self.more.show_plan(one, plan)

    def _take_check(self, key: str) -> None:
        self._lab = find(key) if key else None
        one = self.table.current
        if one is not None:
            self._show_check(one, one.plan())

    def _show_check(self, one: Print, plan: Plan) -> None:
        """Show why the chosen lab would refuse the file."""
        from zinc_margin.handoff.checking import check_plan, remedy

        result: list[tuple[str, str, str]] | None = None
        if self._lab is not None:
            stem = self.shell.goal(one, plan).stem
            taken = check_plan(plan, stem, self._lab)
            result = [(finding.text, finding.way, finding.code) for finding in taken]
        if result == self._shown_findings:
            return
        self._shown_findings = result
        clear(self._findings)
        for said, way, code in result or ():
            fields = remedy(code, self._lab) if self._lab is not None else {}
            if fields:
                press = partial(self.decide, **fields)
                self._findings.addWidget(NoteBox(said, ((way.rstrip("."), press),)))
            else:
                self._findings.addWidget(NoteBox(f"{said} {way}", ()))
        if result == []:
            self._findings.addWidget(text("It would be accepted.", soft=True))

    def showEvent(self, event: QShowEvent) -> None:
        # The user's presets are files: read them when the line opens, not on every change.
        super().showEvent(event)
        self.list_standing()

    def list_standing(self) -> None:
        """List the presets again."""
        if not self.is_built:
            return
        names = tuple((s.name, s.name) for s in presets.every())
        self.preset.show_words((("", "apply to this photo …"), *names))
        self.preset.show_value("")

    def _apply_preset(self, name: str) -> None:
        one = self.table.current
        if one is not None and name:
            laid = presets.find(name).docket_for(one.docket)
            self.table.lay(replace(laid, version=one.docket.version))

    # Typed values.

    def _take_quality(self, typed: str) -> None:
        try:
            value = int(typed)
        except ValueError:
            raise BadRequest(
                f"“{typed}” is not a quality. Type a whole number, 1 to 100."
            ) from None
        self.decide(quality=check_value("file", "quality", value))

    def _take_colour(self, key: str) -> None:
        if key != "icc":
            self.decide(colour=key)
            return
        path, _ = QFileDialog.getOpenFileName(
            self, "An ICC profile", str(Path.home()), "ICC profiles (*.icc *.icm)"
        )
        if path:
            self.take_profile(Path(path))

    def take_profile(self, path: Path) -> None:
        """Convert to the profile in a file; report why if it cannot be used."""
        from zinc_margin.handoff.conversion import read_profile

        try:
            self.decide(colour="icc", profile=read_profile(path))
        except BadRequest as why:
            self.show_refusal(str(why))

    def _take_most(self, typed: str) -> None:
        self.decide(max_bytes=parse_bytes(typed) if typed else None)
