"""Make files in the background, with progress and cancellation."""

from __future__ import annotations

import os
from collections.abc import Callable
from dataclasses import replace
from pathlib import Path

from zinc_margin.desktop.margin.foot import Foot
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.work import Lane
from zinc_margin.desktop.shell.message import tell_elsewhere
from zinc_margin.handoff import names
from zinc_margin.handoff.machine import this_machine
from zinc_margin.handoff.make import Written
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.measure.errors import NotReturned, ZincError
from zinc_margin.photo.pixels import measured_photo, read_photo
from zinc_margin.pixels.loop_cache import PREPARING, is_awaited
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.model import plan_of_file
from zinc_margin.plan.text.lines import limited_words


class Making:
    """Makes one file at a time; progress and result appear at the foot of the margin."""

    def __init__(self, table: Table, foot: Foot, written: Callable[[], None]) -> None:
        self._table = table
        self._told_written = written
        self.foot = foot
        self.lane = Lane(keeps_all=True)
        self.written: Written | None = None
        self._job: Job | None = None
        self._back: Path | None = None
        self._leave: Callable[[], object] = lambda: None

    def return_to(self, path: Path, leave: Callable[[], object]) -> None:
        """Send the file back to the program that passed the photo, then close."""
        self._back, self._leave = Path(os.path.abspath(path)), leave
        self.foot.make.setText("Send back")

    @property
    def exit_code(self) -> int:
        """0 if no file had to be sent back or it was sent; else the code of NotReturned."""
        return 0 if self._back is None or self.written is not None else NotReturned.code

    @property
    def under_way(self) -> bool:
        """Whether a file is being made."""
        return self._job is not None

    def make(self, one: Print) -> None:
        """Make the file of a print with its current docket."""
        from zinc_margin.handoff.delivery import deliver

        if self._job is not None:
            return
        docket, path, stored, back = one.docket, one.facts.path, one.photo, self._back
        if back is not None:
            try:
                form = names.format_of(back)
            except ZincError as why:
                self.foot.show_end(str(why), False)
                return
            docket = replace(docket, file=replace(docket.file, format=form))
        subject, page = one.facts.subject, one.facts.page
        self.foot.show_progress(0, f"Making {one.name} …")

        def work(job: Job) -> list[Written]:
            photo = measured_photo(stored) if stored else read_photo(path, page=page)
            plan = make_plan(replace(photo.facts, subject=subject), docket, this_machine())
            if back is None:
                return deliver(photo, plan, names.goal(path, plan), False, job)
            return deliver(photo, plan, back, True, job)

        def done(files: list[Written]) -> None:
            self._job, self.written = None, files[0]
            if files[0].plan.pieces is None:
                self._table.finished(one, docket, plan_of_file(files[0].plan))
            self._told_written()
            size = words.size_in_bytes(sum(each.bytes for each in files))
            took = words.seconds(sum(each.seconds for each in files))
            what = files[0].path.name
            if files[0].plan.file.fit is not None:
                what += f", {limited_words(files[0].plan)}"
            if len(files) > 1:
                what = f"{len(files)} pieces and their map in {files[0].path.parent.name}"
            paths = [each.path for each in files]
            remarks = [each.remark for each in files if each.remark]
            said = " ".join([f"Written: {what}, {size}, in {took}.", *remarks])
            self.foot.show_end(said, True, paths)
            tell_elsewhere(self.foot.window(), "The file is ready", f"{what}, {size}, in {took}.")
            if back is not None:
                self._leave()

        def failed(why: ZincError) -> None:
            self._job = None
            self.foot.show_end(str(why), False)
            tell_elsewhere(self.foot.window(), "No file was written", str(why))

        def stopped() -> None:
            self._job = None
            self.foot.show_end("Stopped; nothing was written.", False)

        self._job = self.lane.run(work, done, failed, stopped, self._show)

    def _show(self, share: float, left: float | None) -> None:
        if self._job is not None and not self._job.cancelled:
            rest = "" if left is None else f"{words.seconds(left)} left"
            # The print waits while its loops are being compiled.
            said = f"{share:.0%}" if share or not is_awaited() else f"{PREPARING}."
            self.foot.show_progress(share, f"{said}  {rest}")

    def stop(self) -> bool:
        """Cancel the file being made, leaving no trace; return whether there was one."""
        if self._job is None:
            return False
        self._job.cancel()
        self.foot.said.setText("Stopping …")
        return True
