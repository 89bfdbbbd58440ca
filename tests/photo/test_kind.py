"""Photographs, lettering and drawings of pixels told apart."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
from PIL import Image, ImageDraw, ImageFont

from tests.conftest import docket_of, facts_of, photo_of
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.ways import Way
from zinc_margin.photo.kind import kind_of
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan


def lettering(scale: int = 1) -> np.ndarray:
    page = Image.new("RGB", (400 * scale, 300 * scale), "white")
    draw = ImageDraw.Draw(page)
    font = ImageFont.load_default(18 * scale)
    for row in range(12):
        draw.text(
            (10 * scale, (6 + 24 * row) * scale), "Tidewater Kilns, a river mouth", "black", font
        )
    return np.asarray(page)


def drawing() -> np.ndarray:
    rng = np.random.default_rng(3)
    colours = rng.integers(0, 256, (6, 3)).astype(np.uint8)
    cells = colours[np.kron(rng.integers(0, 6, (24, 32)), np.ones((1, 1), int))]
    return np.repeat(np.repeat(cells, 8, axis=0), 8, axis=1)


def test_kinds(scene):
    assert kind_of(lettering()) == "lettering"
    assert kind_of(drawing()) == "drawing"
    assert kind_of(scene(600, 400)) == "photo"
    assert kind_of(scene(600, 400, np.uint16)) == "photo"


@pytest.mark.parametrize("shape", [(1, 1, 3), (2, 50, 1), (40, 40, 3), (300, 300, 3)])
def test_odd_and_flat_pictures_are_taken_for_photographs(shape):
    assert kind_of(np.full(shape, 90, np.uint8)) == "photo"


def test_the_kind_is_suggested_and_never_forced():
    facts = facts_of(400, 300, measured=Measured(0.0, kind="lettering"))
    docket = docket_of("30x20cm", pixels={"choice": "resample"})
    made = plan(facts, docket)
    assert made.pixels.network == "photo"
    note = next(note for note in made.notes if note.code == "kind")
    taken = plan(facts, note.remedies[0].docket)
    assert taken.pixels.network == "lettering"
    assert "kind" not in {note.code for note in taken.notes}


def test_lettering_keeps_its_edges_without_ringing():
    goal = lettering(3)[:300, :480]
    small = np.asarray(Image.fromarray(goal).reduce(3))
    photo = photo_of(small)

    def enlarged(**pixels):
        pixels |= {"choice": "resample", "target": Way("scale", (Fraction(3),))}
        docket = docket_of("40x25cm", pixels=pixels, sharpen={"on": False})
        return np.concatenate(list(Renderer(photo, plan(photo.facts, docket)).bands()))

    def loss(made):
        return 10 * np.log10(np.mean((made.astype(float) - goal) ** 2))

    clean, plain = enlarged(kind="lettering"), enlarged(kind="photo", method="lanczos")
    assert clean.shape == goal.shape
    assert loss(clean) < loss(plain) - 3  # dB
    # nothing passes the tones that were there, and paper stays paper
    assert (clean >= 254).mean() > (plain >= 254).mean()
    for angle in (5, -20):
        docket = docket_of(
            "8x5cm",
            size={"ppi": 200},
            crop={"turn": Fraction(angle)},
            pixels={"choice": "resample", "kind": "lettering"},
            sharpen={"on": False},
        )
        turned = np.concatenate(list(Renderer(photo, plan(photo.facts, docket)).bands()))
        assert turned.max() == 255 and (turned >= 254).mean() > 0.4
