"""A batch before it is made: every photo before and after, with totals."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.handoff.machine import this_machine
from zinc_margin.handoff.pace import predict
from zinc_margin.measure import words
from zinc_margin.measure.errors import ZincError
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.suitability import Terms, judge
from zinc_margin.plan.text.phrases import skipped_words

HEADS = ("photo", "its pixels", "print", "file's pixels", "enlarged", "grade", "bytes")

COLUMNS = (
    "photo", "photo_width_px", "photo_height_px", "width_mm", "height_mm", "width_px",
    "height_px", "ppi", "enlargement", "grade", "trimmed_share", "format", "bytes", "seconds",
    "remark",
)  # fmt: skip


@dataclass(frozen=True)
class Forecast:
    """One photo of a batch before it is made.

    Attributes
    ----------
    name : str
        The photo's file name.
    facts : Facts or None
        None if the photo is unreadable.
    plan : Plan or None
        None if there will be no file.
    seconds : float
    remark : str
        Why there will be no file, or empty.
    """

    name: str
    facts: Facts | None
    plan: Plan | None
    seconds: float = 0.0
    remark: str = ""


def forecast(facts: Facts, docket: Docket, terms: Terms | None = None) -> Forecast:
    """Return what a batch will make of one photo.

    Parameters
    ----------
    terms : Terms or None
        A preset, which may skip photos.
    """
    try:
        plan, why = judge(facts, docket, terms, this_machine())
    except ZincError as error:
        return Forecast(facts.path.name, facts, None, remark=str(error))
    if why is not None:
        return Forecast(facts.path.name, facts, None, remark=skipped_words(why))
    return Forecast(facts.path.name, facts, plan, predict(plan))


def cells(one: Forecast, units: str) -> tuple[str, ...]:
    """Return a forecast as text, a cell for each of `HEADS`.

    Parameters
    ----------
    units : str
        ``cm``, ``in`` or ``px/cm``.
    """
    facts, plan = one.facts, one.plan
    own = "" if facts is None else f"{facts.width} × {facts.height}"
    if plan is None:
        return (one.name, own, one.remark, "", "", "", "")
    size, whole = plan.size, plan.whole
    sides = words.pair(size.width_mm, size.height_mm, units)
    return (
        one.name,
        own,
        "screen" if plan.maker.for_screen else sides,
        f"{whole.width} × {whole.height}",
        words.times(plan.enlargement),
        plan.grade,
        words.size_in_bytes(plan.file.bytes_estimate),
    )


def total_words(every: Sequence[Forecast]) -> str:
    """Return the sum of all files as a sentence."""
    plans = [one.plan for one in every if one.plan is not None]
    size = words.size_in_bytes(sum(plan.file.bytes_estimate for plan in plans))
    seconds = sum(one.seconds for one in every)
    files = "1 file" if len(plans) == 1 else f"{len(plans)} files"
    without = len(every) - len(plans)
    rest = f"; {without} without a file" if without else ""
    return f"{files}, about {size} in all, made in about {words.seconds(max(1.0, seconds))}{rest}."


def plain(one: Forecast) -> dict[str, Any]:
    """Return a forecast as plain data, a value for each of `COLUMNS`; None where unknown."""
    facts, plan = one.facts, one.plan
    result: dict[str, Any] = dict.fromkeys(COLUMNS)
    result |= {"photo": one.name, "remark": one.remark}
    if facts is not None:
        result |= {"photo_width_px": facts.width, "photo_height_px": facts.height}
    if plan is not None:
        result |= {
            "width_mm": round(float(plan.size.width_mm), 4),
            "height_mm": round(float(plan.size.height_mm), 4),
            "width_px": plan.whole.width,
            "height_px": plan.whole.height,
            "ppi": round(float(plan.whole.ppi), 3),
            "enlargement": round(plan.enlargement, 4),
            "grade": plan.grade,
            "trimmed_share": round(plan.trimmed_share, 4),
            "format": plan.file.format,
            "bytes": plan.file.bytes_estimate,
            "seconds": round(one.seconds, 1),
        }
    return result


def table(every: Sequence[Forecast]) -> str:
    """Return forecasts as CSV, one row per photo."""
    held = io.StringIO()
    writer = csv.DictWriter(held, COLUMNS)
    writer.writeheader()
    for one in every:
        row = {key: "" if value is None else value for key, value in plain(one).items()}
        # A name that begins like a formula must not be computed by a spreadsheet.
        row["photo"] = inert(str(row["photo"]))
        writer.writerow(row)
    return held.getvalue()


def inert(text: str) -> str:
    """Return a text that spreadsheets do not treat as a formula."""
    return f"'{text}" if text.lstrip().startswith(("=", "+", "-", "@")) else text
