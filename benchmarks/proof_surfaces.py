"""Proof of made-up surfaces: how much of a photograph's texture comes back, and what it costs.

Known photographs are reduced by four (and coded as JPEG), enlarged by the program to what they
were, not sharpened, faithfully and with natural surfaces. In textured places (two fifths with the
most energy in the second octave) and in flat ones (a seventh with the least in three) the energy
of each octave is told beside the photograph's; what is lost, in dB of lightness; and the time.

    python benchmarks/proof_surfaces.py PHOTO … [--detail 100]
"""

from __future__ import annotations

import argparse
import time
from fractions import Fraction
from pathlib import Path

import numpy as np
from measure_response import crop, renderer
from PIL import Image
from scipy import ndimage

FACTOR = 4
QUALITIES = (None, 40)
OCTAVES = ((0.0, 0.6), (0.6, 1.2), (1.2, 2.4))
LUMA = np.array([0.299, 0.587, 0.114])
UNSEEN = 0.6**2  # energy of a band that nobody sees, in steps of 8 bits
RIM = 20


def octaves(luma: np.ndarray) -> list[np.ndarray]:
    """The energy of every octave about each place, (H, W)."""
    found = []
    for fine, coarse in OCTAVES:
        near = ndimage.gaussian_filter(luma, fine) if fine else luma
        band = near - ndimage.gaussian_filter(luma, coarse)
        found.append(ndimage.uniform_filter(band**2, 9)[RIM:-RIM, RIM:-RIM])
    return found


def made(
    truth: np.ndarray, quality: int | None, method: str, detail: Fraction
) -> tuple[np.ndarray, float]:
    """What the program makes of a photograph reduced by four, and how long it takes."""
    high, wide = truth.shape[:2]
    renders = renderer(truth, FACTOR, quality, bits=16, method=method, surface=detail)
    begun = time.process_time()
    codes = renders.region(0, 0, wide, high)[..., :3]
    return codes @ LUMA / 257, time.process_time() - begun


def error(luma: np.ndarray, truth: np.ndarray) -> float:
    return float(np.mean((luma - truth)[RIM:-RIM, RIM:-RIM] ** 2))


def main() -> None:
    asked = argparse.ArgumentParser(description=__doc__.splitlines()[0])
    asked.add_argument("photos", nargs="+")
    asked.add_argument("--side", type=int, default=768)
    asked.add_argument("--detail", type=float, action="append")
    asked.add_argument("--keep", type=Path, help="write pictures side by side into this folder")
    told = asked.parse_args()
    truths = [crop(Path(one), told.side) for one in told.photos]
    made(truths[0], 40, "ai-natural", Fraction(100))  # networks are loaded
    for quality in QUALITIES:
        ways = [("ai", 0.0), *(("ai-natural", much) for much in told.detail or (60.0, 100.0))]
        rows: dict[tuple[str, float], list[list[float]]] = {way: [] for way in ways}
        for at, codes in enumerate(truths):
            truth = codes @ LUMA
            bands = octaves(truth)
            textured = bands[1] > np.quantile(bands[1], 0.6)
            total = sum(bands)
            flat = total < np.quantile(total, 0.15)
            seen = [truth]
            faithful = 0.0
            for way in ways:
                luma, took = made(codes, quality, way[0], Fraction(way[1]))
                seen.append(luma)
                off = error(luma, truth)
                faithful = faithful or off
                row = [10 * np.log10(off / faithful), took]
                for where, least in ((textured, 0.0), (flat, UNSEEN)):
                    row += [
                        float((ours[where].mean() + least) / (theirs[where].mean() + least))
                        for ours, theirs in zip(octaves(luma), bands, strict=True)
                    ]
                rows[way].append(row)
            if told.keep:
                together = np.concatenate([one[100:420, 100:420] for one in seen], 1)
                path = told.keep / f"{quality or 'clean'}-{at}.png"
                Image.fromarray(np.clip(together, 0, 255).astype(np.uint8)).save(path)
        base = np.array(rows[ways[0]])[:, 1].sum()
        for way, found in rows.items():
            figures = np.array(found)
            mean, least, most = figures.mean(0), figures.min(0), figures.max(0)
            print(
                f"{'clean' if quality is None else f'JPEG {quality}'} {way[0]} {way[1]:.0f}: "
                f"lost {mean[0]:.2f} dB (most {most[0]:.2f}), "
                f"textured {mean[2:5].round(2)} (from {least[2:5].round(2)} to "
                f"{most[2:5].round(2)}), flat {mean[5:].round(2)} (most {most[5:].round(2)}), "
                f"{figures[:, 1].sum() / base:.2f} of the faithful time",
                flush=True,
            )


if __name__ == "__main__":
    main()
