"""Line 4: keep or resample the pixels, and repair them first."""

from __future__ import annotations

import dataclasses
from dataclasses import dataclass
from fractions import Fraction
from typing import Any, ClassVar

from zinc_margin.docket.fields import WAY, Line, number, one_of, said, short_mm
from zinc_margin.gate import values
from zinc_margin.gate.values import Wrong
from zinc_margin.measure.kernels import kernels
from zinc_margin.measure.ways import TARGETS, Way

METHODS = tuple(kernels())
"""Resampling methods; the AI methods only enlarge."""

REMOVED_METHOD = "removed_method"
"""Key, among a line's unknown fields, of a method that no longer exists."""
_NATURAL = "ai-natural"


def without_removed_methods(held: dict[str, Any]) -> dict[str, Any]:
    """Return a Pixels line's JSON fields, with plain AI instead of a removed method."""
    if held.get("method") != _NATURAL:
        return held
    rest = {key: value for key, value in held.items() if key != "surface_detail"}
    return rest | {"method": "ai", REMOVED_METHOD: "AI, natural surfaces"}


def _target(value: Any) -> Way:
    way = values.way_from(value)
    if way.kind not in TARGETS:
        raise Wrong("must have a kind: " + ", ".join(TARGETS))
    return way


_TARGET = dataclasses.replace(WAY, read=_target, constraint=f"a way, of kind {', '.join(TARGETS)}")
_GRAIN_SIZE = dataclasses.replace(number(Fraction(1, 50), 5, "mm", short_mm), metavar="LENGTH")
_STRENGTH = number(0, 100, "%")
_BY_MEASURE = "automatic for enlarged photos, from their measurements"


@dataclass(frozen=True)
class PixelsLine(Line):
    """Line 4 of a docket."""

    title: ClassVar[str] = "Pixels"
    choice: str = said(
        one_of("auto", "keep", "resample"), "keep the pixels, resample them, or automatic", "auto"
    )
    target: Way | None = said(
        _TARGET, "number of pixels of a resampled file", nothing="from the ppi"
    )
    kind: str = said(
        one_of("photo", "lettering", "drawing"), "kind of picture", "photo", option="kind"
    )
    method: str | None = said(
        one_of(*METHODS), "resampling method", nothing="automatic", option="method"
    )
    hardness: Fraction = said(
        number(-100, 100), "edges from soft (-100) to hard (100)", Fraction(0), option="hardness"
    )
    clean: Fraction | None = said(
        _STRENGTH, "repair JPEG artefacts first, 0 to 100", nothing=_BY_MEASURE, option="clean"
    )
    denoise: Fraction | None = said(
        _STRENGTH, "remove noise first, 0 to 100", nothing=_BY_MEASURE, option="denoise"
    )
    dehalo: Fraction | None = said(
        _STRENGTH, "remove existing halos first, 0 to 100", nothing=_BY_MEASURE, option="dehalo"
    )
    grain: Fraction = said(
        number(0, 100, "%"),
        "grain against steps and smoothness, percent",
        Fraction(0),
        option="grain",
    )
    grain_mm: Fraction = said(
        _GRAIN_SIZE,
        "size of the grain on the print, for example 0.15mm",
        Fraction(3, 20),
        option="grain-size",
    )
