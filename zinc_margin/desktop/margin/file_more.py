"""More controls of line 7: names by rule, watermark, conversion, metadata."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QWidget

from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, Switch, column_layout, row
from zinc_margin.docket.docket import check_value
from zinc_margin.docket.file import NAME_FIELDS, PLACES
from zinc_margin.measure import words
from zinc_margin.plan.model import Plan

_INTENTS = (
    ("relative", "relative"),
    ("perceptual", "perceptual"),
    ("saturation", "saturation"),
    ("absolute", "absolute"),
)
_CARRIED = (("all", "all of it"), ("copyright", "copyright only"), ("none", "nothing"))
_YES_NO = (("no", "no"), ("yes", "yes"))
_WIDE = 190
_FIELDS = ", ".join("{" + name + "}" for name in NAME_FIELDS)


class FileMore(QWidget):
    """The rarer decisions of the File line."""

    def __init__(self, body: Body) -> None:
        super().__init__()
        self.body = body
        decide = body.decide
        rows = column_layout(self, (0, 0, 0, 0))
        self.rule = Field("Rule for names", self._take_rule, 188, _FIELDS)
        self.folders = Field(
            "Rule for folders",
            self._text("folder_rule"),
            188,
            f"Folders inside the folder, separated by /: {{date}}/{{paper}}\n{_FIELDS}",
        )
        self.project = Field("Project", self._text("project"), 120, "Text for {project}")
        self.note = Field("Text", self._text("note"), 120, "Text for {text}")
        self.watermark = Field(
            "Watermark", self._take_mark, 120, "A line of text, for screen versions"
        )
        self.picture = Link("or a picture …", self._ask_picture)
        self.watermark_place = Choice(
            "Watermark's place",
            tuple((place, place.replace("-", " ")) for place in PLACES),
            lambda key: decide(watermark_place=key),
            _WIDE,
        )
        self.watermark_size = Field(
            "Watermark's height",
            self._percent("watermark_size"),
            52,
            "Percent of the page's shorter side",
        )
        self.watermark_strength = Field(
            "Watermark's strength",
            self._percent("watermark_strength"),
            52,
            "Opacity in percent",
        )
        self.intent = Choice("Rendering intent", _INTENTS, lambda key: decide(intent=key), _WIDE)
        self.black = Switch(
            "Black point",
            (("yes", "compensated"), ("no", "not")),
            lambda key: decide(black_point=key == "yes"),
        )
        self.carried = Choice("Metadata", _CARRIED, lambda key: decide(metadata=key), _WIDE)
        self.places = Switch(
            "Location",
            (("yes", "kept"), ("no", "left out")),
            lambda key: decide(places=key == "yes"),
        )
        self.embed = Switch("Print settings in it", _YES_NO, lambda key: decide(embed=key == "yes"))
        self.slip = Switch(
            "Printing notes",
            (("no", "no"), ("yes", "next to the file")),
            lambda key: decide(printing_notes=key == "yes"),
        )
        for named in (self.rule, self.folders, self.project, self.note, self.watermark):
            named.literal = True
        for label, parts in (
            ("Rule", (self.rule,)),
            ("Folders", (self.folders,)),
            ("Project", (self.project,)),
            ("Text", (self.note,)),
            ("Watermark", (self.watermark, self.picture)),
            ("Its place", (self.watermark_place,)),
            ("Its height", (self.watermark_size, "covers", self.watermark_strength)),
            ("Intent", (self.intent,)),
            ("Black point", (self.black,)),
            ("Metadata", (self.carried,)),
            ("Location", (self.places,)),
            ("Settings in it", (self.embed,)),
            ("Printing notes", (self.slip,)),
        ):
            rows.addLayout(row(label, *parts))

    def show_plan(self, one: Print, plan: Plan) -> None:
        """Show the docket's value."""
        line = one.docket.file
        self.rule.show_value(line.rule or "{name}-{size}")
        self.folders.show_value(line.folder_rule or "")
        self.project.show_value(line.project or "")
        self.note.show_value(line.note or "")
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
        self.watermark_place.show_value(line.watermark_place)
        self.watermark_size.show_value(f"{words.trimmed_zeros(line.watermark_size, 2)} %")
        self.watermark_strength.show_value(f"{words.trimmed_zeros(line.watermark_strength, 1)} %")
        converts = plan.file.colour != "own"
        self.intent.setEnabled(converts)
        self.black.setEnabled(converts)
        self.intent.show_value(line.intent)
        self.black.show_value("yes" if line.black_point else "no")
        self.carried.show_value(line.metadata)
        self.places.show_value("yes" if line.places else "no")
        self.embed.show_value("yes" if line.embed else "no")
        self.slip.show_value("yes" if line.printing_notes else "no")

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

    def _percent(self, field: str) -> Callable[[str], None]:
        def take(typed: str) -> None:
            plain = typed.removesuffix("%").strip()
            self.body.decide(**{field: check_value("file", field, plain)})

        return take

    def _text(self, field: str) -> Callable[[str], None]:
        def take(typed: str) -> None:
            value: Any = check_value("file", field, typed) if typed else None
            self.body.decide(**{field: value})

        return take
