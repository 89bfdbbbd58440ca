"""A sheet with several prints, moved by hand or by keys."""

from __future__ import annotations

from collections.abc import Callable
from fractions import Fraction

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen

from zinc_margin.desktop.bench.canvas import ARROWS
from zinc_margin.desktop.dialogs.page import PagePreview
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.refusals import refusable
from zinc_margin.plan.finish import moving
from zinc_margin.plan.finish.shared_sheet import Laying, Place, Places, page_mm

_STEP_MM, _FINE_MM = Fraction(5), Fraction(1)


class SharedPreview(PagePreview):
    """Shows one of the sheets; a print is dragged, or selected and moved by keys.

    Parameters
    ----------
    name : str
        For assistive technology.
    changed : callable
        Receives the places after every move by hand.
    told : callable
        Called when another print or sheet is selected.
    """

    def __init__(
        self, name: str, changed: Callable[[Places], None], told: Callable[[], None]
    ) -> None:
        super().__init__(name)
        self._changed, self._told = changed, told
        self.laying: Laying | None = None
        self.places: Places = ()
        self.sheet = 0
        self.chosen: int | None = None
        self._drawn: tuple[Place, ...] = ()
        self._grip: tuple[Fraction, Fraction] | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    def show_places(self, laying: Laying | None, places: Places) -> None:
        """Show another layout; stay on the same sheet if it still exists."""
        self.laying, self.places = laying, places
        self.sheet = max(0, min(self.sheet, len(places) - 1))
        count = len(places[self.sheet]) if places else 0
        self.chosen = None if self.chosen is None or self.chosen >= count else self.chosen
        self.update()

    def show_sheet(self, image: QImage, drawn: tuple[Place, ...]) -> None:
        """Show a sheet's picture, and remember the print positions in it."""
        self._drawn = drawn
        self.show_image(image)

    @property
    def place(self) -> Place | None:
        """The selected print."""
        if self.chosen is None or not self.places:
            return None
        return self.places[self.sheet][self.chosen]

    def turn_page(self, by: int) -> None:
        """Show another sheet."""
        goal = max(0, min(self.sheet + by, len(self.places) - 1))
        if goal != self.sheet:
            self.sheet, self.chosen, self.image = goal, None, None
            self._told()
            self.update()

    def turn_print(self) -> None:
        """Rotate the selected print by 90°."""
        if self.chosen is not None and self.laying is not None:
            self._take(moving.turn_print(self.places, self.sheet, self.chosen, self.laying))

    # Positions.

    def _lie(self) -> tuple[QRectF, float]:
        """Return the sheet's rectangle on the screen, and screen px per mm."""
        assert self.laying is not None
        wide, high = (float(side) for side in page_mm(self.laying, self.places[self.sheet]))
        scale = min((self.width() - 32) / wide, (self.height() - 32) / high)
        box = QRectF(0, 0, wide * scale, high * scale)
        box.moveCenter(QRectF(self.rect()).center())
        return box, scale

    def box_of(self, place: Place) -> QRectF:
        """Return a print's rectangle on the screen."""
        sheet, scale = self._lie()
        return QRectF(
            sheet.left() + float(place.left) * scale,
            sheet.top() + float(place.top) * scale,
            float(place.width) * scale,
            float(place.height) * scale,
        )

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(self.rect(), QColor(theme.tones().zinc))
        if self.laying is None or not self.places:
            return
        sheet, _ = self._lie()
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.fillRect(sheet, QColor("#ffffff"))
        now = self.places[self.sheet]
        if self.image is not None:
            painter.drawImage(sheet, self.image)
            # Prints moved since the picture was made are drawn at their new positions.
            if len(self._drawn) == len(now):
                gone = [pair for pair in zip(self._drawn, now, strict=True) if pair[0] != pair[1]]
                for old, new in gone:
                    self._move_part(painter, sheet, old, new)
        accent = QColor(theme.tones().accent)
        for at, place in enumerate(now):
            box = self.box_of(place)
            if self.image is None:
                painter.setPen(QPen(QColor("#b9b9b6"), 1))
                painter.drawRect(box)
            if at == self.chosen:
                painter.setPen(QPen(accent, 2))
                painter.drawRect(box.adjusted(-1, -1, 1, 1))

    def _move_part(self, painter: QPainter, sheet: QRectF, old: Place, new: Place) -> None:
        assert self.image is not None
        was, now = self.box_of(old), self.box_of(new)
        painter.fillRect(was, QColor("#ffffff"))
        if old.turned != new.turned:
            painter.fillRect(now, QColor("#d9d9d7"))
            return
        per = self.image.width() / sheet.width()
        part = QRectF(
            (was.left() - sheet.left()) * per,
            (was.top() - sheet.top()) * per,
            was.width() * per,
            was.height() * per,
        )
        painter.drawImage(now, self.image, part)

    # by hand

    def _at(self, point: QPointF) -> int | None:
        if self.laying is None or not self.places:
            return None
        row = self.places[self.sheet]
        hits = [at for at, place in enumerate(row) if self.box_of(place).contains(point)]
        return hits[-1] if hits else None

    def _mm(self, point: QPointF) -> tuple[Fraction, Fraction]:
        sheet, scale = self._lie()
        return (
            Fraction(round((point.x() - sheet.left()) / scale * 10), 10),
            Fraction(round((point.y() - sheet.top()) / scale * 10), 10),
        )

    @refusable
    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self.chosen = self._at(event.position())
        if self.place is not None:
            x, y = self._mm(event.position())
            self._grip = x - self.place.left, y - self.place.top
        self._told()
        self.update()

    @refusable
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._grip is None or self.chosen is None or self.laying is None:
            return
        x, y = self._mm(event.position())
        self.places = moving.move_print(
            self.places,
            self.sheet,
            self.chosen,
            x - self._grip[0],
            y - self._grip[1],
            self.laying,
            moving.SNAP_MM,
        )
        self._told()
        self.update()

    @refusable
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grip is not None:
            self._grip = None
            if self.places[self.sheet] != self._drawn:
                self._changed(self.places)

    @refusable
    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = Qt.Key(event.key())
        shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
        if self.laying is None or not self.places:
            super().keyPressEvent(event)
        elif key in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown):
            by = 1 if key == Qt.Key.Key_PageDown else -1
            if shift and self.chosen is not None:
                self._to_sheet(self.sheet + by)
            else:
                self.turn_page(by)
        elif key == Qt.Key.Key_Space:
            count = len(self.places[self.sheet])
            self.chosen = ((-1 if self.chosen is None else self.chosen) + 1) % count
            self._told()
            self.update()
        elif key in ARROWS and self.place is not None:
            step = _FINE_MM if shift else _STEP_MM
            right, down = ARROWS[key]
            left, top = self.place.left + right * step, self.place.top + down * step
            assert self.chosen is not None
            self._take(
                moving.move_print(self.places, self.sheet, self.chosen, left, top, self.laying)
            )
        elif key == Qt.Key.Key_R and self.chosen is not None:
            self.turn_print()
        else:
            super().keyPressEvent(event)

    def _to_sheet(self, goal: int) -> None:
        assert self.laying is not None and self.chosen is not None
        places, number = moving.move_to_sheet(
            self.places, self.sheet, self.chosen, goal, self.laying
        )
        if places != self.places:
            self.sheet, self.chosen, self.image = number, len(places[number]) - 1, None
            self._take(places)

    def _take(self, places: Places) -> None:
        self.places = places
        self._told()
        self.update()
        self._changed(places)
