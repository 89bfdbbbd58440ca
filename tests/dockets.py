"""Dockets of any kind, drawn from what their fields say of themselves."""

from __future__ import annotations

import dataclasses
import re
from collections.abc import Mapping
from fractions import Fraction

from hypothesis import strategies as st

from zinc_margin.docket.crop import Frame
from zinc_margin.docket.docket import FIELDS, LINES, Docket, check_value
from zinc_margin.docket.document import field_plain
from zinc_margin.docket.finish import Margins
from zinc_margin.measure.distances import Seen
from zinc_margin.measure.makers import makers
from zinc_margin.measure.papers import papers, processes
from zinc_margin.measure.sizes import catalogue
from zinc_margin.measure.ways import named_ways

MM = st.fractions(0, 60, max_denominator=8)
SIZES = st.sampled_from([size for size in catalogue() if size.width_mm > 80])
SPECIAL = {
    "photo.matte": st.sampled_from(("#ffffff", "#204080")),
    "photo.measured": st.none(),
    "photo.digest": st.none(),
    "photo.page": st.none(),
    "size.size": st.none() | SIZES,
    "size.way": st.none() | st.sampled_from(named_ways()),
    "size.maker": st.sampled_from([maker.key for maker in makers()]),
    "size.ppi": st.none() | st.integers(20, 1200).map(Fraction),
    "size.floor": st.none() | st.integers(20, 400).map(Fraction),
    "size.distance": st.none()
    | st.lists(st.integers(100, 20000).map(Fraction), min_size=2, max_size=2).map(
        lambda ends: Seen(*sorted(ends))
    ),
    "crop.frame": st.none()
    | st.builds(
        Frame, *(st.integers(0, 500).map(Fraction),) * 2, *(st.integers(1, 900).map(Fraction),) * 2
    ),
    "crop.turn": st.sampled_from((0, 90, 180, -90, 3, Fraction(-7, 2))).map(Fraction),
    "sharpen.paper": st.none() | st.sampled_from([paper.name for paper in papers()]),
    "sharpen.process": st.none() | st.sampled_from([one.key for one in processes()]),
    "finish.sheet": st.none() | SIZES,
    "finish.pieces": st.none() | SIZES,
    "finish.margins": st.none() | st.builds(Margins, MM, MM, MM, MM),
    "file.profile": st.none(),
    "file.watermark_picture": st.none(),
    "file.folder": st.none(),
    "file.name": st.none() | st.just("kiln"),
    "file.rule": st.none() | st.just("{name}-{paper}"),
    "file.folder_rule": st.none() | st.just("{date}"),
    "file.max_bytes": st.none() | st.integers(10_000, 10**8),
    "file.bits": st.sampled_from((None, 8, 16)),
}


def values(
    line: str, name: str, special: Mapping[str, st.SearchStrategy] = SPECIAL
) -> st.SearchStrategy:
    """Values of a field: of its words or within its bounds, as it says them itself."""
    said = FIELDS[line][name]
    if f"{line}.{name}" in special:
        return special[f"{line}.{name}"]
    if said.kind.words:
        return st.sampled_from(said.kind.words)
    usual = getattr(LINES[line](), name)
    if isinstance(usual, bool):
        return st.booleans()
    bounds = re.fullmatch(
        r"(?:integer, |over )?(-?[\d.]+),?(?: up)? to ([\d.]+)", said.kind.constraint
    )
    if bounds is None:
        return st.just(usual)
    low, high = (Fraction(bound) for bound in bounds.groups())
    if said.kind.unit == "mm":
        low, high = max(low, Fraction(1, 10)), min(high, Fraction(60))
    within = (
        st.integers(int(low), int(high))
        if said.kind.constraint.startswith("integer")
        else st.fractions(low, high, max_denominator=16)
    )
    return within | st.just(usual)


@st.composite
def dockets(draw: st.DrawFn, also: Mapping[str, st.SearchStrategy] = {}) -> Docket:
    """Dockets with up to eight fields that are not as usual, besides a size.

    Parameters
    ----------
    also : Mapping
        Other values of fields, by ``line.name``.
    """
    docket, special = Docket(), SPECIAL | dict(also)
    every = [(line, name) for line, fields in FIELDS.items() for name in fields]
    places = [("size", "size"), *draw(st.lists(st.sampled_from(every), max_size=8, unique=True))]
    for line, name in places:
        value = draw(values(line, name, special))
        if value is not None:
            check_value(line, name, field_plain(value))
        changed = dataclasses.replace(getattr(docket, line), **{name: value})
        docket = dataclasses.replace(docket, **{line: changed})
    return docket
