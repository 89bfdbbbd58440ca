"""What happens to pictures before they reach us: reducing, blur, noise, JPEG."""

from __future__ import annotations

import io

import numpy as np
import torch
from PIL import Image
from torch.nn import functional as F

NOISE_FULL = 0.08  # standard deviation (of encoded luma, 0 to 1) at which noise removal is 100
BLUR_TAPS = 13


def jpeg_strength(quality: float) -> float:
    """The clean-up (0 to 1) that belongs to a JPEG quality: 95 asks for little, 30 for all."""
    return float(np.clip((100.0 - quality) / 70.0, 0.0, 1.0))


def _bicubic(x: np.ndarray, a: float) -> np.ndarray:
    x = np.abs(x)
    near = (a + 2) * x**3 - (a + 3) * x**2 + 1
    far = a * x**3 - 5 * a * x**2 + 8 * a * x - 4 * a
    return np.where(x < 1, near, np.where(x < 2, far, 0.0))


def _lanczos(x: np.ndarray) -> np.ndarray:
    return np.where(np.abs(x) < 3, np.sinc(x) * np.sinc(x / 3), 0.0)


def _halving(name: str) -> np.ndarray:
    """Taps of a reduction by two, centred between the two middle taps."""
    at = (np.arange(12) - 5.5) / 2.0
    if name == "area":
        taps = (np.abs(at) < 0.5).astype(float)
    elif name == "lanczos":
        taps = _lanczos(at)
    else:
        taps = _bicubic(at, -0.5 if name == "bicubic" else -0.75)
    return taps / taps.sum()


HALVINGS = {name: _halving(name) for name in ("bicubic", "crisp", "lanczos", "area")}


def blur(planes: torch.Tensor, sigma: float) -> torch.Tensor:
    """Gaussian blur of (N, 1, H, W) by `sigma` pixels."""
    if sigma < 0.05:
        return planes
    at = torch.arange(BLUR_TAPS) - BLUR_TAPS // 2
    taps = torch.exp(-0.5 * (at / sigma) ** 2)
    taps = taps / taps.sum()
    half = BLUR_TAPS // 2
    padded = F.pad(planes, (half,) * 4, mode="reflect")
    across = F.conv2d(padded, taps.view(1, 1, 1, -1))
    return F.conv2d(across, taps.view(1, 1, -1, 1))


def halve(planes: torch.Tensor, name: str) -> torch.Tensor:
    """(N, 1, H, W) reduced by two with exact centres."""
    taps = torch.tensor(HALVINGS[name], dtype=torch.float32)
    padded = F.pad(planes, (5, 5, 5, 5), mode="reflect")
    across = F.conv2d(padded, taps.view(1, 1, 1, -1), stride=(1, 2))
    return F.conv2d(across, taps.view(1, 1, -1, 1), stride=(2, 1))


def lanczos_twice(planes: torch.Tensor) -> torch.Tensor:
    """(N, 1, H, W) enlarged by two with Lanczos-3: what the network adds its correction to."""
    kernels = []
    for phase in (-0.25, 0.25):
        at = np.arange(7) - 3 - phase
        taps = _lanczos(at)
        kernels.append(taps / taps.sum())
    both = torch.tensor(
        np.stack([np.outer(v, h) for v in kernels for h in kernels]), dtype=torch.float32
    )
    padded = F.pad(planes, (3, 3, 3, 3), mode="reflect")
    return F.pixel_shuffle(F.conv2d(padded, both.unsqueeze(1)), 2)


def jpeg(plane: np.ndarray, quality: int) -> np.ndarray:
    """A plane (H, W), 0 to 1, saved as JPEG and read back."""
    eight = Image.fromarray(np.clip(plane * 255 + 0.5, 0, 255).astype(np.uint8))
    held = io.BytesIO()
    eight.save(held, "JPEG", quality=quality)
    return np.asarray(Image.open(held), np.float32) / 255.0


def pressed(random: np.random.Generator, planes: torch.Tensor) -> tuple[torch.Tensor, torch.Tensor]:
    """JPEG alone laid on (N, 1, H, W), its squares beginning at the first corner.

    Eleven in twenty have a messenger's quality, 30 to 55; the rest 20 to 95.

    Returns
    -------
    damaged : (N, 1, H, W)
    strengths : (N, 1, 1, 1)
    """
    out, strengths = planes.clone(), torch.zeros(len(planes), 1, 1, 1)
    for i in range(len(planes)):
        low, high = (30, 56) if random.random() < 0.55 else (20, 96)
        quality = int(random.integers(low, high))
        out[i, 0] = torch.from_numpy(jpeg(planes[i, 0].numpy(), quality))
        strengths[i] = jpeg_strength(quality)
    return out, strengths


def worn(
    random: np.random.Generator, planes: torch.Tensor, share: float = 1.0
) -> tuple[torch.Tensor, torch.Tensor]:
    """Noise and JPEG laid on a `share` of (N, 1, H, W); the rest stays clean.

    Returns
    -------
    damaged : (N, 1, H, W)
    strengths : (N, 2, 1, 1), the JPEG and the noise strength (0 to 1) that were laid on
    """
    out = planes.clone()
    strengths = torch.zeros(len(planes), 2, 1, 1)
    for i in range(len(planes)):
        if random.random() >= share:
            continue
        kind = random.random()
        plane = planes[i, 0].numpy()
        if kind < 0.5:
            sigma = float(NOISE_FULL * random.random() ** 1.5)
            grain = random.normal(0, 1, plane.shape).astype(np.float32)
            if random.random() < 0.5:  # demosaicking smears noise over its neighbours
                soft = grain + 0.5 * (np.roll(grain, 1, 0) + np.roll(grain, 1, 1))
                grain = soft / float(np.std(soft))
            plane = np.clip(plane + sigma * grain, 0, 1)
            strengths[i, 1] = sigma / NOISE_FULL
        if kind > 0.35:
            quality = int(random.integers(20, 96))
            # cut away rows and columns so that the 8-pixel grid starts anywhere
            plane = np.pad(
                plane, ((int(random.integers(8)), 0), (int(random.integers(8)), 0)), "reflect"
            )
            high, wide = planes.shape[2:]
            plane = jpeg(plane, quality)[-high:, -wide:]
            strengths[i, 0] = jpeg_strength(quality)
        out[i, 0] = torch.from_numpy(np.ascontiguousarray(plane))
    return out, strengths
