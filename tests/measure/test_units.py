"""Units: as the locale reads them, as they are typed, and the families of sizes in them."""

from __future__ import annotations

import pytest

from zinc_margin.measure.sizes import catalogue
from zinc_margin.measure.units import INCH, family_in, unit_named
from zinc_margin.measure.ways import named_ways

FAMILIES = list(dict.fromkeys(one.family for one in (*catalogue(), *named_ways())))


@pytest.mark.parametrize(
    ("typed", "unit"),
    [
        ("12x9 in", "in"),
        ('8½ × 11"', "in"),
        ("30 x 20 cm", "cm"),
        ("1.2 m wide", "cm"),
        ("5 ft", "in"),
        ("20mm", "cm"),
        ("A4", None),
        ("30x20", None),
        ("300 ppi", None),
        ("12 MP", None),
        ("1920x1080 px", None),
        ("2 MB", None),
        ("", None),
    ],
)
def test_the_unit_that_a_text_names(typed, unit):
    assert unit_named(typed) == unit


@pytest.mark.parametrize(
    ("family", "units", "wanted"),
    [
        ("photo", "in", "photo inch"),
        ("photo inch", "cm", "photo"),
        ("canvas", "in", "canvas inch"),
        ("mat inch", "px/cm", "mat"),
        ("screen", "in", "screen"),
        ("card", "in", "card"),
    ],
)
def test_a_family_in_other_units(family, units, wanted):
    assert family_in(family, units, FAMILIES) == wanted


def test_what_is_sold_in_centimetres_is_sold_in_inches():
    both = {one for one in FAMILIES if one + INCH in FAMILIES}
    assert both >= {"photo", "paper", "frame", "square", "panorama", "canvas", "roll", "mat"}
