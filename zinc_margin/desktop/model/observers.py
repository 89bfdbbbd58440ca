"""Observers: each view names the events that it shows, and only those redraw it."""

from __future__ import annotations

import time
from collections.abc import Callable

from zinc_margin.desktop.model.events import ALL_LINES, DocketChanged, Event

Draw = Callable[[], None]
_TURN_S = 0.015
"""After so long, the window answers before it goes on; a single view may take longer."""


class Observers:
    """Passes events on, and collects the views that they make out of date.

    Attributes
    ----------
    schedule : callable
        Called when views are out of date; `draw` draws them. By default, they are drawn at once;
        the window draws them once per turn of its event loop.
    """

    def __init__(self) -> None:
        self._listeners: list[Callable[[Event], None]] = []
        self._views: dict[Draw, tuple[tuple[type[Event], ...], frozenset[str]]] = {}
        self._stale: set[Draw] = set()
        self.schedule: Callable[[], None] = self.draw

    def subscribe(self, listener: Callable[[Event], None]) -> None:
        """Call `listener` with every event."""
        self._listeners.append(listener)

    def observe(self, draw: Draw, *kinds: type[Event], lines: frozenset[str] = ALL_LINES) -> None:
        """Draw a view after events of these kinds.

        Parameters
        ----------
        lines : frozenset of str
            The lines of the docket that the view depends on.
        """
        self._views[draw] = kinds, lines

    def tell(self, event: Event) -> None:
        """Pass an event on."""
        for listener in list(self._listeners):
            listener(event)
        stale = {draw for draw in self._views if self._concerns(draw, event)}
        if stale:
            self._stale |= stale
            self.schedule()

    def _concerns(self, draw: Draw, event: Event) -> bool:
        kinds, lines = self._views[draw]
        if isinstance(event, DocketChanged) and not event.lines & lines:
            return False
        return isinstance(event, kinds)

    @property
    def is_stale(self) -> bool:
        """Whether a view waits to be drawn."""
        return bool(self._stale)

    def redraw(self) -> None:
        """Draw every view, for example in other colours."""
        self._stale = set(self._views)
        self.schedule()

    def draw(self) -> None:
        """Draw the views that are out of date, in the order in which they were added."""
        self._draw_until(None)

    def draw_some(self) -> None:
        """Do the same, and leave what would take long to the next turn of the event loop."""
        self._draw_until(time.monotonic() + _TURN_S)

    def _draw_until(self, end: float | None) -> None:
        stale, self._stale = self._stale, set()
        for draw in list(self._views):
            if draw not in stale:
                continue
            if end is not None and time.monotonic() > end:
                self._stale |= stale
                self.schedule()
                return
            stale.discard(draw)
            draw()
