"""The bench for Finish and File: the finished sheet."""

from __future__ import annotations

from fractions import Fraction

import numpy as np
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QFontMetricsF, QImage, QMouseEvent, QPainter, QPen
from PySide6.QtWidgets import QHBoxLayout, QWidget

from zinc_margin.desktop.bench import finish_views as views
from zinc_margin.desktop.bench.canvas import (
    RULER,
    Canvas,
    fill_around,
    fit,
    paint_unseen,
    part_of,
    ruler,
    shadow,
)
from zinc_margin.desktop.model.events import (
    DocketChanged,
    FileNameChanged,
    PixelsChanged,
    UnitsChanged,
    ViewChanged,
)
from zinc_margin.desktop.model.table import Print, Table
from zinc_margin.desktop.services.shell import Shell
from zinc_margin.desktop.services.work import Lane
from zinc_margin.desktop.widgets import theme
from zinc_margin.desktop.widgets.imaging import paint_print
from zinc_margin.desktop.widgets.parts import Link, Switch, image_of
from zinc_margin.desktop.widgets.refusals import refusable
from zinc_margin.handoff import conversion
from zinc_margin.keeping.job import Job
from zinc_margin.measure import words
from zinc_margin.photo.pixels import Photo
from zinc_margin.pixels.display import Screen
from zinc_margin.pixels.sheets import page_of
from zinc_margin.plan.finish.moving import place_picture
from zinc_margin.plan.finish.preview import print_on_page, seen_of_print
from zinc_margin.plan.model import Plan
from zinc_margin.plan.parts import Mat
from zinc_margin.plan.text.lines import file_kind
from zinc_margin.plan.text.printing_notes import slip

_SMALL = 1300
_FIGURES = (("standing", "someone standing"), ("seated", "seated"), ("door", "a door"))


def _for_screen(
    photo: Photo, plan: Plan, codes: np.ndarray, proof: str
) -> tuple[np.ndarray, float | None]:
    """Return a page for the screen, and the share of it that is out of gamut."""
    plain = Screen(photo.colour, codes.dtype).show(codes)
    if plan.file.colour == "own":
        return plain, None
    goal_ = conversion.goal_of(plan, photo.colour)
    gone = conversion.out_of_gamut(codes, photo.colour, goal_)
    if proof == "proof":
        line = plan.docket.file
        there = conversion.soft_proof(codes, photo.colour, goal_, line.intent, line.black_point)
        plain = plain.copy()
        plain[..., :3] = there[..., ::-1]
    elif proof == "gamut":
        plain = views.highlight(plain, gone)
    return plain, float(gone.mean())


def _floats(pair: tuple[Fraction, Fraction]) -> tuple[float, float]:
    return float(pair[0]), float(pair[1])


def _centre(box: QRectF, size_mm: tuple[float, float], scale: float) -> QRectF:
    result = QRectF(0, 0, size_mm[0] * scale, size_mm[1] * scale)
    result.moveCenter(box.center())
    return result


class SheetBench(Canvas):
    """The finished sheet in true proportion; on a wall, folded, in pieces; its printing notes.

    Attributes
    ----------
    view : str
        ``sheet``, ``wall``, ``folded``, ``pieces`` or ``slip``.
    image : QImage or None
        A small rendering of the finished sheet.
    """

    watches = (DocketChanged, FileNameChanged, PixelsChanged, UnitsChanged, ViewChanged)

    def __init__(self, table: Table, shell: Shell) -> None:
        self._goal = shell.goal
        super().__init__(table)
        self.view, self.figure = "sheet", "standing"
        self.image: QImage | None = None
        self.lane = Lane()
        self._key: object = None
        self._folds = False
        self._grip: tuple[QPointF, float, float] | None = None
        self.setMouseTracking(True)
        self.views = Switch(
            "Show",
            (
                ("sheet", "the sheet"),
                ("wall", "on the wall"),
                ("folded", "folded"),
                ("pieces", "in pieces"),
                ("slip", "for the printer"),
            ),
            self.show_view,
        )
        self.figures = Switch("Next to it", _FIGURES, self._take_figure)
        self.own_wall = Link("on your own wall …", self.hang, "In a photograph of the room")
        self.proofs = Switch(
            "Colours",
            (
                ("plain", "the photo's colours"),
                ("proof", "after conversion"),
                ("gamut", "out of gamut"),
            ),
            self._take_proof,
        )
        self.proof = "plain"
        self.out_of_gamut: float | None = None
        bar = QWidget(self)
        row = QHBoxLayout(bar)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(18)
        row.addWidget(self.views)
        row.addWidget(self.figures)
        row.addWidget(self.own_wall)
        row.addWidget(self.proofs)
        self._bar = bar
        bar.move(16, 10)
        self.views.show_value("sheet")
        self.figures.show_value("standing")
        self.proofs.show_value("plain")

    def show_view(self, view: str) -> None:
        """Show the sheet in another view."""
        self.view = view
        self.refresh()

    def _take_proof(self, proof: str) -> None:
        self.proof = proof
        self.refresh()

    def hang(self) -> None:
        """Hang the print on a photographed wall."""
        from zinc_margin.desktop.dialogs.wall import WallDialog

        if self.table.current is not None:
            WallDialog(self.window(), self.table.current, self.table.units).open()

    def _take_figure(self, figure: str) -> None:
        self.figure = figure
        self.update()

    def refresh(self) -> None:
        """Update the bench; the small picture of the sheet follows."""
        one = self.table.current
        if one is not None:
            plan = one.plan()
            sheet = plan.sheet
            folds = sheet is not None and sheet.side_mm > 0
            for view, there in (("folded", folds), ("pieces", plan.pieces is not None)):
                self.views.button(view).setVisible(there)
                if self.view == view and not there:
                    self.view = "sheet"
            if folds and not self._folds:
                self.view = "folded"  # a canvas has just been chosen
            self._folds = folds
            if self.table.view.picking:
                self.view = "sheet"
            finishing = self.table.line == "finish"
            proofs = not finishing and plan.file.colour != "own"
            self._bar.setVisible(finishing or proofs)
            self.views.setVisible(finishing)
            self.proofs.setVisible(proofs)
            self.views.show_value(self.view)
            self.figures.setVisible(finishing and self.view == "wall")
            self.own_wall.setVisible(finishing and self.view == "wall")
            self._bar.adjustSize()
            picking = self.table.view.picking and finishing
            shape = Qt.CursorShape.CrossCursor if picking else Qt.CursorShape.ArrowCursor
            self.setCursor(shape)
            self._render(one, plan)
        self.update()

    def _render(self, one: Print, plan: Plan) -> None:
        """Render the finished sheet small, in the background."""
        photo = one.photo
        docket = plan.docket
        proof = "plain" if self.table.line == "finish" else self.proof
        file = docket.file
        goal_ = (plan.file.colour, file.profile, file.intent, file.black_point, proof)
        key = (
            id(one),
            id(photo),
            docket.photo,
            docket.crop,
            docket.finish,
            plan.size,
            plan.whole,
            goal_,
        )
        if photo is None or key == self._key:
            return
        if self._key is not None and self._key[0] != id(one):  # type: ignore[index]
            self.image = None
        self._key = key

        def work(job: Job) -> tuple[np.ndarray, float | None]:
            page = page_of(photo, plan.small(_SMALL))
            height, width, _ = page.shape
            codes = page.region(0, 0, width, height, job)
            return _for_screen(photo, plan, codes, proof)

        def done(result: tuple[np.ndarray, float | None]) -> None:
            self.image, self.out_of_gamut = image_of(result[0]), result[1]
            self.update()

        self.lane.run(work, done)

    def paint(self, painter: QPainter, one: Print) -> None:
        plan, units = one.plan(), self.table.units
        view = self.view if self.table.line == "finish" else "sheet"
        room = QRectF(self.rect()).adjusted(0, 48, 0, -100)
        image = self.image
        if view == "slip":
            views.paint_slip(painter, room, slip(plan, self._goal(one, plan).name, units))
        elif view == "wall" and image is not None:
            views.paint_wall(painter, room, plan, image, self.figure, units)
        elif view == "folded" and image is not None:
            views.paint_folded(painter, room, plan, image)
        else:
            self._paint_flat(painter, one, plan, view == "pieces")
        self._paint_told(painter, one, plan)

    def _paint_flat(self, painter: QPainter, one: Print, plan: Plan, in_pieces: bool) -> None:
        units = self.table.units
        box, scale = self._lie(plan)
        mat, page = plan.mat, self._page(plan)
        print_ = self.print_rect(plan)
        framed = mat is not None and mat.frame is not None
        shadow(painter, box if framed else page)
        if mat is not None and mat.reveal >= 0:
            painter.fillRect(_centre(box, _floats(mat.opening), scale), QColor("#ffffff"))
        soft_proof = self.image is not None and self.table.line == "file" and self.proof != "plain"
        if plan.sheet is None and not soft_proof:
            paint_print(painter, one, plan, page)
        elif self.image is not None:
            painter.drawImage(page, self.image)
        elif plan.sheet is not None:
            painter.fillRect(page, QColor(plan.sheet.tone))
            paint_print(painter, one, plan, print_)
        if in_pieces and self.image is not None:
            views.paint_pieces(painter, page, plan, self.image)
        elif mat is not None:
            self._paint_mat(painter, box, page, mat, scale)
        elif plan.unseen_mm.any:
            paint_unseen(painter, print_, part_of(print_, seen_of_print(plan)))
        if plan.sheet is not None and not in_pieces:
            self._paint_over(painter, plan, page, print_, scale)
        if plan.maker.for_screen:
            return  # a screen has no centimetres
        around = box if framed else page
        gap = 16 if framed else 10
        upright = QPointF(around.left() - gap, page.bottom())
        ruler(painter, upright, page.height(), scale, units, True)
        lying = QPointF(page.left(), around.bottom() + gap)
        ruler(painter, lying, page.width(), scale, units, False)

    def _lie(self, plan: Plan) -> tuple[QRectF, float]:
        """Return the outer rectangle of the flat view, and screen px per mm."""
        room = QRectF(self.rect()).adjusted(RULER + 28, 52, -44, -156)
        whole, mat = plan.whole, plan.mat
        outer = (float(whole.width_mm), float(whole.height_mm))
        if mat is not None:
            framed = mat.frame or mat.opening
            outer = (max(outer[0], float(framed[0])), max(outer[1], float(framed[1])))
        box = fit(*outer, room)
        return box, box.width() / outer[0]

    def print_rect(self, plan: Plan) -> QRectF:
        """Return the print's rectangle on the bench."""
        return part_of(self._page(plan), print_on_page(plan))

    def _paint_over(
        self, painter: QPainter, plan: Plan, page: QRectF, print_: QRectF, scale: float
    ) -> None:
        """Draw the printer's edge, the part lost there, and the folds."""
        sheet = plan.sheet
        assert sheet is not None
        accent = QPen(QColor(theme.tones().accent), 1, Qt.PenStyle.DashLine)
        if any(sheet.edges_mm):
            top, right, bottom, left = (float(mm) * scale for mm in sheet.edges_mm)
            inner = page.adjusted(left, top, -right, -bottom)
            if any(sheet.lost_mm):
                lost = QColor(255, 255, 255, 160)
                fill_around(painter, page, inner, lost)
                painter.setPen(accent)
            else:
                painter.setPen(QPen(QColor("#8d8d8a"), 1, Qt.PenStyle.DotLine))
            painter.drawRect(inner)
        if sheet.side_mm and self.image is not None:
            face = views.face_of(plan, self.image)
            by = page.width() / self.image.width()
            painter.setPen(accent)
            painter.drawRect(
                QRectF(
                    page.left() + face.left() * by,
                    page.top() + face.top() * by,
                    face.width() * by,
                    face.height() * by,
                )
            )

    # Dragging the picture on its sheet.

    @refusable
    def mousePressEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None or event.button() != Qt.MouseButton.LeftButton:
            return
        if self.table.view.picking:
            self._pick(one, event.position())
            return
        if not self._moves(one):
            return
        if self.print_rect(one.plan()).contains(event.position()):
            line = one.docket.finish
            self._grip = (event.position(), float(line.place_x), float(line.place_y))
            self.table.begin_drag()

    def _pick(self, one: Print, at: QPointF) -> None:
        """Use the picture's colour at this point for the canvas sides."""
        self.table.look(picking=False)
        page = self._page(one.plan())
        if self.image is None or not page.contains(at) or self.view != "sheet":
            return
        x = int((at.x() - page.left()) / page.width() * self.image.width())
        y = int((at.y() - page.top()) / page.height() * self.image.height())
        self.table.decide("finish", wrap_tone=self.image.pixelColor(x, y).name())

    def _page(self, plan: Plan) -> QRectF:
        """Return the page's rectangle on the bench."""
        box, scale = self._lie(plan)
        whole = plan.whole
        return _centre(box, (float(whole.width_mm), float(whole.height_mm)), scale)

    @refusable
    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        one = self.table.current
        if one is None or self._grip is None:
            return
        start, x, y = self._grip
        _, scale = self._lie(one.plan())
        by = (event.position() - start) / scale
        self.table.slide(place_picture(one.plan(), x, y, by.x(), by.y()))

    @refusable
    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._grip is not None:
            self._grip = None
            self.table.end_drag()

    def _moves(self, one: Print) -> bool:
        line = one.docket.finish
        flat = self.view == "sheet" and self.table.line == "finish"
        return flat and line.sheet is not None and not line.scales

    def _paint_mat(
        self, painter: QPainter, box: QRectF, sheet: QRectF, mat: Mat, scale: float
    ) -> None:
        """Draw the mat over the print: board, opening and frame."""
        opening = _centre(box, _floats(mat.opening), scale)
        board = _centre(box, _floats(mat.frame), scale) if mat.frame else sheet
        tone = QColor("#efefec")
        tone.setAlpha(255 if mat.frame else 150)
        fill_around(painter, board, opening, tone)
        painter.setPen(QPen(QColor("#9a9a97"), 1))
        painter.drawRect(opening)
        if mat.reveal < 0:  # the hidden edge, as a line under the board
            painter.setPen(QPen(QColor(theme.tones().accent), 1, Qt.PenStyle.DashLine))
            painter.drawRect(sheet)
        if mat.frame:
            painter.setPen(QPen(QColor("#3c3c3c"), 5))
            painter.drawRect(_centre(box, _floats(mat.frame), scale).adjusted(-2, -2, 2, 2))

    def _paint_told(self, painter: QPainter, one: Print, plan: Plan) -> None:
        t = theme.tones()
        strip = QRectF(0, self.height() - 100, self.width(), 100)
        painter.fillRect(strip, QColor(t.panel))
        painter.setPen(QPen(QColor(t.rule)))
        painter.drawLine(strip.topLeft(), strip.topRight())
        units = self.table.units
        page = words.pair(plan.whole.width_mm, plan.whole.height_mm, units)
        tags = (plan.whole.tag_x, plan.whole.tag_y)
        exact_x, exact_y = (words.trimmed_zeros(Fraction(*tag), 4) for tag in tags)
        tag = f"{exact_x} ppi" if exact_x == exact_y else f"{exact_x} by {exact_y} ppi"
        tells: tuple[tuple[str, str], ...] = (
            ("The print" if plan.sheet is None else "The sheet", f"{page}, exactly"),
            ("Its pixels", f"{plan.whole.width} × {plan.whole.height}"),
            ("Resolution tag", tag),
            ("The file", f"{file_kind(plan)}, {words.size_in_bytes(plan.file.bytes_estimate)}"),
        )
        if plan.maker.for_screen:  # a screen has no centimetres
            tells = (("Its pixels", tells[1][1]), tells[3])
        if (
            self.table.line == "file"
            and plan.file.colour != "own"
            and self.out_of_gamut is not None
        ):
            gone = "nothing" if self.out_of_gamut < 0.0005 else words.share(self.out_of_gamut)
            tells = (*tells[:-1][:2], ("Beyond its colours", gone), tells[-1])
        width = (strip.width() - 56) / 4
        for index, (label, value) in enumerate(tells):
            left = 28 + index * width
            painter.setFont(theme.sans(13))
            painter.setPen(QColor(t.soft))
            painter.drawText(QPointF(left, strip.top() + 36), label)
            painter.setFont(theme.serif(15))
            if QFontMetricsF(painter.font()).horizontalAdvance(value) > width - 12:
                painter.setFont(theme.serif(13))
            painter.setPen(QColor(t.ink))
            box = QRectF(left, strip.top() + 44, width - 12, 40)
            painter.drawText(
                box, int(Qt.TextFlag.TextWordWrap) | int(Qt.AlignmentFlag.AlignTop), value
            )
