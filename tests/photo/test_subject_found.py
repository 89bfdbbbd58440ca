"""Subjects that are found: offered with their confidence, never taken for certain."""

from __future__ import annotations

from dataclasses import replace
from fractions import Fraction

import numpy as np
import pytest

from tests.conftest import facts_of
from zinc_margin.photo import colour as colours
from zinc_margin.photo import subject_detection
from zinc_margin.photo.pixels import Photo
from zinc_margin.photo.subject_detection import (
    Found,
    found_subject,
    found_words,
    with_found_subject,
)


def face(side: int = 120) -> np.ndarray:
    """A drawn face: what the cascade was made for, in its plainest form."""
    y, x = np.mgrid[0:side, 0:side] / side - 0.5
    out = np.full((side, side), 178.0)
    out += 20 * np.cos(3 * x) - 30 * (np.abs(x) > 0.4)
    for at in (-0.2, 0.2):
        out -= 110 * np.exp(-(((x - at) / 0.075) ** 2 + ((y + 0.1) / 0.04) ** 2))
        out -= 60 * np.exp(-(((x - at) / 0.12) ** 2 + ((y + 0.22) / 0.02) ** 2))
    out -= 35 * np.exp(-((x / 0.06) ** 2 + ((y - 0.1) / 0.03) ** 2))
    out += 25 * np.exp(-((x / 0.03) ** 2 + ((y + 0.02) / 0.12) ** 2))
    out -= 85 * np.exp(-((x / 0.16) ** 2 + ((y - 0.27) / 0.03) ** 2))
    return out


def scene(width: int = 900, height: int = 600, faces: tuple[tuple[int, int], ...] = ()):
    rng = np.random.default_rng(2)
    grey = np.full((height, width), 120.0) + rng.normal(0, 1.5, (height, width))
    for left, top in faces:
        grey[top : top + 120, left : left + 120] = face()
    return np.repeat(np.clip(grey, 0, 255).astype(np.uint8)[..., None], 3, 2)


@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_a_face_is_found_where_it_is(dtype):
    codes = scene(faces=((600, 100),)).astype(dtype)
    if dtype is np.uint16:
        codes *= 257
    found = found_subject(codes)
    assert found is not None and found.kind == "faces"
    assert float(found.x) == pytest.approx(660 / 900, abs=0.03)
    assert float(found.y) == pytest.approx(160 / 600, abs=0.04)
    assert 0.5 < found.confidence < 0.9


def test_several_faces_have_one_middle():
    found = found_subject(scene(faces=((150, 200), (600, 200))))
    assert found is not None and found.count == 2
    assert float(found.x) == pytest.approx((210 + 660) / 2 / 900, abs=0.03)


def test_without_faces_what_stands_out_is_offered_less_surely():
    codes = scene()
    codes[380:440, 200:280] = (250, 245, 240)
    found = found_subject(codes)
    assert found is not None and found.kind == "region" and found.confidence <= 0.6
    assert float(found.x) == pytest.approx(240 / 900, abs=0.08)
    assert float(found.y) == pytest.approx(410 / 600, abs=0.08)


@pytest.mark.parametrize("shape", [(600, 900, 3), (20, 30, 3), (300, 400, 1)])
def test_nothing_is_found_where_nothing_is(shape):
    assert found_subject(np.full(shape, 128, np.uint8)) is None


def test_a_mark_of_ones_own_wins(monkeypatch):
    codes = scene(faces=((600, 100),))
    photo = Photo(facts_of(900, 600), codes, colours.srgb())
    own = replace(photo, facts=replace(photo.facts, subject=(Fraction(1, 4), Fraction(1, 4))))
    monkeypatch.setattr(subject_detection, "faces_in", lambda codes: [(0.5, 0.2, 0.1)])
    assert with_found_subject(own) == (own, None)
    taken, found = with_found_subject(photo)
    assert found is not None and taken.facts.subject == (found.x, found.y)


def test_what_was_found_in_words():
    here = Fraction(1, 2), Fraction(1, 2)
    assert found_words(None) == "no subject found"
    assert found_words(Found(*here, "faces", 1, 0.62)) == "a face, 62 % sure".replace(" %", "%")
    assert found_words(Found(*here, "faces", 3, 0.9)).startswith("3 faces")
    assert "salient" in found_words(Found(*here, "region", 0, 0.4))
