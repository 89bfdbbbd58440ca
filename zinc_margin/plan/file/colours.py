"""The colours of a file."""

from __future__ import annotations

from zinc_margin.docket.file import FileLine
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.formats import formats
from zinc_margin.plan.model import PrintPlan

_CHANNELS = {"RGB": 3, "GRAY": 1, "CMYK": 4}


def goal_colours(facts: Facts, line: FileLine) -> tuple[str, int]:
    """Return a file's target colours and its number of channels.

    Returns
    -------
    (str, int)
        ``own``, ``srgb``, ``wide``, ``grey`` or ``icc``; 1, 3 or 4.
    """
    if line.colour in (None, "own"):
        srgb = line.format is not None and formats()[line.format].srgb
        colour = as_srgb(facts) if srgb else "own"
        return colour, 3 if colour == "srgb" else facts.channels
    if line.colour == "icc":
        if line.profile is None:
            return "own", facts.channels
        return "icc", _CHANNELS[line.profile.space]
    return str(line.colour), 1 if line.colour == "grey" else 3


def as_srgb(facts: Facts) -> str:
    """Return the conversion to sRGB: none for an sRGB photo, grey for a grey one.

    Returns
    -------
    str
        ``own``, ``grey`` or ``srgb``.
    """
    if is_srgb(facts):
        return "own"
    return "grey" if facts.channels == 1 else "srgb"


def is_srgb(facts: Facts) -> bool:
    """Return whether a photo's colours are sRGB: its profile says so, or it has none."""
    if facts.profile_use == "converted":
        return False
    return facts.profile is None or "srgb" in facts.profile.lower()


_NAMES = {"srgb": "sRGB", "wide": "Wide RGB", "grey": "Grey"}


def profile_name(plan: PrintPlan) -> str:
    """Return the name of the profile in a plan's file."""
    if plan.file.colour == "icc" and plan.file.profile is not None:
        return plan.file.profile.name
    return _NAMES.get(plan.file.colour) or plan.facts.profile or "sRGB"
