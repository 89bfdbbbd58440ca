"""Events: each says what changed among the open photos."""

from __future__ import annotations

from dataclasses import dataclass

from zinc_margin.docket.docket import LINES, Docket


@dataclass(frozen=True)
class Event:
    """Something has changed."""


@dataclass(frozen=True)
class PhotosChanged(Event):
    """Photos came, went, or took another page's place."""


@dataclass(frozen=True)
class ActiveChanged(Event):
    """Another photo is worked on."""


@dataclass(frozen=True)
class ChosenChanged(Event):
    """Other photos are chosen together."""


@dataclass(frozen=True)
class DocketChanged(Event):
    """Decisions were made or taken back.

    Attributes
    ----------
    lines : frozenset of str
        The lines of the docket that are not what they were.
    """

    lines: frozenset[str]


@dataclass(frozen=True)
class PixelsChanged(Event):
    """A photo's pixels or measurements arrived."""


@dataclass(frozen=True)
class OwnChanged(Event):
    """The person's own sizes or papers."""


@dataclass(frozen=True)
class ViewChanged(Event):
    """How the crop is looked at."""


@dataclass(frozen=True)
class LineOpened(Event):
    """Another line of the margin is open."""


@dataclass(frozen=True)
class UnitsChanged(Event):
    """Lengths are shown in other units."""


ALL_LINES = frozenset(LINES)


def docket_changed(before: Docket, after: Docket) -> DocketChanged:
    """Return the event of one docket in another's place."""
    lines = (name for name in LINES if getattr(before, name) != getattr(after, name))
    return DocketChanged(frozenset(lines))
