"""Undo: the successive dockets of a version, and decisions shared by several photos."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from typing import TYPE_CHECKING

from zinc_margin.docket.docket import Docket, in_units

if TYPE_CHECKING:
    from zinc_margin.desktop.model.prints import Print

Change = tuple["Print", Docket, Docket]
"""A photo, its docket before a decision, and after it."""


class History:
    """The dockets of one version, in order, and the position of the current one."""

    def __init__(self, *dockets: Docket) -> None:
        self._dockets, self._at = list(dockets), len(dockets) - 1
        self._undone: list[Docket] = []

    @property
    def docket(self) -> Docket:
        """The current docket."""
        return self._dockets[self._at]

    @property
    def steps(self) -> int:
        """The number of decisions that can be undone."""
        return self._at

    @property
    def can_undo(self) -> bool:
        """Whether there is a decision to undo."""
        return self._at > 0

    @property
    def can_redo(self) -> bool:
        """Whether there is a decision to redo."""
        return self._at + 1 < len(self._dockets)

    def write(self, docket: Docket) -> None:
        """Add a docket as a step, dropping undone ones."""
        self._dockets[self._at + 1 :] = [docket]
        self._at += 1

    def slide(self, docket: Docket) -> None:
        """Replace the current docket without a step."""
        self._dockets[self._at] = docket

    def use_units(self, units: str) -> None:
        """Make automatic sizes round in other units; it is not a step."""
        self._dockets = [in_units(docket, units) for docket in self._dockets]

    def begin_step(self) -> None:
        """Begin the single step of a drag."""
        self._undone = self._dockets[self._at + 1 :]
        self.write(self.docket)

    def end_step(self) -> None:
        """End the step; a drag without changes leaves none."""
        if self._at and self.docket == self._dockets[self._at - 1]:
            self._dockets[self._at :] = self._undone
            self._at -= 1

    def step(self, back: bool) -> bool:
        """Undo or redo one decision; return whether there was one."""
        if not (self.can_undo if back else self.can_redo):
            return False
        self._at += -1 if back else 1
        return True


class SharedSteps:
    """Decisions made for several photos together; undoing one undoes all."""

    def __init__(self) -> None:
        self._steps: list[Sequence[Change]] = []

    def add(self, step: Sequence[Change]) -> None:
        """Add a decision for several photos."""
        self._steps.append(step)

    def use_units(self, units: str) -> None:
        """Make automatic sizes round in other units, in step with the histories."""
        self._steps = [
            [(one, in_units(before, units), in_units(after, units)) for one, before, after in step]
            for step in self._steps
        ]

    def others(self, one: Print, left: Docket, back: bool) -> Iterator[Print]:
        """Yield the photos that follow `one`, whose docket was `left` before this step."""
        for several in self._steps:
            ends = next(((before, after) for each, before, after in several if each is one), None)
            if ends is None or (left, one.docket) != (ends[::-1] if back else ends):
                continue
            for other, before, after in several:
                if other is not one and other.docket == (after if back else before):
                    yield other
