"""From where a print is seen, in words."""

from __future__ import annotations

from zinc_margin.measure.distances import Seen, named_distances


def seen_hint(seen: Seen | None) -> str:
    """Say what a viewing distance comes from: its words, or the print's size.

    Parameters
    ----------
    seen : Seen or None
        As it was said.
    """
    if seen is None:
        return "by its size"
    return next((name for name, one in named_distances() if one == seen), "")
