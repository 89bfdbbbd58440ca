"""Types of pixel arrays."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

Codes = NDArray[np.uint8] | NDArray[np.uint16]
"""Integer sample values as stored in files, (H, W, C)."""

Plane = NDArray[np.float32]
"""Working values, 0 to 1: one channel (H, W) or several (C, H, W)."""
