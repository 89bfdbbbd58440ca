"""What is refused in the middle of a press or a drag is said, wherever it was asked for."""

from __future__ import annotations

import sys
from collections.abc import Callable
from types import TracebackType

from zinc_margin.keeping import log
from zinc_margin.measure.errors import ZincError


class Refusals:
    """Takes what no part of the window has caught; the docket then is as it was.

    Parameters
    ----------
    say : callable
        Told one sentence.
    """

    def __init__(self, say: Callable[[str], None]) -> None:
        self._say, self._before = say, sys.excepthook
        sys.excepthook = self._hook = self._take

    def _take(
        self, kind: type[BaseException], why: BaseException, trace: TracebackType | None
    ) -> None:
        if isinstance(why, ZincError):
            self._say(str(why))
            return
        self._before(kind, why, trace)
        if isinstance(why, Exception):
            self._say(f"{log.record(why)} What you decided is kept.")

    def close(self) -> None:
        """Take nothing more."""
        if sys.excepthook == self._hook:
            sys.excepthook = self._before
