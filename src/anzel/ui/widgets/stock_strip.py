"""Always in sight: the sheets in use with thickness, kerf and slot, the fit, the kerf's place."""

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, QSize, Qt
from PySide6.QtGui import QFont, QFontMetricsF, QPaintEvent, QPen
from PySide6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QFrame,
    QHBoxLayout,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from anzel.app.edits import project_edits
from anzel.app.listeners import Changed
from anzel.app.navigation import Step
from anzel.app.number_display import shown_length, shown_measure
from anzel.app.session import Session
from anzel.materials.cutter import Kerf, KerfSource
from anzel.materials.fits import FIT_MEANING, KERF_WORDS, FitName, KerfAt
from anzel.materials.stock import Stock
from anzel.project.derive import todays_slot
from anzel.project.model import Project
from anzel.ui.painting import painting
from anzel.ui.theme import colour, font, sheet_colour, text_scale, when_dressed
from anzel.ui.widgets.common_widgets import clear, quiet
from anzel.ui.widgets.fit_picture import fit_icon
from anzel.ui.widgets.flow_layout import FlowLayout


def _thickness_font() -> QFont:
    return font(12.5, QFont.Weight.DemiBold)


class StockCard(QAbstractButton):
    """One sheet in use, told in two lines; a click goes to it."""

    def __init__(self, stock: Stock, drawn: float, kerf: Kerf) -> None:
        super().__init__()
        self.setCheckable(True)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.stock, self.drawn, self.kerf = stock, drawn, kerf
        self.setText(stock.name)
        self.setAccessibleName(
            f"{stock.name}, {self._measured()}, slot drawn {shown_measure(drawn)}"
        )
        self.setToolTip("Go to this sheet's readings")

    def sizeHint(self) -> QSize:
        return QSize(
            round(self._kerf_left() + self._kerf_width() + 6), round(24 + 30 * text_scale())
        )

    def _kerf_left(self) -> float:
        """Where the kerf begins, right of the thickness and of the name."""
        large, small = QFontMetricsF(_thickness_font()), QFontMetricsF(font(9))
        wide = max(large.horizontalAdvance(self._measured()), small.horizontalAdvance(self.text()))
        return 32 + max(wide, 90) + 8

    def _kerf_width(self) -> float:
        metrics = QFontMetricsF(font(8.5))
        return max(metrics.horizontalAdvance(each) for each in self._lines())

    def _lines(self) -> tuple[str, str]:
        """Kerf and slot in words."""
        sure = "" if self.kerf.learnt is not KerfSource.ASSUMED else " ?"
        return (f"kerf {shown_length(self.kerf.kerf)}{sure}", f"slot {shown_length(self.drawn)}")

    def _measured(self) -> str:
        said = self.stock.statistics
        text = shown_length(self.stock.measured_thickness)
        if said and said.sample_deviation is not None:
            return f"{text} ± {shown_length(said.sample_deviation)}"
        return text if said else f"{text} ?"

    def paintEvent(self, event: QPaintEvent) -> None:
        with painting(self) as painter:
            box = QRectF(self.rect()).adjusted(1, 1, -1, -1)
            if self.isChecked() or self.underMouse() or self.hasFocus():
                painter.setPen(QPen(colour("accent" if self.hasFocus() else "line"), 1.2))
                painter.setBrush(colour("paper"))
                painter.drawRoundedRect(box, 6, 6)
            tint = sheet_colour(self.stock.tint)
            for index in range(3):
                painter.fillRect(
                    QRectF(10, 12 + 10 * index, 12, 10), tint.darker(100 + 14 * (index % 2))
                )
            painter.setPen(QPen(colour("ink"), 1))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(QRectF(10, 12, 12, 30))
            painter.setFont(font(9))
            painter.setPen(colour("soft"))
            left, scale = self._kerf_left(), text_scale()
            painter.drawText(QPointF(32, 7 + 13 * scale), self.stock.name)
            painter.setFont(_thickness_font())
            painter.setPen(colour("ink"))
            painter.drawText(QPointF(32, 10 + 31 * scale), self._measured())
            painter.setFont(font(8.5))
            kerf, slot = self._lines()
            painter.setPen(colour("soft"))
            painter.drawText(QPointF(left, 15 + 13 * scale), kerf)
            painter.setPen(colour("accent"))
            painter.drawText(QPointF(left, 15 + 27 * scale), slot)


_KERF_TIPS = {
    KerfAt.DRAWING: "Slots are drawn narrower; the cutter runs on the line",
    KerfAt.PATH: "Drawn as they shall come out; the file's path runs beside, the cutter on it",
    KerfAt.CUTTER: "Slots are drawn as they shall come out; the cutter offsets its path",
}


class StockStrip(QFrame):
    """The strip above everything."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("Strip")
        self._session = session
        cards = QWidget()
        self._cards = FlowLayout(cards, spacing=4)
        row = FlowLayout(self, spacing=10)
        row.setContentsMargins(10, 4, 12, 4)
        row.addWidget(cards)
        row.addWidget(self._fit_chooser())
        row.push_last()
        row.addWidget(self._kerf_chooser())
        self._draw_icons()
        when_dressed(self._draw_icons)
        session.subscribe(self._changed)
        self._refresh()

    def _fit_chooser(self) -> QWidget:
        self._fits = QButtonGroup(self)
        row = QHBoxLayout()
        row.setSpacing(3)
        for name in FitName:
            choice = QToolButton()
            choice.setCheckable(True)
            choice.setIconSize(QSize(20, 20))
            choice.setText(name.value)
            choice.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
            choice.setToolTip(f"{name.value}: {FIT_MEANING[name]}")
            choice.setAccessibleName(f"Fit {name.value}")
            choice.clicked.connect(lambda _=False, name=name: self._choose_fit(name))
            self._fits.addButton(choice, list(FitName).index(name))
            row.addWidget(choice)
        return _titled("Fit", row)

    def _kerf_chooser(self) -> QWidget:
        self._places = QButtonGroup(self)
        row = QHBoxLayout()
        row.setSpacing(3)
        for index, place in enumerate(KerfAt):
            choice = QToolButton()
            choice.setCheckable(True)
            choice.setText(KERF_WORDS[place])
            choice.setAccessibleName(f"Kerf {KERF_WORDS[place]}")
            choice.setToolTip(_KERF_TIPS[place])
            choice.clicked.connect(lambda _=False, place=place: self._take_kerf_at(place))
            self._places.addButton(choice, index)
            row.addWidget(choice)
        return _titled("Kerf taken care of", row)

    def _choose_fit(self, name: FitName) -> None:
        self._try(f"Fit {name.value}", lambda project: project_edits.choose_fit(project, name))

    def _take_kerf_at(self, place: KerfAt) -> None:
        label = f"Kerf {KERF_WORDS[place]}"
        self._try(label, lambda project: project_edits.take_kerf_at(project, place))

    def _try(self, label: str, edit: Callable[[Project], Project]) -> None:
        if not self._session.attempt(label, edit):
            self._refresh()

    def _changed(self, changed: Changed) -> None:
        if changed in (Changed.PROJECT, Changed.SELECTION):
            self._refresh()

    def _draw_icons(self) -> None:
        """The fits' pictograms in the colours of the look in use."""
        for index, name in enumerate(FitName):
            self._fits.button(index).setIcon(fit_icon(name))

    def _refresh(self) -> None:
        clear(self._cards)
        project = self._session.project
        for stock in project.stocks_in_use:
            card = StockCard(stock, todays_slot(project, stock.id).drawn, project.kerf_in(stock.id))
            card.setChecked(stock.id == self._session.selection.stock_id)
            card.clicked.connect(lambda _=False, stock_id=stock.id: self._go_to(stock_id))
            self._cards.addWidget(card)
        self._fits.button(list(FitName).index(project.fits.in_use)).setChecked(True)
        self._places.button(list(KerfAt).index(project.kerf_at)).setChecked(True)

    def _go_to(self, stock_id: str) -> None:
        self._session.selection.pick_stock(stock_id)
        if self._session.navigation.step is Step.BUILD:
            self._session.navigation.go_to(Step.STOCK)
        self._refresh()


def _titled(title: str, row: QHBoxLayout) -> QWidget:
    box = QWidget()
    column = QVBoxLayout(box)
    column.setContentsMargins(0, 0, 0, 0)
    column.setSpacing(2)
    column.addWidget(quiet(title))
    column.addLayout(row)
    return box
