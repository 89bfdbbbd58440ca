"""Making files from the window: away from it, with progress, and stopped when asked."""

from __future__ import annotations

import time
from dataclasses import replace

from ..handoff import names
from ..handoff.delivery import deliver
from ..handoff.make import Written
from ..measure import words
from ..measure.errors import Cancelled, ZincError
from ..photo.pixels import measured_photo, read_photo
from ..plan.planning import plan as make_plan
from .margin.foot import Foot
from .state import Print
from .work import Job, Lane


class Making:
    """Makes one file at a time; its progress and its end stand at the margin's foot."""

    def __init__(self, foot: Foot) -> None:
        self.foot = foot
        self.lane = Lane(keeps_all=True)
        self.written: Written | None = None
        self._job: Job | None = None

    @property
    def under_way(self) -> bool:
        """Whether a file is being made."""
        return self._job is not None

    def make(self, one: Print) -> None:
        """Make the file of a print, as its docket stands now."""
        if self._job is not None:
            return
        docket, path, kept = one.docket, one.facts.path, one.photo
        interest = one.facts.interest
        started = time.monotonic()
        last = [0.0]
        self.foot.show_progress(0, f"Making {one.name} …")

        def show(share: float) -> None:
            now = time.monotonic()
            if now - last[0] > 0.05:
                last[0] = now
                gone = now - started
                left = f"{words.seconds(gone / share - gone)} left" if share > 0.03 else ""
                self.lane.post(lambda: self._show(share, left))

        def work(job: Job) -> list[Written]:
            photo = measured_photo(kept) if kept else read_photo(path)
            plan = make_plan(replace(photo.facts, interest=interest), docket)
            out = names.goal(path, plan)
            return deliver(photo, plan, out, False, show, job.cancel)

        def done(made: list[Written]) -> None:
            self._job, self.written = None, made[0]
            size = words.size_in_bytes(sum(each.bytes for each in made))
            took = words.seconds(sum(each.seconds for each in made))
            what = made[0].path.name
            if len(made) > 1:
                what = f"{len(made)} pieces and their map in {made[0].path.parent.name}"
            self.foot.show_end(f"Written: {what}, {size}, in {took}.", True)

        def failed(why: ZincError) -> None:
            self._job = None
            self.foot.show_end(
                "Stopped; nothing was written." if isinstance(why, Cancelled) else str(why), False
            )

        self._job = self.lane.run(work, done, failed)

    def _show(self, share: float, left: str) -> None:
        if self._job is not None and not self._job.cancel.is_set():
            self.foot.show_progress(share, f"{share:.0%}  {left}")

    def stop(self) -> bool:
        """Stop the file that is being made; nothing is left of it. Tell whether there was one."""
        if self._job is None:
            return False
        self._job.cancel.set()
        self.foot.said.setText("Stopping …")
        return True
