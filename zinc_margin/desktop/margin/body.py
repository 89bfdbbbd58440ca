"""A line's body: its controls, its error sentence, and its notes."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import replace
from fractions import Fraction
from functools import partial
from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QSlider, QVBoxLayout, QWidget

from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.widgets.parts import (
    Choice,
    Field,
    Link,
    NoteBox,
    Switch,
    clear,
    column_layout,
    held_row,
    text,
)
from zinc_margin.desktop.widgets.refusals import carry_out
from zinc_margin.docket.docket import FIELDS, check_value
from zinc_margin.docket.fields import SWITCH
from zinc_margin.measure import words
from zinc_margin.measure.distances import named_distances
from zinc_margin.measure.lengths import nothing_or
from zinc_margin.measure.tables import table
from zinc_margin.plan.model import Note, Plan
from zinc_margin.plan.text.notes import note_text, remedy_text

_YES_NO = (("no", "no"), ("yes", "yes"))


class Body(QWidget):
    """The controls of one line, built when they are first needed.

    Hidden controls would slow every start, and every change between light and dim.

    Attributes
    ----------
    states_itself : bool
        Whether the controls state the decision and its consequence, so the head need not.
    """

    states_itself = False

    def __init__(self, table: Table, line: str, shell: Shell) -> None:
        super().__init__()
        self.table, self.line, self.shell = table, line, shell
        self.column = column_layout(self, (0, 0, 0, 0))
        self._plain: list[tuple[str, Field | Switch | Choice]] = []
        self._shown: Sequence[tuple[str, tuple[str, ...]]] = ()
        self.is_built = False
        self._controls: set[str] = set()

    def be_built(self) -> None:
        """Build the controls, unless it is done."""
        if self.is_built:
            return
        self.is_built, before = True, set(vars(self))
        self.build()
        self._said = text("", soft=False)
        self._said.setVisible(False)
        self.column.addWidget(self._said)
        self._notes = QVBoxLayout()
        self._notes.setSpacing(2)
        self.column.addLayout(self._notes)
        self._tell_tips()
        self._controls = set(vars(self)) - before

    def be_discarded(self) -> None:
        """Remove the controls until they are needed again."""
        if not self.is_built:
            return
        for name in self._controls:
            delattr(self, name)
        gone = QWidget()
        gone.setLayout(self.column)  # takes over everything in it
        gone.deleteLater()
        self.column = column_layout(self, (0, 0, 0, 0))
        self._plain, self._shown = [], ()
        self.is_built, self._controls = False, set()

    if not TYPE_CHECKING:

        def __getattr__(self, name: str) -> object:
            """Return a control that is not built yet."""
            if self.__dict__.get("is_built", True):
                raise AttributeError(name)
            self.be_built()
            return getattr(self, name)

    def _tell_tips(self) -> None:
        """Give each control without a tooltip the one in the table."""
        tips = table("tips")["tips"].get(self.line, {})
        for part in self.findChildren(QWidget):
            named = part.text() if isinstance(part, Link) else ""
            tip = tips.get(part.accessibleName() or named)
            if tip and not part.toolTip():
                (part.show_help if isinstance(part, Field) else part.setToolTip)(tip)

    def build(self) -> None:
        """Create the controls."""

    # Plain fields: their type, bounds and unit come from the docket's declaration.

    def choice(
        self, field: str, name: str, words: Sequence[tuple[str, str]], width: int = 190
    ) -> Choice:
        """Return a list for one field of this line."""
        part = Choice(name, words, partial(self._take_word, field), width)
        self._plain.append((field, part))
        return part

    def switch(
        self,
        field: str,
        name: str,
        words: Sequence[tuple[str, str]] = _YES_NO,
    ) -> Switch:
        """Return words side by side for one field of this line."""
        part = Switch(name, words, partial(self._take_word, field))
        self._plain.append((field, part))
        return part

    def entry(self, field: str, name: str, width: int, help_: str = "") -> Field:
        """Return a text field for one field of this line."""
        part = Field(name, partial(self._take_entry, field), width, help_)
        part.literal = not FIELDS[self.line][field].kind.unit
        self._plain.append((field, part))
        return part

    def _take_word(self, field: str, key: str) -> None:
        given: object = key or None
        if FIELDS[self.line][field].kind is SWITCH:
            given = key == "yes"
        self.decide(**{field: check_value(self.line, field, given)})

    def _take_entry(self, field: str, typed: str) -> None:
        said = FIELDS[self.line][field]
        given: object = typed
        if not typed and said.nothing:
            given = None
        elif said.kind.unit == "mm":
            given = str(nothing_or(typed or "0", self.unit))
        elif said.kind.unit == "%":
            given = typed.removesuffix("%").strip()
        self.decide(**{field: check_value(self.line, field, given)})

    @property
    def unit(self) -> str:
        """The unit of typed small lengths."""
        return "in" if words.unit(self.table.units) == "in" else "mm"

    def _show_plain(self, plan: Plan) -> None:
        line = getattr(plan.settled, self.line)
        for field, part in self._plain:
            value, unit = getattr(line, field), FIELDS[self.line][field].kind.unit
            if isinstance(value, bool):
                part.show_value("yes" if value else "no")
            elif unit == "mm" and value and value < 1:
                part.show_value(f"{float(value):g} mm")
            elif unit == "mm":
                part.show_value(words.small(value, self.table.units) if value else "0")
            elif unit == "%":
                part.show_value(f"{words.trimmed_zeros(value, 2)} %")
            else:
                part.show_value("" if value is None else str(value))

    def held(self, label: str, *parts: QWidget | str) -> QWidget:
        """Add a row that can be hidden, and return it."""
        holder = held_row(label, *parts)
        self.column.addWidget(holder)
        return holder

    def unfold(self, part: QWidget) -> None:
        """Show a folded part; controls that do not apply stay hidden."""

    def show_plan(self, one: Print, plan: Plan) -> None:
        """Show the docket's decisions and the plan's figures."""

    def refresh(self, one: Print, plan: Plan) -> None:
        """Update the controls and the notes."""
        self.be_built()
        self._show_plain(plan)
        self.show_plan(one, plan)
        notes = [note for note in plan.notes if note.line == self.line]
        units = self.table.units
        shown = [
            (note_text(note, units), tuple(remedy_text(one, units) for one in note.remedies))
            for note in notes
        ]
        if shown != self._shown:
            self._shown = shown
            clear(self._notes)
            for note, (text, remedies) in zip(notes, shown, strict=True):
                ways = self._ways(note.code, remedies) + self.more_ways(note)
                self._notes.addWidget(NoteBox(text, ways))

    def more_ways(self, note: Note) -> list[tuple[str, Callable[[], object]]]:
        """Return remedies that do not change the docket: labels and calls."""
        return []

    def _ways(self, code: str, remedies: tuple[str, ...]) -> list[tuple[str, Callable[[], object]]]:
        # Look up the docket when clicked: other lines may have changed meanwhile.
        return [
            (shown, partial(self._take_way, code, index)) for index, shown in enumerate(remedies)
        ]

    def _take_way(self, code: str, index: int) -> None:
        one = self.table.current
        if one is not None:
            for note in one.plan().notes:
                if note.code == code and index < len(note.remedies):
                    self.table.lay(note.remedies[index].docket)
                    return

    def show_refusal(self, why: str) -> None:
        """Show why a decision on this line is impossible."""
        self._said.setText(why)
        self._said.setVisible(bool(why))

    def sliding(self, name: str, low: int, high: int, field: str) -> QSlider:
        """Return a slider for one number of this line; a drag is one step of undo."""
        slider = QSlider(Qt.Orientation.Horizontal)
        slider.setRange(low, high)
        slider.setPageStep(10)
        slider.setAccessibleName(name)
        slider.sliderPressed.connect(self.table.begin_drag)
        slider.sliderReleased.connect(self.table.end_drag)

        def slide(value: int) -> None:
            one = self.table.current
            if one is None:
                return
            line = replace(getattr(one.docket, self.line), **{field: Fraction(value)})
            docket = replace(one.docket, **{self.line: line})
            put = self.table.slide if slider.isSliderDown() else self.table.lay
            carry_out(slider, partial(put, docket))

        slider.valueChanged.connect(slide)
        return slider

    def decide(self, **fields: object) -> None:
        """Change fields of this line."""
        self.table.decide(self.line, **fields)


_NAMED = ", ".join(name for name, _ in named_distances())


def hint(field: str, units: str) -> str:
    """Return the hint for a field.

    Parameters
    ----------
    field : str
        A key of ``data/hints.json``.
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    metric, inches = table("hints")["hints"][field]
    return str(inches if words.unit(units) == "in" else metric).replace("{named}", _NAMED)
