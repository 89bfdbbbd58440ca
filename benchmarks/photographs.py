"""The photographs that the response tables are made of, and those that judge them."""

from __future__ import annotations

import json
import sys
from pathlib import Path

import numpy as np
import skimage.data
from PIL import Image

sys.path.append(str(Path(__file__).parents[1] / "training"))
from pictures import unpacked

_LIST = Path(__file__).with_name("photographs.json")
_WITH_SKIMAGE = ("astronaut", "chelsea", "coffee", "rocket")


def photographs(kind: str, folder: Path, side: int) -> dict[str, np.ndarray]:
    """Return the middles of photographs (H, W, 3) by name, fetched into a folder the first time.

    Parameters
    ----------
    kind : str
        ``tables`` or ``held``.
    side : int
        The largest side, in pixels; sides are multiples of 48, so every factor divides them.
    """
    found = {}
    if kind == "held":
        for name in _WITH_SKIMAGE:
            picture = Image.fromarray(getattr(skimage.data, name)()[..., :3])
            found[f"scikit-image {name}"] = _middle(picture, False, side)
    for entry in json.loads(_LIST.read_text("utf-8"))[kind]:
        place = unpacked(folder, entry["package"], entry)
        for tail in entry["take"]:
            files = (path for path in sorted(place.rglob("*.jpg")) if not path.is_symlink())
            path = next(path for path in files if str(path).endswith(tail))
            with Image.open(path) as picture:
                found[f"{entry['package']} {tail}"] = _middle(picture, entry["half"], side)
    return found


def _middle(picture: Image.Image, half: bool, side: int) -> np.ndarray:
    picture = picture.convert("RGB")
    if half:
        size = picture.width // 2, picture.height // 2
        picture = picture.resize(size, Image.Resampling.BOX)
    wide, high = (min(side, one) // 48 * 48 for one in picture.size)
    left, top = (picture.width - wide) // 2, (picture.height - high) // 2
    return np.asarray(picture.crop((left, top, left + wide, top + high)))
