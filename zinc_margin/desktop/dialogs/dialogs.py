"""The window's dialogs, each imported on first use."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from zinc_margin.keeping.job import Job

if TYPE_CHECKING:
    from zinc_margin.desktop.shell.window import Window


class Dialogs:
    """Opens dialogs over the window, for the current photo or for all.

    Parameters
    ----------
    window : Window
        The window; its parts are looked up when a dialog opens.
    """

    def __init__(self, window: Window) -> None:
        self._window, self._table = window, window.table

    def show_batch(self) -> None:
        """Show the batch with every open photo."""
        from zinc_margin.desktop.dialogs.batch import BatchDialog

        if self._table.prints:
            BatchDialog(
                self._window, self._table.prints, self._table.write_version, self._table.units
            ).open()

    def show_presets(self) -> None:
        """Show the presets."""
        from zinc_margin.desktop.dialogs.presets import PresetDialog

        dialog = PresetDialog(self._window, self._table)
        dialog.finished.connect(self._table.own_changed)
        dialog.open()

    def print_it(self) -> None:
        """Print the current photo on one of the system's printers."""
        from zinc_margin.desktop.dialogs.printing import PrintDialog, to_print

        one = self._table.current
        if one is not None:
            PrintDialog(self._window, to_print(one), self._table.units, one.facts.path).open()

    def made_before(self, digest: str, tell: Callable[[str], None]) -> None:
        """Report the prints made of the photo with this digest."""
        from zinc_margin.handoff import print_log

        def search(job: Job) -> str:
            return print_log.summary(print_log.search(digest=digest))

        self._window.reading.run(search, tell, lambda why: tell(str(why)))

    def ask_printers(self) -> None:
        """Ask every printer for its papers; planning uses them from then on."""
        from zinc_margin.handoff.queues import ask_all

        def done(count: int) -> None:
            told = (
                "1 printer reported its"
                if count == 1
                else (f"{count or 'No'} printers reported their")
            )
            self._table.say(f"{told} papers and unprintable edges.")
            self._table.plan_anew()

        self._window.network.run(lambda job: ask_all(), done)

    def forget_made(self) -> None:
        """Clear the print log."""
        from zinc_margin.handoff import print_log

        def done(count: int) -> None:
            self._table.say(
                f"The print log is cleared ({count} print{'' if count == 1 else 's'}); the "
                "files are kept."
            )

        self._window.reading.run(lambda job: print_log.forget(), done)

    def send_written(self) -> None:
        """Send the most recently made file to a lab."""
        from zinc_margin.desktop.dialogs.send import SendDialog
        from zinc_margin.handoff.order import Line

        written = self._window.making.written
        if written is not None and written.path.is_file():
            size = written.plan.size
            SendDialog(self._window, [Line(written.path, size)], self._table.units).open()

    def lay_together(self) -> None:
        """Arrange the open photos on shared sheets."""
        from zinc_margin.desktop.dialogs.together import TogetherDialog

        if self._table.prints:
            TogetherDialog(self._window, self._table.prints, self._table.units).open()

    def make_strip(self) -> None:
        """Lay out a test strip, and write it to a path chosen by the user."""
        from zinc_margin.desktop.dialogs.strip import StripDialog

        one = self._table.current
        if one is not None and one.photo is not None:
            places = self._window.benches.loupe.strip_places(one)
            StripDialog(self._window, one, places, self._table.strip_made).open()
