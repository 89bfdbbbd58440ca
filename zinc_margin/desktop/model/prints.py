"""One photo in the rack."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field, replace

import numpy as np

from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.tones import WHITE, parts_of
from zinc_margin.measure.ways import Way
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.ability import this_machine
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.ladder import Judge, Rung, ladder


@dataclass(eq=False)
class Print:
    """One photo in the rack, with its docket and what was decided before.

    Attributes
    ----------
    preview : ndarray (H, W, 4), uint8, or None
        For the screen; None until the pixels have been read.
    alpha : ndarray (H, W), float32, or None
        How much the preview covers where the photo is see-through; it lies on white.
    photo : Photo or None
        Decoded, while it is among those kept.
    which : int
        The version that is worked on; each has a history of its own.
    """

    facts: Facts
    history: list[Docket]
    at: int = 0
    preview: np.ndarray | None = None
    alpha: np.ndarray | None = None
    photo: Photo | None = None
    which: int = 0
    _others: dict[int, tuple[list[Docket], int]] = field(default_factory=dict, repr=False)
    _count: int = field(default=1, repr=False)
    _undone: list[Docket] = field(default_factory=list, repr=False)
    _seen: tuple[str, np.ndarray] | None = field(default=None, repr=False)
    _keyed: dict[str, Plan] = field(default_factory=dict, repr=False)
    _last: tuple[Docket, Plan] | None = field(default=None, repr=False)
    _rungs: tuple[str, tuple[Rung, ...]] | None = field(default=None, repr=False)

    @property
    def docket(self) -> Docket:
        """The docket as it stands."""
        return self.history[self.at]

    @property
    def versions(self) -> tuple[Docket, ...]:
        """Every version's docket as it stands."""
        stored = self._others
        return tuple(
            self.docket if n == self.which else stored[n][0][stored[n][1]]
            for n in range(self._count)
        )

    def take_version(self, which: int) -> None:
        """Work on another version."""
        if which != self.which and 0 <= which < self._count:
            self._others[self.which] = (self.history, self.at)
            self.history, self.at = self._others.pop(which)
            self.which = which

    def add_version(self, docket: Docket) -> None:
        """Put another version behind the others, and work on it."""
        self.plan_of(docket)
        self._others[self._count] = ([docket], 0)
        self._count += 1
        self.take_version(self._count - 1)

    def begin_with(self, dockets: Sequence[Docket]) -> None:
        """Put other versions in place of all; undo leads to what one of that name was before."""
        before = {each.version: each for each in self.versions}
        rows = []
        for docket in dockets:
            old = before.get(docket.version, docket)
            rows.append(([docket], 0) if old == docket else ([old, docket], 1))
        self._others, self._count = dict(enumerate(rows)), len(rows)
        self.which = min(self.which, len(rows) - 1)
        self.history, self.at = self._others.pop(self.which)

    def remove_version(self) -> None:
        """Take the version away that is worked on; the last one stays."""
        if self._count < 2:
            return
        gone = self.which
        self.take_version(gone - 1 if gone else 1)
        self._others.pop(gone)
        self._others = {n - (n > gone): stored for n, stored in self._others.items()}
        self.which -= self.which > gone
        self._count -= 1

    @property
    def name(self) -> str:
        """The photo's name in the rack."""
        return self.facts.path.stem

    @property
    def seen(self) -> np.ndarray | None:
        """The preview, laid on the docket's paper tone."""
        matte = self.docket.photo.matte
        if self.preview is None or self.alpha is None or matte == WHITE:
            return self.preview
        if self._seen is None or self._seen[0] != matte:
            tone = np.array(parts_of(matte)[::-1], np.float32) * 255 - 255
            laid = self.preview.astype(np.float32)
            laid[..., :3] += (1 - self.alpha)[..., None] * tone
            self._seen = (matte, np.clip(laid + 0.5, 0, 255).astype(np.uint8))
        return self._seen[1]

    def plan(self) -> Plan:
        """The plan of the docket as it stands."""
        return self.plan_of(self.docket)

    def plan_of(self, docket: Docket) -> Plan:
        """Return the plan of any docket for this photo."""
        if self._last is not None and self._last[0] is docket:
            return self._last[1]  # asked for many times in one painting
        key = repr(docket)
        if key not in self._keyed:
            if len(self._keyed) > 40:
                self._keyed.clear()
            self._keyed[key] = make_plan(self.facts, docket, this_machine())
        self._last = (docket, self._keyed[key])
        return self._keyed[key]

    def ladder(self, own: Sequence[PrintSize | Way] = ()) -> tuple[Rung, ...]:
        """Return every size of the catalogue, and the person's own, for this photo."""
        key = repr((self.docket.size, self.docket.crop, own))
        if self._rungs is None or self._rungs[0] != key:
            self._rungs = (key, ladder(self.facts, self.docket, self.plan(), own))
        return self._rungs[1]

    def judge(self) -> Judge:
        """Return what judges any size for this photo."""
        return Judge(self.facts, self.docket, self.plan())

    def write(self, docket: Docket) -> None:
        """Put a docket in place of the one that stands; what was undone is gone.

        Raises
        ------
        BadRequest
            When the print could not be made so; nothing is changed then.
        """
        self.plan_of(docket)
        del self.history[self.at + 1 :]
        self.history.append(docket)
        self.at += 1

    def slide(self, docket: Docket) -> None:
        """Put a docket in place of the one that stands, without a step of undo.

        Raises
        ------
        BadRequest
            When the print could not be made so; nothing is changed then.
        """
        self.plan_of(docket)
        self.history[self.at] = docket

    def begin_step(self) -> None:
        """Open the one step of undo that a drag makes."""
        self._undone = self.history[self.at + 1 :]
        del self.history[self.at + 1 :]
        self.history.append(self.docket)
        self.at += 1

    def end_step(self) -> None:
        """Close the step; a drag that changed nothing leaves none."""
        if self.at and self.history[self.at] == self.history[self.at - 1]:
            self.history[self.at :] = self._undone
            self.at -= 1

    @property
    def can_undo(self) -> bool:
        """Whether there is a decision to take back."""
        return self.at > 0

    @property
    def can_redo(self) -> bool:
        """Whether there is one to make again."""
        return self.at + 1 < len(self.history)

    def undo(self) -> bool:
        """Take back the last decision; tell whether there was one."""
        if not self.at:
            return False
        self.at -= 1
        return True

    def redo(self) -> bool:
        """Make the decision again that was taken back last; tell whether there was one."""
        if self.at + 1 >= len(self.history):
            return False
        self.at += 1
        return True

    def take_pixels(
        self, photo: Photo, preview: np.ndarray, alpha: np.ndarray | None = None
    ) -> None:
        """Take in a decoded photo and its preview."""
        self.learn(replace(photo.facts, subject=self.facts.subject))
        self.preview, self.photo = preview, photo
        self.alpha = self.alpha if alpha is None else alpha

    def take_measured(self, facts: Facts) -> None:
        """Take in what the detectors told."""
        self.learn(replace(facts, subject=self.facts.subject))
        if self.photo is not None:
            self.photo = replace(self.photo, facts=facts)

    def let_go(self) -> None:
        """Let go of the decoded photo; it is read again when it is needed."""
        self.photo = None

    def learn(self, facts: Facts) -> None:
        """Take in what the pixels told; figures are worked out anew."""
        self.facts = facts
        self._keyed.clear()
        self._last = self._rungs = None
