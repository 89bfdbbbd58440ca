"""The kinds of arrays that pixels come in."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Codes = NDArray[np.uint8] | NDArray[np.uint16]
"""Whole codes as a file stores them, (H, W, C)."""

Plane = NDArray[np.float32]
"""One channel (H, W) or several (C, H, W) while they are worked on, 0 to 1."""
