"""The look: zinc greys without tint, paper white, near-black ink and one oxide red."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from functools import cache

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QFontInfo, QPalette
from PySide6.QtWidgets import QApplication

from zinc_margin.fonts import ON_SCREEN, font_file


@dataclass(frozen=True)
class Tones:
    """The colours of one version of the window."""

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
"""The size of a desktop's own letters at which ours are as drawn. Ours are small already: they
follow letters that are larger by more than an eighth."""


def px(length: float) -> int:
    """Return a length of the window, drawn for letters of the usual size, at the desktop's."""
    return round(length * _scale)


def follow_letters(application: QApplication) -> None:
    """Take over how large the desktop's letters are; before ours are set."""
    global _scale
    wanted = QFontInfo(application.font()).pixelSize() / _USUAL_PX
    _scale = 1.0 if wanted <= 9 / 8 else min(2.0, wanted)


def desktop_is_dark(application: QApplication) -> bool:
    """Tell whether the desktop asks for dark windows."""
    return application.styleHints().colorScheme() == Qt.ColorScheme.Dark


def tones() -> Tones:
    """Return the colours in use."""
    return _current


@cache
def families() -> tuple[str, str]:
    """Load the shipped fonts; return the names of the serif and the sans."""
    for name in ON_SCREEN:
        QFontDatabase.addApplicationFontFromData(font_file(name).read_bytes())
    return "Source Serif 4", "Source Sans 3"


@cache
def serif(size: int, bold: bool = True) -> QFont:
    """Return the face of decisions, at a size in px."""
    font = QFont(families()[0])
    font.setPixelSize(px(size))
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    return font


@cache
def sans(size: int = 13, bold: bool = False) -> QFont:
    """Return the face of everything else, with tabular figures."""
    font = QFont(families()[1])
    font.setPixelSize(px(size))
    font.setWeight(QFont.Weight.DemiBold if bold else QFont.Weight.Normal)
    tag = getattr(QFont, "Tag", None)
    if tag is not None and hasattr(font, "setFeature"):
        font.setFeature(tag("tnum"), 1)
    return font


def apply(application: QApplication, dim: bool) -> None:
    """Dress the application, light or dim."""
    global _current
    _current = DIM if dim else LIGHT
    t = _current
    application.setStyle("Fusion")
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
    application.setStyleSheet(_sheet(t))


@contextmanager
def undressed() -> Iterator[None]:
    """Build a window without the sheet of styles; it is put on once, by the whole window.

    Every part that is laid into another is dressed anew, so that a window whose parts are dressed
    takes three times as long to build. Where other windows stand, theirs stays on.
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
    return f"""
    QToolTip {{ background: {t.open_paper}; color: {t.ink}; border: 1px solid {t.rule};
        padding: 4px; }}
    QLineEdit {{ background: {t.field}; color: {t.ink}; border: none; padding: 2px 4px;
        border-bottom: 1px solid {t.ink}; selection-background-color: {t.filled};
        selection-color: #ffffff; }}
    QLineEdit:focus {{ border-bottom: 2px solid {t.accent}; padding-bottom: 1px; }}
    QLineEdit[wrong="true"] {{ border-bottom: 2px dashed {t.accent_text}; padding-bottom: 1px; }}
    QComboBox {{ background: {t.field}; color: {t.ink}; border: none; padding: 2px 4px;
        border-bottom: 1px solid {t.ink}; }}
    QComboBox:focus {{ border-bottom: 2px solid {t.accent}; padding-bottom: 1px; }}
    QLineEdit:disabled, QComboBox:disabled {{ color: {t.soft}; background: transparent;
        border-bottom: 1px dotted {t.soft}; }}
    QComboBox QAbstractItemView {{ background: {t.open_paper}; color: {t.ink};
        selection-background-color: {t.filled}; selection-color: #ffffff; }}
    QLabel[soft="true"] {{ color: {t.soft}; }}
    QWidget#panel {{ background: {t.panel}; }}
    QWidget#rule {{ background: {t.accent}; }}
    QPushButton#make {{ background: {t.filled}; color: #ffffff; border: none; padding: 8px;
        font-weight: 600; }}
    QPushButton#make:hover {{ background: {QColor(t.filled).darker(112).name()}; }}
    QPushButton#make:disabled {{ background: {t.rule}; color: {t.soft}; }}
    QPushButton#make:focus {{ border: 2px solid {t.ink}; padding: 6px; }}
    QPushButton#second {{ background: transparent; color: {t.ink}; border: 1px solid {t.ink};
        padding: 7px 14px; }}
    QPushButton#second:focus {{ border: 2px solid {t.accent}; padding: 6px 13px; }}
    QListWidget {{ background: {t.panel}; color: {t.ink}; border: none; outline: none; }}
    QListWidget::item {{ padding: 4px 8px; }}
    QListWidget::item:selected {{ background: {t.filled}; color: #ffffff; }}
    QPushButton#plain {{ background: transparent; color: {t.accent_text}; border: none;
        text-align: left; padding: 1px 0px; text-decoration: underline; }}
    QPushButton#plain::menu-indicator {{ width: 0; image: none; }}
    QPushButton#plain:focus {{ border: 1px solid {t.accent_text}; }}
    QPushButton#plain:disabled {{ color: {t.soft}; text-decoration: none; }}
    QPushButton#choice, QRadioButton#choice {{ background: transparent; color: {t.soft};
        border: 1px solid transparent; border-bottom: 1px solid {t.rule};
        padding: 2px 7px 2px 7px; spacing: 0; }}
    QRadioButton#choice::indicator {{ width: 0; height: 0; }}
    QPushButton#choice:checked, QRadioButton#choice:checked {{ color: {t.ink};
        border-bottom: 2px solid {t.accent}; padding-bottom: 1px; font-weight: 600; }}
    QPushButton#choice:focus, QRadioButton#choice:focus {{ border: 1px solid {t.accent_text};
        border-bottom: 2px solid {t.accent_text}; padding-bottom: 1px; }}
    QRadioButton#choice:disabled {{ color: {t.rule}; }}
    QPushButton#more {{ background: {t.rack}; color: {t.on_zinc}; border: none;
        font-size: 20px; }}
    QPushButton#more:hover {{ background: {t.panel}; }}
    QWidget#words {{ background: {t.rack}; border-bottom: 1px solid {t.soft}; }}
    QPushButton#word {{ background: transparent; color: {t.ink}; border: 1px solid transparent;
        padding: 3px 7px; }}
    QPushButton#word:hover {{ text-decoration: underline; }}
    QPushButton#word:focus {{ border: 1px solid {t.accent_text}; }}
    QPushButton#help {{ background: transparent; color: {t.soft}; border: 1px solid transparent;
        padding: 0; }}
    QPushButton#help:hover {{ color: {t.accent_text}; }}
    QPushButton#help:focus {{ border: 1px solid {t.accent_text}; }}
    QPushButton#word:disabled {{ color: {t.soft}; text-decoration: none; font-style: italic; }}
    QPushButton#word::menu-indicator {{ width: 0; image: none; }}
    QMenu {{ background: {t.open_paper}; color: {t.ink}; border: 1px solid {t.soft};
        padding: 4px 0; }}
    QMenu::item {{ padding: 4px 20px 4px 12px; }}
    QMenu::item:selected {{ background: {t.filled}; color: #ffffff; }}
    QMenu::item:disabled {{ color: {t.soft}; }}
    QMenu::separator {{ background: {t.rule}; height: 1px; margin: 4px 0; }}
    QProgressBar {{ background: {t.rule}; border: none; height: 6px; }}
    QProgressBar::chunk {{ background: {t.accent}; }}
    QSlider::groove:horizontal {{ background: {t.ink}; height: 2px; }}
    QSlider::handle:horizontal {{ background: {t.accent}; width: 5px; margin: -6px 0; }}
    QSlider:focus {{ border: 1px solid {t.accent}; }}
    QScrollArea {{ border: none; background: transparent; }}
    QScrollBar:vertical {{ background: transparent; width: 8px; }}
    QScrollBar::handle:vertical {{ background: {t.rule}; min-height: 24px; }}
    QScrollBar::add-line, QScrollBar::sub-line {{ height: 0; width: 0; }}
    QTableView {{ background: {t.panel}; color: {t.ink}; border: none; gridline-color: {t.rule};
        selection-background-color: {t.open_paper}; selection-color: {t.accent_text}; }}
    QHeaderView::section {{ background: {t.panel}; color: {t.soft}; border: none;
        border-bottom: 1px solid {t.ink}; padding: 4px 6px; }}
    QTableWidget::item {{ padding: 0 3px; }}
    """
