"""The project's figures in one file, so that a regression shows in a commit: `./zinc figures`.

Print truth on four photographs that ship with scikit-image (nothing was ever fitted to them), peak
memory, and the ratios of the benchmarks. Ratios belong to one run; seconds are not kept.
"""

from __future__ import annotations

import json
import re
import subprocess
import sys
from pathlib import Path
from typing import Any

import numpy as np
import skimage.data
from proof_photographs import shown

HERE = Path(__file__).parent
PLACE = HERE / "figures.json"
PHOTOGRAPHS = ("astronaut", "chelsea", "coffee", "rocket")
CASES = ((1, None), (2, None), (4, None), (2, 90), (2, 75), (4, 40))
"""Factor of reduction, and the JPEG's quality or None."""
PAPER, NEAR_MM = "lustre", 450
BENCHES = ("bench_job", "bench_kernel", "bench_sharpen", "bench_loupe", "bench_telltales")
_RATIO = re.compile(r"^(.+?): (?:[\d.]+ m?s, )?([\d.]+) of (.+?)(?: \(|;)")
_MEMORY = re.compile(r"^peak memory: ([\d.]+) GB")


def print_truth() -> dict[str, dict[str, list[float]]]:
    """Crispness, edges and dB nearer than unsharpened, by photograph and case."""
    result: dict[str, dict[str, list[float]]] = {}
    for name in PHOTOGRAPHS:
        codes = getattr(skimage.data, name)()
        high, wide = (side // 48 * 48 for side in codes.shape[:2])
        truth, plains = np.ascontiguousarray(codes[:high, :wide, :3]), {}
        rows = {}
        for factor, quality in CASES:
            one = shown(truth, factor, quality, PAPER, NEAR_MM, plains)
            rows[f"x{factor}" + ("" if quality is None else f", JPEG {quality}")] = [
                round(one.crispness, 2), round(one.edges, 2), round(one.nearer, 1)
            ]  # fmt: skip
        result[name] = rows
    return result


def ratios() -> tuple[dict[str, float], float | None]:
    """Every benchmark's ratios by what they compare, and the peak memory in GB."""
    result, memory = {}, None
    for name in BENCHES:
        done = subprocess.run(
            [sys.executable, str(HERE / f"{name}.py")], capture_output=True, text=True, check=True
        )
        for line in done.stdout.splitlines():
            if (found := _RATIO.match(line)) is not None:
                result[f"{found[1]} / {found[3]}"] = float(found[2])
            elif (found := _MEMORY.match(line)) is not None:
                memory = float(found[1])
    return result, memory


def main() -> None:
    figures: dict[str, Any] = {
        "print_truth": {
            "about": f"[crispness, edges, dB nearer], {PAPER}, {NEAR_MM} mm, 300 ppi",
            **print_truth(),
        }
    }
    print(json.dumps(figures, indent=1), flush=True)
    figures["ratios"], figures["peak_memory_gb"] = ratios()
    text = json.dumps(figures, indent=1, ensure_ascii=False)
    # short rows read better side by side in a diff
    text = re.sub(r"\[\s+(-?[\d.]+),\s+(-?[\d.]+),\s+(-?[\d.]+)\s+\]", r"[\1, \2, \3]", text)
    PLACE.write_text(text + "\n", "utf-8")
    print(text)


if __name__ == "__main__":
    main()
