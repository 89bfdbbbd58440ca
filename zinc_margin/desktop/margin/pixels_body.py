"""The controls of line 4, Pixels. Numbers come from the plan."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.margin.slider_row import SliderRow
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, column_layout, row, text
from zinc_margin.handoff.pace import repair_seconds
from zinc_margin.measure import words
from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.way_labels import label_of
from zinc_margin.measure.wish import TARGETS_TYPED, parse_target
from zinc_margin.plan.model import Plan
from zinc_margin.plan.pixels.resampling import LEARNED
from zinc_margin.plan.text.lines import KIND_NAMES, pixels_reason
from zinc_margin.plan.text.reasons import repair_reason

_MENDS = (
    ("clean", "JPEG artefacts", "Repair JPEG artefacts first, percent"),
    ("denoise", "Noise", "Remove noise first, percent"),
    ("dehalo", "Halos", "Remove existing halos first, percent"),
)


class PixelsBody(Body):
    """4: keep or resample the pixels."""

    def build(self) -> None:
        self.way = Choice("Pixels", (), self._take_choice, 190)
        self.target = Field(
            "Pixels of the file", self._take_target, 104, f"{TARGETS_TYPED}; empty: the target ppi."
        )
        self.hint = text("", soft=True, wrap=False)
        self.kind = self.choice("kind", "Kind of picture", tuple(KIND_NAMES.items()))
        methods = (("", "automatic"), *((one.key, one.name) for one in kernels().values()))
        self.method = Choice("Method", methods, partial(self._take_word, "method"), 190)
        self.crisp = SliderRow(self, "From soft to hard", "crisp", "−100 to 100")
        self.mends = {
            field: SliderRow(self, name, field, "Empty: automatic", optional=True)
            for field, _, name in _MENDS
        }
        self._more = Link("repair something first …", self._unfold)
        self._folded = True
        self.column.addLayout(row("Pixels", self.way))
        self.column.addLayout(row("Pixels or scale", self.target, self.hint))
        self.column.addLayout(row("Kind", self.kind))
        self.column.addLayout(row("Method", self.method))
        self.column.addLayout(row("Edges: soft – hard", self.crisp))
        self._folded_row = QWidget()
        folded = row("", self._more)
        folded.setContentsMargins(0, 0, 0, 0)
        self._folded_row.setLayout(folded)
        self.column.addWidget(self._folded_row)
        self._rows = QWidget()
        rows = column_layout(self._rows, (0, 0, 0, 0))
        for field, label, _ in _MENDS:
            rows.addLayout(row(label, self.mends[field]))
        self.column.addWidget(self._rows)
        self._why = text("", soft=True)
        self.column.addWidget(self._why)

    def show_plan(self, one: Print, plan: Plan) -> None:
        line = one.docket.pixels
        resampling = "resample"
        if line.target is not None:
            resampling = "resample as typed"
        elif not plan.maker.for_screen:
            resampling += f" to {words.resolution(plan.target_ppi, self.table.units)}"
        self.way.show_words(
            (("auto", "automatic"), ("keep", "keep the pixels"), ("resample", resampling))
        )
        self.way.show_value("resample" if line.target is not None else line.choice)
        self.target.show_value("" if line.target is None else label_of(line.target))
        self.hint.setText("12 MP, 1.3 x …" if line.target is None else "")
        self.method.show_value(line.method or "")
        missing = plan.machine.without_networks
        for key in LEARNED:
            self.method.offer(key, missing is None)
        self.method.setToolTip(f"AI cannot run here: {missing}." if missing else "")
        method = plan.pixels.method
        resamples = method is not None and kernels()[method].mixes
        self.method.setEnabled(plan.pixels.method is not None)
        shown = words.trimmed_zeros(line.crisp, 0) if line.crisp else "0"
        self.crisp.show_value(float(line.crisp), shown, resamples)
        repair = plan.pixels.repair
        said = any(getattr(line, field) is not None for field in self.mends)
        shown_rows = not self._folded or repair.any or said
        self._folded_row.setVisible(not shown_rows)
        self._rows.setVisible(shown_rows)
        for field, sliding in self.mends.items():
            much = getattr(repair, field)
            sliding.show_value(much, f"{words.trimmed_zeros(much, 0)} %")
        why = pixels_reason(plan, self.table.units), repair_reason(plan, repair_seconds(plan))
        self._why.setText("\n".join(filter(None, why)))

    def unfold(self, part: QWidget) -> None:
        """Show the repairs."""
        if part is self._rows:
            self._unfold()

    def _unfold(self) -> None:
        self._folded = False
        self._folded_row.hide()
        self._rows.show()

    def _take_choice(self, key: str) -> None:
        self.decide(choice=key, target=None)

    def _take_target(self, typed: str) -> None:
        self.decide(target=parse_target(typed) if typed else None)
