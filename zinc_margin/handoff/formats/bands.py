"""Finished bands on their way into a file."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from zinc_margin.plan.model import PrintPlan

Bands = Iterator[np.ndarray]


def gathered(bands: Bands, plan: PrintPlan) -> np.ndarray:
    """Return a whole picture from its bands.

    Parameters
    ----------
    bands : Bands
        From the top, (rows, W, C) each.
    """
    width, height, channels = plan.page.width, plan.page.height, plan.file.channels
    whole = np.empty((height, width, channels), np.uint8 if plan.file.bits == 8 else np.uint16)
    top = 0
    for band in bands:
        whole[top : top + len(band)] = band
        top += len(band)
    return whole
