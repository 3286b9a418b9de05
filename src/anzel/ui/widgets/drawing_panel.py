"""The panel of found drawings.

The drawn thickness, what becomes of every kind of feature, repairs, and writing back to a file.
"""

from collections import Counter
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QLabel, QTreeWidget, QTreeWidgetItem, QVBoxLayout, QWidget

from anzel.app.edits import drawing_edits, project_edits
from anzel.app.edits.drawing_edits import DrawingView
from anzel.app.number_display import shown, shown_length, shown_measure, unit
from anzel.app.session import Session
from anzel.core.number_format import UNIT, format_length, plain_length, plain_measure
from anzel.core.wording import counted
from anzel.refit.features import DrawnFeatureKind
from anzel.refit.refit import Decision, Outcome
from anzel.refit.thickness_estimation import tolerance_for
from anzel.ui.widgets.common_widgets import FoldingSection, button, choice_row, quiet, section
from anzel.ui.widgets.deferred_call import after_event
from anzel.ui.widgets.doubt_panel import DoubtPanel
from anzel.ui.widgets.line_panel import LinePanel
from anzel.ui.widgets.measure_field import MeasureField
from anzel.ui.widgets.size_chart import SizeChart
from anzel.ui.widgets.split_panel import SplitPanel
from anzel.ui.widgets.wheel_safe import Choice

_KINDS = {
    DrawnFeatureKind.SLOT: "slots", DrawnFeatureKind.MORTISE: "mortises",
    DrawnFeatureKind.TAB: "tabs", DrawnFeatureKind.FINGER: "fingers",
}  # fmt: skip
_UNITS = {None: "units as the file says", "mm": "one unit is 1 mm", "in": "one unit is 1 inch",
          "px": "one unit is 1/96 inch"}  # fmt: skip
_HOLES = "hole"
_ROWS = 9
_MOST_REMARKS = 8
_SPARE = 12
"""For the tick, which a tree does not count in the width of what is partly ticked, pixels."""
_ID = Qt.ItemDataRole.UserRole


class DrawingPanel(QWidget):
    """One drawing at a time; its features by kind, with a tick where they are changed."""

    picked = Signal(str, str)
    chosen = Signal()
    write_wanted = Signal(str)
    bring_wanted = Signal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._name = ""
        self._drawings: list[DrawingView] = []
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        self.which = Choice()
        self.which.setAccessibleName("Drawing")
        self.which.activated.connect(lambda at: self.choose(self.which.itemText(at)))
        self.overall = quiet("")
        self.units = Choice()
        self.units.setAccessibleName("Unit of the drawing")
        for value, words in _UNITS.items():
            self.units.addItem(words, value)
        self.units.activated.connect(self._take_units)
        self.made_for = section("")
        self.chart = SizeChart()
        self.chart.toggled.connect(self._toggle_size)
        self.typed = FoldingSection("Type the thickness it was made for")
        self.drawn = MeasureField("Made for", self._type_size)
        self.within = MeasureField("Sizes within", self._type_tolerance, step=0.05)
        self.typed.add(self.drawn, self.within)
        self.tree = self._tree()
        self.kept = quiet("")
        self.remarks = FoldingSection("Remarks")
        self._said = QLabel()
        self._said.setWordWrap(True)
        self._said.setObjectName("Quiet")
        self.remarks.add(self._said)
        self.doubts = DoubtPanel(session)
        self.split = SplitPanel(session)
        self.lines = LinePanel(session)
        self.back = button("Write it back as a file…", "Primary")
        self.back.clicked.connect(lambda: self.write_wanted.emit(self._name))
        self.more = button("Another drawing…")
        self.more.clicked.connect(self.bring_wanted)
        for widget in (
            self.which, self.overall, self.doubts, self.units, self.made_for, self.chart,
            self.typed, self.tree, self.kept, self.lines, self.remarks, self.split,
        ):  # fmt: skip
            column.addWidget(widget)
        column.addLayout(choice_row(self.back, self.more))

    def _tree(self) -> QTreeWidget:
        tree = QTreeWidget()
        tree.setAccessibleName("Features by kind; a tick where they are changed")
        tree.setHeaderHidden(True)
        tree.setColumnCount(2)
        tree.setUniformRowHeights(True)
        tree.setIndentation(14)
        tree.itemExpanded.connect(self._fill)
        tree.itemChanged.connect(self._ticked)
        tree.currentItemChanged.connect(self._pick)
        return tree

    @property
    def drawing(self) -> DrawingView | None:
        """The drawing in hand."""
        return next((each for each in self._drawings if each.name == self._name), None)

    def choose(self, name: str) -> None:
        """Another drawing in hand; whoever shows the drawings shows it."""
        self._name = name
        self.chosen.emit()

    def refresh(self, drawings: list[DrawingView]) -> None:
        """Show the drawing in hand as it is now."""
        self._drawings = drawings
        names = [each.name for each in drawings]
        self._name = self._name if self._name in names else names[0]
        each = self.drawing
        assert each is not None
        self.which.clear()
        self.which.addItems(names)
        self.which.setCurrentText(self._name)
        self.which.setVisible(len(names) > 1)
        width, height = each.refit.analysis.drawing.size
        pieces = each.refit.analysis.nested.pieces
        self.overall.setText(
            f"{self._name}: {counted(pieces, 'piece')}, {shown_length(width, 1)} × "
            f"{shown_measure(height, 1)} over all "
            f"({shown(each.refit.analysis.drawing.units.description)})"
        )
        self.units.setCurrentIndex(self.units.findData(each.drawing.units))
        self._show_sizes(each)
        self._show_features(each)
        self.doubts.show_drawing(each)
        self.split.show_drawing(each)
        self.lines.show_drawing(each)
        kept = shown(drawing_edits.kept_sizes(self._session.project, each))
        self.kept.setText(kept)
        self.kept.setVisible(bool(kept))
        remarks = [shown(remark) for remark in each.remarks]
        self.remarks.setVisible(bool(remarks))
        self.remarks.rename(f"{len(remarks)} remark{'s' * (len(remarks) != 1)}")
        more = len(remarks) - _MOST_REMARKS
        first = remarks[:_MOST_REMARKS] + ([f"and {more} more"] if more > 0 else [])
        self._said.setText("\n".join(first))

    def _show_sizes(self, each: DrawingView) -> None:
        chosen = each.refit.drawn_thicknesses.drawn
        scale = each.refit.options.scale
        sheet = shown_length(each.refit.options.thickness)
        words = " and ".join(shown_length(value / scale) for value in chosen)
        self.made_for.setText(
            f"Made for {words} {unit()}, now for {sheet}"
            if chosen
            else "Made for which sheet? Pick a size."
        )
        self.chart.show_sizes(each.chart, chosen)
        first = chosen[0] / scale if chosen else 0.0
        self.drawn.show_value(format_length(first, 3))
        usual = tolerance_for(first)
        self.within.show_value(format_length(each.drawing.tolerance or usual))

    def _show_features(self, each: DrawingView) -> None:
        open_kinds = {row.data(0, _ID) for row in self._rows() if row.isExpanded()}
        self.tree.blockSignals(True)
        self.tree.clear()
        for kind, words in _KINDS.items():
            decisions = each.of_kind(kind)
            if not decisions:
                continue
            row = QTreeWidgetItem([_counted(len(decisions), words), _summary(decisions)])
            row.setData(0, _ID, kind.value)
            row.setCheckState(0, _state(decisions))
            row.setChildIndicatorPolicy(QTreeWidgetItem.ChildIndicatorPolicy.ShowIndicator)
            self.tree.addTopLevelItem(row)
            if kind.value in open_kinds:
                self._fill(row)
                row.setExpanded(True)
        if each.refit.holes:
            self._add_holes(each, _HOLES in open_kinds)
        self.tree.resizeColumnToContents(0)
        self.tree.setColumnWidth(0, self.tree.columnWidth(0) + _SPARE)
        self.tree.blockSignals(False)
        self._fit_height()

    def _add_holes(self, each: DrawingView, is_open: bool) -> None:
        """Holes that follow no sheet: a tick where they are scaled with the drawing."""
        holes = each.refit.holes
        row = QTreeWidgetItem([_counted(len(holes), "holes"), "scaled with the whole"])
        row.setData(0, _ID, _HOLES)
        held = set(each.drawing.held)
        loose = [hole.id not in held for hole in holes]
        row.setCheckState(0, _tick(loose))
        for hole, is_loose in zip(holes, loose, strict=True):
            size = " × ".join(shown_length(v, 1) for v in hole.size[: 2 - hole.is_round])
            child = QTreeWidgetItem([hole.id, ("⌀ " if hole.is_round else "") + size])
            child.setData(0, _ID, hole.id)
            child.setCheckState(0, _tick([is_loose]))
            row.addChild(child)
        self.tree.addTopLevelItem(row)
        row.setExpanded(is_open)

    def _rows(self) -> list[QTreeWidgetItem]:
        """Return the rows of kinds."""
        rows = (self.tree.topLevelItem(at) for at in range(self.tree.topLevelItemCount()))
        return [row for row in rows if row is not None]

    def _fit_height(self) -> None:
        rows = sum(1 + row.isExpanded() * row.childCount() for row in self._rows())
        row = max(self.tree.sizeHintForRow(0), 20)
        self.tree.setFixedHeight(min(max(rows, 1), _ROWS) * row + 8)

    def _fill(self, row: QTreeWidgetItem) -> None:
        """The features of a kind, made when it is first opened."""
        each = self.drawing
        if each is None or row.childCount() or row.parent() is not None:
            return
        blocked = self.tree.blockSignals(True)
        for decision in each.of_kind(DrawnFeatureKind(row.data(0, _ID))):
            child = QTreeWidgetItem([decision.feature.id, _sizes(decision)])
            child.setData(0, _ID, decision.feature.id)
            child.setCheckState(0, _state([decision]))
            child.setToolTip(0, shown(decision.why))
            child.setToolTip(1, shown(decision.why))
            row.addChild(child)
        self.tree.blockSignals(blocked)
        row.setExpanded(True)
        self._fit_height()

    def _ticked(self, row: QTreeWidgetItem, _column: int) -> None:
        above = row.parent()
        group = str(above.data(0, _ID)) if above is not None else ""
        wanted, changed = str(row.data(0, _ID)), row.checkState(0) != Qt.CheckState.Unchecked
        after_event(self, partial(self._take_tick, self._name, group, wanted, changed))

    def _take_tick(self, name: str, group: str, wanted: str, changed: bool) -> None:
        """A feature, or with no `group` above it all of a kind, ticked or not."""
        each = self.drawing
        if each is not None and _HOLES in (wanted, group):
            ids = {wanted} if group else {hole.id for hole in each.refit.holes}
            self._session.attempt(
                f"{wanted} {'scaled' if changed else 'held'}",
                lambda p: drawing_edits.hold(p, name, ids, held=not changed),
            )
            return
        if group:
            self.switch(name, wanted)
            return
        words = f"{wanted}s {'changed' if changed else 'held'}"
        self._session.attempt(
            words, lambda p: drawing_edits.hold(p, name, {wanted}, held=not changed)
        )

    def switch(self, name: str, feature_id: str) -> None:
        """Hold a feature that is changed, change one that is held."""
        self._session.attempt(
            f"{feature_id} held or changed",
            lambda p: drawing_edits.toggle_feature(p, name, feature_id),
        )

    def switch_piece(self, name: str, feature_id: str) -> None:
        """Hold all of the piece that a feature is on, or let it go."""
        self._session.attempt(
            "Piece held or changed", lambda p: drawing_edits.toggle_piece(p, name, feature_id)
        )

    def _pick(self, row: QTreeWidgetItem | None, _before: QTreeWidgetItem | None) -> None:
        above = row.parent() if row is not None else None
        if row is not None and above is not None and above.data(0, _ID) != _HOLES:
            picked = str(row.data(0, _ID))
            after_event(self, lambda: self.picked.emit(self._name, picked))

    def _toggle_size(self, value: float) -> None:
        each = self.drawing
        if each is None:
            return
        scale = each.refit.options.scale
        chosen = [v / scale for v in each.refit.drawn_thicknesses.drawn]
        is_in = self.chart.is_chosen(value)
        kept = [v for v in chosen if abs(v * scale - value) >= 0.26]
        drawn = kept if is_in and kept else [*kept, value / scale]
        name = self._name
        self._session.attempt(
            f"Drawn for {' and '.join(plain_length(v) for v in drawn)} {UNIT}",
            lambda p: drawing_edits.change_drawing(p, name, drawn=tuple(sorted(drawn))),
        )

    def _type_size(self, text: str) -> None:
        value = project_edits.typed_length(text, "drawn")
        project = drawing_edits.change_drawing(
            self._session.project_with_pending, self._name, drawn=(value,)
        )
        self._session.change(f"Drawn for {plain_measure(value)}", project)

    def _type_tolerance(self, text: str) -> None:
        value = project_edits.typed_length(text, "tolerance")
        project = drawing_edits.change_drawing(
            self._session.project_with_pending, self._name, tolerance=value
        )
        self._session.change(f"Sizes within {plain_measure(value)}", project)

    def _take_units(self, at: int) -> None:
        name, value = self._name, self.units.itemData(at)
        self._session.attempt(
            f"{name}: {_UNITS[value]}",
            lambda p: drawing_edits.change_drawing(p, name, units=value, drawn=()),
        )


def _counted(count: int, words: str) -> str:
    return f"{count} {words if count != 1 else words.removesuffix('s')}"


def _state(decisions: list[Decision]) -> Qt.CheckState:
    """Ticked where all are as the sheet wants them, empty where none is."""
    return _tick([each.moved or each.outcome is Outcome.FITS for each in decisions])


def _tick(wanted: list[bool]) -> Qt.CheckState:
    if all(wanted):
        return Qt.CheckState.Checked
    return Qt.CheckState.PartiallyChecked if any(wanted) else Qt.CheckState.Unchecked


def _sizes(decision: Decision) -> str:
    drawn = shown_length(decision.feature.drawn)
    if not decision.moved:
        return f"{drawn}  {'?' if decision.feature.uncertainty else 'stays'}"
    return f"{drawn} → {shown_length(decision.new)}"


def _summary(decisions: list[Decision]) -> str:
    """Return what becomes of most of a kind, and of how many something else."""
    ((usual, count),) = Counter(map(_sizes, decisions)).most_common(1)
    others = len(decisions) - count
    return usual + (f", {others} other" if others else "")
