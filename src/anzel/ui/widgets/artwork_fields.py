"""One item that lies on a plate: its text, choices and numbers."""

from collections.abc import Callable, Mapping
from functools import partial
from typing import Any

from PySide6.QtWidgets import QCheckBox, QLabel, QLineEdit, QVBoxLayout, QWidget

from anzel.app.edits import artwork_edits, opening_edits, record_numbers
from anzel.app.foreign_files import read_apart
from anzel.app.number_display import shown
from anzel.app.session import Session
from anzel.core.immutable import field_title
from anzel.drawings.model import label_in_words
from anzel.materials.fits import FitName
from anzel.project.model import Project
from anzel.structure.artwork.records import (
    AnyOnPlate,
    Face,
    LetterStyle,
    PlateArtwork,
    PlateHinge,
    PlateImage,
    PlateInlay,
    PlateLettering,
    Repeated,
)  # fmt: skip
from anzel.structure.line_work import LineWish
from anzel.ui.file_choice import FONTS, choose_file
from anzel.ui.widgets.bound_field import BoundField
from anzel.ui.widgets.common_widgets import button, clear, quiet
from anzel.ui.widgets.deferred_call import after_event
from anzel.ui.widgets.wheel_safe import Choice

WISHES = {
    LineWish.CUT: "cut", LineWish.SCORE: "scored", LineWish.ENGRAVE: "engraved",
    LineWish.AREA: "engraved as areas", LineWish.LEAVE_OUT: "left out",
}  # fmt: skip
_TITLES = {
    "x": "Right of the middle", "y": "Above the middle", "turn": "Turned",
    "bend": "Along an arc of", "count": "How many", "row_pitch": "From row to row",
    "allowed_strain": "Strain allowed", "inset": "In from the edge", "keep_off": "Off joints by",
    "spacing": "From stroke to stroke", "gap": "Gap on every side",
}  # fmt: skip
_STYLES = {
    LetterStyle.STROKES: "drawn in single strokes", LetterStyle.OUTLINES: "drawn as outlines",
}  # fmt: skip
_FACES = {Face.FRONT: "on the front", Face.BACK: "on the back, as seen from there"}
_MOST_LABELS = 6
_USUAL_GAP = 0.05
_IN_USE, _TYPED = "in use", "typed"


class ArtworkFields(QWidget):
    """The fields of one item, made anew for one of another kind."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._item = ""
        self._shown: tuple[object, ...] = ()
        self.fields: dict[str, BoundField] = {}
        self.choices: dict[str, Choice] = {}
        self.checks: dict[str, QCheckBox] = {}
        self.text: QLineEdit | None = None
        self.told: QLabel | None = None
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 0, 0, 0)
        self._column.setSpacing(5)

    def show_item(self, item_id: str) -> None:
        """Show an item as it is now."""
        self._item = item_id
        project = self._session.project
        item = artwork_edits.item_of(project, item_id)
        values = self._values(item)
        alike = opening_edits.alike_count(project, item.plate)
        edges = opening_edits.edges_for(project, item.plate)
        stocks = tuple((stock.id, stock.name) for stock in project.stocks)
        choices = (item_id, alike, tuple(values), item.numbers, edges, stocks, _font_of(item))
        if choices != self._shown:
            self._shown = choices
            self._make(item, alike, edges, dict(stocks))
        for field in self.fields.values():
            field.refresh()
        if self.text is not None and isinstance(item, PlateLettering):
            self.text.setText(item.text)
        if self.told is not None and isinstance(item, PlateHinge):
            plan = artwork_edits.hinge_plan(project, item)
            self.told.setText(shown(artwork_edits.hinge_words(plan)))
        for key, choice in self.choices.items():
            choice.setCurrentIndex(choice.findData(values[key]))
        for key, check in self.checks.items():
            check.blockSignals(True)
            check.setChecked(bool(getattr(item, key)))
            check.blockSignals(False)
        self.show()

    def show_nothing(self) -> None:
        """Let the fields go, which nothing uses."""
        clear(self._column)
        self._shown, self.fields, self.choices, self.checks = (), {}, {}, {}
        self.text = self.told = None
        self.hide()

    def _values(self, item: AnyOnPlate) -> dict[str, Any]:
        """Return what is chosen now, by the name of the choice."""
        values: dict[str, Any] = {
            "repeated": item.repeated, "edge": item.edge, "face": item.face
        }  # fmt: skip
        match item:
            case PlateLettering():
                values |= {"operation": item.operation, "style": item.style}
            case PlateArtwork():
                values |= artwork_edits.wishes_of(item)
            case PlateInlay():
                values |= artwork_edits.stocks_of(self._session.project, item)
                values["fit"] = _TYPED if item.gap is not None else item.fit or _IN_USE
        return values

    def _make(
        self, item: AnyOnPlate, alike: int, edges: tuple[str, ...], stocks: dict[str, str]
    ) -> None:
        clear(self._column)
        self.choices, self.checks, self.text, self.told = {}, {}, None, None
        match item:
            case PlateLettering():
                self._make_lettering(item)
            case PlateHinge():
                self.told = quiet("")
                self._column.addWidget(self.told)
            case PlateArtwork():
                self._make_artwork(item)
            case PlateInlay():
                self._make_inlay(item, stocks)
            case PlateImage():
                self._column.addWidget(quiet(item.file.name))
        if isinstance(item, PlateLettering | PlateArtwork | PlateImage):
            self._choose("face", "Face that it is on", _FACES, self._set("face"))
        repeats = {each: each.value for each in Repeated}
        self._choose("repeated", "How it is repeated", repeats, self._set("repeated"))
        if item.repeated is Repeated.EDGE:
            words = {edge: f"{edge} edge" for edge in edges}
            self._choose("edge", "Edge that it stands along", words, self._set("edge"))
        self.fields = {name: self._field(item, name) for name in item.numbers}
        for field in self.fields.values():
            self._column.addWidget(field)
        self._check("alike", f"On all {alike} plates alike").setVisible(alike > 1)
        out = button("Take it off", "Flat")
        out.setAccessibleName(f"Take {item.id} off")
        out.clicked.connect(self._take_off)
        self._column.addWidget(out)

    def _make_lettering(self, item: PlateLettering) -> None:
        self.text = QLineEdit()
        self.text.setAccessibleName("Text")
        self.text.editingFinished.connect(self._take_text)
        self._column.addWidget(self.text)
        wishes = {wish: words for wish, words in WISHES.items() if wish is not LineWish.LEAVE_OUT}
        self._choose("operation", "What becomes of the letters", wishes, self._set("operation"))
        self._choose("style", "How letters are drawn", _STYLES, self._set("style"))
        if item.style is LetterStyle.OUTLINES:
            own = button(f"Font: {item.font.name if item.font else 'the one of Anzel'}…", "Flat")
            own.setAccessibleName("Choose a font file")
            own.clicked.connect(self._choose_font)
            self._column.addWidget(own)

    def _make_artwork(self, item: PlateArtwork) -> None:
        self._column.addWidget(quiet(item.file.name))
        self._check("mirrored", "Mirrored")
        for label in list(artwork_edits.wishes_of(item))[:_MOST_LABELS]:
            name = _name_of(label)
            words = {wish: f"“{name}” {each}" for wish, each in WISHES.items()}
            self._choose(
                label, f"What becomes of lines {name}", words, partial(self._decide, label)
            )

    def _make_inlay(self, item: PlateInlay, stocks: dict[str, str]) -> None:
        self._column.addWidget(quiet(item.file.name))
        self._check("mirrored", "Mirrored")
        for label in list(artwork_edits.stocks_of(self._session.project, item))[:_MOST_LABELS]:
            name = _name_of(label)
            words = {stock: f"“{name}” of {title}" for stock, title in stocks.items()}
            self._choose(label, f"Sheet of {name}", words, partial(self._take_stock, label))
        fits = {_IN_USE: "gap of the fit in use"} | {f.value: f"gap of {f.value}" for f in FitName}
        self._choose("fit", "Gap between insert and pocket", fits | {_TYPED: "gap as typed"},
                     self._take_fit)  # fmt: skip
        self._check("shared", "Kerf made up for by both")

    def _choose(
        self, key: str, title: str, words: Mapping[Any, str], chosen: Callable[[str, Any], None]
    ) -> None:
        choice = Choice()
        choice.setAccessibleName(title)
        choice.setToolTip(title)
        for value, text in words.items():
            choice.addItem(text, value)
        choice.activated.connect(lambda at: chosen(choice.itemText(at), choice.itemData(at)))
        self.choices[key] = choice
        self._column.addWidget(choice)

    def _check(self, key: str, words: str) -> QCheckBox:
        check = QCheckBox(words)
        check.toggled.connect(lambda on: self._change(words.lower(), **{key: on}))
        self.checks[key] = check
        self._column.addWidget(check)
        return check

    def _set(self, key: str) -> Callable[[str, Any], None]:
        return lambda words, value: self._change(words, **{key: value})

    def _field(self, item: AnyOnPlate, name: str) -> BoundField:
        item_id = item.id
        return BoundField(
            self._session, _TITLES.get(name, field_title(name)),
            lambda p: record_numbers.figure_of(artwork_edits.item_of(p, item_id), name),
            lambda p, text: artwork_edits.type_item(p, item_id, name, text),
            unit=record_numbers.unit_of(name),
        )  # fmt: skip

    def _decide(self, label: str, words: str, wish: str) -> None:
        self._attempt(
            f"Lines {words}", lambda p, i: artwork_edits.decide_label(p, i, label, LineWish(wish))
        )

    def _take_stock(self, label: str, words: str, stock: str) -> None:
        self._attempt(words, lambda p, i: artwork_edits.choose_stock(p, i, label, stock))

    def _take_fit(self, words: str, fit: str) -> None:
        own = FitName(fit) if fit in list(FitName) else None
        self._change(words, gap=_USUAL_GAP if fit == _TYPED else None, fit=own)

    def _choose_font(self) -> None:
        path = choose_file(self, "Font for the letters", FONTS)
        if path is not None:
            item = self._item
            self._session.attempt_aside(
                f"{item} {path.name}",
                lambda p: (read_apart(artwork_edits.use_font, p, item, path), None), lambda _: None,
            )  # fmt: skip

    def _take_text(self) -> None:
        if self.text is not None and self.text.isModified():
            self.text.setModified(False)
            self._change(f"“{self.text.text()}”", text=self.text.text())

    def _change(self, words: str, **changes: object) -> None:
        self._attempt(words, lambda p, i: artwork_edits.change_item(p, i, **changes))

    def _attempt(self, words: str, edit: Callable[[Project, str], Project]) -> None:
        item_id = self._item
        self._session.attempt(f"{item_id} {words}", lambda p: edit(p, item_id))

    def _take_off(self) -> None:
        item_id = self._item
        after_event(self, lambda: self._session.attempt(
            f"{item_id} taken off", lambda p: artwork_edits.remove_item(p, item_id)
        ))  # fmt: skip


def _name_of(label: str) -> str:
    return label_in_words(label)[:24]


def _font_of(item: AnyOnPlate) -> str:
    return item.font.name if isinstance(item, PlateLettering) and item.font else ""
