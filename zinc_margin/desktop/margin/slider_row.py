"""A slider with an editable figure next to it."""

from __future__ import annotations

from PySide6.QtWidgets import QHBoxLayout, QWidget

from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.widgets.parts import Field
from zinc_margin.docket.docket import FIELDS, check_value
from zinc_margin.measure.lengths import parse_number


class SliderRow(QWidget):
    """One number of a line, as a slider or typed; a drag is one step of undo.

    Parameters
    ----------
    body : Body
        The body of the number's line.
    name : str
        For assistive technology.
    field : str
        The number's field in the docket.
    help_ : str
        The tooltip.
    optional : bool
        Whether an empty field means automatic.
    """

    def __init__(
        self, body: Body, name: str, field: str, help_: str = "", optional: bool = False
    ) -> None:
        super().__init__()
        self._body, self._field, self._optional = body, field, optional
        kind = FIELDS[body.line][field].kind
        assert kind.low is not None and kind.high is not None  # a slider needs a number
        self.slider = body.sliding(name, int(kind.low), int(kind.high), field)
        self.figure = Field(f"{name}, typed", self._take, 52, help_)
        along = QHBoxLayout(self)
        along.setContentsMargins(0, 0, 0, 0)
        along.setSpacing(8)
        along.addWidget(self.slider, 1)
        along.addWidget(self.figure)

    def show_value(self, value: float, shown: str, enabled: bool = True) -> None:
        """Update slider and figure."""
        self.slider.blockSignals(True)
        self.slider.setValue(round(value))
        self.slider.blockSignals(False)
        self.figure.show_value(shown)
        self.slider.setEnabled(enabled)
        self.figure.setEnabled(enabled)

    def _take(self, typed: str) -> None:
        plain = typed.replace("%", "").replace("−", "-").strip()
        if not plain and self._optional:
            self._body.decide(**{self._field: None})
            return
        sign = -1 if plain.startswith("-") else 1
        value = sign * parse_number(plain.lstrip("-+"), "percentage")
        self._body.decide(**{self._field: check_value(self._body.line, self._field, str(value))})
