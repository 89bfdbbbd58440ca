"""From where on what was measured of a photo matters."""

from __future__ import annotations

BLOCKS_FROM = 0.18
"""In L*; JPEG of quality 85 and more stays below in quiet pictures, of 70 and less above."""
HALO_FROM = 0.15
"""Overshoot, as a share of an edge's step."""
SOFT_FROM = 1.2
"""In px; a camera's file reduced to half lies at 0.4 to 0.6, straight from the sensor under 1."""
NOISE_FROM = 0.8
"""In L*."""
ENLARGED_UNDER = 0.95
"""Share of the pixels each way that are the photo's own."""
