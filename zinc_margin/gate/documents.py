"""The program's JSON files: each names its kind and version."""

from __future__ import annotations

import json
from typing import Any

from zinc_margin.measure.errors import BadRequest

_KINDS = {
    "zinc_margin_docket": "docket",
    "zinc_margin_versions": "docket of several versions",
    "zinc_margin_preset": "preset",
    "zinc_margin_rack": "rack",
    "zinc_margin_sizes": "list of sizes",
    "zinc_margin_papers": "list of papers",
    "zinc_margin_printers": "list of printers",
    "zinc_margin_walls": "list of walls",
}
"""The kinds of documents, by the key that names each."""
DOCKET_MARKS = ('"zinc_margin_docket"', '"zinc_margin_versions"')
"""Markers of docket files; a file of either kind may replace the other."""


def document_text(plain: object) -> str:
    """Return the text of a document.

    Parameters
    ----------
    plain : object
        Plain JSON data.
    """
    text = json.dumps(plain, ensure_ascii=False, indent=2) + "\n"
    if any("\ud800" <= letter <= "\udfff" for letter in text):  # a file name that is not UTF-8
        text = json.dumps(plain, indent=2) + "\n"
    return text


def parse(text: str, source: str) -> Any:
    """Parse JSON text.

    Parameters
    ----------
    source : str
        Its name in error sentences.
    """
    try:
        return json.loads(text)
    except (ValueError, RecursionError):
        raise BadRequest(f"{source} is not readable JSON; it was left unchanged.") from None


def content(raw: Any, source: str, key: str, version: int) -> dict[str, Any]:
    """Return a document's content without the key that names kind and version.

    Parameters
    ----------
    version : int
        The supported version.

    Raises
    ------
    BadRequest
        If it has another kind or version.
    """
    called = _KINDS[key]
    if not isinstance(raw, dict) or key not in raw:
        keys = raw if isinstance(raw, dict) else {}
        other = next((name for kind, name in _KINDS.items() if kind in keys), None)
        is_no = f"not a {called} of Zinc Margin" if other is None else f"a {other}, not a {called}"
        raise BadRequest(f"{source} is {is_no}; it was left unchanged.")
    if raw[key] != version:
        raise BadRequest(
            f"{source} has version {raw[key]}; this program reads version {version}. It was "
            "left unchanged."
        )
    return {name: value for name, value in raw.items() if name != key}


def read_document(text: str, source: str, key: str, version: int) -> dict[str, Any]:
    """Return the content of a document's text; see `parse` and `content`."""
    return content(parse(text, source), source, key, version)
