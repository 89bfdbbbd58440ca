"""The benches, one per line of the margin, each built on first use."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, TypeVar

from PySide6.QtWidgets import QStackedWidget, QWidget

from zinc_margin.desktop.model.prints import Print
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.services.work import Lane
from zinc_margin.plan.model import Plan

_Bench = TypeVar("_Bench", bound=QWidget)

if TYPE_CHECKING:
    from zinc_margin.desktop.bench.crop import CropBench
    from zinc_margin.desktop.bench.finish import SheetBench
    from zinc_margin.desktop.bench.invitation import Invitation
    from zinc_margin.desktop.bench.loupe import LoupeBench
    from zinc_margin.desktop.bench.photo import PhotoBench
    from zinc_margin.desktop.bench.size import LadderBench


@dataclass(frozen=True)
class Asks:
    """The benches' calls to the window."""

    open_photos: Callable[[], None]
    look_at_demo: Callable[[], None]
    recent: Callable[[], list[str]]
    open_one: Callable[[str], None]
    show_needs: Callable[[bool], None]
    show_place: Callable[[int, int], None]
    goal: Callable[[Print, Plan], Path]
    say: Callable[[str], None]


class Benches(QStackedWidget):
    """The area where a photo is shown and edited.

    Parameters
    ----------
    lane : Lane
        The lane for the loupe's rendering.
    """

    def __init__(self, table: Table, lane: Lane, asks: Asks) -> None:
        super().__init__()
        self._table, self._lane, self._asks = table, lane, asks

    @cached_property
    def invitation(self) -> Invitation:
        """The view before any photo is open."""
        from zinc_margin.desktop.bench.invitation import Invitation

        asks = self._asks
        return self._added(
            Invitation(
                asks.open_photos,
                asks.look_at_demo,
                asks.recent,
                asks.open_one,
                lambda: asks.show_needs(True),
            )
        )

    @cached_property
    def photo(self) -> PhotoBench:
        """The bench of the Photo line."""
        from zinc_margin.desktop.bench.photo import PhotoBench

        return self._added(PhotoBench(self._table, self._asks.show_place))

    @cached_property
    def ladder(self) -> LadderBench:
        """The bench of the Size line."""
        from zinc_margin.desktop.bench.size import LadderBench

        return self._added(LadderBench(self._table, lambda: self._asks.show_needs(False)))

    @cached_property
    def crop(self) -> CropBench:
        """The bench of the Crop line."""
        from zinc_margin.desktop.bench.crop import CropBench

        return self._added(CropBench(self._table, self._asks.say))

    @cached_property
    def loupe(self) -> LoupeBench:
        """The bench of the Pixels and Sharpen lines."""
        from zinc_margin.desktop.bench.loupe import LoupeBench

        return self._added(LoupeBench(self._table, self._lane))

    @cached_property
    def sheet(self) -> SheetBench:
        """The bench of the Finish and File lines."""
        from zinc_margin.desktop.bench.finish import SheetBench

        return self._added(SheetBench(self._table, self._asks.goal))

    def _added(self, bench: _Bench) -> _Bench:
        self.addWidget(bench)
        return bench

    @property
    def lanes(self) -> tuple[Lane, ...]:
        """The lanes of all benches built so far, except the loupe's rendering."""
        return (self.sheet.lane,) if "sheet" in vars(self) else ()

    def at_line(self, needs: bool) -> QWidget:
        """Return the bench of the open line; without a photo, the invitation.

        Parameters
        ----------
        needs : bool
            Without a photo, show the pixels that each size needs.
        """
        if self._table.current is None:
            return self.ladder if needs else self.invitation
        of = {
            "photo": "photo",
            "size": "ladder",
            "crop": "crop",
            "pixels": "loupe",
            "sharpen": "loupe",
        }
        result = getattr(self, of.get(self._table.line, "sheet"))
        assert isinstance(result, QWidget)
        return result

    def leave_crop(self) -> bool:
        """Cancel a step begun in the crop; return whether there was one."""
        return "crop" in vars(self) and self.crop.leave()

    def stop(self) -> None:
        """Stop the benches' background work."""
        if "loupe" in vars(self):
            self.loupe.searched.lane.stop()
