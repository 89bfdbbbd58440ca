"""The controls of line 6, Finish. Numbers come from the plan."""

from __future__ import annotations

from fractions import Fraction
from functools import partial

from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.margin.body import Body, hint
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import (
    Choice,
    Field,
    Link,
    Switch,
    column_layout,
    held_row,
    row,
    text,
)
from zinc_margin.docket.finish import FinishLine, Margins, parse_margins
from zinc_margin.docket.finish_input import parse_key_line, parse_pieces
from zinc_margin.handoff import ipp
from zinc_margin.measure import words
from zinc_margin.measure.lengths import nothing_or
from zinc_margin.measure.sizes import parse_size
from zinc_margin.measure.tones import EDGE, parse_tone, parse_tone_or_edge, tone_name
from zinc_margin.plan.finish.captions import FIELDS
from zinc_margin.plan.finish.room import scales_on
from zinc_margin.plan.finish.sides import side_mm
from zinc_margin.plan.model import Plan

_FOOT_HEAVIER = Fraction(4, 9)
"""Vertical place of a picture with a quarter more paper below than above."""

_ASK = "\nask"
"""An item that cannot be a printer's name."""


_SIDES = (("repeat", "repeated"), ("plain", "one colour"), ("own", "its own edge"))


class FinishBody(Body):
    """6: the sheet."""

    def build(self) -> None:
        fields = ", ".join("{" + name + "}" for name in FIELDS)
        self.sheet = Field("Sheet of paper", self._take_sheet, 132)
        self.turn = Link("rotate", self._turn)
        self.border = Field(
            "Border", self._take_border, 132, "One, or four: top, right, bottom, left"
        )
        fills = (("yes", "fills the space"), ("no", "keeps its size"))
        self.scales = self.switch("scales", "Picture on the sheet", fills)
        self.lies = Switch(
            "Position",
            (("middle", "in the middle"), ("heavy", "a little higher")),
            self._take_place,
        )
        self.caption = self.entry("caption", "Caption", 188, f"Filled: {fields}")
        self.foot = self.entry("footer", "Footer", 188, f"Filled: {fields}")
        for field in (self.caption, self.foot):
            field.setPlaceholderText("{title}, {date}")
        self._known: list[tuple[str, str]] = []
        self._can_ask = ipp.absent() is None  # looked up once, so a refresh needs no disk access
        self.column.addLayout(row("Sheet", self.sheet, self.turn))
        self.column.addLayout(row("Border", self.border))
        self._scales = self.held("Picture", self.scales)
        self._lies = self.held("Position", self.lies)
        self.edges_of = Choice("Unprintable edges", (), self._take_printer, 188)
        self._edges_of = self.held("Unprintable edge", self.edges_of)
        self.column.addLayout(row("Caption", self.caption))
        self.column.addLayout(row("Footer", self.foot))
        self._links = {
            name: Link(shown, partial(self._unfold, name))
            for name, shown in (
                ("marks", "marks …"),
                ("wrap", "canvas …"),
                ("pieces", "in pieces …"),
            )
        }
        self.column.addLayout(row("", *self._links.values()))
        self._groups = {name: QWidget() for name in self._links}
        self._unfolded: set[str] = set()
        self._build_marks(self._groups["marks"])
        self._build_wrap(self._groups["wrap"])
        self._build_pieces(self._groups["pieces"])
        for group in self._groups.values():
            self.column.addWidget(group)
        self.several = Link("several prints on a sheet …", self.shell.dialogs.lay_together)
        self.column.addLayout(row("", self.several))
        self._sentence = text("", soft=True)
        self.column.addWidget(self._sentence)

    def _build_marks(self, holder: QWidget) -> None:
        rows = column_layout(holder, (0, 0, 0, 0))
        self.tone = Field("Paper colour", self._take_tone, 90, "white, ivory, #f4efe4")
        self.line_ = Field(
            "Key-line", self._take_line, 128, "Its width, colour and distance: 0.3mm,black,2mm"
        )
        self.line_.setPlaceholderText("0.3mm,black,2mm")
        self.edition = self.entry("edition", "Edition", 90, "Text for {edition}")
        self.marks = self.switch("marks", "Crop marks")
        self.bleed = self.entry("bleed_mm", "Bleed", 70, "Picture beyond the cut, mirrored")
        self.make_up = self.switch("make_up", "Overspill", (("no", "lost"), ("yes", "compensated")))
        rows.addLayout(row("Paper colour", self.tone))
        rows.addLayout(row("Key-line", self.line_))
        rows.addLayout(row("Edition", self.edition))
        rows.addLayout(row("Crop marks", self.marks, "bleed", self.bleed))
        rows.addLayout(row("Overspill", self.make_up))

    def _build_wrap(self, holder: QWidget) -> None:
        rows = column_layout(holder, (0, 0, 0, 0))
        self.bars = self.entry("wrap_mm", "Bar depth", 66)
        self.tuck = self.entry("tuck_mm", "Fold at the back", 66)
        self.sides = Switch("Sides", _SIDES, self._take_sides)
        self.strip = Field("Repeated at the side", self._take_strip, 66, "At most the side's width")
        self.strip_hint = text("", soft=True, wrap=False)
        self.soften = self.entry("wrap_soften_mm", "Softened to", 66)
        self.wrap_tone = Field(
            "Plain colour of the sides", self._take_wrap_tone, 90, "#222222, ivory, edge …"
        )
        self.pick = Link(
            "pick it",
            partial(self.table.look, picking=True),
            "Then press the picture; or type edge",
        )
        self.folds = self.switch("fold_marks", "Fold marks")
        self.staple = self.entry("staple_mm", "Plain margin for staples", 66)
        rows.addLayout(row("Bar depth", self.bars, "fold", self.tuck))
        rows.addLayout(row("Sides", self.sides))
        self._repeated = held_row("Repeat at most", self.strip, self.strip_hint)
        self._softened = held_row("Softened to", self.soften)
        self._plain_side = held_row("Colour", self.wrap_tone, self.pick)
        for part in (self._repeated, self._softened, self._plain_side):
            rows.addWidget(part)
        rows.addLayout(row("Fold marks", self.folds))
        rows.addLayout(row("Staples", self.staple, "plain, all round"))

    def _build_pieces(self, holder: QWidget) -> None:
        rows = column_layout(holder, (0, 0, 0, 0))
        self.over = Field("Sheets or roll", self._take_pieces, 132)
        self.join = self.entry("join_mm", "Overlap", 66)
        self.edge = Field("Unprintable edge", self._take_edge, 66, "Empty: the device's own")
        rows.addLayout(row("Sheets", self.over))
        rows.addLayout(row("Overlap", self.join, "unprintable", self.edge))

    def _line(self) -> FinishLine:
        one = self.table.current
        return FinishLine() if one is None else one.docket.finish

    def show_plan(self, one: Print, plan: Plan) -> None:
        line, units, sheet = plan.settled.finish, self.table.units, plan.sheet
        for field, name in ((self.sheet, "sheet"), (self.border, "border"), (self.over, "pieces")):
            field.setPlaceholderText(hint(name, units))
        self.sheet.show_help(f"For example {hint('sheet', units)} Empty: no sheet.")
        self.over.show_help(f"For example {hint('pieces', units)}. Empty: one piece.")
        self.sheet.show_value(line.sheet.label if line.sheet else "")
        self.turn.setVisible(line.sheet is not None)
        self.border.show_value(_border(line.margins, units))
        self._scales.setVisible(line.sheet is not None)
        self._lies.setVisible(line.sheet is not None and not line.scales)
        place = {Fraction(1, 2): "middle", _FOOT_HEAVIER: "heavy"}.get(line.place_y)
        self.lies.show_value(place if line.place_x == Fraction(1, 2) and place else "")
        self._list_printers(line, plan)
        self.tone.show_value(tone_name(line.tone))
        self.line_.show_value(_key_line(line, units))
        spills = plan.overspill_mm > 0
        self.make_up.setEnabled(spills)
        side, narrow = side_mm(line), line.wrap_strip_mm is not None
        self.strip.show_value(words.small(line.wrap_strip_mm or side, units))
        self.strip_hint.setText("an edge strip" if narrow else "of the picture, mirrored")
        sides = "own" if line.wrap_own else "plain" if line.wrap_tone is not None else "repeat"
        self.sides.show_value(sides)
        self._repeated.setVisible(sides == "repeat")
        self._softened.setVisible(sides == "repeat" and (narrow or line.wrap_soften_mm > 0))
        self._plain_side.setVisible(sides == "plain")
        self.wrap_tone.show_value(
            ""
            if line.wrap_tone is None
            else EDGE
            if line.wrap_tone == EDGE
            else tone_name(line.wrap_tone)
        )
        over = line.pieces.label if line.pieces else ""
        if line.roll_mm is not None:
            over = f"{words.small(line.roll_mm, units)} roll"
        self.over.show_value(over)
        self.edge.show_value(words.small(line.edge_mm, units) if line.edge_mm is not None else "")
        used = {
            "marks": line.marks
            or line.bleed_mm
            or line.line_mm
            or line.edition
            or line.make_up
            or line.tone != FinishLine().tone,
            "wrap": side_mm(line) or line.staple_mm,
            "pieces": plan.pieces is not None,
        }
        for name, group in self._groups.items():
            shown = bool(used[name]) or name in self._unfolded
            group.setVisible(shown)
            self._links[name].setVisible(not shown)
        self._sentence.setText(_sentence(plan, units))
        self._sentence.setVisible(sheet is not None or plan.mat is not None)

    def unfold(self, part: QWidget) -> None:
        """Show marks, canvas sides or pieces."""
        for name, group in self._groups.items():
            if part is group:
                self._unfold(name)

    def _unfold(self, name: str) -> None:
        self._unfolded.add(name)
        self._groups[name].show()
        self._links[name].hide()

    # Typed values.

    def _turn(self) -> None:
        self.decide(turned=not self._line().turned)

    def _take_sheet(self, typed: str) -> None:
        if not typed:
            self.decide(sheet=None, scales=False)
            return
        sheet = parse_size(typed, words.unit(self.table.units))
        self.table.hear_units(typed)
        one = self.table.current
        if one is None:
            return
        scales = scales_on(self._line(), sheet, one.plan().whole, False)
        self.decide(sheet=sheet, scales=scales)

    def _take_border(self, typed: str) -> None:
        self.decide(margins=parse_margins(typed, self.unit) if typed else None)

    def _take_place(self, key: str) -> None:
        y = _FOOT_HEAVIER if key == "heavy" else Fraction(1, 2)
        self.decide(place_x=Fraction(1, 2), place_y=y)

    def _take_tone(self, typed: str) -> None:
        self.decide(tone=parse_tone(typed) if typed else FinishLine().tone)

    def _take_line(self, typed: str) -> None:
        self.decide(**parse_key_line(typed or "0"))

    def _take_sides(self, key: str) -> None:
        tone = (self._line().wrap_tone or EDGE) if key == "plain" else None
        self.decide(wrap_own=key == "own", wrap_tone=tone)

    def _take_strip(self, typed: str) -> None:
        read = nothing_or(typed or "0", self.unit)
        plain = read == 0 or read >= side_mm(self._line())
        self.decide(wrap_strip_mm=None if plain else read)

    def _take_wrap_tone(self, typed: str) -> None:
        self.decide(wrap_tone=parse_tone_or_edge(typed) if typed else None)

    def _take_pieces(self, typed: str) -> None:
        self.decide(**(parse_pieces(typed) if typed else {"pieces": None, "roll_mm": None}))

    def _list_printers(self, line: FinishLine, plan: Plan) -> None:
        """Offer the printers whose unprintable edges are known."""
        known = [("", "the device's usual edges")]
        known += [(one.name, f"reported by {one.title}") for one in plan.machine.printers]
        if line.printer and line.printer not in dict(known):
            known.append((line.printer, f"{line.printer}, not asked here"))
        if self._can_ask:
            known.append((_ASK, "ask this system's printers …"))
        if known != self._known:
            self._known = known
            self.edges_of.clear()
            for key, shown in known:
                self.edges_of.addItem(shown, key)
        self.edges_of.show_value(line.printer or "")
        self._edges_of.setVisible(plan.maker.edges is not None and len(known) > 1)

    def _take_printer(self, key: str) -> None:
        if key == _ASK:
            self.edges_of.show_value(self._line().printer or "")
            self.shell.dialogs.ask_printers()
            return
        self.decide(printer=key or None)

    def _take_edge(self, typed: str) -> None:
        self.decide(edge_mm=nothing_or(typed, self.unit) if typed else None)


def _border(margins: Margins | None, units: str) -> str:
    if margins is None:
        return ""
    sides = (margins.top, margins.right, margins.bottom, margins.left)
    if len(set(sides)) == 1:
        return words.small(sides[0], units)
    shown = [words.small(side, units) for side in sides]
    return ", ".join([*(part.split(" ")[0] for part in shown[:-1]), shown[-1]])


def _key_line(line: FinishLine, units: str) -> str:
    if not line.line_mm:
        return ""
    parts = [words.small(line.line_mm, units), tone_name(line.line_tone)]
    if line.line_gap_mm:
        parts.append(words.small(line.line_gap_mm, units))
    return ", ".join(parts)


def _sentence(plan: Plan, units: str) -> str:
    """Describe the picture, the paper around it, and the mat's effect."""
    sentence, sheet, mat = [], plan.sheet, plan.mat
    if sheet is not None:
        top, right, bottom, left = (words.small(mm, units) for mm in sheet.margins_mm)
        size = words.pair(plan.size.width_mm, plan.size.height_mm, units)
        sentence.append(
            f"The picture is {size}. Around it: {top} above, {right} right, {bottom} below, "
            f"{left} left."
        )
    if mat is not None:
        frame = f", its frame {words.pair(*mat.frame, units)}" if mat.frame else ""
        sentence.append(f"The mat's opening is {words.pair(*mat.opening, units)}{frame}.")
        if mat.reveal < 0:
            sentence.append(f"It hides {words.small(-mat.reveal, units)} of the picture all round.")
        elif mat.reveal > 0:
            sentence.append(f"{words.small(mat.reveal, units)} of paper is visible all round.")
    return " ".join(sentence)
