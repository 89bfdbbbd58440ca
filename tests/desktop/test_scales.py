"""100 % is one output pixel on one device pixel, at any screen scale."""

from __future__ import annotations

import os
import subprocess
import sys

import pytest

SCRIPT = """
import sys
import numpy as np
from pathlib import Path
from tests.desktop.conftest import settled
from zinc_margin.desktop.shell.application import start
from zinc_margin.desktop.model.table import Table
from zinc_margin.desktop.shell.window import Window
from zinc_margin.measure.sizes import parse_size
app = start()
window = Window(Table("cm"))
window.show()
window.open_photos([Path(sys.argv[1])])
settled(window)
window.table.decide("pixels", method="mitchell")  # what the pixels are does not matter here
window.table.decide("size", size=parse_size("60x40cm"))
window.table.open_line("pixels")
settled(window)
def pixels(image):
    image = image.convertToFormat(image.Format.Format_RGB32)
    raw = np.frombuffer(image.constBits(), np.uint8)
    return raw.reshape(image.height(), image.bytesPerLine() // 4, 4)[:, : image.width(), :3].copy()
seen = pixels(window.grab().toImage())
for image in window.benches.loupe.panes.images[:2]:
    part = pixels(image)[40:-80, 10:-10]
    probe = part[:1, :40]
    rows, columns = np.where((seen[:, :, 0] == probe[0, 0, 0]) & (seen[:, :, 1] == probe[0, 0, 1]))
    for y, x in zip(rows, columns):
        block = seen[y : y + part.shape[0], x : x + part.shape[1]]
        if block.shape == part.shape and (block == part).all():
            break
    else:
        sys.exit("the loupe's pixels are not on the screen one to one")
print(window.devicePixelRatioF(), part.shape)
import os
os._exit(0)
"""


@pytest.mark.parametrize("scale", ["1", "1.25", "2"])
def test_one_to_one(jpeg, scale):
    done = subprocess.run(
        [sys.executable, "-c", SCRIPT, str(jpeg)],
        env=os.environ | {"QT_SCALE_FACTOR": scale, "QT_QPA_PLATFORM": "offscreen"},
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 0, done.stderr
    assert done.stdout.split()[0] == str(float(scale))
