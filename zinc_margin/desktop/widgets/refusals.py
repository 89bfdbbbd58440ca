"""Refusals: a decision that is impossible is explained where it was made."""

from __future__ import annotations

from collections.abc import Callable
from functools import wraps
from typing import Concatenate, ParamSpec, TypeVar

from PySide6.QtCore import QObject
from PySide6.QtWidgets import QApplication

from zinc_margin.measure.errors import ZincError

_Part = TypeVar("_Part", bound=QObject)
_Given = ParamSpec("_Given")


def show_refusal(part: QObject, why: str) -> None:
    """Show a refusal in the nearest part around that can show one; an empty one clears it."""
    around: QObject | None = part
    while around is not None:
        show = getattr(around, "show_refusal", None)
        if show is not None:
            show(why)
            return
        around = around.parent() or _window_behind(around)


def _window_behind(part: QObject) -> QObject | None:
    """Return the active window for a part without a parent, such as a menu."""
    window = QApplication.activeWindow()
    return None if window is part else window


def carry_out(part: QObject, call: Callable[[], object]) -> bool:
    """Call a function for a part of the window; show a refusal, and return whether it worked."""
    try:
        call()
    except ZincError as why:
        show_refusal(part, str(why))
        return False
    return True


def refusable(
    handler: Callable[Concatenate[_Part, _Given], None],
) -> Callable[Concatenate[_Part, _Given], None]:
    """Show the refusals of an event handler; Qt would report them as errors of the program."""

    @wraps(handler)
    def handle(part: _Part, *given: _Given.args, **named: _Given.kwargs) -> None:
        carry_out(part, lambda: handler(part, *given, **named))

    return handle
