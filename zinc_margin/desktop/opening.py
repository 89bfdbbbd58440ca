"""Opening a photo: its header, and the dockets beside it."""

from __future__ import annotations

from pathlib import Path

from ..docket import store, versions
from ..docket.docket import Docket
from ..measure.errors import BadRequest
from ..photo.facts import Facts
from ..photo.header import read_header
from ..photo.marks import marked
from ..plan.planning import plan as make_plan


def read_with_dockets(path: Path) -> tuple[Facts, tuple[Docket, ...], str]:
    """Return facts, the dockets beside the photo if there are any, and a remark about them."""
    facts = marked(read_header(path).facts)
    beside = store.beside(path)
    if not beside.exists():
        return facts, (Docket(),), ""
    try:
        dockets = versions.load(beside)
        make_plan(facts, dockets[0])
    except BadRequest as why:
        return facts, (Docket(),), f"{beside.name} was left alone. {why}"
    return facts, dockets, ""
