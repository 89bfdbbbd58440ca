"""The margin's calls into the window."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path

from zinc_margin.desktop.model.prints import Print
from zinc_margin.photo.subject_detection import Found
from zinc_margin.plan.model import Plan

Act = Callable[[], None]


@dataclass(frozen=True)
class Actions:
    """All actions that start in the margin and happen elsewhere.

    Attributes
    ----------
    make, stop : callable
        Make the file; cancel.
    show_folder, choose_folder : callable
    show_place : callable
        Shows a place of the upright photo, x and y in its pixels.
    ask_for_page : callable
    begin_crop : callable
        Starts drawing a ``level`` line, or marking the subject (``mark``).
    find_subject : callable
        Detects the subject in the background, and reports it.
    made_before : callable
        Receives a photo's digest; reports its earlier prints as a sentence.
    print_it, forget_made, make_strip, lay_together, show_batch, show_presets, send : callable
    ask_printers : callable
    goal : callable
        Returns the path of a print's file.
    say : callable
        Shows a refusal at the window's lower edge, or nothing.
    offer : callable
        Shows a sentence there, with the label and the call of one remedy.
    explain : callable
        Explains a line.
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
    offer: Callable[[str, str, Callable[[], object]], None]
    explain: Callable[[str], None]
