"""Proof of the colour of repaired JPEGs: how far from the photo's, in ΔE, before and after.

Photos are reduced, coded as JPEG with colour at half its size (4:2:0), and repaired at their own
size. Colour alone is compared: a* and b* (CIELAB), everywhere and at hard edges, and the seams of
the squares of 16 pixels that colour is coded in.

    python benchmarks/proof_colour.py PHOTO …
"""

from __future__ import annotations

import argparse
import io
from pathlib import Path

import numpy as np
from PIL import Image
from scipy import ndimage

from zinc_margin.pixels.repair import Repaired
from zinc_margin.pixels.source import Source
from zinc_margin.plan.parts import Repair
from zinc_margin.plan.pixels import networks

SIDE = 768
QUALITIES = (25, 40, 60)
_TO_XYZ = np.array([[0.4125, 0.3576, 0.1804], [0.2127, 0.7152, 0.0722], [0.0193, 0.1192, 0.9503]])
_WHITE = _TO_XYZ.sum(1)


class Given(Source):
    """A picture as the engine reads one."""

    def __init__(self, codes: np.ndarray) -> None:
        self.codes = codes
        self.height, self.width, self.channels = codes.shape
        self.dtype = codes.dtype

    def block(self, top: int, left: int, height: int, width: int) -> np.ndarray:
        """Return a part."""
        return self.codes[top : top + height, left : left + width]


def lab(codes: np.ndarray) -> np.ndarray:
    """CIELAB (H, W, 3) of sRGB codes, 0 to 1."""
    linear = np.where(codes <= 0.04045, codes / 12.92, ((codes + 0.055) / 1.055) ** 2.4)
    ratio = linear @ _TO_XYZ.T / _WHITE
    root = np.where(ratio > 216 / 24389, np.cbrt(ratio), (24389 / 27 * ratio + 16) / 116)
    return np.stack(
        [
            116 * root[..., 1] - 16,
            500 * (root[..., 0] - root[..., 1]),
            200 * (root[..., 1] - root[..., 2]),
        ],
        axis=-1,
    )


def seams(colour: np.ndarray) -> float:
    """How much more colour steps at the sides of squares of 16 px than beside them."""
    steps = np.abs(np.diff(colour, axis=1)).mean(axis=(0, 2))
    return float(steps[15::16].mean() - (steps[14::16].mean() + steps[16::16].mean()) / 2)


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    asked.add_argument("photos", nargs="+", type=Path)
    told = asked.parse_args()
    print("quality   ΔE of colour: JPEG → repaired   at hard edges   seams (of the photo itself)")
    for quality in QUALITIES:
        rows = []
        for path in told.photos:
            image = Image.open(path).convert("RGB")
            image.thumbnail((1600, 1600), Image.Resampling.LANCZOS)
            wide, high = (min(SIDE, side // 16 * 16) for side in image.size)
            left, top = (image.width - wide) // 2, (image.height - high) // 2
            image = image.crop((left, top, left + wide, top + high))
            held = io.BytesIO()
            image.save(held, "JPEG", quality=quality, subsampling=2)
            coded = np.asarray(Image.open(held).convert("RGB"))
            clean = min(100.0, (100 - quality) / 0.7)
            repaired = Repaired(
                Given(coded), Repair(clean), networks.cleaners("ai", Repair(clean), 0)
            )
            made = repaired.block(0, 0, high, wide) / 65535
            truth, jpeg, ours = lab(np.asarray(image) / 255), lab(coded / 255), lab(made)
            edge = ndimage.gaussian_gradient_magnitude(truth[..., 0], 1.0)
            hard = edge > np.quantile(edge, 0.95)
            off = [np.hypot(*(each - truth)[..., 1:].transpose(2, 0, 1)) for each in (jpeg, ours)]
            rows.append(
                (
                    *(each.mean() for each in off),
                    *(each[hard].mean() for each in off),
                    *(seams(each[..., 1:]) for each in (jpeg, ours, truth)),
                )
            )
        mean = np.mean(rows, axis=0)
        print(
            f"{quality:7}   {mean[0]:.3f} → {mean[1]:.3f} ({mean[1] / mean[0]:.2f})   "
            f"{mean[2]:.3f} → {mean[3]:.3f} ({mean[3] / mean[2]:.2f})   "
            f"{mean[4]:.3f} → {mean[5]:.3f} ({mean[6]:.3f})",
            flush=True,
        )


if __name__ == "__main__":
    main()
