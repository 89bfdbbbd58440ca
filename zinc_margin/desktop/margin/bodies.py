"""The controls of the first two lines, Photo and Size. Numbers come from the plan."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PySide6.QtGui import QShowEvent

from zinc_margin.desktop.margin.body import Body, hint
from zinc_margin.desktop.model.table import Print
from zinc_margin.desktop.widgets.parts import Choice, Field, Link, row, text
from zinc_margin.measure import words
from zinc_margin.measure.distances import parse_distance
from zinc_margin.measure.lengths import parse_length
from zinc_margin.measure.makers import makers
from zinc_margin.measure.resolution import parse_ppi
from zinc_margin.measure.tones import NAMED, parse_tone, tone_name
from zinc_margin.plan.crop.frame import largest_crop
from zinc_margin.plan.model import Note, Plan
from zinc_margin.plan.photo.findings import findings
from zinc_margin.plan.size.needs import answers
from zinc_margin.plan.text.finding_words import finding_words
from zinc_margin.plan.text.notes import tag_sentence
from zinc_margin.plan.text.phrases import seen_hint
from zinc_margin.plan.text.reasons import reason_of

_CLEAN = {
    "blocks": "no JPEG artefacts",
    "halo": "no existing halos",
    "edge": "sharp edges",
    "origin": "not enlarged before",
    "noise": "little noise",
}
_SHOW = {
    "blocks": "show the artefacts",
    "halo": "show the halos",
    "edge": "show its sharpest edge",
    "noise": "show the noise",
}


class PhotoBody(Body):
    """1: the file, its tag compared with the true resolution, and the findings."""

    def build(self) -> None:
        self._facts = text("", soft=True, literal=True)
        self._true = text("")
        self._clean = text("")
        self.matte = Field(
            "Background for transparent photos",
            self._take_matte,
            82,
            f"{', '.join(NAMED)}; or #f4efe4",
        )
        self.page = Link("", self.shell.ask_for_page, "Show every page of the file")
        self._page = self.held("Page", self.page)
        self._ground = self.held("Background", self.matte, "transparent parts")
        self.column.addWidget(self._true)
        self.column.addWidget(self._facts)
        self.column.addWidget(self._clean)
        self._made = text("", soft=True, literal=True)
        self.forget = Link("clear the print log", self._forget, "The files are kept")
        self._digest: str | None = None
        self.column.addWidget(self._made)
        self.column.addWidget(self.forget)
        self._show_made("")

    def _take_matte(self, typed: str) -> None:
        self.decide(matte=parse_tone(typed or "white"))

    def _show_made(self, sentence: str) -> None:
        self._made.setText(sentence)
        self._made.setVisible(bool(sentence))
        self.forget.setVisible(bool(sentence))

    def _forget(self) -> None:
        self.shell.dialogs.forget_made()
        self._show_made("")

    def _ask_what_was_made(self) -> None:
        digest = self._digest
        if digest is not None:

            def tell(said: str) -> None:
                if digest == self._digest:
                    self._show_made(said)

            self.shell.dialogs.made_before(digest, tell)

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self._ask_what_was_made()

    def show_plan(self, one: Print, plan: Plan) -> None:
        facts = one.facts
        if facts.digest != self._digest:
            self._digest = facts.digest
            self._show_made("")
            self._ask_what_was_made()
        self._page.setVisible(facts.pages > 1)
        self.page.setText(f"page {facts.page} of {facts.pages}")
        self._ground.setVisible(facts.alpha)
        self.matte.show_value(tone_name(plan.docket.photo.matte))
        sentence = any(note.code == "tag-is-a-note" for note in plan.notes)
        self._true.setVisible(not sentence)
        self._true.setText(tag_sentence(facts, plan, self.table.units))
        quality = "" if facts.jpeg_quality is None else f", JPEG quality {facts.jpeg_quality}"
        parts = [f"{facts.path.name}, {words.size_in_bytes(facts.file_bytes)}{quality}."]
        if facts.orientation > 1:
            parts.append("Stored rotated; shown upright as its flag specifies.")
        self._facts.setText(" ".join(parts))
        told_all = finding_words(plan, self.table.units)
        clean = [
            _CLEAN[one.finding.code] + ("" if one.finding.code == "origin" else f" ({one.figure})")
            for one in told_all
            if not one.finding.present
        ]
        if plan.provisional:
            self._clean.setText("Measuring its pixels …")
        else:
            self._clean.setText(f"Its pixels: {', '.join(clean)}." if clean else "")
        self._clean.setVisible(bool(self._clean.text()))

    def more_ways(self, note: Note) -> list[tuple[str, Callable[[], object]]]:
        one = self.table.current
        code = note.code.removeprefix("found-")
        if one is None or code not in _SHOW:
            return []
        for finding in findings(one.plan()):
            if finding.code == code and finding.place is not None:
                return [(_SHOW[code], partial(self.shell.show_place, *finding.place))]
        return []


class SizeBody(Body):
    """2: print size, resolution and viewing distance."""

    def build(self) -> None:
        self.print_size = Field("Print size", self.table.take_typed, 138)
        self.other = text("", soft=True, wrap=False)
        self.ppi = Field("Target resolution", self._take_ppi, 82)
        self.maker = Choice(
            "Printed by",
            (*((maker.key, maker.name) for maker in makers()),),
            self.table.take_maker,
            190,
        )
        self.target_hint = text("", soft=True, wrap=False)
        self.floor = Field("Minimum resolution", self._take_floor, 82)
        self.floor_hint = text("", soft=True, wrap=False)
        self.distance = Field("Viewing distance", self._take_distance, 104)
        self.seen_hint = text("", soft=True, wrap=False)
        self.spill = Field("Overspill of a borderless driver", self._take_spill, 82)
        self.spill_hint = text("", soft=True, wrap=False)
        self.turn = Link("rotate the size", self.swap, "Upright or across (R)")
        self.column.addLayout(row("Size", self.print_size, self.other))
        self.column.addLayout(row("", self.turn))
        self.column.addLayout(row("Printed by", self.maker))
        # a screen has no ppi
        self._on_paper = [
            self.held("Target", self.ppi, self.target_hint),
            self.held("Minimum", self.floor, self.floor_hint),
            self.held("Viewing distance", self.distance, self.seen_hint),
            self.held("Borderless", self.spill, self.spill_hint),
        ]
        self._why = text("")
        self.column.addWidget(self._why)
        self._answers = text("", soft=True)
        self.column.addWidget(self._answers)

    def swap(self) -> None:
        """Exchange portrait and landscape for the size, or restore the default."""
        one = self.table.current
        if one is not None:
            line = one.docket.size
            lie = "auto" if line.lie == "across" else "across"
            crop = largest_crop(one.docket.crop)
            self.table.lay(replace(one.docket, size=replace(line, lie=lie), crop=crop))

    def show_plan(self, one: Print, plan: Plan) -> None:
        units, line = self.table.units, one.docket.size
        self.print_size.show_help(hint("size", units))
        self.distance.show_help(hint("distance", units))
        size = plan.size
        named = not size.label[:1].isdigit()
        pair = words.pair(size.width_mm, size.height_mm, units)
        lies = ""
        if named and line.lie == "as-given" and size.width_mm != size.height_mm:
            lies = " upright" if size.height_mm > size.width_mm else " lying"
        self.print_size.show_value(size.label + lies if named else pair)
        other = "in" if words.unit(units) == "cm" else "cm"
        beside = pair if named else words.pair(size.width_mm, size.height_mm, other)
        self.other.setText("" if plan.maker.for_screen else beside)
        self.ppi.show_value(words.resolution(plan.target_ppi, units))
        self.maker.show_value(plan.maker.key)
        asks = words.resolution(plan.maker.asks, units)
        self.target_hint.setText(f"instead of {asks}" if line.ppi else "")
        for part in (*self._on_paper, self._answers):
            part.setVisible(not plan.maker.for_screen)
        self.floor.show_value(words.resolution(plan.floor_ppi, units))
        native = plan.maker.native
        half = f"half of a {native} printer" if native else "half of a 360-ppi printer"
        self.floor_hint.setText("" if line.floor else half)
        self.distance.show_value(words.span(plan.near_mm, plan.far_mm, units))
        self.seen_hint.setText(seen_hint(line.distance))
        self.spill.show_value(words.small(line.overspill_mm, units) if line.overspill_mm else "no")
        self.spill_hint.setText("" if line.overspill_mm else hint("overspill", units))
        self._why.setText(f"{plan.grade.capitalize()}: {reason_of(plan, units)}")
        result = answers(plan)
        seen = words.length(plan.far_mm, units)
        self._answers.setText(
            f"At {words.resolution(plan.target_ppi, units)}: up to "
            f"{words.pair(*result.unenlarged_mm, units)}; this size needs "
            f"{words.megapixels(*result.pixels)}. Sharp from {seen}: up to "
            f"{words.pair(*result.unseen_mm, units)}."
        )

    def _take_ppi(self, typed: str) -> None:
        self.decide(ppi=parse_ppi(typed) if typed else None)

    def _take_floor(self, typed: str) -> None:
        self.decide(floor=parse_ppi(typed) if typed else None)

    def _take_distance(self, typed: str) -> None:
        self.decide(distance=parse_distance(typed, words.unit(self.table.units)))
        self.table.hear_units(typed)

    def _take_spill(self, typed: str) -> None:
        none = typed.lower() in ("", "0", "no", "none")
        self.decide(overspill_mm=None if none else parse_length(typed, self.unit))
