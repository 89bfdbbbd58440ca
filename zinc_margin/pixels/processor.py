"""The processor: what code compiled for it depends on."""

from __future__ import annotations

import platform
from contextlib import suppress
from pathlib import Path

_LEVELS = {
    "x86-64-v4": "avx512f avx512bw avx512cd avx512dq avx512vl",
    "x86-64-v3": "abm avx avx2 bmi1 bmi2 f16c fma movbe xsave",
    "x86-64-v2": "cx16 lahf_lm popcnt sse4_1 sse4_2 ssse3",
}
"""Each level's own features (System V ABI for AMD64, 3.1.1), as Linux names them; best first."""


def description() -> str:
    """Return the processor's name and features, as the system reports them."""
    with suppress(OSError):
        lines = Path("/proc/cpuinfo").read_text("utf-8", "replace").split("\n\n")[0].splitlines()
        text = ("model name", "flags", "Features", "CPU part")
        return "\n".join(line for line in lines if line.startswith(text))
    return platform.processor() or platform.machine()


def levels(described: str) -> list[str]:
    """Return the levels that a processor reaches, the best first."""
    features = set(described.split())
    reached: list[str] = []
    for level, needed in reversed(_LEVELS.items()):
        if not features.issuperset(needed.split()):
            break
        reached.insert(0, level)
    return reached
