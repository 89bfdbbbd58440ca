"""The loupe: output pixels at 100 % and more, comparing any two versions."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path
from weakref import WeakKeyDictionary

import numpy as np
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtGui import QColor, QPainter
from PySide6.QtWidgets import (
    QFileDialog,
    QHBoxLayout,
    QPushButton,
    QVBoxLayout,
)

from zinc_margin.desktop.bench.canvas import Bench
from zinc_margin.desktop.bench.edge_profile import EdgeProfile
from zinc_margin.desktop.bench.panes import Panes
from zinc_margin.desktop.bench.place_search import Searched
from zinc_margin.desktop.bench.print_map import PrintMap, sights_of
from zinc_margin.desktop.bench.screen_size import ask_screen_ppi, screen_ppi
from zinc_margin.desktop.bench.shelf import Shelf
from zinc_margin.desktop.bench.sight import Sight
from zinc_margin.desktop.bench.views import Looking, View
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.work import Lane
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.context_menus import Entry, with_menu
from zinc_margin.desktop.widgets.parts import (
    Choice,
    Elided,
    Link,
    Switch,
    column_layout,
    image_of,
    text,
)
from zinc_margin.docket import store
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import ZincError
from zinc_margin.photo.pixels import Photo, read_photo
from zinc_margin.pixels.profile import Profile
from zinc_margin.plan.crop.places import Box, on_print
from zinc_margin.plan.model import Plan
from zinc_margin.plan.sharpen.strip import MOST_PLACES
from zinc_margin.plan.size.distance import DESK_MM, life_zoom, seen_zoom
from zinc_margin.plan.text.lines import entries

_ZOOMS = {"25": 0.25, "33": 1 / 3, "50": 0.5, "100": 1.0, "200": 2.0, "400": 4.0, "800": 8.0}
_SCALES = (
    ("whole", "whole"),
    ("25", "25 %"),
    ("33", "33 %"),
    ("50", "50 %"),
    ("100", "100 %"),
    ("200", "200 %"),
    ("400", "400 %"),
    ("800", "800 %"),
    ("life", "true size"),
    ("distance", "from its distance"),
)
_STEPS = ("whole", *_ZOOMS)
_ROUGH = "rough, working …"


class LoupeBench(Bench):
    """The bench for Pixels and Sharpen."""

    def __init__(self, table: Table, lane: Lane) -> None:
        super().__init__()
        self.table, self.lane = table, lane
        self.panes = Panes(self)
        self.scale_name = "100"
        self.centre = (0.5, 0.5)
        self.shelf = Shelf()
        self._looking = Looking()
        self.searched = Searched(self._found)
        self.veil = False
        self.edge_at: tuple[float, float] | None = None
        self._looked: WeakKeyDictionary[Print, tuple[float, float]] = WeakKeyDictionary()
        self._pointed: WeakKeyDictionary[Print, tuple[float, float]] = WeakKeyDictionary()
        self._of: Print | None = None
        self._rendered: object = None
        self._sight = -1
        column = column_layout(self, (14, 10, 14, 12), 8)
        top = QHBoxLayout()
        self.scale = Choice("Scale of the loupe", _SCALES, self.set_scale, 118)
        self.scale.show_value("100")
        top.addWidget(self.scale)
        self.panes_switch = Switch(
            "Panes", (("2", "two"), ("4", "four"), ("divided", "divided")), self._take_panes
        )
        self.panes_switch.setToolTip(
            "Two or four versions of one place, or one picture with a divider to drag"
        )
        self.panes_switch.show_value("2")
        top.addWidget(self.panes_switch)
        self.compare = QPushButton("hold to compare")
        self.compare.setObjectName("word")
        self.compare.setToolTip("While held, the first pane shows the second version (X)")
        self.compare.setAutoDefault(False)
        self.compare.pressed.connect(partial(self.panes.swap, True))
        self.compare.released.connect(partial(self.panes.swap, False))
        top.addWidget(self.compare)
        self.show_veil = Link("", self.toggle_veil, "V")
        top.addSpacing(8)
        top.addWidget(self.show_veil)
        self.place = Elided(Qt.TextElideMode.ElideRight)
        self.place.setAlignment(Qt.AlignmentFlag.AlignRight)
        top.addWidget(self.place, 1)
        column.addLayout(top)
        with_menu(self.panes, self._menu)
        column.addWidget(self.panes, 1)
        self.edge = EdgeProfile(self.move_edge)
        self.edge.setFixedHeight(150)
        column.addWidget(self.edge)
        column.addLayout(self._build_below())

    def _build_below(self) -> QHBoxLayout:
        bottom = QHBoxLayout()
        bottom.setSpacing(16)
        self.map = PrintMap(self)
        bottom.addWidget(self.map)
        middle = QVBoxLayout()
        middle.setSpacing(4)
        self.sentence = text("")
        middle.addWidget(self.sentence)
        self.invented = text("", soft=False)
        middle.addWidget(self.invented)
        links = QHBoxLayout()
        links.setSpacing(14)
        self.keep = Link("keep to compare", self.keep_candidate, "K")
        self.next_sight = Link("next place", self.look_next, "N")
        self.add = Link(
            "compare with a file …", self._ask_file, "A finished file, or saved print settings"
        )
        self.calibrate = Link("screen size …", self._calibrate)
        for link in (self.keep, self.next_sight, self.add, self.calibrate):
            links.addWidget(link)
        links.addStretch(1)
        middle.addLayout(links)
        choices = QHBoxLayout()
        choices.setSpacing(8)
        self.choosers: list[Choice] = []
        for at in range(4):
            chooser = Choice(f"Pane {at + 1} shows", (), partial(self.show_in, at))
            chooser.setMinimumWidth(84)
            chooser.setMaximumWidth(210)
            self.choosers.append(chooser)
            choices.addWidget(chooser)
        choices.addStretch(1)
        middle.addLayout(choices)
        middle.addStretch(1)
        bottom.addLayout(middle, 1)
        return bottom

    def _menu(self, at: QPoint) -> Iterator[Entry]:
        """Yield the actions for a pane."""
        yield "Keep to compare", self.keep_candidate
        yield "Compare with a file …", self._ask_file
        yield "Show the profile of this edge", partial(self.panes.follow, QPointF(at))
        yield "", None
        for key, shown in _SCALES:
            yield shown, partial(self.set_scale, key)

    # Scale and place.

    def zoom_of(self, plan: Plan) -> float:
        """Return device pixels per file pixel."""
        pane = self.panes.pane_pixels()
        if self.scale_name == "whole":
            pixels = plan.pixels
            return min(1.0, pane.width() / pixels.width, pane.height() / pixels.height)
        if self.scale_name == "life":
            return life_zoom(plan, screen_ppi(self))
        if self.scale_name == "distance":
            return seen_zoom(plan, screen_ppi(self))
        return _ZOOMS[self.scale_name]

    @property
    def zoom(self) -> float:
        """Device pixels per file pixel of the current print."""
        one = self.table.current
        return self.zoom_of(one.plan()) if one is not None else 1.0

    def set_scale(self, name: str) -> None:
        """Set the scale: whole print, percent, true size, or as seen from its distance."""
        self.scale_name = name
        self.scale.show_value(name)
        self.render_soon()

    def step_zoom(self, by: int) -> None:
        """Zoom by one step."""
        at = _STEPS.index(self.scale_name) if self.scale_name in _STEPS else 2
        self.set_scale(_STEPS[min(len(_STEPS) - 1, max(0, at + by))])

    def _take_panes(self, key: str) -> None:
        self.panes.divided = key == "divided"
        self.panes.count = 4 if key == "4" else 2
        self.panes_switch.show_value(key)
        self.render_soon()

    def look_at(self, x: float, y: float) -> None:
        """Show a place of the print, 0–1 each way."""
        self.centre = (min(1.0, max(0.0, x)), min(1.0, max(0.0, y)))
        if self.table.current is not None:
            self._looked[self.table.current] = self.centre
        self.render_soon()

    def _begin(self, one: Print, plan: Plan) -> None:
        """Show the last place viewed in this photo, else a face, else its busiest place in focus.

        Until the search for faces ends, show the busiest place.
        """
        places = plan.measured.places if plan.measured is not None else ()
        shown = {name: on_print(plan, x, y) for name, x, y in places}
        edge = shown.get("contrast")
        self.searched.look_for_face(one)
        matters = self.searched.face(one, plan) or shown.get("texture") or edge
        self.centre = self._looked.get(one) or matters or (0.5, 0.5)
        self.edge_at = self._pointed.get(one) or edge
        if one is not self._of:  # the previous photo's curve does not apply
            self._of = one
            self.edge.show_profile(None, self.table.units)

    def look_next(self) -> None:
        """Show the next place worth a look."""
        one = self.table.current
        result = self.places(one) if one is not None else []
        if result:
            self._sight = (self._sight + 1) % len(result)
            self.look_at(*result[self._sight][1])
            self.place.setText(f"{self._sight + 1} of {len(result)}: {result[self._sight][0]}")
        self.search()

    def places(self, one: Print) -> list[tuple[str, tuple[float, float]]]:
        """Return the places worth a look: measured ones, and those found by a search."""
        return sights_of(one) + self.searched.places(one, one.plan())

    def search(self) -> None:
        """Search for faces, and for the most new detail, once per photo and enlargement."""
        one = self.table.current
        if one is not None and self.searched.look(one, one.plan()):
            self.map.setToolTip("Searching for faces and the most new detail …")

    def _found(self) -> None:
        self.map.setToolTip("")
        self.map.update()
        if self.table.current not in self._looked:  # else the user has chosen a place
            self.render_soon()

    def pan(self, across: float, down: float) -> None:
        """Move by this many output pixels."""
        one = self.table.current
        if one is not None:
            pixels = one.plan().pixels
            left, top, width, height = self.seen(one.plan())
            x, y = left + width / 2 + across, top + height / 2 + down
            self.look_at(x / pixels.width, y / pixels.height)

    def seen(self, plan: Plan) -> Box:
        """Return left, top, width and height of the view, in output pixels."""
        pane, zoom = self.panes.pane_pixels(), self.zoom_of(plan)
        width = min(plan.pixels.width, max(1, -int(-pane.width() // zoom)))
        height = min(plan.pixels.height, max(1, -int(-pane.height() // zoom)))
        left = round(self.centre[0] * plan.pixels.width - width / 2)
        top = round(self.centre[1] * plan.pixels.height - height / 2)
        left = max(0, min(plan.pixels.width - width, left))
        top = max(0, min(plan.pixels.height - height, top))
        return left, top, width, height

    # Contents.

    def show_in(self, pane: int, key: str) -> None:
        """Show another version in a pane."""
        self.shelf.show(self._line(), pane, key)
        self.render_soon()

    def _line(self) -> str:
        return "sharpen" if self.table.line == "sharpen" else "pixels"

    def keep_candidate(self) -> None:
        """Keep the current docket for comparison; the oldest of four is dropped."""
        one = self.table.current
        if one is None:
            return
        self.show_in(0, self.shelf.keep(one, one.docket))

    def _ask_file(self) -> None:
        path, _ = QFileDialog.getOpenFileName(self, "A finished file, or saved print settings", "")
        if path:
            self.add_file(Path(path))

    def add_file(self, path: Path) -> None:
        """Compare with a finished file or another docket."""
        one = self.table.current
        if one is None:
            return
        if path.suffix == ".json":
            try:
                docket = store.load(path)
                one.plan_of(docket)
            except ZincError as why:
                self.sentence.setText(str(why))
                return
            self.show_in(0, self.shelf.keep(one, docket))
            return

        def done(file: Photo) -> None:
            self.show_in(0, self.shelf.add_file(one, path.name, file))

        def failed(why: ZincError) -> None:
            self.sentence.setText(str(why))

        self.lane.run(lambda job: read_photo(path, measured=False), done, failed)

    def _calibrate(self) -> None:
        ask_screen_ppi(self, self.render_soon)

    # rendering

    def refresh(self) -> None:
        """Update the loupe from the docket."""
        self.render_soon()

    def render_soon(self) -> None:
        """Request a rendering of the current place; only the newest request is carried out."""
        one = self.table.current
        if one is None or not self.isVisible():
            return
        plan = one.plan()
        self._begin(one, plan)
        views = self.shelf.views(one)
        chosen = self.shelf.shown(self._line(), self.panes.count, views)
        shown = [views.get(key, views["this"]) for key in chosen]
        self._tell(one, plan, views, chosen, shown)
        photo, zoom, box = one.photo, self.zoom_of(plan), self.seen(plan)
        asked = (
            id(photo),
            zoom,
            box,
            self._veil(),
            self._line(),
            tuple((view.docket, id(view.file)) for view in shown),
        )
        if photo is None or asked == self._rendered:
            self.panes.update()
            return
        self.panes.stale, self.panes.remark = True, _ROUGH
        self._rendered = None
        self.panes.update()
        works = [
            (view, plan if view.docket is None else one.plan_of(view.docket)) for view in shown
        ]

        sight = Sight(
            photo,
            plan,
            works,
            box,
            zoom,
            self._veil(),
            self._line() == "sharpen",
            self._edge_place(plan),
        )

        def work(job: Job) -> tuple[list[np.ndarray], str]:
            def post(show: Callable[..., None], *what: object) -> None:
                self.lane.post(lambda: None if job.cancelled else show(*what))

            return sight.render(
                self._looking, job, partial(post, self._show), partial(post, self._show_edge)
            )

        def done(result: tuple[list[np.ndarray], str]) -> None:
            self._show(result[0], "")
            self.invented.setText(result[1])
            self.invented.setVisible(bool(result[1]))
            self._rendered = asked
            self.panes.update()

        self.lane.run(work, done)

    def _show(self, pictures: list[np.ndarray], remark: str = _ROUGH) -> None:
        for at, pixels in enumerate(pictures):
            self.panes.images[at] = image_of(pixels)
        self.panes.stale, self.panes.remark = False, remark
        self.panes.update()

    def toggle_veil(self) -> None:
        """Show or hide the veil over new pixels, or over the effect of sharpening."""
        self.veil = not self.veil
        self._rendered = None
        self.render_soon()

    def _veil(self) -> str:
        return "" if not self.veil else "acting" if self._line() == "sharpen" else "invented"

    def _edge_place(self, plan: Plan) -> tuple[float, float] | None:
        """Return the place of the chosen edge, if it is visible."""
        left, top, width, height = self.seen(plan)
        if self.edge_at is not None:
            x, y = self.edge_at[0] * plan.pixels.width, self.edge_at[1] * plan.pixels.height
            if left <= x <= left + width and top <= y <= top + height:
                return self.edge_at
        return None

    def _middle(self, plan: Plan) -> tuple[float, float]:
        left, top, width, height = self.seen(plan)
        return (left + width / 2) / plan.pixels.width, (top + height / 2) / plan.pixels.height

    def _show_edge(self, result: Profile | None) -> None:
        self.edge.show_profile(result, self.table.units)
        self.panes.update()

    def strip_places(self, one: Print) -> list[tuple[float, float]]:
        """Return the places marked for the test strip, or the current centre."""
        return list(self.shelf.marked.get(one, ())) or [self._middle(one.plan())]

    def mark_place(self) -> None:
        """Mark the current place for the test strip."""
        one = self.table.current
        if one is not None and self._line() == "sharpen":
            count = self.shelf.mark(one, self._middle(one.plan()))
            self.place.setText(f"Marked for the test strip, {count} of at most {MOST_PLACES}")

    def follow_edge(self, x: float, y: float) -> None:
        """Show the profile of the edge at a place of the print, 0–1 each way."""
        if self.table.current is not None:
            self._pointed[self.table.current] = (min(1.0, max(0.0, x)), min(1.0, max(0.0, y)))
        self._rendered = None
        self.render_soon()

    def move_edge(self, across: int, down: int) -> None:
        """Show the profile of an edge this many output pixels away."""
        one, at = self.table.current, self.edge.profile
        if one is not None and at is not None:
            pixels = one.plan().pixels
            x, y = at.centre
            self.follow_edge((x + across) / pixels.width, (y + down) / pixels.height)

    def _tell(
        self, one: Print, plan: Plan, views: dict[str, View], chosen: list[str], shown: list[View]
    ) -> None:
        self.panes.labels = [view.label for view in shown] + [""] * (4 - len(shown))
        for at, chooser in enumerate(self.choosers):
            chooser.setVisible(at < self.panes.count)
            if at < len(chosen):
                chooser.show_words([(key, view.label) for key, view in views.items()])
                chooser.show_value(chosen[at] if chosen[at] in views else "this")
        left, _, width, _ = self.seen(plan)
        unit = self.table.units
        mm = float(plan.size.width_mm) / plan.pixels.width
        self.place.setText(
            f"{words.small(width * mm, unit)} across, {words.small(left * mm, unit)} from the left"
        )
        entry = entries(one.facts, plan, unit)[self._line()]
        how = {
            "life": "True size on this screen.",
            "distance": (
                "As large as the print looks from its nearest viewing distance, to someone "
                f"{words.length(DESK_MM, unit)} from the screen."
            ),
            "whole": "The whole print, reduced from its own pixels.",
        }.get(self.scale_name, "The file's own pixels. Drag to move; X swaps.")
        self.sentence.setText(f"{entry.decision}. {entry.consequence}\n{how}")
        self.next_sight.setEnabled(bool(self.places(one)))
        sharpening = self._line() == "sharpen"
        self.edge.setVisible(sharpening)
        there = plan.sharpen is not None if sharpening else plan.pixels.doublings > 0
        what = "what is sharpened" if sharpening else "what was added"
        self.show_veil.setText(f"{'hide' if self.veil else 'show'} {what}")
        self.show_veil.setVisible(there)
        self.invented.setVisible(self.veil and there)
        self.map.update()

    def showEvent(self, event: object) -> None:
        self._rendered = None
        self.render_soon()

    def paintEvent(self, event: object) -> None:
        QPainter(self).fillRect(self.rect(), QColor(theme.tones().zinc))
