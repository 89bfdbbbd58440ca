"""The report of a batch: a page to browse, and a table."""

from __future__ import annotations

import base64
import csv
import html
import io
from collections.abc import Sequence
from pathlib import Path

from zinc_margin.handoff.batch import Item, tally
from zinc_margin.handoff.forecast import inert
from zinc_margin.keeping.files import check_ours, save_whole
from zinc_margin.measure import words
from zinc_margin.plan.text.notes import note_text

_STYLE = """
body { font: 14px/1.4 sans-serif; background: #c9c9c7; color: #1c1c1c; margin: 32px; }
h1 { font: 26px serif; margin: 0 0 4px; }
p.tally { margin: 0 0 24px; color: #444; }
.print { display: inline-block; vertical-align: top; width: 236px; margin: 0 16px 24px 0; }
.print img { display: block; max-width: 220px; max-height: 220px; background: #fff; padding: 4px; }
.print b { font: bold 15px serif; display: block; margin-top: 8px; word-break: break-word; }
.failed b, .skipped b { color: #8e3b2e; }
ul { margin: 4px 0 0; padding-left: 18px; }
"""
COLUMNS = (
    "photo",
    "state",
    "file",
    "width_mm",
    "height_mm",
    "width_px",
    "height_px",
    "ppi",
    "photo_ppi",
    "grade",
    "trimmed_share",
    "bytes",
    "seconds",
    "sha256",
    "remark",
    "notes",
    "check",
)


_MARK = '<meta name="generator" content="Zinc Margin">'


def save_page(path: Path, items: Sequence[Item], title: str) -> None:
    """Write the page, replacing only an older page of ours."""
    check_ours(path, _MARK)
    save_whole(path, page(items, title))


def page(items: Sequence[Item], title: str) -> str:
    """Return the report as one self-contained HTML page."""
    prints = []
    for item in items:
        source = base64.b64encode(item.picture).decode() if item.picture else ""
        image = f'<img alt="" src="data:image/jpeg;base64,{source}">' if source else ""
        said = (*_notes(item), *_check_result(item))
        notes = "".join(f"<li>{html.escape(text)}</li>" for text in said)
        goal = html.escape(item.goal.name) if item.goal is not None else ""
        prints.append(
            f'<div class="print {item.state}">{image}<b>{html.escape(item.photo.name)}</b>'
            f"{html.escape(item.remark)}<br>{goal}<ul>{notes}</ul></div>"
        )
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8">{_MARK}'
        f"<title>{html.escape(title)}</title>"
        f"<style>{_STYLE}</style><h1>{html.escape(title)}</h1>"
        f'<p class="tally">{html.escape(tally(items))}</p>{"".join(prints)}</html>\n'
    )


def _notes(item: Item) -> list[str]:
    return (
        [note_text(note) for note in item.plan.notes if note.grave] if item.plan is not None else []
    )


def _check_result(item: Item) -> tuple[str, ...]:
    """Return the result of the check: accepted, or the objections."""
    if item.refused is None:
        return ()
    return item.refused or ("The lab would accept it.",)


def table(items: Sequence[Item]) -> str:
    """Return the report as CSV, one row per photo."""
    held = io.StringIO()
    writer = csv.writer(held)
    writer.writerow(COLUMNS)
    for item in items:
        result = item.plan
        figures: list[object] = [""] * 8
        if result is not None:
            figures = [
                float(result.size.width_mm),
                float(result.size.height_mm),
                result.page.width,
                result.page.height,
                words.ppi(result.page.ppi),
                words.ppi(result.effective_ppi),
                result.grade,
                round(result.trimmed_share, 4),
            ]
        writer.writerow(
            [
                inert(item.photo.name),
                item.state,
                inert(item.goal.name) if item.goal is not None else "",
                *figures,
                item.bytes or "",
                round(item.seconds, 2) or "",
                item.digest,
                inert(item.remark),
                inert(" | ".join(_notes(item))),
                inert(" | ".join(_check_result(item))),
            ]
        )
    return held.getvalue()


def write_report(items: Sequence[Item], folder: Path, title: str, mark: str = "") -> Path:
    """Write both reports into a folder, replacing older ones; return the page's path.

    Parameters
    ----------
    mark : str
        Follows the files' names; see `Share.mark`.
    """
    goal = folder / f"report{mark}.html"
    rows = folder / f"report{mark}.csv"
    check_ours(rows, ",".join(COLUMNS))
    save_page(goal, items, title)
    save_whole(rows, table(items))
    return goal
