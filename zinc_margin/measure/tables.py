"""The shipped tables, read once."""

from __future__ import annotations

import json
from functools import cache
from importlib import resources
from typing import Any


@cache
def table(name: str) -> dict[str, Any]:
    """Return a data file's object by its name without ending; not to be changed."""
    text = resources.files(__package__).joinpath(f"data/{name}.json").read_text("utf-8")
    return dict(json.loads(text))
