"""The versions that the loupe's panes can show, and each pane's choice."""

from __future__ import annotations

from weakref import WeakKeyDictionary

from zinc_margin.desktop.bench.views import View, by_another, original, without_sharpening
from zinc_margin.desktop.model.table import Print
from zinc_margin.docket.docket import Docket
from zinc_margin.measure.kernels import kernels
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.sharpen.strip import MOST_PLACES
from zinc_margin.plan.text.lines import entries

_MOST_KEPT = 4
Place = tuple[float, float]
_UNTIL_KEPT = {"one 1": "other", "one 2": "plain"}
"""A pane's content until a candidate is kept for it."""


class Shelf:
    """Candidates, dockets and files to compare with each print."""

    def __init__(self) -> None:
        self.candidates: WeakKeyDictionary[Print, list[Docket]] = WeakKeyDictionary()
        self.files: WeakKeyDictionary[Print, list[tuple[str, Photo]]] = WeakKeyDictionary()
        self.marked: WeakKeyDictionary[Print, list[Place]] = WeakKeyDictionary()
        self._chosen: dict[str, list[str]] = {
            "pixels": ["original", "this", "one 1", "one 2"],
            "sharpen": ["plain", "this", "plain printed", "printed"],
        }

    def views(self, one: Print) -> dict[str, View]:
        """Return all versions that a pane can show, by key."""
        plan = one.plan()
        paper = plan.sharpen.paper if plan.sharpen else ""
        fields = {
            "this": View(f"this print, for {paper}" if paper else "this print", one.docket),
            "plain": View("this print, without sharpening", without_sharpening(one)),
            "original": View("the photo's own pixels", original(one)),
        }
        if paper:
            fields["printed"] = View(f"this print, on {paper}", one.docket, printed=True)
            fields["plain printed"] = View(
                f"without sharpening, on {paper}", without_sharpening(one), printed=True
            )
        other = by_another(one, plan)
        if other is not None:
            name = kernels()[other.pixels.method or "lanczos"].name
            fields["other"] = View(f"the same with {name}", other)
        for number, docket in enumerate(self.candidates.get(one, []), 1):
            text = entries(one.facts, one.plan_of(docket))["pixels"].decision
            fields[f"one {number}"] = View(f"kept {number}: {text}", docket)
        for number, (name, file) in enumerate(self.files.get(one, []), 1):
            fields[f"file {number}"] = View(name, None, file)
        return fields

    def shown(self, line: str, count: int, views: dict[str, View]) -> list[str]:
        """Return the version in each pane while a line is open."""
        return [
            key if key in views else _UNTIL_KEPT.get(key, "this") if "other" in views else "this"
            for key in self._chosen[line][:count]
        ]

    def show(self, line: str, pane: int, key: str) -> None:
        """Show another version in a pane."""
        self._chosen[line][pane] = key

    def keep(self, one: Print, docket: Docket) -> str:
        """Keep a docket as a candidate, dropping the oldest of four; return its key."""
        stored = self.candidates.setdefault(one, [])
        if docket not in stored:
            stored.append(docket)
            del stored[:-_MOST_KEPT]
        return f"one {stored.index(docket) + 1}"

    def mark(self, one: Print, place: Place) -> int:
        """Mark a place for the test strip, dropping the oldest of three; return their number."""
        stored = self.marked.setdefault(one, [])
        if place not in stored:
            stored.append(place)
            del stored[:-MOST_PLACES]
        return len(stored)

    def add_file(self, one: Print, name: str, file: Photo) -> str:
        """Add a finished file to compare with a print, replacing an earlier one; return its key."""
        # Decoded pixels take much memory: keep one file at a time.
        self.files[one] = [(name, file)]
        return "file 1"
