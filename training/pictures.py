"""Photographs to train on: fetched from Debian, halved, and kept as luma.

A wallpaper photograph is seldom sharp at its own pixels (demosaicking, JPEG, earlier enlarging),
so every picture is reduced before it is looked at: to a half, and to a third where it is large
enough, which shows the network the same things at two scales.
"""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import numpy as np
from PIL import Image

LIST = Path(__file__).with_name("pictures.json")
LUMA = np.array([0.299, 0.587, 0.114], np.float32)


def fetched(folder: Path) -> list[Path]:
    """The listed pictures, fetched with apt and unpacked into `folder` the first time."""
    listed = json.loads(LIST.read_text(encoding="utf-8"))
    found: list[Path] = []
    for package, entry in listed["packages"].items():
        if package in listed["never"]:
            raise ValueError(f"{package} is kept for the examination")
        place = folder / package
        if not place.exists():
            subprocess.run(["apt-get", "download", package], cwd=folder, check=True)
            archive = next(folder.glob(f"{package}_*.deb"))
            subprocess.run(["dpkg-deb", "-x", str(archive), str(place)], check=True)
        for tail in entry["take"]:
            found.append(next(p for p in place.rglob("*") if str(p).endswith(tail)))
    return found


def luma(picture: Image.Image) -> np.ndarray:
    """Encoded luma of a picture, (H, W) float32 from 0 to 1."""
    return np.asarray(picture.convert("RGB"), np.float32) @ LUMA / 255.0


def halved(path: Path) -> list[np.ndarray]:
    """A picture reduced to a half, and to smaller scales while it stays large."""
    with Image.open(path) as opened:
        picture = opened.convert("RGB")
    made: list[np.ndarray] = []
    for factor, method in ((2.0, Image.Resampling.BOX), (3.0, Image.Resampling.LANCZOS)):
        size = (int(picture.width / factor), int(picture.height / factor))
        if min(size) >= 220:
            made.append(luma(picture.resize(size, method, reducing_gap=None)))
    return made


def gathered(folder: Path) -> list[np.ndarray]:
    """Every training picture at its scales; kept in `folder` after the first time."""
    folder.mkdir(parents=True, exist_ok=True)
    kept = folder / "luma.npz"
    if kept.exists():
        with np.load(kept) as file:
            return [file[name].astype(np.float32) / 65535.0 for name in file.files]
    pictures = [plane for path in fetched(folder) for plane in halved(path)]
    np.savez(kept, *[np.round(p * 65535).astype(np.uint16) for p in pictures])
    return pictures
