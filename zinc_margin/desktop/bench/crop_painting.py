"""Draw the crop: picture, frame, trimmed part, guides, and the consequence."""

from __future__ import annotations

from fractions import Fraction
from typing import Protocol

from PySide6.QtCore import QLineF, QPointF, QRect, QRectF, Qt, QTimer
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QPainter, QPen, QPixmap

from zinc_margin.desktop.bench.canvas import fill_around, halo_text, paint_unseen, part_of, shadow
from zinc_margin.desktop.bench.guides import guide_lines, paint_lines
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import turned_picture
from zinc_margin.measure import words
from zinc_margin.plan.crop.turns import lean_of
from zinc_margin.plan.finish.preview import seen_of_print
from zinc_margin.plan.text.lines import live, side_words, trims_visibly

_TOLD = {
    "level": "Draw a line along something that should be horizontal or vertical. Esc cancels.",
    "mark": "Click on the subject: frames of other sizes will keep its place. Esc cancels.",
}
_TONES = {"light": "#ececec", "mid": "#777777", "dark": "#262626"}


class CropStage(Protocol):
    """What painting needs from the bench."""

    table: Table
    bare: bool
    grip: str
    mode: str
    pointer: QPointF | None
    line: QLineF | None
    turning: QTimer

    def room(self, one: Print) -> tuple[QRectF, float]:
        """Return the picture's rectangle, and widget pixels per picture pixel."""

    def frame_rect(self) -> QRectF:
        """Return the frame's rectangle."""

    def mark_at(self, one: Print) -> tuple[float, float] | None:
        """Return the subject's place."""

    def rect(self) -> QRect:
        """Return the widget's rectangle."""

    def width(self) -> int:
        """Return the widget's width."""

    def height(self) -> int:
        """Return the widget's height."""

    def hasFocus(self) -> bool:
        """Return whether the widget has keyboard focus."""

    def devicePixelRatioF(self) -> float:
        """Return device pixels per widget pixel."""


class CropPainting:
    """Paints a crop bench; it caches the rotated picture at the bench's size."""

    def __init__(self, bench: CropStage) -> None:
        self.bench = bench
        self._kept: tuple[tuple[object, ...], QPixmap] | None = None

    def paint(self, painter: QPainter, one: Print) -> None:
        """Draw everything."""
        bench, view = self.bench, self.bench.table.view
        plan = one.plan()
        box, _ = bench.room(one)
        ground = QColor(_TONES.get(view.surround, theme.tones().zinc))
        if view.surround in _TONES:
            painter.fillRect(bench.rect(), ground)
        frame = bench.frame_rect()
        trims = one.docket.crop.fit == "trim"
        plain = view.surround == "none" or bench.bare
        if plan.turned.square and not (trims and view.off == "hidden"):
            shadow(painter, box)
        self._paint_picture(painter, one, box, frame, ground, plain or not trims)
        if not trims:
            self._paint_sheet(painter, one, frame)
        elif not bench.bare:
            self._paint_frame(painter, frame)
            self._paint_unseen(painter, one, frame)
        if not bench.bare:
            self._paint_guides(painter, one, frame, trims)
            self._paint_cuts(painter, one, box, frame)
            self._paint_mark(painter, one)
        self._paint_line(painter, box)
        self._paint_live(painter, one)

    # the picture

    def _paint_picture(
        self, painter: QPainter, one: Print, box: QRectF, frame: QRectF, ground: QColor, plain: bool
    ) -> None:
        picture = self._picture(one, box, False)
        if picture is None:
            return
        off = self.bench.table.view.off
        if plain:
            painter.drawPixmap(box.topLeft(), picture)
            return
        if off == "grey":
            grey = self._picture(one, box, True)
            assert grey is not None
            painter.setOpacity(0.75)
            painter.drawPixmap(box.topLeft(), grey)
            painter.setOpacity(1)
        elif off == "tinted":
            painter.drawPixmap(box.topLeft(), picture)
            veil = QColor(ground)
            veil.setAlpha(175)
            fill_around(painter, box.adjusted(-1, -1, 1, 1), frame, veil)
        if off != "tinted":
            painter.save()
            painter.setClipRect(frame)
            painter.drawPixmap(box.topLeft(), picture)
            painter.restore()

    def _picture(self, one: Print, box: QRectF, grey: bool) -> QPixmap | None:
        """Return the rotated picture at screen size; it is cached until it changes."""
        plan = one.plan()
        ratio = self.bench.devicePixelRatioF()
        key = (id(one.preview), plan.turned, box.width(), box.height(), ratio, grey)
        stored = self._kept
        if stored is not None and stored[0] == key:
            return stored[1]
        picture = turned_picture(one, plan, box.size(), ratio)
        if picture is None:
            return None
        if grey:
            kind = QImage.Format.Format_Grayscale8
            tones = picture.toImage()
            alpha = tones.convertToFormat(QImage.Format.Format_Alpha8)
            plain = tones.convertToFormat(kind).convertToFormat(QImage.Format.Format_ARGB32)
            plain.setAlphaChannel(alpha)
            picture = QPixmap.fromImage(plain)
        picture.setDevicePixelRatio(ratio)
        if not grey:
            self._kept = (key, picture)
        return picture

    # the frame

    def _paint_frame(self, painter: QPainter, frame: QRectF) -> None:
        accent = QColor(theme.tones().accent)
        painter.setPen(QPen(QColor(255, 255, 255, 200), 3))
        painter.drawRect(frame)
        painter.setPen(QPen(accent, 2))
        painter.drawRect(frame)
        painter.setPen(QPen(accent, 4))
        arm = min(18.0, frame.width() / 4, frame.height() / 4)
        for x, sx in ((frame.left(), 1), (frame.right(), -1)):
            for y, sy in ((frame.top(), 1), (frame.bottom(), -1)):
                painter.drawLine(QPointF(x, y), QPointF(x + sx * arm, y))
                painter.drawLine(QPointF(x, y), QPointF(x, y + sy * arm))
            painter.drawLine(
                QPointF(x, frame.center().y() - arm / 2), QPointF(x, frame.center().y() + arm / 2)
            )
        for y in (frame.top(), frame.bottom()):
            painter.drawLine(
                QPointF(frame.center().x() - arm / 2, y), QPointF(frame.center().x() + arm / 2, y)
            )
        if self.bench.hasFocus():
            painter.setPen(QPen(QColor(theme.tones().ink), 1, Qt.PenStyle.DotLine))
            painter.drawRect(frame.adjusted(-5, -5, 5, 5))

    def _paint_sheet(self, painter: QPainter, one: Print, picture: QRectF) -> None:
        """Draw the sheet around a whole picture: its bands or border, in true proportion."""
        plan = one.plan()
        left, top, width, _ = plan.picture
        scale = picture.width() / width
        sheet = QRectF(
            picture.left() - left * scale,
            picture.top() - top * scale,
            plan.pixels.width * scale,
            plan.pixels.height * scale,
        )
        fill_around(painter, sheet, picture, QColor("#ffffff"))
        painter.setPen(QPen(QColor(theme.tones().accent), 2))
        painter.drawRect(sheet)

    def _safe(self, one: Print, frame: QRectF) -> QRectF | None:
        """Return the part that a mat or a borderless driver leaves visible."""
        plan = one.plan()
        return part_of(frame, seen_of_print(plan)) if plan.unseen_mm.any else None

    def _paint_unseen(self, painter: QPainter, one: Print, frame: QRectF) -> None:
        """Draw the part of the print that is printed but hidden."""
        safe = self._safe(one, frame)
        if safe is None:
            return
        paint_unseen(painter, frame, safe)
        plan, units = one.plan(), self.bench.table.units
        what = "under the mat" if plan.mat is not None else "past the paper"
        painter.setFont(theme.sans(12, bold=True))
        says = f"{words.small(plan.unseen_mm.left, units)} {what}"
        halo_text(painter, safe.topLeft() + QPointF(6, 16), says)

    # guides

    def _paint_guides(self, painter: QPainter, one: Print, frame: QRectF, trims: bool) -> None:
        bench, view = self.bench, self.bench.table.view
        if not trims:
            return
        if bench.turning.isActive():
            paint_lines(painter, guide_lines("fine", frame, view.grid, None, None), faint=True)
            return
        kind = view.guide
        if kind == "moving":
            kind = "thirds" if bench.grip else "none"
        safe = self._safe(one, frame)
        paint_lines(painter, guide_lines(kind, frame, view.grid, self._mark(one), safe))

    def _mark(self, one: Print) -> QPointF | None:
        result = self.bench.mark_at(one)
        if result is None:
            return None
        box, scale = self.bench.room(one)
        return QPointF(box.left() + result[0] * scale, box.top() + result[1] * scale)

    def _paint_mark(self, painter: QPainter, one: Print) -> None:
        at = self._mark(one)
        if at is None:
            return
        for tone, wide in (("#ffffff", 4), (theme.tones().accent, 2)):
            painter.setPen(QPen(QColor(tone), wide))
            painter.drawLine(at - QPointF(9, 0), at + QPointF(9, 0))
            painter.drawLine(at - QPointF(0, 9), at + QPointF(0, 9))

    def _paint_line(self, painter: QPainter, box: QRectF) -> None:
        """Draw the level line, and a cross to check it against."""
        bench = self.bench
        if not bench.mode:
            return
        painter.setFont(theme.sans(13, bold=True))
        if bench.mode != "level":
            return
        at = bench.pointer
        if bench.line is None and at is not None:
            cross = [
                QLineF(box.left(), at.y(), box.right(), at.y()),
                QLineF(at.x(), box.top(), at.x(), box.bottom()),
            ]
            paint_lines(painter, cross, faint=True)
        if bench.line is not None:
            for tone, wide in (("#ffffff", 4), (theme.tones().accent, 2)):
                painter.setPen(QPen(QColor(tone), wide))
                painter.drawLine(bench.line)
            ends = bench.line.p1(), bench.line.p2()
            lean = lean_of((ends[0].x(), ends[0].y()), (ends[1].x(), ends[1].y()))
            says = f"{words.trimmed_zeros(lean, 2)}°"
            halo_text(painter, bench.line.p2() + QPointF(12, -8), says)

    # figures

    def _paint_cuts(self, painter: QPainter, one: Print, box: QRectF, frame: QRectF) -> None:
        """Write along each side the trimmed length, or the width of the band."""
        plan, units = one.plan(), self.bench.table.units
        painter.setFont(theme.sans(13, bold=True))
        metrics = QFontMetricsF(painter.font())
        trims = one.docket.crop.fit == "trim"
        cut, part = (plan.trimmed_mm, plan.trimmed_part) if trims else (plan.bands_mm, None)
        if not plan.turned.square and trims:
            says = f"rotation and shape trim {words.share(plan.trimmed_share)}"
            halo_text(painter, QPointF(frame.left() + 8, frame.bottom() + 22), says)
            return
        for name in ("left", "right", "top", "bottom"):
            length = getattr(cut, name)
            if length < Fraction(1, 20) or (trims and not trims_visibly(plan)):
                continue
            says = side_words(plan, length, units)
            says += (
                f" trimmed, {words.share(getattr(part, name))}" if part is not None else " white"
            )
            wide = metrics.horizontalAdvance(says)
            if name in ("top", "bottom"):
                gap = (
                    (box.top() + frame.top()) / 2
                    if name == "top"
                    else (box.bottom() + frame.bottom()) / 2
                )
                y = (
                    min(gap + 5, frame.top() - 8)
                    if name == "top"
                    else max(gap + 5, frame.bottom() + 18)
                )
                halo_text(painter, QPointF(frame.center().x() - wide / 2, y), says)
            else:
                painter.save()
                middle = (
                    min((box.left() + frame.left()) / 2, frame.left() - 12)
                    if name == "left"
                    else max((box.right() + frame.right()) / 2, frame.right() + 12)
                )
                painter.translate(round(middle), round(frame.center().y()))
                painter.rotate(-90)
                halo_text(painter, QPointF(-wide / 2, 5), says)
                painter.restore()

    def _paint_live(self, painter: QPainter, one: Print) -> None:
        """Write the print's figures below the picture while the frame moves."""
        t = theme.tones()
        strip = QRectF(0, self.bench.height() - 34, self.bench.width(), 34)
        painter.fillRect(strip, QColor(t.panel))
        painter.setPen(QColor(t.rule))
        painter.drawLine(strip.topLeft(), strip.topRight())
        painter.setFont(theme.sans(13))
        painter.setPen(QColor(t.ink))
        text = _TOLD.get(self.bench.mode) or live(one.plan(), self.bench.table.units)
        shown = painter.fontMetrics().elidedText(
            text, Qt.TextElideMode.ElideRight, int(strip.width()) - 32
        )
        painter.drawText(strip.adjusted(16, 0, -16, 0), Qt.AlignmentFlag.AlignVCenter, shown)
