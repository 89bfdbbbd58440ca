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
from collections.abc import Iterator
from email.message import Message
from email.parser import HeaderParser
from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image

LIST = Path(__file__).with_name("pictures.json")
LUMA = np.array([0.299, 0.587, 0.114], np.float32)
_BOX, _CUBIC, _LANCZOS = (Image.Resampling.BOX, Image.Resampling.BICUBIC, Image.Resampling.LANCZOS)
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
        place = unpacked(folder, package, entry)
        for tail in entry["take"]:
            found.append(next(p for p in place.rglob("*") if str(p).endswith(tail)))
    return found


def unpacked(folder: Path, package: str, entry: dict[str, Any]) -> Path:
    """The folder of a package's files, fetched and unpacked into `folder` the first time."""
    place = folder / package
    if not place.exists():
        made = folder / f"{package}.making"
        made.mkdir(parents=True, exist_ok=True)
        _unpack(folder, package, entry, made)
        made.rename(place)
    return place


def _unpack(folder: Path, package: str, entry: dict[str, str], place: Path) -> None:
    """A package's files, or those of its source; what it keeps in Qt's resources, too."""
    if "source" in entry:
        archive = _downloaded(folder, _sources(entry["source"])[package])
        subprocess.run(["tar", "-xf", str(archive), "-C", str(place)], check=True)
        archive.unlink()
    else:
        archive = _archive(folder, package, entry.get("suite"))
        subprocess.run(["dpkg-deb", "-x", str(archive), str(place)], check=True)
    for held in list(place.rglob("*.rcc")):
        _from_resources(held, place / "resources")


def _from_resources(held: Path, place: Path) -> None:
    """Unpack one of Qt's resource files, as the package's program would read it."""
    from PySide6.QtCore import QDir, QDirIterator, QFile, QResource

    root = "/" + held.stem
    QResource.registerResource(str(held), root)
    deep = QDirIterator.IteratorFlag.Subdirectories
    every = QDirIterator(":" + root, QDir.Filter.Files, deep)
    while every.hasNext():
        name = every.next()
        out = place / name.removeprefix(":/")
        out.parent.mkdir(parents=True, exist_ok=True)
        QFile.copy(name, str(out))
    QResource.unregisterResource(str(held), root)


def _archive(folder: Path, package: str, suite: str | None) -> Path:
    """A package: by apt, or from another suite of the mirror that apt knows."""
    if suite is None:
        subprocess.run(["apt-get", "download", package], cwd=folder, check=True)
        return next(folder.glob(f"{package}_*.deb"))
    return _downloaded(folder, _names(suite)[package])


def _downloaded(folder: Path, name: str) -> Path:
    """A file of the mirror, kept in `folder`."""
    archive = folder / Path(name).name
    with urllib.request.urlopen(_mirror() + name) as answer:
        archive.write_bytes(answer.read())
    return archive


@cache
def _mirror() -> str:
    asked = ["apt-get", "indextargets", "--format", "$(REPO_URI)", "Created-By: Packages"]
    return subprocess.run(asked, check=True, capture_output=True, text=True).stdout.split()[0]


def _stanzas(name: str) -> Iterator[Message]:
    """An index of the mirror, package by package: its fields are written as a letter's head is."""
    with urllib.request.urlopen(_mirror() + name) as answer:
        text = lzma.decompress(answer.read()).decode()
    return map(HeaderParser().parsestr, text.split("\n\n"))


@cache
def _names(suite: str) -> dict[str, str]:
    """Every package of a suite that any machine can read, and the name of its file."""
    index = _stanzas(f"dists/{suite}/main/binary-all/Packages.xz")
    return {fields["Package"]: fields["Filename"] for fields in index if "Package" in fields}


@cache
def _sources(suite: str) -> dict[str, str]:
    """Every package's source in a suite: the name of what its makers made, unpatched."""
    found: dict[str, str] = {}
    for fields in _stanzas(f"dists/{suite}/main/source/Sources.xz"):
        for word in fields.get("Files", "").split():
            if ".orig.tar." in word and not word.endswith(".asc"):
                found[fields["Package"]] = f"{fields['Directory']}/{word}"
    return found


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
