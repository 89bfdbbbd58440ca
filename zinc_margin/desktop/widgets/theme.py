"""The look: neutral zinc greys, paper white, near-black ink and one oxide red."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass
from functools import cache
from importlib import resources
from string import Template

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontInfo, QPalette
from PySide6.QtWidgets import QApplication

from zinc_margin.fonts import ON_SCREEN, font_file


@dataclass(frozen=True)
class Tones:
    """The colours of the light or the dim theme."""

    paper: str
    open_paper: str
    foot: str
    ink: str
    soft: str
    rule: str
    zinc: str
    rack: str
    panel: str
    on_zinc: str
    accent: str
    accent_text: str
    filled: str
    field: str


LIGHT = Tones(
    paper="#f7f7f6",
    open_paper="#ffffff",
    foot="#eeeeec",
    ink="#1b1b1b",
    soft="#484848",
    rule="#cfcfcd",
    zinc="#bcbcbc",
    rack="#d2d2d2",
    panel="#e6e6e6",
    on_zinc="#242424",
    accent="#8e3b2e",
    accent_text="#7d3226",
    filled="#8e3b2e",
    field="#f4f4f2",
)
DIM = Tones(
    paper="#2b2b2b",
    open_paper="#333333",
    foot="#262626",
    ink="#ececec",
    soft="#b8b8b8",
    rule="#4a4a4a",
    zinc="#3a3a3a",
    rack="#303030",
    panel="#343434",
    on_zinc="#e2e2e2",
    accent="#d0705f",
    accent_text="#eba192",
    filled="#a5483a",
    field="#3c3c3c",
)

_current = LIGHT
_scale = 1.0
_USUAL_PX = 14.0
"""The desktop font size, in px, at which our sizes apply unchanged. Our type is small: it follows
larger desktop fonts, by more than an eighth.
"""


def px(length: float) -> int:
    """Return a length of the window scaled to the desktop's font size."""
    return round(length * _scale)


def follow_letters(application: QApplication) -> None:
    """Take over the desktop's font size; call before setting our fonts."""
    global _scale
    wanted = QFontInfo(application.font()).pixelSize() / _USUAL_PX
    _scale = 1.0 if wanted <= 9 / 8 else min(2.0, wanted)


def desktop_is_dark(application: QApplication) -> bool:
    """Return whether the desktop prefers dark windows."""
    return application.styleHints().colorScheme() == Qt.ColorScheme.Dark


def tones() -> Tones:
    """Return the current colours."""
    return _current


@cache
def families() -> tuple[str, str]:
    """Load the shipped fonts; return the names of the serif and the sans."""
    for name in ON_SCREEN:
        QFontDatabase.addApplicationFontFromData(font_file(name).read_bytes())
    return "Source Serif 4", "Source Sans 3"


@cache
def serif(size: int, bold: bool = True) -> QFont:
    """Return the serif for decisions, at a size in px."""
    font = QFont(families()[0])
    font.setPixelSize(px(size))
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return font


@cache
def sans(size: int = 13, bold: bool = False) -> QFont:
    """Return the sans for everything else, with tabular figures."""
    font = QFont(families()[1])
    font.setPixelSize(px(size))
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    tag = getattr(QFont, "Tag", None)
    if tag is not None and hasattr(font, "setFeature"):
        font.setFeature(tag("tnum"), 1)
    return font


def apply(application: QApplication, dim: bool) -> None:
    """Apply the light or dim theme to the application."""
    choose(application, dim)
    dress(application)


def choose(application: QApplication, dim: bool) -> None:
    """Choose the colours, and remove the style sheet: replacing it takes three times as long."""
    global _current
    _current = DIM if dim else LIGHT
    t = _current
    application.setStyleSheet("")
    if application.style().name() != "fusion":  # another style is set up in a fifth of a second
        application.setStyle("Fusion")
    if application.font() != sans():  # every widget would take it over again
        application.setFont(sans())
    palette = QPalette()
    roles = QPalette.ColorRole
    for role, tone in (
        (roles.Window, t.paper),
        (roles.Base, t.field),
        (roles.AlternateBase, t.panel),
        (roles.Text, t.ink),
        (roles.WindowText, t.ink),
        (roles.Button, t.panel),
        (roles.ButtonText, t.ink),
        (roles.Highlight, t.filled),
        (roles.ToolTipBase, t.open_paper),
        (roles.ToolTipText, t.ink),
        (roles.PlaceholderText, t.soft),
    ):
        palette.setColor(role, QColor(tone))
    palette.setColor(roles.HighlightedText, QColor("#ffffff"))
    application.setPalette(palette)


def dress(application: QApplication) -> None:
    """Apply the style sheet in the current colours."""
    application.setStyleSheet(_sheet(_current))


@contextmanager
def without_style() -> Iterator[None]:
    """Build a window without the style sheet, and apply it once at the end.

    With a style sheet, Qt restyles every widget when it is added to another, which makes building a
    window three times slower. With other windows open, theirs stays.
    """
    application = QApplication.instance()
    if not isinstance(application, QApplication) or len(application.topLevelWidgets()) > 1:
        yield
        return
    sheet = application.styleSheet()
    application.setStyleSheet("")
    try:
        yield
    finally:
        application.setStyleSheet(sheet)


def _sheet(t: Tones) -> str:
    style = (resources.files(__package__) / "theme.qss").read_text("utf-8")
    tones = asdict(t) | {"pressed": QColor(t.filled).darker(112).name()}
    return Template(style).substitute(tones)
