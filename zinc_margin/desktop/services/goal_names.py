"""The names of future files, looked up in the background so a refresh needs no disk access."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from zinc_margin.desktop.model.prints import Print
from zinc_margin.desktop.services.work import Lane
from zinc_margin.handoff import names
from zinc_margin.plan.model import Plan


class GoalNames:
    """The paths of future files; unknown ones are looked up on a lane.

    Parameters
    ----------
    changed : callable
        Called when a name turns out to be taken.
    """

    def __init__(self, lane: Lane, changed: Callable[[], None]) -> None:
        self._lane, self._changed = lane, changed
        self._known: dict[Path, Path] = {}
        self._asked: set[Path] = set()

    def path(self, one: Print, plan: Plan) -> Path:
        """Return the path of a print's file: immediately the name by rule, soon a free one."""
        photo = one.facts.path
        first = names.first_goal(photo, plan)
        if first not in self._known and first not in self._asked:
            self._asked.add(first)
            self._lane.run(
                lambda job: names.goal(photo, plan), lambda goal: self._take(first, goal)
            )
        return self._known.get(first, first)

    def forget(self) -> None:
        """Look up every path again, because files have been added or removed."""
        self._known.clear()
        self._asked.clear()

    def _take(self, first: Path, goal: Path) -> None:
        self._asked.discard(first)
        self._known[first] = goal
        if goal != first:
            self._changed()
