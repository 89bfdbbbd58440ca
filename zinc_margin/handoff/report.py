"""What a run came to: a page to look through, and a table."""

from __future__ import annotations

import base64
import csv
import html
import io
from collections.abc import Sequence
from pathlib import Path

import numpy as np
from PIL import Image

from ..measure import words
from ..measure.errors import CannotDo
from ..photo.keeping import write_whole
from ..photo.pixels import Photo
from ..pixels.display import Screen
from ..pixels.sheets import page_of
from ..plan.small import small_plan
from .run import Item, tallied

_SIDE = 220
_STYLE = """
body { font: 14px/1.4 sans-serif; background: #c9c9c7; color: #1c1c1c; margin: 32px; }
h1 { font: 26px serif; margin: 0 0 4px; }
p.tally { margin: 0 0 24px; color: #444; }
.print { display: inline-block; vertical-align: top; width: 236px; margin: 0 16px 24px 0; }
.print img { display: block; max-width: 220px; max-height: 220px; background: #fff; padding: 4px; }
.print b { font: bold 15px serif; display: block; margin-top: 8px; word-break: break-word; }
.failed b, .aside b { color: #8e3b2e; }
ul { margin: 4px 0 0; padding-left: 18px; }
"""
COLUMNS = (
    "photo", "state", "file", "width_mm", "height_mm", "width_px", "height_px", "ppi", "grade",
    "trimmed_share", "bytes", "seconds", "sha256", "remark", "notes", "check",
)  # fmt: skip


def crop_of(photo: Photo, item: Item) -> bytes:
    """Return a small JPEG of the print that an item's plan makes."""
    assert item.plan is not None
    page = page_of(photo, small_plan(photo.facts, item.plan, _SIDE))
    height, width, _ = page.shape
    codes = page.region(0, 0, width, height)
    shown = Screen(photo.colour, codes.dtype).show(codes)
    return _jpeg(np.ascontiguousarray(shown[..., 2::-1]))


def _jpeg(pixels: np.ndarray) -> bytes:
    held = io.BytesIO()
    Image.fromarray(pixels).save(held, "JPEG", quality=82)
    return held.getvalue()


def _seen(path: Path | None) -> bytes | None:
    """Return a small JPEG of a finished file, where it can be shown."""
    if path is None:
        return None
    try:
        with Image.open(path) as image:
            image.draft("RGB", (2 * _SIDE, 2 * _SIDE))
            image.thumbnail((_SIDE, _SIDE))
            return _jpeg(np.asarray(image.convert("RGB")))
    except (OSError, ValueError, Image.DecompressionBombError):
        return None


def page(items: Sequence[Item], title: str, pictures: Sequence[bytes | None] | None = None) -> str:
    """Return the report as one HTML page that needs nothing beside it.

    Parameters
    ----------
    pictures : sequence, optional
        A small JPEG for each item; else the finished files are shown.
    """
    prints = []
    for at, item in enumerate(items):
        small = pictures[at] if pictures is not None else _seen(item.goal)
        source = base64.b64encode(small).decode() if small else ""
        image = f'<img alt="" src="data:image/jpeg;base64,{source}">' if source else ""
        said = (*_notes(item), *_checked(item))
        notes = "".join(f"<li>{html.escape(text)}</li>" for text in said)
        goal = html.escape(item.goal.name) if item.goal is not None else ""
        prints.append(
            f'<div class="print {item.state}">{image}<b>{html.escape(item.photo.name)}</b>'
            f"{html.escape(item.remark)}<br>{goal}<ul>{notes}</ul></div>"
        )
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>{html.escape(title)}</title>'
        f"<style>{_STYLE}</style><h1>{html.escape(title)}</h1>"
        f'<p class="tally">{html.escape(tallied(items))}</p>{"".join(prints)}</html>\n'
    )


def _notes(item: Item) -> list[str]:
    return [note.text for note in item.plan.notes if note.grave] if item.plan is not None else []


def _checked(item: Item) -> tuple[str, ...]:
    """Return what the check said: that it would be taken, or why not."""
    if item.refused is None:
        return ()
    return item.refused or ("The counter would take it.",)


def table(items: Sequence[Item]) -> str:
    """Return the report as CSV, a row a photo."""
    held = io.StringIO()
    writer = csv.writer(held)
    writer.writerow(COLUMNS)
    for item in items:
        made = item.plan
        figures: list[object] = [""] * 7
        if made is not None:
            figures = [
                float(made.size.width_mm), float(made.size.height_mm), made.leaf.width,
                made.leaf.height, words.ppi(made.effective_ppi), made.grade,
                round(made.trimmed_share, 4),
            ]  # fmt: skip
        writer.writerow(
            [
                item.photo.name, item.state, item.goal.name if item.goal is not None else "",
                *figures, item.bytes or "", round(item.seconds, 2) or "",
                item.digest, item.remark,
                " | ".join(_notes(item)), " | ".join(_checked(item)),
            ]
        )  # fmt: skip
    return held.getvalue()


def write_report(items: Sequence[Item], folder: Path, title: str) -> Path:
    """Write both reports into a folder, in place of older ones; return the page.

    Raises
    ------
    CannotDo
    """
    goal = folder / "report.html"
    try:
        write_whole(goal, page(items, title).encode("utf-8"))
        write_whole(folder / "report.csv", table(items).encode("utf-8"))
    except OSError as why:
        raise CannotDo(f"The report {goal} could not be written: {why.strerror}.") from None
    return goal
