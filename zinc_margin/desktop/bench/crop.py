"""The bench for Crop: the picture, its frame, and the trimmed part."""

from __future__ import annotations

from collections.abc import Iterator
from fractions import Fraction
from functools import partial

from PySide6.QtCore import QLineF, QPoint, QPointF, QRectF, QSizeF, Qt, QTimer
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent, QPainter, QWheelEvent

from zinc_margin.desktop.bench.canvas import ARROWS, Canvas, fit
from zinc_margin.desktop.bench.crop_painting import CropPainting
from zinc_margin.desktop.model.events import DocketChanged, PixelsChanged, UnitsChanged, ViewChanged
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.widgets.context_menus import Entry, with_menu
from zinc_margin.desktop.widgets.refusals import refusable
from zinc_margin.docket.crop import Frame
from zinc_margin.measure.errors import ZincError
from zinc_margin.plan.crop import framing, turns

_NEAR = 14
"""Distance, in px, within which a corner or side can be dragged."""
_SNAP = 9.0
_DRAWN, _DRAWN_ANEW = 8.0, 24.0
"""Movement, in px, from which a drag draws a new frame, and one that replaces a frame that was
moved by hand.
"""
_ANCHORED = {
    "top-left": Qt.CursorShape.SizeFDiagCursor,
    "bottom-right": Qt.CursorShape.SizeFDiagCursor,
    "top-right": Qt.CursorShape.SizeBDiagCursor,
    "bottom-left": Qt.CursorShape.SizeBDiagCursor,
    "left": Qt.CursorShape.SizeHorCursor,
    "right": Qt.CursorShape.SizeHorCursor,
    "top": Qt.CursorShape.SizeVerCursor,
    "bottom": Qt.CursorShape.SizeVerCursor,
    "inside": Qt.CursorShape.SizeAllCursor,
}
_ALT, _SHIFT = Qt.KeyboardModifier.AltModifier, Qt.KeyboardModifier.ShiftModifier
_CTRL = Qt.KeyboardModifier.ControlModifier


class CropBench(Canvas):
    """Drag the frame, its corners and sides; draw a new one; level the picture; mark the subject.

    Attributes
    ----------
    mode : str
        Empty; ``level`` while a level line is drawn; ``mark`` while the subject is marked.
    """

    watches = (DocketChanged, PixelsChanged, UnitsChanged, ViewChanged)
    reads = frozenset({"photo", "size", "crop", "finish"})

    def __init__(self, table: Table) -> None:
        super().__init__(table)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setMouseTracking(True)
        self.setAccessibleName("Crop frame; arrow keys move it by one pixel, with Shift by ten")
        self.mode = ""
        self.line: QLineF | None = None
        self.pointer: QPointF | None = None
        self.bare = False
        self.grip = ""
        self._from = QPointF()
        self._frame: Frame | None = None
        self._angle: tuple[Print, Fraction] | None = None
        self.turning = QTimer(self)
        self.turning.setSingleShot(True)
        self.turning.setInterval(1200)
        self.turning.timeout.connect(self.update)
        self._painting = CropPainting(self)
        with_menu(self, self._menu)

    # Positions.

    def room(self, one: Print) -> tuple[QRectF, float]:
        """Return the rotated picture's rectangle, and screen px per picture px."""
        plan = one.plan()
        box_w, box_h = (float(side) for side in plan.turned.box)
        whole = QRectF(self.rect()).adjusted(64, 48, -64, -76)
        if one.docket.crop.fit == "trim":
            box = fit(box_w, box_h, whole)
            return box, box.width() / box_w
        # The sheet around a whole picture must also be visible.
        left, top, width, _ = plan.picture
        per_px = float(plan.crop.width) / width
        sheet = fit(plan.pixels.width, plan.pixels.height, whole)
        scale = sheet.width() / (plan.pixels.width * per_px)
        corner = sheet.topLeft() + QPointF(
            (left * per_px - float(plan.crop.left)) * scale,
            (top * per_px - float(plan.crop.top)) * scale,
        )
        return QRectF(corner, QSizeF(box_w * scale, box_h * scale)), scale

    def rect_of(self, one: Print, frame: Frame) -> QRectF:
        """Return a frame's rectangle on the bench."""
        box, scale = self.room(one)
        return QRectF(
            box.left() + float(frame.left) * scale,
            box.top() + float(frame.top) * scale,
            float(frame.width) * scale,
            float(frame.height) * scale,
        )

    def frame_rect(self) -> QRectF:
        """Return the current frame's rectangle on the bench."""
        one = self.table.current
        assert one is not None
        plan = one.plan()
        if one.docket.crop.fit != "trim":
            return self.rect_of(one, plan.crop)
        return self.rect_of(one, framing.current_frame(plan))

    def mark_at(self, one: Print) -> tuple[float, float] | None:
        """Return the subject's place in the rotated picture, in its pixels."""
        subject = one.facts.subject
        return None if subject is None else one.plan().turned.turned_place(subject)

    def _place(self, one: Print, at: QPointF) -> tuple[float, float]:
        """Map a point of the bench to the rotated picture."""
        box, scale = self.room(one)
        return (at.x() - box.left()) / scale, (at.y() - box.top()) / scale

    def paint(self, painter: QPainter, one: Print) -> None:
        turn = one.docket.crop.turn
        if self._angle is not None and self._angle[0] is one and self._angle[1] != turn:
            self.turning.start()
        self._angle = (one, turn)
        self._painting.paint(painter, one)

    # modes

    def begin(self, mode: str) -> None:
        """Begin to draw a level line or mark the subject, or cancel that mode."""
        self.mode = "" if mode == self.mode else mode
        self.line = None
        self.setCursor(Qt.CursorShape.CrossCursor if self.mode else Qt.CursorShape.ArrowCursor)
        self.setFocus()
        self.update()

    def leave(self) -> bool:
        """Leave a mode; return whether one was active."""
        had = bool(self.mode)
        self.mode, self.line = "", None
        self.update()
        return had

    def _put_mark(self, one: Print, at: QPointF) -> None:
        x, y = self._place(one, at)
        share = one.plan().turned.share_of(x, y)
        self.leave()
        if all(0 <= part <= 1 for part in share):
            try:
                self.table.put_mark((share[0], share[1]))
            except ZincError as why:
                self.table.say(why)

    # hands

    def _grip_at(self, one: Print, place: QPointF) -> str:
        if one.docket.crop.fit != "trim":
            return ""
        frame = self.frame_rect()
        corners = (frame.topLeft(), frame.topRight(), frame.bottomLeft(), frame.bottomRight())
        for name, corner in zip(framing.CORNERS, corners, strict=True):
            if (corner - place).manhattanLength() < 1.6 * _NEAR:
                return name
        across = frame.left() < place.x() < frame.right()
        down = frame.top() < place.y() < frame.bottom()
        for name, off, beside in (
            ("left", place.x() - frame.left(), down),
            ("right", place.x() - frame.right(), down),
            ("top", place.y() - frame.top(), across),
            ("bottom", place.y() - frame.bottom(), across),
        ):
            if beside and abs(off) < _NEAR / 2:
                return name
        return "inside" if frame.contains(place) else "new"

    @refusable
    def mousePressEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None or event.button() != Qt.MouseButton.LeftButton:
            return
        place = event.position()
        if self.mode == "level":
            self.line = QLineF(place, place)
            return
        if self.mode == "mark":
            self._put_mark(one, place)
            return
        self.grip = self._grip_at(one, place)
        self._from = place
        if self.grip and self.grip != "new":
            self._frame = framing.current_frame(one.plan())
            self.table.begin_drag()

    @refusable
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None:
            return
        place = event.position()
        self.pointer = place
        if self.mode:
            if self.line is not None:
                self.line.setP2(place)
            self.update()
            return
        if not self.grip:
            plain = Qt.CursorShape.ArrowCursor
            self.setCursor(_ANCHORED.get(self._grip_at(one, place), plain))
            return
        if self.grip == "new" and self._frame is None:
            least = _DRAWN if one.docket.crop.frame is None else _DRAWN_ANEW
            if (place - self._from).manhattanLength() < least:
                return
            self._frame = framing.current_frame(one.plan())
            self.table.begin_drag()
        self.table.slide(framing.with_frame(one.plan(), self._pulled(one, place, event)))

    def _pulled(self, one: Print, place: QPointF, event: QMouseEvent) -> Frame:
        """Return the frame that results from the drag."""
        assert self._frame is not None
        plan = one.plan()
        _, scale = self.room(one)
        keys = event.modifiers()
        if self.grip == "new":
            return framing.frame_between(
                plan, self._place(one, self._from), self._place(one, place)
            )
        if self.grip == "inside":
            by = (place - self._from) / scale
            moved = framing.move(plan, self._frame, _exact(by.x()), _exact(by.y()))
            if keys & _SHIFT:
                return moved
            return framing.snap(plan, moved, _exact(_SNAP / scale), self.mark_at(one))
        x, y = self._place(one, place)
        return framing.stretch(plan, self._frame, self.grip, x, y, bool(keys & _ALT))

    @refusable
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is not None and self.line is not None:
            line, self.line = self.line, None
            if line.length() > _NEAR:
                ends = self._place(one, line.p1()), self._place(one, line.p2())
                self.leave()
                self.table.lay(turns.level(one.plan(), *ends))
            self.update()
            return
        if self.grip:
            if self._frame is not None:
                self.table.end_drag()
            self.grip, self._frame = "", None
            self.update()

    @refusable
    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is not None and one.docket.crop.fit == "trim" and not self.mode:
            self.table.decide("crop", frame=None)

    def leaveEvent(self, event: object) -> None:
        self.pointer = None
        self.update()

    @refusable
    def wheelEvent(self, event: QWheelEvent) -> None:
        one = self.table.current
        notches = event.angleDelta().y() or event.angleDelta().x()
        if one is None or not notches:
            return
        plan = one.plan()
        if event.modifiers() & _CTRL:
            step = Fraction(1 if notches > 0 else -1, 10)
            self.table.lay(turns.rotate_to(plan, one.docket.crop.turn + step))
        elif one.docket.crop.fit == "trim":
            times = Fraction(100, 104) if notches > 0 else Fraction(104, 100)
            frame = framing.scale_frame(plan, framing.current_frame(plan), times)
            self.table.lay(framing.with_frame(plan, frame))

    @refusable
    def keyPressEvent(self, event: QKeyEvent) -> None:
        one = self.table.current
        if event.key() == Qt.Key.Key_Space:
            self.bare = True
            self.update()
            return
        step = ARROWS.get(Qt.Key(event.key()))
        if one is not None and self.mode == "mark" and self._mark_by_key(one, event):
            return
        if one is None or step is None or one.docket.crop.fit != "trim":
            super().keyPressEvent(event)
            return
        times = 10 if event.modifiers() & _SHIFT else 1
        plan = one.plan()
        frame = framing.current_frame(plan)
        moved = framing.move(plan, frame, Fraction(step[0] * times), Fraction(step[1] * times))
        self.table.lay(framing.with_frame(plan, moved))

    def _mark_by_key(self, one: Print, event: QKeyEvent) -> bool:
        """Move the subject point by a hundredth (Shift: a twentieth); Return accepts it."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            return self.leave()
        step = ARROWS.get(Qt.Key(event.key()))
        if step is None:
            return False
        by = Fraction(1, 20 if event.modifiers() & _SHIFT else 100)
        x, y = one.facts.subject or (Fraction(1, 2), Fraction(1, 2))
        place = tuple(
            min(Fraction(1), max(Fraction(0), at + by * way))
            for at, way in zip((x, y), step, strict=True)
        )
        try:
            self.table.put_mark((place[0], place[1]))
        except ZincError as why:
            self.table.say(why)
        return True

    def _menu(self, at: QPoint) -> Iterator[Entry]:
        """Yield the actions for this place."""
        one = self.table.current
        if one is None:
            return
        yield "Put the subject point here", partial(self._put_mark, one, QPointF(at))
        yield (
            "Remove the subject point",
            None if one.facts.subject is None else partial(self.table.put_mark, None),
        )
        yield "Straighten along a line", partial(self.begin, "level")
        yield "", None
        whole = one.docket.crop.frame is None
        yield "The largest frame", None if whole else partial(self.table.decide, "crop", frame=None)
        level = one.docket.crop.turn == 0
        yield "Level again", None if level else partial(self.table.decide, "crop", turn=Fraction(0))

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Space and not event.isAutoRepeat():
            self.bare = False
            self.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        self.bare = False
        self.update()


def _exact(value: float) -> Fraction:
    return Fraction(round(value * 1000), 1000)
