"""Draw the demo in the background: small pictures first, full ones as they are finished."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from zinc_margin.demo import folder as demo
from zinc_margin.desktop.services.opening import Opening
from zinc_margin.desktop.services.work import Lane
from zinc_margin.keeping.job import Job
from zinc_margin.measure.errors import ZincError


class DemoLane:
    """Draws missing demo pictures in the background.

    Parameters
    ----------
    coming : callable
        Receives the names of the remaining pictures, and the share done.
    """

    def __init__(self, opening: Opening, coming: Callable[[tuple[str, ...], float], None]) -> None:
        self.lane = Lane()
        self._opening, self._coming = opening, coming
        self._job: Job | None = None
        self._left: list[str] = []
        self._share = 0.0

    @property
    def under_way(self) -> bool:
        """Whether photos are being drawn."""
        return self._job is not None

    def look(self) -> None:
        """Open the demo, and draw its missing pictures."""
        folder = demo.cache_folder()
        if demo.is_there(folder):
            self._opening.open_photos([folder / name for name in demo.NAMES])
            return
        if self._job is not None:
            return
        self._left, self._share = list(demo.in_order()), 0.0

        def work(job: Job) -> list[Path]:
            return demo.write_demo(
                folder,
                job,
                lambda path: self.lane.post(partial(self._drawn, path)),
                small_first=True,
            )

        self._job = self.lane.run(
            work,
            lambda _: self._ended(),
            self._ended,
            self._ended,
            self._stepped,
        )
        self._tell()

    def stop(self) -> bool:
        """Stop drawing and keep finished photos; return whether anything was being drawn."""
        if self._job is None:
            return False
        self._job.cancel()
        return True

    def _stepped(self, share: float, left: float | None) -> None:
        if share - self._share >= 0.01:
            self._share = share
            self._tell()

    def _drawn(self, path: Path) -> None:
        if path.name in self._left:
            self._left.remove(path.name)
            self._opening.open_photos([path])
        else:
            self._opening.read_anew(path)
        self._tell()

    def _ended(self, why: ZincError | None = None) -> None:
        self._job, self._left = None, []
        if why is not None:
            self._opening.table.say(why)
        self._tell()

    def _tell(self) -> None:
        self._coming(tuple(self._left), self._share if self.under_way else 1.0)
