"""Why a photo of a batch is set aside, in words."""

from __future__ import annotations

from zinc_margin.measure import words
from zinc_margin.plan.size.suits import SetAside


def set_aside_words(why: SetAside) -> str:
    """Return the remark.

    Parameters
    ----------
    why : SetAside
    """
    values = why.values
    if why.code == "trimmed":
        return f"would lose {words.share(values['share'])}, more than {words.share(values['most'])}"
    return f"too small: {words.ppi(values['ppi'])} ppi before enlarging"
