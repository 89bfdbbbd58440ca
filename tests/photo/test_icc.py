"""Tone curves of ICC profiles, against Little CMS's own reading of them."""

from __future__ import annotations

import struct

import numpy as np
import pytest
import tifffile
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image

from tests.conftest import docket_of
from zinc_margin.handoff.make import make_file
from zinc_margin.photo import icc
from zinc_margin.photo.colour import (
    BT2020,
    RELATIVE,
    SRGB,
    from_icc,
    profile_use,
    transform,
)
from zinc_margin.photo.pixels import read_photo
from zinc_margin.plan.build import plan

PARAMETERS = {
    0: (2.2,),
    1: (2.4, 0.8, 0.2),
    2: (1.8, 0.85, 0.1, 0.05),
    3: (2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045),
    4: (2.0, 0.9, 0.05, 0.25, 0.2, 0.02, 0.01),
}
"""Parametric curves of all five types (ICC.1:2022, 10.18): g, a, b, c, d, e, f."""


def with_curve(which: int) -> bytes:
    """A grey profile whose tone curve is parametric."""
    plain = icc.make("Kiln grey", 2.2, None)
    parts = PARAMETERS[which]
    tone = b"para" + bytes(4) + struct.pack(">HH", which, 0)
    tone += b"".join(struct.pack(">i", round(part * 65536)) for part in parts)
    tone += bytes(-len(tone) % 4)
    count = struct.unpack_from(">I", plain, 128)[0]
    made = bytearray(plain)
    for index in range(count):
        at = 132 + 12 * index
        if plain[at : at + 4] == b"kTRC":
            struct.pack_into(">II", made, at + 4, len(plain), len(tone))
    made += tone
    struct.pack_into(">I", made, 0, len(made))
    made[8:12] = bytes((4, 0x30, 0, 0))
    return bytes(made)


@pytest.mark.parametrize("which", sorted(PARAMETERS))
def test_parametric_curves_are_those_of_little_cms(which):
    profile = with_curve(which)
    (curve,) = icc.parse(profile).curves
    codes = np.linspace(0, 65535, 257).astype(np.uint16).reshape(1, -1, 1)
    linear = icc.make("Linear grey", 1.0, None)
    theirs = transform(codes, (profile, "GRAY"), (linear, "GRAY"), RELATIVE).ravel() / 65535
    ours = np.interp(codes.ravel() / 65535, np.linspace(0, 1, len(curve)), np.clip(curve, 0, 1))
    assert np.abs(theirs - ours).max() < 6e-4
    assert ours.max() - ours.min() > 0.5


def rgb_profile(matrix, tones: list[bytes]) -> bytes:
    """An RGB profile of any primaries (XYZ as columns) and curves."""
    plain = bytearray(icc.make("Kiln RGB", 2.2, icc.primaries(SRGB)))
    (count,) = struct.unpack_from(">I", plain, 128)
    blocks = {
        letter + b"XYZ": b"XYZ " + bytes(4) + struct.pack(">3i", *fixed(matrix[:, at]))
        for at, letter in enumerate((b"r", b"g", b"b"))
    }
    blocks |= {letter + b"TRC": tones[at] for at, letter in enumerate((b"r", b"g", b"b"))}
    for index in range(count):
        at = 132 + 12 * index
        block = blocks.get(bytes(plain[at : at + 4]))
        if block is not None:
            struct.pack_into(">II", plain, at + 4, len(plain), len(block))
            plain += block + bytes(-len(block) % 4)
    struct.pack_into(">I", plain, 0, len(plain))
    plain[8:12] = bytes((4, 0x30, 0, 0))
    return bytes(plain)


def fixed(values) -> list[int]:
    return [int(np.clip(round(float(value) * 65536), -(2**31), 2**31 - 1)) for value in values]


def table_tone(points) -> bytes:
    codes = np.round(np.asarray(points) * 65535).astype(">u2")
    return b"curv" + bytes(4) + struct.pack(">I", len(codes)) + codes.tobytes()


def parametric_tone(which: int, parts) -> bytes:
    return (
        b"para"
        + bytes(4)
        + struct.pack(">HH", which, 0)
        + struct.pack(f">{len(parts)}i", *fixed(parts))
    )


UNIT = st.floats(0, 1)
GAMMAS = st.floats(0.9, 3).map(lambda g: table_tone(np.linspace(0, 1, 40) ** g))
TABLES = st.lists(UNIT, min_size=2, max_size=40).map(sorted).map(table_tone)
ANY_TABLE = st.lists(UNIT, min_size=2, max_size=40).map(table_tone)
PARAMETRIC = st.integers(0, 4).flatmap(
    lambda which: st.lists(
        st.floats(-3, 4) | st.just(0.0), min_size=(1, 3, 4, 5, 7)[which],
        max_size=(1, 3, 4, 5, 7)[which],
    ).map(lambda parts: parametric_tone(which, parts))
)  # fmt: skip
SOUND = st.sampled_from([parametric_tone(which, parts) for which, parts in PARAMETERS.items()])
MATRICES = st.tuples(
    st.lists(st.floats(-0.03, 0.03), min_size=6, max_size=6), st.sampled_from((0.0, 0.0, 0.3))
).map(lambda drawn: moved_primaries(*drawn))


def moved_primaries(moves, white):
    points = tuple((x + moves[2 * at], y + moves[2 * at + 1]) for at, (x, y) in enumerate(SRGB))
    matrix = icc.primaries(points)
    matrix[2] *= 1 + white
    return matrix


@given(MATRICES, st.lists(GAMMAS | TABLES | SOUND | ANY_TABLE | PARAMETRIC, min_size=3, max_size=3))
def test_a_profile_is_read_as_little_cms_reads_it_or_not_at_all(matrix, tones):
    profile = rgb_profile(matrix, tones)
    _, use = profile_use(profile, "RGB")
    if use != "own":
        return
    colour = from_icc(profile)
    codes = np.random.default_rng(3).integers(0, 65536, (16, 16, 3)).astype(np.uint16)
    linear = np.stack(
        [
            np.interp(codes[..., at] / 65535, np.linspace(0, 1, len(curve)), curve)
            for at, curve in enumerate(colour.curves)
        ],
        -1,
    )
    ours = linear @ colour.matrix.T
    flat = icc.make("Linear", 1.0, icc.primaries(BT2020))
    theirs = transform(codes, (profile, "RGB"), (flat, "RGB")) / 65535
    wanted = np.clip(ours @ np.linalg.inv(from_icc(flat).matrix).T, 0, 1)
    assert np.abs(theirs - wanted).max() < 2 * 64 / 65535


@pytest.mark.parametrize(
    ("matrix", "tone"),
    [
        (np.array([[0.0, 0.0, 0.0], [0.2, 0.7, 0.1], [0.1, 0.1, 0.6]]), None),
        (np.eye(3) * 0, None),
        (None, parametric_tone(1, (2.2, 0.0, 0.1))),
        (None, parametric_tone(0, (0.0,))),
        (None, table_tone([0.5, 0.5])),
        (None, parametric_tone(0, (-2.0,))),
        (None, table_tone([1.0, 0.5, 0.0])),
        (None, table_tone([0.0, 0.0, 0.0])),
    ],
)
def test_a_profile_that_is_not_sound_is_damaged(matrix, tone):
    tone = tone or table_tone(np.linspace(0, 1, 40) ** 2.2)
    profile = rgb_profile(icc.primaries(SRGB) if matrix is None else matrix, [tone] * 3)
    assert profile_use(profile, "RGB") == (None, "damaged")


def test_a_photo_with_a_damaged_profile_keeps_its_samples(tmp_path):
    matrix = np.array([[0.0, 0.0, 0.0], [0.2, 0.7, 0.1], [0.1, 0.1, 0.6]])
    bad = rgb_profile(matrix, [table_tone(np.linspace(0, 1, 40) ** 2.2)] * 3)
    codes = np.random.default_rng(5).integers(0, 256, (40, 60, 3)).astype(np.uint8)
    path = tmp_path / "kiln.png"
    Image.fromarray(codes).save(path, icc_profile=bad)
    photo = read_photo(path)
    made = plan(photo.facts, docket_of("6x4cm", sharpen={"on": False}, pixels={"choice": "keep"}))
    assert any(note.code == "damaged-profile" for note in made.notes)
    out = tmp_path / "out.tif"
    make_file(photo, made, out)
    assert np.array_equal(tifffile.imread(out), codes)


def test_curves_that_cannot_be_inverted_are_left_to_little_cms():
    # as those of film scanners: the upper third is white
    log = table_tone(np.minimum(1, (np.linspace(0, 1.6, 64)) ** 2.2))
    assert profile_use(rgb_profile(icc.primaries(SRGB), [log] * 3), "RGB")[1] == "converted"


def test_a_grey_profile_may_give_lightness():
    raw = bytearray(icc.make("Kiln grey", 1.0, None))
    raw[20:24] = b"Lab "
    (curve,) = icc.parse(bytes(raw)).curves
    codes = np.linspace(0, 65535, 257).astype(np.uint16).reshape(1, -1, 1)
    linear = icc.make("Linear grey", 1.0, None)
    theirs = transform(codes, (bytes(raw), "GRAY"), (linear, "GRAY"), RELATIVE).ravel() / 65535
    ours = np.interp(codes.ravel() / 65535, np.linspace(0, 1, len(curve)), curve)
    assert np.abs(theirs - ours).max() < 2 * 64 / 65535
