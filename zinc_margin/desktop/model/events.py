"""Events: each describes a change among the open photos."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction

from zinc_margin.docket.docket import LINES, Docket


@dataclass(frozen=True)
class Event:
    """Base class of all events."""


@dataclass(frozen=True)
class PhotosChanged(Event):
    """Photos were added, removed, or replaced by another page."""


@dataclass(frozen=True)
class ActiveChanged(Event):
    """Another photo is current."""


@dataclass(frozen=True)
class ChosenChanged(Event):
    """Another set of photos is selected."""


@dataclass(frozen=True)
class DocketChanged(Event):
    """Decisions were made or undone.

    Attributes
    ----------
    lines : frozenset of str
        The changed lines of the docket.
    """

    lines: frozenset[str]


@dataclass(frozen=True)
class PixelsChanged(Event):
    """A photo's pixels or measurements arrived."""


@dataclass(frozen=True)
class OwnChanged(Event):
    """The user's sizes or papers changed."""


@dataclass(frozen=True)
class ViewChanged(Event):
    """The crop's view options changed."""


@dataclass(frozen=True)
class LineOpened(Event):
    """Another line of the margin is open."""


@dataclass(frozen=True)
class UnitsChanged(Event):
    """Lengths are shown in other units."""


@dataclass(frozen=True)
class StripMade(Event):
    """A test strip was made, with these strengths in percent."""

    strengths: tuple[Fraction, ...]


@dataclass(frozen=True)
class FileNameChanged(Event):
    """A file's name turned out to be taken, or is free again."""


@dataclass(frozen=True)
class Said(Event):
    """Something to tell the user.

    Attributes
    ----------
    label : str
        The words of a remedy; empty if there is none.
    remedy : callable, optional
    """

    sentence: str
    label: str = ""
    remedy: Callable[[], object] | None = None


@dataclass(frozen=True)
class Withdrawn(Event):
    """A sentence that no longer applies."""

    sentence: str


ALL_LINES = frozenset(LINES)


def change_event(before: Docket, after: Docket) -> DocketChanged:
    """Return the event for replacing one docket by another."""
    if before.version != after.version:  # the name of a version is in its file's name
        return DocketChanged(ALL_LINES)
    lines = (name for name in LINES if getattr(before, name) != getattr(after, name))
    return DocketChanged(frozenset(lines))
