"""More controls of line 7: names by rule, watermark, conversion, metadata."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QWidget

from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Field, Link, column_layout, row
from zinc_margin.docket.docket import check_value
from zinc_margin.docket.file import NAME_FIELDS, PLACES
from zinc_margin.plan.model import Plan

_INTENTS = (
    ("relative", "relative"),
    ("perceptual", "perceptual"),
    ("saturation", "saturation"),
    ("absolute", "absolute"),
)
_CARRIED = (("all", "all of it"), ("copyright", "copyright only"), ("none", "nothing"))
_FIELDS = ", ".join("{" + name + "}" for name in NAME_FIELDS)


class FileMore(QWidget):
    """The rarer decisions of the File line."""

    def __init__(self, body: Body) -> None:
        super().__init__()
        self.body = body
        rows = column_layout(self, (0, 0, 0, 0))
        self.rule = Field("Rule for names", self._take_rule, 188, _FIELDS)
        self.folders = body.entry(
            "folder_rule",
            "Rule for folders",
            188,
            f"Folders inside the folder, separated by /: {{date}}/{{paper}}\n{_FIELDS}",
        )
        self.project = body.entry("project", "Project", 120, "Text for {project}")
        self.note = body.entry("note", "Text", 120, "Text for {text}")
        self.watermark = Field(
            "Watermark", self._take_mark, 120, "A line of text, for screen versions"
        )
        self.picture = Link("or a picture …", self._ask_picture)
        places = tuple((place, place.replace("-", " ")) for place in PLACES)
        self.watermark_place = body.choice("watermark_place", "Watermark's position", places)
        self.watermark_size = body.entry(
            "watermark_size", "Watermark's height", 52, "Percent of the page's shorter side"
        )
        self.watermark_strength = body.entry(
            "watermark_strength", "Watermark's opacity", 52, "Percent"
        )
        self.intent = body.choice("intent", "Rendering intent", _INTENTS)
        self.black = body.switch(
            "black_point", "Black point", (("yes", "compensated"), ("no", "not"))
        )
        self.carried = body.choice("metadata", "Metadata", _CARRIED)
        self.places = body.switch("places", "Location", (("yes", "kept"), ("no", "left out")))
        self.embed = body.switch("embed", "Print settings in it")
        self.slip = body.switch(
            "printing_notes", "Printing notes", (("no", "no"), ("yes", "next to the file"))
        )
        for named in (self.rule, self.watermark):
            named.literal = True
        for label, parts in (
            ("Name rule", (self.rule,)),
            ("Folder rule", (self.folders,)),
            ("Project", (self.project,)),
            ("Text", (self.note,)),
            ("Watermark", (self.watermark, self.picture)),
            ("Position", (self.watermark_place,)),
            ("Height", (self.watermark_size, "opacity", self.watermark_strength)),
            ("Intent", (self.intent,)),
            ("Black point", (self.black,)),
            ("Metadata", (self.carried,)),
            ("Location", (self.places,)),
            ("Settings in file", (self.embed,)),
            ("Printing notes", (self.slip,)),
        ):
            rows.addLayout(row(label, *parts))

    def show_plan(self, one: Print, plan: Plan) -> None:
        """Show the docket's value."""
        line = one.docket.file
        self.rule.show_value(line.rule or "{name}-{size}")
        self.watermark.show_value(line.watermark or "")
        name = Path(line.watermark_picture).name if line.watermark_picture else ""
        metrics = self.picture.fontMetrics()
        label = (
            metrics.elidedText(name, Qt.TextElideMode.ElideMiddle, 90) if name else "or a picture …"
        )
        self.picture.setText(label)
        self.picture.setToolTip(
            f"{line.watermark_picture}\nClick to remove it."
            if name
            else "Use a picture file instead of text."
        )
        marked = bool(line.watermark or line.watermark_picture)
        for part in (self.watermark_place, self.watermark_size, self.watermark_strength):
            part.setEnabled(marked)
        converts = plan.file.colour != "own"
        self.intent.setEnabled(converts)
        self.black.setEnabled(converts)

    # Typed values.

    def _take_rule(self, typed: str) -> None:
        plain = not typed or typed == "{name}-{size}"
        rule = None if plain else check_value("file", "rule", typed)
        self.body.decide(rule=rule, name=None)

    def _take_mark(self, typed: str) -> None:
        mark = check_value("file", "watermark", typed) if typed else None
        self.body.decide(watermark=mark, watermark_picture=None)

    def _ask_picture(self) -> None:
        one = self.body.table.current
        if one is None:
            return
        if one.docket.file.watermark_picture:
            self.body.decide(watermark_picture=None)
            return
        path, _ = QFileDialog.getOpenFileName(
            self, "A picture for the watermark", str(Path.home()), "Pictures (*.png *.jpg *.tif)"
        )
        if path:
            self.take_picture(Path(path))

    def take_picture(self, path: Path) -> None:
        """Use a small picture as the watermark instead of a text."""
        self.body.decide(watermark=None, watermark_picture=str(path))
