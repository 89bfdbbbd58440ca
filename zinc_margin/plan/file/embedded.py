"""The decisions behind a plan, as the text that a file or a journal keeps of them."""

from __future__ import annotations

from zinc_margin.docket.document import to_json
from zinc_margin.plan.model import Plan


def decisions_text(plan: Plan) -> str:
    """Return the docket of a plan as JSON."""
    return to_json(plan.docket)
