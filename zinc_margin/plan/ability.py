"""Whether this machine can run what was learned; the plan must know before it promises."""

from __future__ import annotations

from importlib.util import find_spec

_absent: list[str | None] = []


def absent() -> str | None:
    """Return why the learned enlarger cannot be used here, or None when it can."""
    if not _absent:
        found = find_spec("onnxruntime") is not None
        _absent.append(None if found else "onnxruntime is not installed")
    return _absent[0]


def tell_absent(why: str | None) -> None:
    """Say, once it was tried, that it cannot be used; None forgets that."""
    _absent[:] = [] if why is None else [why]
