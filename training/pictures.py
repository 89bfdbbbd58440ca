"""Photographs to train on: fetched from Debian, reduced, and kept in colour.

A wallpaper photograph is seldom sharp at its own pixels (demosaicking, JPEG, earlier enlarging),
so every picture is reduced before it is looked at: to a half, and to smaller scales while it is
large enough, which shows the network the same things at other sizes.
"""

from __future__ import annotations

import json
import lzma
import subprocess
import urllib.request
from functools import cache
from pathlib import Path

import numpy as np
from PIL import Image

LIST = Path(__file__).with_name("pictures.json")
LUMA = np.array([0.299, 0.587, 0.114], np.float32)
_BOX, _CUBIC, _LANCZOS = (
    Image.Resampling.BOX,
    Image.Resampling.BICUBIC,
    Image.Resampling.LANCZOS,
)
SCALES = ((2.0, _BOX), (2.5, _CUBIC), (3.2, _LANCZOS), (4.2, _CUBIC), (5.6, _LANCZOS))
SMALLEST = 220  # pixels that the shorter side keeps


def fetched(folder: Path) -> list[Path]:
    """The listed pictures, fetched and unpacked into `folder` the first time.

    Raises
    ------
    ValueError
        A listed package is kept for the examination.
    """
    listed = json.loads(LIST.read_text(encoding="utf-8"))
    found: list[Path] = []
    for package, entry in listed["packages"].items():
        if package in listed["never"]:
            raise ValueError(f"{package} is kept for the examination")
        place = folder / package
        if not place.exists():
            archive = _archive(folder, package, entry.get("suite"))
            subprocess.run(["dpkg-deb", "-x", str(archive), str(place)], check=True)
        for tail in entry["take"]:
            found.append(next(p for p in place.rglob("*") if str(p).endswith(tail)))
    return found


def _archive(folder: Path, package: str, suite: str | None) -> Path:
    """A package: by apt, or from another suite of the mirror that apt knows."""
    if suite is None:
        subprocess.run(["apt-get", "download", package], cwd=folder, check=True)
        return next(folder.glob(f"{package}_*.deb"))
    archive = folder / f"{package}.deb"
    with urllib.request.urlopen(_mirror() + _names(suite)[package]) as answer:
        archive.write_bytes(answer.read())
    return archive


@cache
def _mirror() -> str:
    asked = ["apt-get", "indextargets", "--format", "$(REPO_URI)", "Created-By: Packages"]
    return subprocess.run(asked, check=True, capture_output=True, text=True).stdout.split()[0]


@cache
def _names(suite: str) -> dict[str, str]:
    """Every package of a suite that any machine can read, and the name of its file."""
    with urllib.request.urlopen(f"{_mirror()}dists/{suite}/main/binary-all/Packages.xz") as answer:
        lines = lzma.decompress(answer.read()).decode().splitlines()
    names, package = {}, ""
    for line in lines:
        if line.startswith("Package: "):
            package = line.removeprefix("Package: ")
        elif line.startswith("Filename: "):
            names[package] = line.removeprefix("Filename: ")
    return names


def reduced(path: Path) -> list[np.ndarray]:
    """A picture at its scales, each (H, W, 3) of 8 bits."""
    with Image.open(path) as opened:
        picture = opened.convert("RGB")
    made: list[np.ndarray] = []
    for factor, method in SCALES:
        size = (int(picture.width / factor), int(picture.height / factor))
        if min(size) >= SMALLEST:
            made.append(np.asarray(picture.resize(size, method)))
    return made


def gathered(folder: Path) -> list[np.ndarray]:
    """Every training picture at its scales; kept in `folder` after the first time."""
    folder.mkdir(parents=True, exist_ok=True)
    kept = folder / "pictures.npz"
    if kept.exists():
        with np.load(kept) as file:
            return [file[name] for name in file.files]
    pictures = [plane for path in fetched(folder) for plane in reduced(path)]
    np.savez(kept, *pictures)
    return pictures
