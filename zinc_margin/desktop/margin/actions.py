"""The margin's calls into the window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from zinc_margin.desktop.model.prints import Print
from zinc_margin.photo.subject_found import Found
from zinc_margin.plan.model import Plan

Act = Callable[[], None]


@dataclass(frozen=True)
class Actions:
    """All actions that start in the margin and happen elsewhere.

    Attributes
    ----------
    make, stop : callable
        The file.
    show_folder, choose_folder : callable
    show_place : callable
        Goes to a place of the upright photo, x and y in its pixels.
    ask_for_page : callable
    begin_crop : callable
        Begins to draw a ``level`` line, or to ``mark`` the subject.
    find_subject : callable
        Looks for the subject away from the window, and says what it found.
    made_before : callable
        Receives a photo's digest; tells in a sentence what was made of it.
    print_it, forget_made, make_strip, lay_together, show_batch, show_presets, send : callable
    ask_printers : callable
    goal : callable
        Where a print's file will go.
    say : callable
        Says why something cannot be, at the window's lower edge; nothing, where it can.
    explain : callable
        Says what a line is about.
    """

    make: Act
    stop: Act
    print_it: Act
    made_before: Callable[[str, Callable[[str], None]], None]
    forget_made: Act
    ask_printers: Act
    show_folder: Act
    choose_folder: Act
    show_place: Callable[[int, int], None]
    ask_for_page: Act
    begin_crop: Callable[[str], None]
    find_subject: Callable[[Callable[[Found | None], None]], None]
    make_strip: Act
    lay_together: Act
    show_batch: Act
    show_presets: Act
    send: Act
    goal: Callable[[Print, Plan], Path]
    say: Callable[[str], None]
    explain: Callable[[str], None]
