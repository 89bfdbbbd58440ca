"""Why a photo of a batch is skipped, in words."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.plan.size.suits import Skipped


def skipped_words(why: Skipped) -> str:
    """Return the remark."""
    values = why.values
    if why.code == "trimmed":
        return f"would lose {words.share(values['share'])}, more than {words.share(values['most'])}"
    if "share" in values:
        return f"too small: it has {words.share(values['share'])} of the pixels along a side"
    return f"too small: {words.ppi(values['ppi'])} ppi before enlarging"
