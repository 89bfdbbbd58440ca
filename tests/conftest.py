"""Photos and plans that many tests need."""

from __future__ import annotations

import os
from collections.abc import Callable
from dataclasses import replace
from fractions import Fraction
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["LANG"] = "C.UTF-8"
os.environ.pop("LC_ALL", None)
os.environ.pop("LC_MEASUREMENT", None)

import numpy as np
import pytest
from hypothesis import HealthCheck, settings
from PIL import Image

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.sizes import parse_size
from zinc_margin.photo import colour as colours
from zinc_margin.photo.colour import Colour
from zinc_margin.photo.pixels import Photo

# on a shared machine the same examples each time; at a desk, new ones
settings.register_profile(
    "steady",
    max_examples=60,
    deadline=None,
    print_blob=True,
    derandomize=bool(os.environ.get("CI")),
    suppress_health_check=[HealthCheck.too_slow],  # how slow a machine is says nothing
)
settings.load_profile("steady")


@pytest.fixture(autouse=True, scope="session")
def own_folders(tmp_path_factory: pytest.TempPathFactory) -> None:
    """What is remembered between starts, and sizes of one's own, are a test run's own."""
    home = str(tmp_path_factory.mktemp("home"))
    for name in ("XDG_CACHE_HOME", "XDG_DATA_HOME", "XDG_STATE_HOME"):
        os.environ[name] = home


def facts_of(width: int, height: int, **known: object) -> Facts:
    """Facts of a photo that was never a file."""
    given = {"format": "TIFF", "bits": 8, "kind": "RGB", "measured": Measured(0.0)} | known
    return Facts(path=Path("made-up.tif"), width=width, height=height, **given)


def photo_of(codes: np.ndarray, colour: Colour | None = None, noise: float = 0.0) -> Photo:
    """A decoded photo from codes (H, W) or (H, W, C)."""
    codes = np.ascontiguousarray(codes if codes.ndim == 3 else codes[..., None])
    grey = codes.shape[2] == 1
    if colour is None:
        colour = colours.plain_grey() if grey else colours.srgb()
    facts = facts_of(
        codes.shape[1],
        codes.shape[0],
        bits=8 * codes.dtype.itemsize,
        kind="grey" if grey else "RGB",
        measured=Measured(noise),
    )
    return Photo(facts, codes, colour)


def docket_of(print_size: str = "30x20cm", /, **lines: dict[str, object]) -> Docket:
    """A docket of a size, with fields of its lines changed."""
    docket = Docket()
    docket = replace(docket, size=replace(docket.size, size=parse_size(print_size)))
    for line, fields in lines.items():
        docket = replace(docket, **{line: replace(getattr(docket, line), **fields)})
    return docket


def resampled(print_size: str, ppi: int | Fraction, /, **lines: dict[str, object]) -> Docket:
    """A docket that asks for exactly this many ppi."""
    lines["size"] = {"ppi": Fraction(ppi)} | lines.get("size", {})
    lines["pixels"] = {"choice": "resample"} | lines.get("pixels", {})
    return docket_of(print_size, **lines)


UNSHARPENED = {"on": False}


@pytest.fixture
def scene() -> Callable[..., np.ndarray]:
    """Make a picture with edges, tones and texture: (height, width, 3) codes."""

    def make(
        width: int = 300, height: int = 200, dtype: type = np.uint8, seed: int = 1
    ) -> np.ndarray:
        rng = np.random.default_rng(seed)
        y, x = np.mgrid[0:height, 0:width].astype(float)
        base = 0.25 + 0.5 * x / width
        base = np.where((x // 23 + y // 17) % 2 == 0, base, 1 - base)
        rings = 0.15 * np.sin(np.hypot(x - width / 2, y - height / 2) / 2.5)
        planes = [base + rings * k + rng.normal(0, 0.02, base.shape) for k in (1, 0.6, -0.8)]
        top = np.iinfo(dtype).max
        return (np.clip(np.stack(planes, -1), 0, 1) * top).astype(dtype)

    return make


@pytest.fixture
def jpeg(tmp_path: Path, scene: Callable[..., np.ndarray]) -> Path:
    """A small JPEG with a tag of 72 and a maker's name."""
    exif = Image.Exif()
    exif[0x010F], exif[0x013B] = "Tidewater", "Kiln keeper"
    exif[0x011A], exif[0x011B], exif[0x0128] = 72.0, 72.0, 2
    exif.get_ifd(0x8769)[0x9003] = "2026:05:01 06:10:00"
    path = tmp_path / "kiln.jpg"
    Image.fromarray(scene(600, 400)).save(
        path, quality=92, exif=exif, icc_profile=colours.srgb().icc
    )
    return path
