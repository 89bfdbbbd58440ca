"""An open photo."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np
from PIL import Image

from zinc_margin.desktop.model.history import History
from zinc_margin.docket.docket import Docket
from zinc_margin.facts.facts import Facts
from zinc_margin.handoff.machine import this_machine
from zinc_margin.measure.sizes import PrintSize
from zinc_margin.measure.tones import WHITE, parts_of
from zinc_margin.measure.ways import Way
from zinc_margin.photo.pixels import Photo
from zinc_margin.plan.build import plan as make_plan
from zinc_margin.plan.model import Plan
from zinc_margin.plan.size.ladder import Judge, Rung, ladder

_SHRUNK = 4
"""A small preview still serves the rack, the sheets and the drawings of sizes."""


class Print:
    """An open photo with the histories of its versions.

    Attributes
    ----------
    preview : ndarray (H, W, 4), uint8, or None
        A picture for the screen; None until the pixels have been read.
    is_shrunk : bool
        Whether it is a small one.
    alpha : ndarray (H, W), float32, or None
        The opacity of a transparent photo's preview, which is blended onto white.
    photo : Photo or None
        The decoded photo, while it is cached.
    which : int
        Index of the current version.
    """

    def __init__(self, facts: Facts, dockets: Sequence[Docket]) -> None:
        self.facts = facts
        self.preview: np.ndarray | None = None
        self.is_shrunk = False
        self.alpha: np.ndarray | None = None
        self.photo: Photo | None = None
        self.which = 0
        self._histories = [History(docket) for docket in dockets]
        self._seen: tuple[str, np.ndarray] | None = None
        self._keyed: dict[str, Plan] = {}
        self._last: tuple[Docket, Plan] | None = None
        self._finished: tuple[Docket, Plan] | None = None
        self._rungs: tuple[str, tuple[Rung, ...]] | None = None

    @property
    def history(self) -> History:
        """The history of the current version."""
        return self._histories[self.which]

    @property
    def docket(self) -> Docket:
        """The current docket."""
        return self.history.docket

    @property
    def versions(self) -> tuple[Docket, ...]:
        """Every version's current docket."""
        return tuple(history.docket for history in self._histories)

    def take_version(self, which: int) -> None:
        """Make another version current."""
        if 0 <= which < len(self._histories):
            self.which = which

    def add_version(self, docket: Docket) -> None:
        """Append a version and make it current."""
        self.plan_of(docket)
        self._histories.append(History(docket))
        self.which = len(self._histories) - 1

    def begin_with(self, dockets: Sequence[Docket]) -> None:
        """Replace all versions; undo returns to the earlier docket with the same name."""
        # A typed name tells which version it was; others are in the same order.
        before = {each.version or n: each for n, each in enumerate(self.versions)}
        rows = [
            (before.get(docket.version or n, docket), docket) for n, docket in enumerate(dockets)
        ]
        self._histories = [
            History(docket) if old == docket else History(old, docket) for old, docket in rows
        ]
        self.which = min(self.which, len(rows) - 1)

    def use_units(self, units: str) -> None:
        """Make every version's automatic size round in other units."""
        for history in self._histories:
            history.use_units(units)

    def remove_version(self) -> None:
        """Remove the current version, unless it is the only one."""
        if len(self._histories) > 1:
            del self._histories[self.which]
            self.which = max(0, self.which - 1)

    @property
    def name(self) -> str:
        """The photo's name in the rack."""
        return self.facts.path.stem

    @property
    def seen(self) -> np.ndarray | None:
        """The preview, blended onto the docket's background colour."""
        matte = self.docket.photo.matte
        if self.preview is None or self.alpha is None or matte == WHITE:
            return self.preview
        if self._seen is None or self._seen[0] != matte:
            tone = np.array(parts_of(matte)[::-1], np.float32) * 255 - 255
            laid = self.preview.astype(np.float32)
            laid[..., :3] += (1 - self.alpha)[..., None] * tone
            self._seen = (matte, np.clip(laid + 0.5, 0, 255).astype(np.uint8))
        return self._seen[1]

    @property
    def is_planned(self) -> bool:
        """Whether the current docket has been planned already."""
        docket = self.docket
        at_hand = self._last is not None and self._last[0] is docket
        return at_hand or repr(docket) in self._keyed

    def plan(self) -> Plan:
        """The plan of the current docket."""
        return self.plan_of(self.docket)

    def shown_plan(self) -> Plan:
        """The plan of the finished file, as long as the decisions are its own; else the plan."""
        if self._finished is not None and self._finished[0] == self.docket:
            return self._finished[1]
        return self.plan()

    def finish(self, docket: Docket, plan: Plan) -> None:
        """Store the plan of a finished file, with the docket that it was made by."""
        self._finished = (docket, plan)

    def plan_of(self, docket: Docket) -> Plan:
        """Return the plan of any docket for this photo."""
        if self._last is not None and self._last[0] is docket:
            return self._last[1]  # needed many times for one painting
        key = repr(docket)
        if key not in self._keyed:
            if len(self._keyed) > 40:
                self._keyed.clear()
            self._keyed[key] = make_plan(self.facts, docket, this_machine())
        self._last = (docket, self._keyed[key])
        return self._keyed[key]

    def ladder(self, own: Sequence[PrintSize | Way] = ()) -> tuple[Rung, ...]:
        """Return every size of the catalogue and the user's own, graded for this photo."""
        key = repr((self.docket.size, self.docket.crop, own))
        if self._rungs is None or self._rungs[0] != key:
            self._rungs = (key, ladder(self.facts, self.docket, self.plan(), own))
        return self._rungs[1]

    def judge(self) -> Judge:
        """Return a grader of sizes for this photo."""
        return Judge(self.facts, self.docket, self.plan())

    def write(self, docket: Docket) -> None:
        """Add a docket as a step of undo.

        Raises
        ------
        BadRequest
            If the print is impossible; nothing is changed then.
        """
        self.plan_of(docket)
        self.history.write(docket)

    def slide(self, docket: Docket) -> None:
        """Replace the current docket without a step of undo.

        Raises
        ------
        BadRequest
            If the print is impossible; nothing is changed then.
        """
        self.plan_of(docket)
        self.history.slide(docket)

    def take_pixels(
        self, photo: Photo, preview: np.ndarray, alpha: np.ndarray | None = None
    ) -> None:
        """Store a decoded photo and its preview."""
        self.learn(replace(photo.facts, subject=self.facts.subject))
        self.is_shrunk = self.is_shrunk and preview is self.preview
        self.preview, self.photo = preview, photo
        self.alpha = self.alpha if alpha is None else alpha

    def shrink_preview(self) -> None:
        """Keep only a small preview; the next reading of the photo brings a whole one."""
        if self.preview is None:
            return
        self.preview = np.asarray(Image.fromarray(self.preview).reduce(_SHRUNK))
        if self.alpha is not None:
            self.alpha = np.asarray(Image.fromarray(self.alpha).reduce(_SHRUNK))
        self.is_shrunk, self._seen = True, None

    def take_measured(self, facts: Facts) -> None:
        """Store the measurements."""
        self.learn(replace(facts, subject=self.facts.subject))
        if self.photo is not None:
            self.photo = replace(self.photo, facts=facts)

    def let_go(self) -> None:
        """Release the decoded photo; it is read again when needed."""
        self.photo = None

    def learn(self, facts: Facts) -> None:
        """Store new facts; plans are computed again."""
        self.facts = facts
        self._keyed.clear()
        self._last = self._rungs = self._finished = None
