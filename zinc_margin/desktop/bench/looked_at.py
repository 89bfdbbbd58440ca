"""What the loupe's parts need of the bench that holds them."""

from __future__ import annotations

from typing import Protocol

from zinc_margin.desktop.bench.edge_profile import EdgeProfile
from zinc_margin.desktop.state import Print, Table
from zinc_margin.plan.model import Plan


class LookedAt(Protocol):
    """A print that is looked at closely, at one place and one scale."""

    table: Table
    edge: EdgeProfile

    def seen(self, plan: Plan) -> tuple[float, float, float, float]:
        """Return left, top, width and height of what is seen, in pixels of the print."""

    def places(self, one: Print) -> list[tuple[str, tuple[float, float]]]:
        """Return what is worth looking at: names and places, 0 to 1 of the print each way."""

    def search(self) -> None:
        """Look for more such places."""

    def zoom_of(self, plan: Plan) -> float:
        """Return screen pixels for a pixel of the print."""

    def pan(self, across: float, down: float) -> None:
        """Move by pixels of the print."""

    def look_at(self, x: float, y: float) -> None:
        """Go to a place, 0 to 1 of the print each way."""

    def follow_edge(self, x: float, y: float) -> None:
        """Read the edge at a place, 0 to 1 of the print each way."""

    def step_zoom(self, step: int) -> None:
        """Take the next scale, larger or smaller."""

    def render_soon(self) -> None:
        """Have what is seen rendered."""
