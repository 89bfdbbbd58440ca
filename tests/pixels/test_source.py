"""What is resampled: see-through photos laid on a tone before anything else."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
import pytest
import tifffile
from PIL import Image

from tests.conftest import docket_of
from zinc_margin.measure.errors import BadRequest
from zinc_margin.measure.tones import NAMED, parse_tone, tone_name
from zinc_margin.photo.colour import codes_of, plain_grey, srgb, wide_rgb
from zinc_margin.photo.pixels import read_photo
from zinc_margin.pixels.render import Renderer
from zinc_margin.plan.build import plan


@pytest.mark.parametrize(
    ("typed", "tone"),
    [("White", "#ffffff"), ("#F4efe4", "#f4efe4"), ("f00", "#ff0000"), ("pale gray", "#e2e2e2")],
)
def test_tones_are_read_as_they_are_typed(typed, tone):
    assert parse_tone(typed) == tone
    assert parse_tone(tone_name(tone)) == tone


@pytest.mark.parametrize("typed", ["", "mauve", "#12", "#gggggg", "1234567"])
def test_what_is_no_tone(typed):
    with pytest.raises(BadRequest, match="Unknown colour"):
        parse_tone(typed)


def test_a_tone_in_other_spaces():
    assert codes_of("#804020", srgb()) == pytest.approx(
        [0x80 / 255, 0x40 / 255, 0x20 / 255], abs=2e-4
    )
    assert codes_of(NAMED["black"], wide_rgb()) == pytest.approx([0, 0, 0], abs=1e-3)
    assert codes_of(NAMED["white"], plain_grey()) == pytest.approx([1], abs=1e-3)
    # a saturated red is less saturated in a wider space
    wide = codes_of("#ff0000", wide_rgb())
    assert wide[0] < 1 and wide[1] > 0.2


def see_through(path, scene, dtype):
    """A picture whose left is bare, whose middle fades and whose right is whole."""
    picture = scene(60, 40, dtype)
    top = np.iinfo(dtype).max
    alpha = np.repeat(np.clip(np.linspace(-0.5, 1.5, 60), 0, 1)[None], 40, 0)
    whole = np.concatenate([picture, np.rint(alpha * top).astype(dtype)[..., None]], 2)
    if dtype == np.uint8:
        Image.fromarray(whole).save(path)
    else:
        tifffile.imwrite(path, whole, photometric="rgb", extrasamples=["unassalpha"])
    return picture, np.rint(alpha * top) / top


@pytest.mark.parametrize(("dtype", "ending"), [(np.uint8, "png"), (np.uint16, "tif")])
@pytest.mark.parametrize("turn", [0, 90])
def test_a_see_through_photo_lies_on_the_tone(tmp_path, scene, dtype, ending, turn):
    path = tmp_path / f"p.{ending}"
    picture, alpha = see_through(path, scene, dtype)
    photo = read_photo(path)
    top = np.iinfo(dtype).max
    docket = docket_of(
        "6x4in",
        pixels={"choice": "keep"},
        sharpen={"on": False},
        crop={"turn": Fraction(turn)},
        photo={"matte": "#204060"},
    )
    made = Renderer(photo, plan(photo.facts, docket)).region(
        *((0, 0, 60, 40) if not turn else (0, 0, 40, 60))
    )
    tone = np.array([0x20, 0x40, 0x60]) / 255 * top
    expected = picture * alpha[..., None] + tone * (1 - alpha[..., None])
    made = np.rot90(made, 1) if turn else made
    # rounded twice, and the tone's way through linear light
    assert np.abs(made.astype(float) - expected).max() <= 1 + top * 2e-4
    # nothing shows through where it is whole
    assert np.array_equal(made[:, -10:], picture[:, -10:])


def test_a_photo_that_only_says_it_is_see_through(tmp_path, scene):
    whole = np.concatenate([scene(30, 20), np.full((20, 30, 1), 255, np.uint8)], 2)
    Image.fromarray(whole).save(tmp_path / "p.png")
    photo = read_photo(tmp_path / "p.png")
    assert photo.facts.alpha and photo.alpha is None
    docket = docket_of("3x2in", pixels={"choice": "keep"}, photo={"matte": "#000000"})
    made = plan(photo.facts, docket)
    white = plan(photo.facts, docket_of("3x2in", pixels={"choice": "keep"}))
    box = (0, 0, 30, 20)
    assert np.array_equal(Renderer(photo, made).region(*box), Renderer(photo, white).region(*box))
