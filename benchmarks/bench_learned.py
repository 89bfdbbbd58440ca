"""The examination: what learned enlarging and clean-up are worth on photographs never trained on.

The photographs come from the Debian package lomiri-wallpapers-16.04, which is fetched when it is
not in the folder that is given; each is halved first, then damaged as the table says, mended and
enlarged by the program's own renderer, and compared in luma with 4 pixels off each side.
"""

from __future__ import annotations

import argparse
import io
import subprocess
import time
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

import cv2
import numpy as np
import proof_sharpening as proof
from common import photo as photo_of
from common import picture
from PIL import Image
from scipy import ndimage
from skimage.metrics import structural_similarity
from skimage.restoration import denoise_nl_means

from zinc_margin.docket.docket import Docket
from zinc_margin.docket.pixels import PixelsLine
from zinc_margin.docket.sharpen import SharpenLine
from zinc_margin.docket.size import SizeLine
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.photo.sample import lightness
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan

PACKAGE = "lomiri-wallpapers-16.04"
NOT_PHOTOGRAPHS = ("analogpattern", "umang")
LUMA = np.array([0.299, 0.587, 0.114])
MOST_SIDE = 1200  # larger ones are cut to their middle: the examination then takes minutes


def photographs(folder: Path) -> dict[str, np.ndarray]:
    """The examination photographs, halved, (H, W, 3) uint8."""
    folder.mkdir(parents=True, exist_ok=True)
    place = folder / PACKAGE
    if not place.exists():
        subprocess.run(["apt-get", "download", PACKAGE], cwd=folder, check=True)
        archive = next(folder.glob(f"{PACKAGE}_*.deb"))
        subprocess.run(["dpkg-deb", "-x", str(archive), str(place)], check=True)
    found = {}
    for path in sorted(place.rglob("*.jpg")):
        if path.name.startswith(NOT_PHOTOGRAPHS):
            continue
        picture = Image.open(path).convert("RGB")
        size = (picture.width // 2, picture.height // 2)
        half = picture.resize(size, Image.Resampling.BICUBIC)
        left, top = (max(0, (side - MOST_SIDE) // 2) for side in half.size)
        box = (left, top, left + min(MOST_SIDE, half.width), top + min(MOST_SIDE, half.height))
        codes = np.asarray(half.crop(box))
        # sides that divide by twelve, so that ×2, ×3 and ×4 all fit
        found[path.stem.split("_by")[0]] = np.ascontiguousarray(
            codes[: len(codes) // 12 * 12, : codes.shape[1] // 12 * 12]
        )
    return found


def luma(codes: np.ndarray) -> np.ndarray:
    return codes[4:-4, 4:-4].astype(np.float64) @ LUMA


def psnr(one: np.ndarray, other: np.ndarray) -> float:
    return float(10 * np.log10(255**2 / np.mean((luma(one) - luma(other)) ** 2)))


def ssim(one: np.ndarray, other: np.ndarray) -> float:
    return float(structural_similarity(luma(one), luma(other), data_range=255))


def enlarged(codes: np.ndarray, size: tuple[int, int], **pixels: object) -> np.ndarray:
    """Codes enlarged by the program to (width, height), with fields of the Pixels line; 0 to 255.

    Sixteen bits are rendered, as the dither of eight would be noise on both sides.
    """
    photo = photo_of(codes)
    asked = {"clean": Fraction(0), "denoise": Fraction(0), "dehalo": Fraction(0)} | pixels
    sides = PrintSize("", Fraction(size[0]), Fraction(size[1]))
    docket = Docket(
        size=SizeLine(size=sides, ppi=Fraction("25.4")),
        pixels=replace(PixelsLine(choice="resample"), **asked),
        sharpen=SharpenLine(on=False),
    )
    made = plan(photo.facts, docket)
    assert (made.pixels.width, made.pixels.height) == size
    return Renderer(photo, made, bits=16).region(0, 0, *size) / 257.0


def bicubic(codes: np.ndarray, by: float) -> np.ndarray:
    image = Image.fromarray(codes)
    size = (round(image.width / by), round(image.height / by))
    return np.asarray(image.resize(size, Image.Resampling.BICUBIC))


def blurred(codes: np.ndarray) -> np.ndarray:
    soft = ndimage.gaussian_filter(codes.astype(np.float32), (0.6 * 2, 0.6 * 2, 0))
    return np.asarray(Image.fromarray(np.rint(soft).astype(np.uint8)).reduce(2))


def jpeg(codes: np.ndarray, quality: int) -> np.ndarray:
    held = io.BytesIO()
    Image.fromarray(codes).save(held, "JPEG", quality=quality)
    return np.asarray(Image.open(held))


def best_classical_clean(low: np.ndarray, size: tuple[int, int], true: np.ndarray) -> float:
    """PSNR of the best of Gaussian and non-local-means clean-up, then Lanczos: fitted to win."""
    tried = []
    for sigma in (0.4, 0.6, 0.8, 1.0):
        soft = ndimage.gaussian_filter(low.astype(np.float32), (sigma, sigma, 0))
        tried.append(np.rint(soft).astype(np.uint8))
    for strength in (4, 7, 10):
        plain = denoise_nl_means(
            low.astype(np.float32) / 255, 5, 6, strength / 255, fast_mode=True, channel_axis=2
        )
        tried.append(np.rint(np.clip(plain, 0, 1) * 255).astype(np.uint8))
    return max(psnr(enlarged(each, size, method="lanczos"), true) for each in tried)


Row = Callable[[np.ndarray], tuple[np.ndarray, dict[str, object]]]
ROWS: dict[str, tuple[Row, dict[str, object]]] = {
    "×2 bicubic, clean": (lambda true: bicubic(true, 2), {}),
    "×2 area + blur 0.6 px": (blurred, {}),
    "×2 JPEG 40": (lambda true: jpeg(bicubic(true, 2), 40), {"clean": Fraction(86)}),
    "×4 bicubic, clean": (lambda true: bicubic(true, 4), {}),
    "×3.3 bicubic, clean": (lambda true: bicubic(true, 3.3), {}),
}


def responses() -> None:
    """What each method makes of detail, by slanted edges, against the photo's own edge."""
    at = np.linspace(0, 0.5, 11)
    for method in ("lanczos", "ai", "ai-fine"):
        for factor in (2, 4):
            source = proof.edge(400 // factor, 25, 75)
            photo = proof.photo_of(source)
            side = Fraction(len(source))
            docket = Docket(
                size=SizeLine(size=PrintSize("", side, side), ppi=Fraction("25.4") * factor),
                pixels=PixelsLine(choice="resample", method=method),
                sharpen=SharpenLine(on=False),
            )
            made = plan(photo.facts, docket)
            box = (0, 0, made.pixels.width, made.pixels.height)
            cycles, found = proof.response(
                lightness(Renderer(photo, made).region(*box), proof.GREY)
            )
            own, perfect = proof.response(lightness(source, proof.GREY))
            curve = np.interp(at / factor, cycles, found) / np.interp(at, own, perfect)
            print(f"{method} ×{factor}: " + " ".join(f"{value:.2f}" for value in curve))


def noise_rows(photos: dict[str, np.ndarray]) -> None:
    """Noise removal at the photo's own size, against non-local means fitted to win."""
    rng = np.random.default_rng(8)
    for sigma in (5, 10, 20):
        ours, theirs, texture = [], [], []
        for true in photos.values():
            part = true[:600, :600]
            noisy = np.clip(part + rng.normal(0, sigma, part.shape), 0, 255).astype(np.uint8)
            strength = Fraction(min(100, round(sigma / 255 / 0.08 * 100)))
            made = enlarged(noisy, part.shape[1::-1], method="lanczos", denoise=strength)
            base = psnr(noisy, part)
            ours.append(psnr(made, part) - base)
            best = max(
                psnr(np.rint(np.clip(denoise_nl_means(
                    noisy.astype(np.float32) / 255, 5, 6, h * sigma / 255, fast_mode=True,
                    channel_axis=2), 0, 1) * 255).astype(np.uint8), part)
                for h in (0.5, 0.8, 1.1)
            )  # fmt: skip
            theirs.append(best - base)
            fine = [
                plane - ndimage.gaussian_filter(plane, 1.5) for plane in (luma(part), luma(made))
            ]
            texture.append(float((fine[0] * fine[1]).sum() / (fine[0] ** 2).sum()))
        print(
            f"noise of {sigma}/255: {np.mean(ours):+.2f} dB (non-local means, the best of three "
            f"strengths: {np.mean(theirs):+.2f}); of fine texture {np.mean(texture):.0%} kept"
        )


def speed() -> None:
    """24 → 96 MP, and a region of the loupe."""
    photo = photo_of(picture())
    for method in ("ai", "ai-fine"):
        docket = Docket(
            size=SizeLine(size=PrintSize("", Fraction(6000), Fraction(4000)), ppi=Fraction("50.8")),
            pixels=PixelsLine(choice="resample", method=method),
            sharpen=SharpenLine(on=False),
        )
        made = plan(photo.facts, docket)
        began = time.perf_counter()
        for _ in Renderer(photo, made).bands():
            pass
        whole = time.perf_counter() - began
        renderer = Renderer(photo, made)
        renderer.region(0, 0, 64, 64)
        began = time.perf_counter()
        renderer.region(5100, 3300, 900, 700)
        part = time.perf_counter() - began
        low = photo.codes[:2000, :3000]
        began = time.perf_counter()
        cv2.resize(low, (6000, 4000), interpolation=cv2.INTER_LANCZOS4)
        other = (time.perf_counter() - began) * 4
        print(
            f"{method}: 24 → 96 MP in {whole:.1f} s, {whole / other:.0f} times OpenCV's LANCZOS4; "
            f"900 × 700 in the loupe {part * 1e3:.0f} ms"
        )


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--folder", type=Path, default=Path("training/work"))
    parser.add_argument("--each", action="store_true", help="print every photograph")
    parser.add_argument("--quick", action="store_true", help="leave out the finer network")
    parser.add_argument("--response", action="store_true", help="only what edges become")
    parser.add_argument("--speed", action="store_true", help="only how long it takes")
    given = parser.parse_args()
    if given.response:
        responses()
        return
    if given.speed:
        speed()
        return
    photos = photographs(given.folder)
    print(f"{len(photos)} photographs; dB of luma PSNR over Lanczos-3, and SSIM")
    methods = ["ai"] if given.quick else ["ai", "ai-fine"]
    for name, (damage, repair) in ROWS.items():
        gains: dict[str, list[float]] = {
            method: [] for method in (*methods, "cv2 cubic", "cv2 lanczos4")
        }
        structure: dict[str, list[float]] = {"lanczos": [], "ai": []}
        over_best = []
        for photo, true in photos.items():
            low, size = damage(true), (true.shape[1], true.shape[0])
            plain = enlarged(low, size, method="lanczos")
            base = psnr(plain, true)
            for method in methods:
                made = enlarged(low, size, method=method, **repair)
                gains[method].append(psnr(made, true) - base)
                if method == "ai":
                    structure["ai"].append(ssim(made, true))
            structure["lanczos"].append(ssim(plain, true))
            for key, how in (("cv2 cubic", cv2.INTER_CUBIC), ("cv2 lanczos4", cv2.INTER_LANCZOS4)):
                gains[key].append(psnr(cv2.resize(low, size, interpolation=how), true) - base)
            if "JPEG" in name:
                best = best_classical_clean(low, size, true)
                over_best.append(gains["ai"][-1] + base - best)
            if given.each:
                print(
                    f"    {photo:16s} {base:6.2f} dB "
                    + " ".join(f"{key} {values[-1]:+.2f}" for key, values in gains.items())
                )
        told = "; ".join(
            f"{key} {np.mean(values):+.2f} (from {min(values):+.2f} to {max(values):+.2f})"
            for key, values in gains.items()
        )
        print(
            f"{name}: {told}; SSIM {np.mean(structure['lanczos']):.4f} → "
            f"{np.mean(structure['learned']):.4f}"
        )
        if over_best:
            print(
                f"    over the best of Gaussian or non-local means, then Lanczos: "
                f"{np.mean(over_best):+.2f} dB"
            )
    noise_rows(photos)


if __name__ == "__main__":
    began = time.perf_counter()
    main()
    print(f"{time.perf_counter() - began:.0f} s")
