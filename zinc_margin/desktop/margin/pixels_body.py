"""The controls of line 4, Pixels. Numbers come from the plan."""

from __future__ import annotations

from functools import partial

from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.margin.body import Body
from zinc_margin.desktop.margin.slider_row import SliderRow
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, row, text
from zinc_margin.handoff.pace import repair_seconds
from zinc_margin.measure import words
from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.way_labels import label_of
from zinc_margin.measure.wish import TARGETS_TYPED, parse_target
from zinc_margin.plan.model import Plan
from zinc_margin.plan.pixels.resampling import LEARNED
from zinc_margin.plan.text.lines import KIND_NAMES, pixels_reason
from zinc_margin.plan.text.reasons import repair_reason

_REPAIRS = (
    ("clean", "JPEG artefacts", "Repair JPEG artefacts first, percent"),
    ("denoise", "noise", "Remove noise first, percent"),
    ("dehalo", "halos", "Remove existing halos first, percent"),
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
        self.edges = SliderRow(self, "Edges, from soft to hard", "hardness", "−100 to 100")
        self.repairs = {
            field: SliderRow(self, name, field, "Empty: automatic", optional=True)
            for field, _, name in _REPAIRS
        }
        self.names = {
            field: Link(label, partial(self._open_repair, field), f"{name}: press to change it")
            for field, label, name in _REPAIRS
        }
        self.grain = self.entry("grain", "Grain, percent", 52, "Hides steps and smoothness")
        self.grain_size = self.entry("grain_mm", "Size of the grain on the print", 66)
        self.column.addLayout(row("Pixels", self.way))
        self.column.addLayout(row("Pixels or scale", self.target, self.hint))
        self.column.addLayout(row("Kind", self.kind))
        self.column.addLayout(row("Method", self.method))
        self.column.addLayout(row("Edges: soft – hard", self.edges))
        self.column.addLayout(row("Repairs", *self.names.values()))
        self._open: set[str] = set()
        self._rows = {}
        for field, label, _ in _REPAIRS:
            self._rows[field] = self.held(f"{label[0].upper()}{label[1:]}", self.repairs[field])
        self.column.addLayout(row("Grain", self.grain, "in grains of", self.grain_size))
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
        shown = words.trimmed_zeros(line.hardness, 0) if line.hardness else "0"
        self.edges.show_value(float(line.hardness), shown, resamples)
        repair = plan.pixels.repair
        for field, label, _ in _REPAIRS:
            much = getattr(repair, field)
            shown = f"{words.trimmed_zeros(much, 0)} %"
            self.repairs[field].show_value(much, shown)
            self.names[field].setText(f"{label} {shown}" if much else label)
            self._rows[field].setVisible(field in self._open)
        why = pixels_reason(plan, self.table.units), repair_reason(plan, repair_seconds(plan))
        self._why.setText("\n".join(filter(None, why)))

    def unfold(self, part: QWidget) -> None:
        """Show a repair's slider."""
        for field, row_ in self._rows.items():
            if part is row_:
                self._open.add(field)
                row_.show()

    def _open_repair(self, field: str) -> None:
        self._open ^= {field}
        self._rows[field].setVisible(field in self._open)

    def _take_choice(self, key: str) -> None:
        self.decide(choice=key, target=None)

    def _take_target(self, typed: str) -> None:
        self.decide(target=parse_target(typed) if typed else None)
