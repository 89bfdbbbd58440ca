"""Work that is done tile by tile, by several threads at once."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from threading import Barrier

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from tests.conftest import photo_of
from zinc_margin.pixels.source import Stored
from zinc_margin.pixels.tiles import Tiled, to_codes
from zinc_margin.plan.crop.rotation import Turned

SIDE = 2 * Tiled.largest


class Copied(Tiled):
    """The parent itself; a tile is done when another is being worked on too."""

    def __init__(self, parent, together):
        super().__init__(parent)
        self.begun, self._together = [], together

    def _made(self, place, job):
        self.begun.append(place)
        self._together.wait(timeout=20)
        return to_codes(self.padded(place, 0, job))


@pytest.mark.parametrize(
    ("height", "width"), [(SIDE, SIDE), (Tiled.largest, SIDE), (SIDE - 9, 2 * SIDE - 70)]
)
def test_threads_that_need_the_same_tiles_share_the_work(height, width):
    codes = np.random.default_rng(1).integers(0, 65536, (height, width, 3), np.uint16)
    # were one to wait for the other's tile, nobody would meet it here
    source = Copied(Stored(photo_of(codes), Turned(width, height)), Barrier(2))
    with ThreadPoolExecutor(2) as pool:
        works = [pool.submit(source.block, 0, 0, height, width) for _ in "12"]
        for work in works:
            assert np.array_equal(work.result(), codes)
    # each was worked out once
    assert sorted(source.begun) == sorted(set(source.begun))


@given(st.integers(1, 1300), st.integers(1, 1300))
@settings(deadline=None)
def test_tiles_are_as_few_as_can_be_and_waste_little(height, width):
    codes = np.zeros((height, width, 1), np.uint8)
    source = Copied(Stored(photo_of(codes), Turned(width, height)), Barrier(1))
    source.block(0, 0, height, width)
    down, across = (-(-side // Tiled.largest) for side in (height, width))
    assert len(source.begun) == down * across
    for tile, count, side in zip(source.tile, (down, across), (height, width), strict=True):
        # whole squares of JPEG's, so that theirs begin where tiles do
        assert tile % 8 == 0 and side <= count * tile < side + 8 * count
