"""The open photos, their dockets and history, without Qt.

Observers subscribe to events, so every behaviour can be tested without a window.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from contextlib import suppress
from dataclasses import replace
from fractions import Fraction
from pathlib import Path
from typing import Any

import numpy as np

from zinc_margin.desktop.model.events import (
    ALL_LINES,
    ActiveChanged,
    ChosenChanged,
    DocketChanged,
    FileNameChanged,
    LineOpened,
    OwnChanged,
    PhotosChanged,
    PixelsChanged,
    Said,
    StripMade,
    UnitsChanged,
    ViewChanged,
    Withdrawn,
    change_event,
)
from zinc_margin.desktop.model.history import SharedSteps
from zinc_margin.desktop.model.observers import Observers
from zinc_margin.desktop.model.prints import Print
from zinc_margin.desktop.model.view import View
from zinc_margin.docket import presets, racks, store, versions
from zinc_margin.docket.crop import CropLine
from zinc_margin.docket.docket import Docket, check_value, fresh
from zinc_margin.docket.photo import PhotoLine
from zinc_margin.docket.transfer import with_parts
from zinc_margin.docket.version_names import version_names
from zinc_margin.facts.facts import Facts
from zinc_margin.handoff import labs
from zinc_margin.handoff.machine import this_machine
from zinc_margin.keeping.own import OwnPapers, OwnSizes
from zinc_margin.measure import words
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.formats import formats
from zinc_margin.measure.print_input import parse_print
from zinc_margin.measure.units import unit_named, usual_units
from zinc_margin.photo.pixels import Photo
from zinc_margin.photo.subject import mark
from zinc_margin.plan.crop.frame import largest_crop
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.ladder import Rung
from zinc_margin.plan.size.orientation import lie_of
from zinc_margin.plan.size.suitability import Carried, compare, with_decided_size
from zinc_margin.plan.size.typed_print import apply_typed, printed_by

KEPT_PHOTOS = 2
"""Limit of decoded photos in memory; others are read again when needed."""
KEPT_PREVIEWS = 20
"""Limit of pictures as large as the screen, 7 MB each; the others keep a small one."""


class Table:
    """The open photos and the current one."""

    def __init__(self, units: str | None = None, own: OwnSizes | None = None) -> None:
        self.prints: list[Print] = []
        self.active: int = -1
        self.chosen: list[Print] = []
        self._own = own
        self._papers: OwnPapers | None = None
        self._carried: tuple[list[Docket], tuple[Carried, ...]] | None = None
        self.units = units or usual_units()
        self._units_said = False
        self.line = "size"
        self.view = View()
        self.observers = Observers()
        self.subscribe, self.observe = self.observers.subscribe, self.observers.observe
        self._tell = self.observers.tell
        self._recent: list[Print] = []
        self._previewed: list[Print] = []
        self._steps = SharedSteps()

    def say(self, sentence: object) -> None:
        """Tell the user something: a sentence, or an error."""
        if str(sentence):
            self._tell(Said(str(sentence)))

    def offer(self, sentence: str, label: str, remedy: Callable[[], object]) -> None:
        """Tell the user something, with one remedy to click."""
        self._tell(Said(sentence, label, remedy))

    def withdraw(self, sentence: str) -> None:
        """Remove a sentence that no longer applies."""
        self._tell(Withdrawn(sentence))

    def strip_made(self, strengths: Sequence[Fraction]) -> None:
        """Notify observers that a test strip was made."""
        self._tell(StripMade(tuple(strengths)))

    def name_changed(self) -> None:
        """Notify observers that a file's name was looked up again."""
        self._tell(FileNameChanged())

    @property
    def current(self) -> Print | None:
        """The current photo."""
        return self.prints[self.active] if 0 <= self.active < len(self.prints) else None

    @property
    def own(self) -> OwnSizes:
        """The user's sizes, read on first use."""
        if self._own is None:
            self._own = OwnSizes()
            self.say(" ".join(self._own.broken))
        return self._own

    @property
    def papers(self) -> OwnPapers:
        """The user's papers, read on first use."""
        if self._papers is None:
            self._papers = OwnPapers()
            self.say(" ".join(self._papers.broken))
        return self._papers

    def say_broken(self) -> None:
        """Tell the user which of their labs and presets cannot be used."""
        self.say(" ".join((*labs.broken(), *presets.broken())))

    def own_changed(self) -> None:
        """Notify observers that the user's sizes have changed."""
        self._tell(OwnChanged())

    # photos

    def find(self, path: Path) -> int | None:
        """Return the index of an open photo."""
        for index, one in enumerate(self.prints):
            if one.facts.path == path:
                return index
        return None

    def add(self, facts: Facts, docket: Docket, *more: Docket) -> Print:
        """Add a photo; the first one becomes current."""
        one = Print(facts, [docket])
        try:
            one.plan()
        except BadRequest:
            # A docket that does not fit the photo (another picture with its name): start afresh.
            one = Print(facts, [fresh(self.units)])
        for each in more:
            with suppress(BadRequest):
                one.add_version(each)
        one.take_version(0)
        self.prints.append(one)
        self._tell(PhotosChanged())
        if self.active < 0:
            self.activate(0)
        return one

    def bring_back(self, one: Print, dockets: Sequence[Docket]) -> bool:
        """Replace a photo's versions; return whether they differ.

        Versions that cannot be planned are dropped; the change can be undone.
        """
        fit = []
        for docket in dockets:
            with suppress(BadRequest):
                one.plan_of(docket)
                fit.append(docket)
        if not fit or tuple(fit) == one.versions:
            return False
        one.begin_with(fit)
        self._tell(DocketChanged(ALL_LINES))
        return True

    def put_page(self, one: Print, facts: Facts) -> Print:
        """Replace a photo by another page of its file, keeping all decisions but the crop.

        The old page's crop would mean other places on the new one.
        """
        index = self.prints.index(one)
        docket = replace(one.docket, photo=PhotoLine(), crop=CropLine(fit=one.docket.crop.fit))
        other = Print(facts, [docket])
        try:
            other.plan()
        except BadRequest:
            other = Print(facts, [fresh(self.units)])
        self.prints[index] = other
        self._recent = [each for each in self._recent if each is not one]
        self._previewed = [each for each in self._previewed if each is not one]
        self.chosen = []
        self._tell(PhotosChanged())
        if index == self.active:
            self._tell(ActiveChanged())
        return other

    def activate(self, index: int) -> None:
        """Make another photo current."""
        if 0 <= index < len(self.prints) and index != self.active:
            self.active = index
            self._tell(ActiveChanged())

    def activate_next(self, by: int) -> None:
        """Make the photo that many places further current."""
        self.activate(self.active + by)

    def choose_all(self) -> None:
        """Select every photo."""
        self.choose(self.prints)

    def choose(self, chosen: Sequence[Print]) -> None:
        """Select several photos, to compare them at one size; fewer than two means none."""
        entries = [one for one in self.prints if one in chosen]
        entries = entries if len(entries) > 1 else []
        if entries != self.chosen:
            self.chosen = entries
            self._tell(ChosenChanged())

    def carried(self) -> tuple[Carried, ...]:
        """Return the selected photos at the current photo's size."""
        one = self.current
        if one is None:
            return ()
        key = [one.docket, *(each.docket for each in self.chosen)]
        if self._carried is None or not _are_same(self._carried[0], key):
            photos = ((each.facts, each.docket) for each in self.chosen)
            rows = compare(photos, with_decided_size(one.plan()), this_machine())
            self._carried = (key, rows)
        return self._carried[1]

    def apply_to_chosen(self, parts: Sequence[str] = ("size",)) -> int:
        """Apply parts of the current photo's decisions to every selected photo.

        Return the number of photos changed.

        It is one step of undo for all of them.

        Raises
        ------
        BadRequest
            If one of the prints is impossible; none is changed then.
        """
        one = self.current
        if one is None:
            return 0
        source = with_decided_size(one.plan())
        goals = [(each, with_parts(each.docket, source, parts)) for each in self.chosen]
        goals = [(each, docket) for each, docket in goals if docket != each.docket]
        changed = len(goals)
        if goals:  # the source photo: undo there also reverts the others
            goals = [(one, one.docket), *(goal for goal in goals if goal[0] is not one)]
        for each, docket in goals:
            try:
                each.plan_of(docket)
            except BadRequest as why:
                raise BadRequest(
                    f"{each.name} cannot be printed with these settings; no photo was "
                    f"changed. {why}"
                ) from None
        step = [(each, each.docket, docket) for each, docket in goals]
        for each, docket in goals:
            each.write(docket)
        if step:
            self._steps.add(step)
        self._tell(DocketChanged(ALL_LINES))
        return changed

    def move(self, index: int, goal: int) -> None:
        """Move a photo to another index."""
        goal = min(len(self.prints) - 1, max(0, goal))
        if index == goal:
            return
        working = self.current
        self.prints.insert(goal, self.prints.pop(index))
        if working is not None:
            self.active = self.prints.index(working)
        self._tell(PhotosChanged())

    def move_on(self, by: int) -> None:
        """Move the current photo by this many places."""
        if self.current is not None:
            self.move(self.active, self.active + by)

    def close(self, index: int) -> None:
        """Close a photo; its file is not touched."""
        one = self.prints.pop(index)
        self._recent = [each for each in self._recent if each is not one]
        self._previewed = [each for each in self._previewed if each is not one]
        self.chosen = [each for each in self.chosen if each is not one]
        if len(self.chosen) < 2:
            self.chosen = []
        if index < self.active or self.active >= len(self.prints):
            self.active -= 1
        self._tell(PhotosChanged())
        self._tell(ActiveChanged())

    def decoded(
        self, one: Print, photo: Photo, preview: np.ndarray, alpha: np.ndarray | None = None
    ) -> None:
        """Store a photo's pixels, releasing those of the least recently viewed photo."""
        one.take_pixels(photo, preview, alpha)
        self._recent = [each for each in self._recent if each is not one] + [one]
        while len(self._recent) > KEPT_PHOTOS:
            oldest = next(each for each in self._recent if each is not self.current)
            oldest.let_go()
            self._recent.remove(oldest)
        self._previewed = [each for each in self._previewed if each is not one] + [one]
        while len(self._previewed) > KEPT_PREVIEWS:
            oldest = next(each for each in self._previewed if each is not self.current)
            oldest.shrink_preview()
            self._previewed.remove(oldest)
        self._tell(PixelsChanged())

    def changed(self, one: Print, facts: Facts) -> None:
        """Handle a changed photo file: read all its pixel data again."""
        one.let_go()
        one.preview = None
        one.learn(facts)
        self._tell(PhotosChanged())

    def finished(self, one: Print, docket: Docket, plan: Plan) -> None:
        """Show the figures of a finished file instead of the prediction."""
        one.finish(docket, plan)
        self._tell(PixelsChanged())

    def measured(self, one: Print, facts: Facts) -> None:
        """Store the measurements, which replace provisional figures."""
        one.take_measured(facts)
        self._tell(PixelsChanged())

    # versions

    def take_version(self, which: int) -> None:
        """Make another version of the photo current."""
        if self.current is not None:
            self.current.take_version(which)
            self._tell(DocketChanged(ALL_LINES))

    def add_version(self) -> None:
        """Copy the current version; the copy is named after its settings."""
        one = self.current
        if one is not None and len(one.versions) < versions.MOST:
            one.add_version(replace(one.docket, version=""))
            self._tell(DocketChanged(ALL_LINES))

    def name_version(self, name: str) -> None:
        """Name the current version; an empty name stands for its settings.

        Raises
        ------
        BadRequest
            If the name is too long, or used by another version.
        """
        one = self.current
        if one is None:
            return
        taken = version_names(one.versions)
        if name == taken[one.which]:
            return
        if len(name) > 40 or name in taken:
            raise BadRequest(f"“{name}”: that name is too long or already used. Type another.")
        self.lay(replace(one.docket, version=name))

    def write_version(self, one: Print, which: int, docket: Docket) -> None:
        """Replace a version's docket, of any photo; it is a step of that photo's undo."""
        worked_on = one.which
        one.take_version(which)
        if docket != one.docket:
            one.write(docket)
        one.take_version(worked_on)
        self._tell(DocketChanged(ALL_LINES))

    def remove_version(self) -> None:
        """Remove the current version."""
        if self.current is not None:
            self.current.remove_version()
            self._tell(DocketChanged(ALL_LINES))

    def keep(self) -> Callable[[], Path] | None:
        """Return a function that writes the photo's current versions next to it.

        It runs in another thread, so a slow disk does not block the window.
        """
        one = self.current
        if one is None:
            return None
        path = store.beside(one.facts.path)
        entries = [store.with_measured(docket, one.facts) for docket in one.versions]

        def write() -> Path:
            versions.save(entries, path)
            return path

        return write

    def keep_rack(self, path: Path) -> Callable[[], Path]:
        """Return a function that writes all photos' current versions into one file."""
        entries = [
            (one.facts.path, [store.with_measured(docket, one.facts) for docket in one.versions])
            for one in self.prints
        ]

        def write() -> Path:
            racks.save(entries, path)
            return path

        return write

    # decisions

    def decide(self, line: str, **fields: Any) -> None:
        """Change fields of one line.

        Raises
        ------
        BadRequest
            If the print is impossible; the docket is then unchanged.
        """
        one = self.current
        if one is not None:
            own = getattr(one.docket, line)
            self.lay(replace(one.docket, **{line: replace(own, **fields)}))

    def take_typed(self, typed: str) -> None:
        """Apply a print that was typed in a few words.

        Raises
        ------
        BadRequest
            If it is unreadable, or the print is impossible.
        """
        own = [paper.name for paper in self.papers.all]
        wanted = parse_print(typed, words.unit(self.units), self.own.all, own)
        self.hear_units(typed)
        one = self.current
        if one is not None:
            self.lay(apply_typed(one.docket, one.plan(), wanted))

    def take_rung(self, rung: Rung) -> None:
        """Choose a size of the ladder, keeping the frame's place."""
        one = self.current
        if one is None:
            return
        lie = one.docket.size.lie if one.docket.size.lie == "across" else "auto"
        if rung.size.family == "own":
            lie = lie_of(one.plan(), rung.size)  # in the orientation pointed at in the nest
        size = rung.size if rung.way is None else None
        line = replace(one.docket.size, size=size, way=rung.way, lie=lie)
        crop = largest_crop(one.docket.crop)
        self.lay(replace(one.docket, size=line, crop=crop))

    def take_maker(self, key: str) -> None:
        """Choose the maker, with the consequences."""
        one = self.current
        if one is not None:
            self.lay(printed_by(one.docket, key))

    def take_file_name(self, typed: str) -> None:
        """Set the file's name; empty text restores the rule."""
        for ending in (end for form in formats().values() for end in form.endings):
            if typed.lower().endswith(ending):
                typed = typed[: -len(ending)]
        self.decide("file", name=check_value("file", "name", typed) if typed else None)

    def take_paper(self, name: str) -> None:
        """Choose the paper; a paper of the user also sets its strength."""
        stored = self.papers.find(name)
        if stored is None:
            self.decide("sharpen", paper=name, sigma_mm=None)
            return
        self.decide(
            "sharpen", paper=stored.name, sigma_mm=stored.sigma_mm, strength=stored.strength
        )

    def lay(self, docket: Docket) -> None:
        """Replace the current docket as a step of undo."""
        self._replace(docket, Print.write)

    def slide(self, docket: Docket) -> None:
        """Replace the current docket during a drag, which is one step of undo."""
        self._replace(docket, Print.slide)

    def _replace(self, docket: Docket, put: Callable[[Print, Docket], None]) -> None:
        one = self.current
        if one is None or docket == one.docket:
            return
        before = one.docket
        put(one, docket)
        self._tell(change_event(before, docket))

    def begin_drag(self) -> None:
        """Begin the single step of a drag."""
        if self.current is not None:
            self.current.history.begin_step()

    def end_drag(self) -> None:
        """End the step; a drag without changes leaves none."""
        if self.current is not None:
            self.current.history.end_step()

    def undo(self) -> None:
        """Undo the last decision, for all photos that share it."""
        self._step(back=True)

    def redo(self) -> None:
        """Redo the last undone decision, for all photos that share it."""
        self._step(back=False)

    def _step(self, back: bool) -> None:
        one = self.current
        if one is None:
            return
        left = one.docket
        if not one.history.step(back):
            return
        event = change_event(left, one.docket)
        for other in self._steps.others(one, left, back):
            other.history.step(back)
            event = DocketChanged(ALL_LINES)
        self._tell(event)

    # the view

    def look(self, **fields: Any) -> None:
        """Change the crop's view options."""
        new = replace(self.view, **fields)
        if new != self.view:
            self.view = new
            self._tell(ViewChanged())

    def look_next(self, field_: str, choices: Sequence[str]) -> None:
        """Choose the next value of a view option."""
        at = list(choices).index(getattr(self.view, field_))
        self.look(**{field_: choices[(at + 1) % len(choices)]})

    def put_mark(self, place: tuple[Fraction, Fraction] | None) -> None:
        """Set or remove the current photo's subject point.

        Raises
        ------
        CannotDo
            If it cannot be saved; it remains until the photo is closed.
        """
        one = self.current
        if one is not None:
            one.learn(replace(one.facts, subject=place))
            self._tell(DocketChanged(ALL_LINES))
            mark(one.facts, place)

    def open_line(self, line: str) -> None:
        """Open one line of the margin."""
        if line != self.line:
            self.line = line
            self._tell(LineOpened())

    @property
    def units_said(self) -> str | None:
        """The units that the user chose or typed, or None."""
        return self.units if self._units_said else None

    def plan_anew(self) -> None:
        """Compute every plan again, after a change of the machine's abilities."""
        for one in self.prints:
            one.learn(one.facts)
        self._tell(DocketChanged(ALL_LINES))

    def use_units(self, units: str) -> None:
        """Show lengths in ``cm`` or ``in`` and resolutions in ppi, or (``px/cm``) both metric."""
        self._units_said = True
        if units == self.units:
            return
        self.units = units
        for one in self.prints:
            one.use_units(units)
        self._steps.use_units(units)
        self._tell(UnitsChanged())

    def hear_units(self, typed: str) -> None:
        """Use the units of the first typed length, until the user switches units."""
        named = unit_named(typed)
        if named is not None and not self._units_said:
            self.use_units(named)


def _are_same(one: Sequence[object], other: Sequence[object]) -> bool:
    """Return whether two lists hold the same objects, not only equal ones."""
    return len(one) == len(other) and all(a is b for a, b in zip(one, other, strict=True))
