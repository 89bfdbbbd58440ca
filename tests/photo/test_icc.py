"""Tone curves of ICC profiles, against Little CMS's own reading of them."""

from __future__ import annotations

import struct

import numpy as np
import pytest

from zinc_margin.photo import icc
from zinc_margin.photo.colour import RELATIVE, transform

PARAMETERS = {
    0: (2.2,),
    1: (2.4, 0.8, 0.2),
    2: (1.8, 0.85, 0.1, 0.05),
    3: (2.4, 1 / 1.055, 0.055 / 1.055, 1 / 12.92, 0.04045),
    4: (2.0, 0.9, 0.05, 0.5, 0.2, 0.02, 0.01),
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
