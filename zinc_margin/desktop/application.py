"""Starting the window."""

from __future__ import annotations

import argparse
import os
import signal
import sys
from collections.abc import Sequence
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication

from zinc_margin.desktop import theme
from zinc_margin.handoff.complete import check_complete
from zinc_margin.measure.errors import ZincError


def main(arguments: Sequence[str] | None = None) -> int:
    """Open the window with photos, or with the demo."""
    parser = argparse.ArgumentParser(prog="zinc-margin window")
    parser.add_argument("photos", nargs="*", metavar="PHOTO")
    parser.add_argument("--demo", action="store_true", help="open the demo")
    parser.add_argument("--return-to", metavar="FILE", help="make it there, and end")
    options = parser.parse_args(arguments)
    if sys.platform == "linux" and not any(
        os.environ.get(name) for name in ("DISPLAY", "WAYLAND_DISPLAY", "QT_QPA_PLATFORM")
    ):
        print("zinc-margin: There is no screen to open a window on.", file=sys.stderr)
        return 1
    try:
        check_complete()
    except ZincError as why:
        print(f"zinc-margin: {why}", file=sys.stderr)
        return 1
    application = start()
    from zinc_margin.desktop.window import Window

    window = Window()
    if options.return_to:
        window.making.return_to(Path(options.return_to), window.close)
    window.show()
    if options.demo:
        _open_demo(window)
    window.open_photos(options.photos)
    window.tidy_up()
    signal.signal(signal.SIGINT, lambda *_: window.close())
    wake = QTimer()
    wake.start(200)  # lets Python see the signal
    wake.timeout.connect(lambda: None)
    code = application.exec()
    return window.making.exit_code if code == 0 else code


def start(dim: bool = False) -> QApplication:
    """Return the application, dressed."""
    existing = QApplication.instance()
    application = existing if isinstance(existing, QApplication) else QApplication(sys.argv[:1])
    application.setApplicationName("Zinc Margin")
    theme.apply(application, dim)
    return application


def _open_demo(window: object) -> None:
    from zinc_margin.demo import folder as demo
    from zinc_margin.desktop.window import Window
    from zinc_margin.desktop.work import Job

    assert isinstance(window, Window)
    folder = demo.cache_folder()
    if demo.is_there(folder):
        window.open_photos([folder / name for name in demo.NAMES])
        return
    foot = window.margin.foot
    foot.make.setEnabled(False)

    def work(job: Job) -> list[Path]:
        def show(share: float) -> None:
            window.reading.post(
                lambda: foot.show_progress(share, f"Drawing the demo's photos, once: {share:.0%}")
            )

        # each photo goes on the rack as soon as it is there
        return demo.write_demo(
            folder, show, lambda path: window.reading.post(lambda: window.open_photos([path]))
        )

    def done(paths: list[Path]) -> None:
        foot.rest()

    def failed(why: ZincError) -> None:
        foot.rest()
        window.message.say(str(why))

    window.reading.run(work, done, failed)
