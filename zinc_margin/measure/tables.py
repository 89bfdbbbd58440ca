"""The shipped data tables, read once."""

from __future__ import annotations

import json
from functools import cache
from importlib import resources
from typing import Any


@cache
def table(name: str) -> dict[str, Any]:
    """Return the object in a data file, by file name without suffix; do not change it."""
    text = resources.files(__package__).joinpath(f"data/{name}.json").read_text("utf-8")
    return dict(json.loads(text))
