"""Resampling kernels, one entry each in ``data/kernels.json``.

The renderer, the sharpening model, the docket and the texts all read this entry. A cubic is defined
by its B and C, so a new cubic is a new line in the table. An entry with a missing part stops the
program at start.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from fractions import Fraction
from functools import cache
from typing import Any

from zinc_margin.measure.tables import table

SHAPES: dict[str, float] = {"lanczos": 3.0, "cubic": 2.0, "blocks": 0.5}
"""Kernel shapes and their half-widths, in samples."""


@dataclass(frozen=True)
class Kernel:
    """A resampling kernel.

    Attributes
    ----------
    key, name : str
    shape : str
        A key of `SHAPES`.
    b, c : float
        A cubic's B and C (Mitchell and Netravali, 1988); 0 for other shapes.
    learned : bool
        Whether networks enlarge, and the kernel only resamples the rest.
    steepens : bool
        Whether edges get steeper with the enlargement.
    """

    key: str
    name: str
    shape: str
    b: float = 0.0
    c: float = 0.0
    learned: bool = False
    steepens: bool = False

    @property
    def support(self) -> float:
        """The kernel's half-width, in samples."""
        return SHAPES[self.shape]

    @property
    def mixes(self) -> bool:
        """Whether the kernel averages neighbours (false for pixel repetition)."""
        return self.shape != "blocks"


def _kernel(entry: Mapping[str, Any]) -> Kernel:
    parts = dict(entry)
    if parts["shape"] not in SHAPES or (parts["shape"] == "cubic") != (
        "b" in parts and "c" in parts
    ):
        raise TypeError(f"the kernel {parts['key']} has an unknown shape")
    for name in ("b", "c"):
        if name in parts:
            parts[name] = float(Fraction(parts[name]))
    return Kernel(**parts)


@cache
def kernels() -> dict[str, Kernel]:
    """Return every kernel by key, in display order.

    Raises
    ------
    KeyError, TypeError
        If an entry has a missing or unknown part.
    """
    return {entry["key"]: _kernel(entry) for entry in table("kernels")["kernels"]}
