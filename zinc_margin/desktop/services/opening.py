"""Open photos: their headers, dockets, pixels and measurements."""

from __future__ import annotations

from collections.abc import Sequence
from functools import partial
from pathlib import Path

import numpy as np
from PySide6.QtWidgets import QWidget

from zinc_margin.desktop.model.session import Remembered
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.drafts import Drafts
from zinc_margin.desktop.services.work import Job, Lane
from zinc_margin.desktop.widgets.imaging import small_of
from zinc_margin.docket import racks, store, versions
from zinc_margin.docket.docket import Docket, fresh
from zinc_margin.facts.facts import Facts
from zinc_margin.handoff.machine import this_machine
from zinc_margin.measure.errors import BadRequest, ZincError
from zinc_margin.photo import subject
from zinc_margin.photo.endings import photos_in
from zinc_margin.photo.header import read_header
from zinc_margin.photo.limits import return_memory
from zinc_margin.photo.pixels import Photo, measured_photo, read_photo
from zinc_margin.photo.subject import with_mark
from zinc_margin.plan.build import plan as make_plan

_READ = tuple[Photo, np.ndarray | None, np.ndarray | None]


class Opening:
    """Opens photos in the background.

    Parameters
    ----------
    window : QWidget
        Parent of questions.
    drafts : Drafts
        Earlier decisions about photos.
    remembered : Remembered
        Receives the opened photos.
    """

    def __init__(
        self,
        window: QWidget,
        table: Table,
        reading: Lane,
        drafts: Drafts,
        remembered: Remembered,
    ) -> None:
        self.window, self.table, self.reading = window, table, reading
        self.drafts, self.remembered = drafts, remembered
        self.measuring = Lane(keeps_all=True, say=table.say)
        self._wanted: set[Path] = set()
        self._unread: set[Path] = set()

    def open_photos(self, paths: Sequence[str | Path]) -> None:
        """Open photos, and those of racks; report and skip unreadable ones."""
        for one in paths:
            path = Path(one).absolute()
            if path.is_dir():
                self._open_folder(path)
                continue
            if racks.is_rack(path):
                self._open_rack(path)
                continue
            self._open(path, None)

    def _open_folder(self, folder: Path) -> None:
        def done(photos: list[Path]) -> None:
            self.open_photos(photos)
            if not photos:
                self.table.say(f"There are no photos in {folder}.")

        self.reading.run(lambda job: photos_in(folder), done)

    def _open_rack(self, path: Path) -> None:
        def done(entries: tuple[racks.Kept, ...]) -> None:
            for photo, dockets in entries:
                self._open(photo, dockets, path)

        self.reading.run(lambda job: racks.load(path), done)

    def _open(
        self, path: Path, dockets: tuple[Docket, ...] | None, rack: Path | None = None
    ) -> None:
        """Open one photo with the given dockets, or with those next to it."""
        index = self.table.find(path)
        if index is not None:
            self.table.activate(index)
        elif path not in self._wanted:
            self._wanted.add(path)
            units = self.table.units
            self.reading.run(
                lambda job: read_with_dockets(path, dockets, units),
                partial(self._opened, path, rack or store.beside(path)),
                partial(self._not_opened, path),
            )

    def _opened(self, path: Path, kept: Path, found: tuple[Facts, tuple[Docket, ...], str]) -> None:
        facts, dockets, remark = found
        self._wanted.discard(path)
        if remark:
            self.table.say(remark)
        one = self.table.add(facts, *dockets)
        self.remembered.opened(path)
        self.drafts.opened(one, kept)
        self._read_pixels(one)
        if facts.pages > 1 and one.docket.photo.page is None and subject.chosen_page(path) is None:
            self.ask_for_page(one)

    def _not_opened(self, path: Path, why: ZincError) -> None:
        self._wanted.discard(path)
        self._unread.add(path)
        self.table.say(str(why))

    def ask_for_page(self, one: Print | None = None) -> None:
        """Ask which page of its file a photo is; for the current photo by default."""
        from zinc_margin.desktop.dialogs.pages import PagesDialog

        asked = one or self.table.current
        if asked is not None and asked.facts.pages > 1:
            PagesDialog(self.window, asked.facts, partial(self._take_page, asked)).open()

    def _take_page(self, one: Print, page: int) -> None:
        def done(facts: Facts) -> None:
            if one in self.table.prints and page != one.facts.page:
                other = self.table.put_page(one, facts)
                self.drafts.keep(other, (fresh(self.table.units),))
                self._read_pixels(other)

        self.reading.run(lambda job: with_page(one.facts.path, page), done)

    def _read_pixels(self, one: Print) -> None:
        path, page = one.facts.path, one.facts.page
        has_preview = one.preview is not None and not one.is_shrunk

        def work(job: Job) -> _READ:
            photo = read_photo(path, measured=False, page=page)
            if has_preview:
                return photo, None, None
            return photo, *small_of(photo)

        def done(result: _READ) -> None:
            if one in self.table.prints:
                photo, shown, alpha = result
                if shown is None:
                    assert one.preview is not None
                    shown = one.preview
                self.table.decoded(one, photo, shown, alpha)
                self._measure(one)
                self.measuring.run(lambda job: return_memory(), lambda _: None)

        def failed(why: ZincError) -> None:
            self.table.say(str(why))
            if one in self.table.prints and one.preview is None:
                self._unread.add(path)
                self.table.close(self.table.prints.index(one))

        self.reading.run(work, done, failed)

    def _measure(self, one: Print) -> None:
        """Measure a photo in the background; until then the figures are provisional."""
        photo = one.photo
        if photo is None or photo.facts.measured is not None:
            return

        def done(result: Photo) -> None:
            # The file may have been replaced meanwhile, as the demo's photos are.
            if one in self.table.prints and _alike(one.facts, result.facts):
                self.table.measured(one, result.facts)

        self.measuring.run(lambda job: measured_photo(photo), done)

    def read_anew(self, path: Path) -> None:
        """Read an open photo whose file has changed; its decisions stay.

        If it was unreadable while its file was changing, it is opened again.
        """
        index = self.table.find(path)
        if index is None:
            self._once_more(path)
            return
        one = self.table.prints[index]

        def done(facts: Facts) -> None:
            if one in self.table.prints:
                self.table.changed(one, facts)
                self._read_pixels(one)
            else:
                self._once_more(path)

        self.reading.run(lambda job: with_mark(read_header(path).facts), done)

    def _once_more(self, path: Path) -> None:
        if path in self._unread:
            self._unread.discard(path)
            self.open_photos([path])

    def read_again(self) -> None:
        """Decode the current photo if its pixels were released."""
        one = self.table.current
        if one is not None and one.photo is None and one.preview is not None:
            self._read_pixels(one)


def _alike(one: Facts, other: Facts) -> bool:
    """Return whether two readings are of the same state of a file."""
    first, second = (
        (facts.width, facts.height, facts.file_bytes, facts.page) for facts in (one, other)
    )
    return first == second


def read_with_dockets(
    path: Path, from_rack: tuple[Docket, ...] | None = None, units: str = "cm"
) -> tuple[Facts, tuple[Docket, ...], str]:
    """Return facts, dockets and a remark about them.

    The dockets are the given ones, else those next to the photo, else a fresh one.
    """
    beside = store.beside(path)
    dockets = from_rack or (fresh(units),)
    remark = ""
    if from_rack is None and beside.exists():
        try:
            dockets = versions.load(beside)
        except BadRequest as why:
            remark = f"{beside.name} cannot be used and was left unchanged. {why}"
    stored, chosen = dockets[0].photo.page, subject.chosen_page(path)
    facts = with_mark(read_header(path, stored or chosen if from_rack else chosen or stored).facts)
    try:
        make_plan(facts, dockets[0], this_machine())
    except BadRequest as why:
        named = "Its settings in the list" if from_rack else beside.name
        return facts, (fresh(units),), f"{named} cannot be used and was left unchanged. {why}"
    return facts, dockets, remark


def with_page(path: Path, page: int) -> Facts:
    """Return the facts of another page of a file, and remember the choice."""
    facts = with_mark(read_header(path, page).facts)
    subject.choose(path, page)
    return facts
