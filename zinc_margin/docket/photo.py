"""Line 1: the photo and its measurements."""

from __future__ import annotations

from dataclasses import dataclass
from typing import ClassVar

from zinc_margin.docket.fields import Kind, Line, Option, held, name_kind, said, text, whole
from zinc_margin.facts.measurements import Measured
from zinc_margin.measure.tones import WHITE, parse_tone

TONE = name_kind(parse_tone, "a tone", "TONE")


_MEASURED = held(Measured, Measured.from_plain, "measurements: noise, blocks, halo …")
_PAGE: Kind = whole(1, 500)


@dataclass(frozen=True)
class PhotoLine(Line):
    """Line 1 of a docket; the measurements belong to the photo of `digest`."""

    title: ClassVar[str] = "Photo"
    matte: str = said(
        TONE,
        "background for transparent photos: white, #f4efe4",
        WHITE,
        option="ground",
        key="ground",
    )
    digest: str | None = said(
        text(), "SHA-256 of the photo's file when it was measured", nothing="not measured yet"
    )
    measured: Measured | None = said(
        _MEASURED,
        "measurements of the photo, for an identical file later",
        nothing="not measured yet",
    )
    page: int | None = said(
        _PAGE,
        "page of a file with several pages, from 1",
        nothing="the chosen one, or the first",
        option=Option("page"),
    )
