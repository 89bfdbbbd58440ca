"""The shipped data tables, read once."""

from __future__ import annotations

import json
from functools import cache
from pathlib import Path
from typing import Any


@cache
def shipped(module: str, name: str) -> dict[str, Any]:
    """Return the object in a shipped data file; do not change it.

    Parameters
    ----------
    module : str
        ``__file__`` of the module that it belongs to; the file is in `data` next to it.
    name : str
        File name without suffix.
    """
    text = (Path(module).parent / "data" / f"{name}.json").read_text("utf-8")
    return dict(json.loads(text))


def table(name: str) -> dict[str, Any]:
    """Return a table of this room; see `shipped`."""
    return shipped(__file__, name)
