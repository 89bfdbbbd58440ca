"""The tables of kernels and formats: known answers, and what follows from an entry."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from zinc_margin.docket.file import FORMATS
from zinc_margin.measure.formats import formats
from zinc_margin.measure.kernels import SHAPES, kernels
from zinc_margin.pixels.weights import numbers_of
from zinc_margin.plan.pixels.response import kernel

MIXING = [key for key, one in kernels().items() if one.mixes]


def test_cubics_are_mitchells_and_netravalis():
    """Their paper of 1988: the values at 0 and 1 of (B, C) = (1/3, 1/3) and (0, 1/2)."""
    at = np.array([0.0, 1.0, 2.0])
    assert kernel("mitchell", at) == pytest.approx([8 / 9, 1 / 18, 0])
    assert kernel("catmull-rom", at) == pytest.approx([1, 0, 0])
    assert numbers_of("mitchell")[1:3] == pytest.approx((1 / 3, 1 / 3))
    assert numbers_of("catmull-rom")[1:3] == pytest.approx((0, 1 / 2))


@pytest.mark.parametrize("key", MIXING)
@given(shift=st.floats(0, 1))
def test_weights_are_even_end_where_the_table_says_and_sum_to_one(key, shift):
    support = kernels()[key].support
    steps = np.arange(-6, 7) + shift
    weights = kernel(key, steps)
    assert kernel(key, -steps) == pytest.approx(weights)
    assert not weights[np.abs(steps) >= support].any()
    # a cubic's weights sum to exactly one; a windowed sinc's nearly do, and are made to
    near = 1e-9 if kernels()[key].shape == "cubic" else 0.02
    assert weights.sum() == pytest.approx(1, abs=near)


def test_every_kernel_is_one_shape_with_its_numbers():
    for one in kernels().values():
        assert one.shape in SHAPES and one.support == SHAPES[one.shape]
        assert (one.shape == "cubic") == bool(one.b or one.c)
        assert numbers_of(one.key)[0] in (0, 1, 2)


def test_formats_are_listed_in_one_order_everywhere():
    assert tuple(formats()) == FORMATS
    endings = [end for form in formats().values() for end in form.endings]
    assert len(set(endings)) == len(endings) and all(end.startswith(".") for end in endings)


@pytest.mark.parametrize(
    ("key", "lossless", "pdf_jpeg", "lossy"),
    [
        ("tiff", False, True, False),
        ("png", False, False, False),
        ("jpeg", True, False, True),
        ("webp", False, False, True),
        ("webp", True, False, False),
        ("jxl", True, True, False),
        ("pdf", False, False, False),
        ("pdf", False, True, True),
    ],
)
def test_when_quality_counts(key, lossless, pdf_jpeg, lossy):
    assert formats()[key].lossy(lossless, pdf_jpeg) is lossy
