"""What can be rendered whole or in part: a print, a sheet, a piece of one."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from threading import Event
from typing import Any, Protocol

import numpy as np

Progress = Callable[[float], None]


class Rendered(Protocol):
    """Finished pixels, on demand; any part is the same to the bit as in the whole."""

    dtype: np.dtype[Any]

    @property
    def shape(self) -> tuple[int, int, int]:
        """Height, width and channels."""

    def region(
        self, left: int, top: int, width: int, height: int, cancel: Event | None = None
    ) -> np.ndarray:
        """Return a part, (height, width, C).

        Parameters
        ----------
        left, top, width, height : int
            In pixels.
        cancel : Event or None
            Set by whoever wants it to stop.
        """

    def bands(
        self, progress: Progress | None = None, cancel: Event | None = None
    ) -> Iterator[np.ndarray]:
        """Yield the whole from the top.

        Parameters
        ----------
        progress : Progress or None
            Told the share that is done, 0 to 1.
        cancel : Event or None
            Set by whoever wants it to stop.
        """
