"""What lies on a plate: lettering, artwork, inlays and hinges, one of them with its fields."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QMenu

from anzel.app.edits import artwork_edits
from anzel.app.foreign_files import read_apart
from anzel.app.session import Session
from anzel.project.model import Project
from anzel.structure.artwork.motifs import MOTIFS
from anzel.structure.artwork.records import AnyOnPlate, PlateHinge, PlateInlay, PlateLettering
from anzel.ui.file_choice import DRAWINGS, PICTURES, choose_file
from anzel.ui.widgets.artwork_fields import ArtworkFields
from anzel.ui.widgets.common_widgets import FoldingSection, button
from anzel.ui.widgets.wheel_safe import Choice

_FIRST = "Mossgate"


class ArtworkPanel(FoldingSection):
    """A fold of the page of a plate or piece."""

    def __init__(self, session: Session) -> None:
        super().__init__("Lines on it")
        self._session = session
        self._plate = self._item = ""
        self.add_menu = button("Add lines or an inlay")
        self.add_menu.setMenu(self._menu())
        self.choice = Choice()
        self.choice.setAccessibleName("Which of what lies on it")
        self.choice.activated.connect(lambda at: self._show_item(self.choice.itemData(at)))
        self.item = ArtworkFields(session)
        self.add(self.add_menu, self.choice, self.item)

    def show_plate(self, plate: str) -> None:
        """Show what lies on a plate now."""
        items = artwork_edits.items_on(self._session.project, plate)
        ids = [item.id for item in items]
        if plate != self._plate or self._item not in ids:
            self._plate, self._item = plate, ids[-1] if ids else ""
        self.choice.clear()
        for item in items:
            self.choice.addItem(f"{item.id}  {_words(item)}", item.id)
        self.choice.setVisible(len(ids) > 1)
        if ids:
            self._show_item(self._item)
        else:
            self.item.show_nothing()

    def add_lettering(self) -> None:
        """Put lettering on the plate, its text ready to be typed over."""
        plate = self._plate
        self._made("Lettering", lambda p: artwork_edits.add_lettering(p, plate, _FIRST))
        if self.item.text is not None:
            self.item.text.setFocus()
            self.item.text.selectAll()

    def add_hinge(self) -> None:
        """Put a living hinge across the plate."""
        plate = self._plate
        self._made("Living hinge", lambda p: artwork_edits.add_hinge(p, plate))

    def add_motif(self, motif: str) -> None:
        """Put one of our motifs round the border of the plate."""
        plate = self._plate
        self._made(motif.capitalize(), lambda p: artwork_edits.add_motif(p, plate, motif))

    def bring(self, path: Path) -> None:
        """Put the lines of a file on the plate."""
        self._brought(path.name, artwork_edits.add_artwork, path)

    def engrave_picture(self, path: Path) -> None:
        """Engrave a picture on the plate."""
        self._brought(path.name, artwork_edits.add_picture, path)

    def inlay(self, path: Path) -> None:
        """Inlay the closed lines of a file in the plate."""
        self._brought(f"Inlay {path.name}", artwork_edits.add_inlay, path)

    def _menu(self) -> QMenu:
        menu = QMenu(self)
        menu.addAction("Lettering", self.add_lettering)
        menu.addAction("Artwork from a file…", lambda: self._choose("Artwork", self.bring))
        menu.addAction(
            "Picture from a file…", lambda: self._choose("Picture", self.engrave_picture, PICTURES)
        )
        motifs = menu.addMenu("Motif round the border")
        for motif in MOTIFS:
            motifs.addAction(motif.capitalize(), partial(self.add_motif, motif))
        menu.addAction("Inlay from a file…", lambda: self._choose("Inlay", self.inlay))
        menu.addAction("Living hinge", self.add_hinge)
        return menu

    def _choose(
        self, what: str, bring: Callable[[Path], None], kinds: str = DRAWINGS
    ) -> None:  # fmt: skip
        path = choose_file(self, f"{what} for the plate", kinds)
        if path is not None:
            bring(path)

    def _made(self, words: str, make: Callable[[Project], tuple[Project, str]]) -> None:
        made: list[str] = []

        def edit(project: Project) -> Project:
            project, item = make(project)
            made.append(item)
            return project

        if self._session.attempt(f"{words} on {self._plate}", edit):
            self._pick(self._plate, made[-1])

    def _brought(
        self, words: str, add: Callable[[Project, str, Path], tuple[Project, str]], path: Path
    ) -> None:  # fmt: skip
        """Read a file in the background, because it may be large."""
        plate = self._plate
        self._session.attempt_aside(
            f"{words} on {plate}", lambda project: read_apart(add, project, plate, path),
            partial(self._pick, plate),
        )  # fmt: skip

    def _pick(self, plate: str, item: str) -> None:
        """Show what was put on a plate, if the maker is still there."""
        if plate == self._plate:
            self._item = item
            self.head.setChecked(True)
            self.show_plate(plate)

    def _show_item(self, item_id: str) -> None:
        self._item = item_id
        self.choice.setCurrentIndex(self.choice.findData(item_id))
        self.item.show_item(item_id)


def _words(item: AnyOnPlate) -> str:
    if isinstance(item, PlateHinge):
        return "living hinge"
    if isinstance(item, PlateInlay):
        return f"inlay {item.file.name}"
    return item.text if isinstance(item, PlateLettering) else item.file.name
