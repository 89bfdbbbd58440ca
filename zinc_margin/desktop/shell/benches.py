"""The benches, one per line of the margin, each built on first use."""

from __future__ import annotations

from functools import cached_property, partial
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtWidgets import QStackedWidget

from zinc_margin.desktop.bench.canvas import Bench
from zinc_margin.desktop.model.events import ActiveChanged, LineOpened, PhotosChanged
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.services.work import Lane

_Bench = TypeVar("_Bench", bound=Bench)

if TYPE_CHECKING:
    from zinc_margin.desktop.bench.crop import CropBench
    from zinc_margin.desktop.bench.finish import SheetBench
    from zinc_margin.desktop.bench.invitation import Invitation
    from zinc_margin.desktop.bench.loupe import LoupeBench
    from zinc_margin.desktop.bench.photo import PhotoBench
    from zinc_margin.desktop.bench.size import LadderBench


class Benches(QStackedWidget):
    """The area where a photo is shown and edited.

    Parameters
    ----------
    lane : Lane
        The lane for the loupe's rendering.

    Attributes
    ----------
    shows_needs : bool
        Without a photo, show the pixels that each size needs.
    """

    def __init__(self, table: Table, lane: Lane, shell: Shell) -> None:
        super().__init__()
        self._table, self._lane, self._shell = table, lane, shell
        self.shows_needs = False
        table.observe(self.refresh, ActiveChanged, LineOpened, PhotosChanged)

    @cached_property
    def invitation(self) -> Invitation:
        """The view before any photo is open."""
        from zinc_margin.desktop.bench.invitation import Invitation

        return self._added(Invitation(self._shell))

    @cached_property
    def photo(self) -> PhotoBench:
        """The bench of the Photo line."""
        from zinc_margin.desktop.bench.photo import PhotoBench

        return self._added(PhotoBench(self._table, self._shell))

    @cached_property
    def ladder(self) -> LadderBench:
        """The bench of the Size line."""
        from zinc_margin.desktop.bench.size import LadderBench

        return self._added(LadderBench(self._table, self._shell))

    @cached_property
    def crop(self) -> CropBench:
        """The bench of the Crop line."""
        from zinc_margin.desktop.bench.crop import CropBench

        return self._added(CropBench(self._table))

    @cached_property
    def loupe(self) -> LoupeBench:
        """The bench of the Pixels and Sharpen lines."""
        from zinc_margin.desktop.bench.loupe import LoupeBench

        return self._added(LoupeBench(self._table, self._lane))

    @cached_property
    def sheet(self) -> SheetBench:
        """The bench of the Finish and File lines."""
        from zinc_margin.desktop.bench.finish import SheetBench

        return self._added(SheetBench(self._table, self._shell))

    def _added(self, bench: _Bench) -> _Bench:
        self.addWidget(bench)
        self._table.observe(partial(self._draw, bench), *bench.watches, lines=bench.reads)
        return bench

    def _draw(self, bench: Bench) -> None:
        """Draw a bench if it is the one that is shown."""
        if bench is self.currentWidget():
            bench.refresh()

    def refresh(self) -> None:
        """Show the bench of the open line."""
        self.shows_needs = self.shows_needs and self._table.current is None
        bench = self.at_line()
        self.setCurrentWidget(bench)
        bench.refresh()

    @property
    def lanes(self) -> tuple[Lane, ...]:
        """The lanes of all benches built so far, except the loupe's rendering."""
        return (self.sheet.lane,) if "sheet" in vars(self) else ()

    def at_line(self) -> Bench:
        """Return the bench of the open line; without a photo, the invitation."""
        if self._table.current is None:
            return self.ladder if self.shows_needs else self.invitation
        of = {
            "photo": "photo",
            "size": "ladder",
            "crop": "crop",
            "pixels": "loupe",
            "sharpen": "loupe",
        }
        result = getattr(self, of.get(self._table.line, "sheet"))
        assert isinstance(result, Bench)
        return result

    def leave_crop(self) -> bool:
        """Cancel a step begun in the crop; return whether there was one."""
        return "crop" in vars(self) and self.crop.leave()

    def stop(self) -> None:
        """Stop the benches' background work."""
        if "loupe" in vars(self):
            self.loupe.searched.lane.stop()
