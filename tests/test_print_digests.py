"""Twelve prints of the demo keep their bits until the renderer's number goes up."""

from __future__ import annotations

import numpy as np
import pytest

from tests import print_digests
from zinc_margin.docket.docket import RENDERER

STORED = print_digests.read()
HINT = "raise RENDERER if this is meant, then run: python -m tests.print_digests --write"


def test_digests_belong_to_this_renderer():
    assert STORED["renderer"] == RENDERER, HINT
    assert len(STORED["thumbnails"]) == 12


@pytest.mark.parametrize("name", sorted(print_digests.prints()))
def test_a_print_keeps_its_bits(name):
    regions = print_digests.rendered(name)
    # processors differ in the last bits, so one without stored digests is held to block means
    apart = np.subtract(print_digests.thumbnail(regions), STORED["thumbnails"][name])
    assert np.abs(apart).max() <= 32, HINT
    known = STORED["digests"].get(print_digests.processor())
    if known is not None:
        assert print_digests.digest(regions) == known[name], HINT
