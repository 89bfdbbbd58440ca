"""Finished pixels that can be rendered whole or in part: a print, a sheet, a piece."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Iterator
from concurrent.futures import Future, ThreadPoolExecutor
from typing import Any

import numpy as np

from zinc_margin.keeping.job import IDLE, Job
from zinc_margin.photo.arrays import Codes

BAND_ROWS = 512  # rows; small enough for memory, large enough for writers


class Rendered(ABC):
    """Finished pixels, on demand; any part has the same bits as in the whole.

    Attributes
    ----------
    shape : (int, int, int)
        Height, width and channels.
    """

    dtype: np.dtype[Any]
    shape: tuple[int, int, int]

    @abstractmethod
    def region(self, left: int, top: int, width: int, height: int, job: Job = IDLE) -> Codes:
        """Return a region, (height, width, C); raise Cancelled soon after the job is cancelled."""

    def bands(self, job: Job = IDLE) -> Iterator[Codes]:
        """Yield the whole in bands of `BAND_ROWS` rows; one is rendered while another is written.

        Raises
        ------
        Cancelled
            Soon after the job is cancelled.
        """
        height, width, _ = self.shape
        tops = range(0, height, BAND_ROWS)

        def band(top: int) -> Codes:
            return self.region(0, top, width, min(BAND_ROWS, height - top), job)

        with ThreadPoolExecutor(1, "page") as pool:
            coming: Future[Codes] = pool.submit(band, 0)
            for done, top in enumerate(tops, 1):
                result = coming.result()
                if done < len(tops):
                    coming = pool.submit(band, top + BAND_ROWS)
                job.check()
                job.report(done / len(tops))
                yield result
