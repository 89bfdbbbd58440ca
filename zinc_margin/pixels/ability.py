"""Whether networks can run here; plans ask, and the first one that cannot be loaded tells."""

from __future__ import annotations

from importlib.util import find_spec

_absent: list[str | None] = []


def absent() -> str | None:
    """Return why networks cannot run here; None if they can."""
    if not _absent:
        there = find_spec("onnxruntime") is not None
        _absent.append(None if there else "onnxruntime is not installed")
    return _absent[0]


def tell_absent(why: str | None) -> None:
    """Say, once it was tried, that it cannot be used; None forgets that.

    Parameters
    ----------
    why : str or None
        A few words; None forgets it.
    """
    _absent[:] = [] if why is None else [why]
