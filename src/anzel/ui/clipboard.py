"""What is picked, on the clipboard: as a picture, as SVG, plates as plates, openings as such."""

from PySide6.QtCore import QByteArray, QMimeData, QSize
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

from anzel.app import sketch_actions
from anzel.app.edits import free_structure_edits, plate_clipboard
from anzel.app.picked_actions import pieces_of
from anzel.app.selection import Thing, ThingKind
from anzel.app.session import Session
from anzel.output.export import render
from anzel.output.pages import pages_of_pieces
from anzel.project.derive import solved_structure_of
from anzel.project.model import Project

SVG = "image/svg+xml"
OPENINGS = "application/x-anzel-openings+json"
_PIXELS_PER_MM, _MOST_PIXELS = 6.0, 4000


def svg_of(project: Project, things: tuple[Thing, ...]) -> bytes:
    """Return the pieces that things are or belong to as SVG, all pieces for none; b"" if none."""
    names = pieces_of(project, things) or tuple(p.name for p in solved_structure_of(project).pieces)
    pages = pages_of_pieces(project, names)
    return render(pages, project.pens, ".svg") if pages else b""


def picture_of(svg: bytes) -> QImage:
    """Return an SVG as a picture on white."""
    renderer = QSvgRenderer(QByteArray(svg))
    size = renderer.viewBoxF().size() * _PIXELS_PER_MM
    shrink = min(_MOST_PIXELS / max(size.width(), size.height(), 1.0), 1.0)
    image = QImage(QSize(round(size.width() * shrink) or 1, round(size.height() * shrink) or 1),
                   QImage.Format.Format_RGB32)  # fmt: skip
    image.fill("white")
    painter = QPainter(image)
    renderer.render(painter)
    painter.end()
    return image


def put_on_clipboard(session: Session, svg: bytes) -> None:
    """Put what is picked on the clipboard, in all the ways that others may want it."""
    data = QMimeData()
    data.setData(SVG, QByteArray(svg))
    data.setImageData(picture_of(svg))
    plates = session.selection.names(ThingKind.PLATE)
    if plates:
        text = plate_clipboard.plates_as_text(session.project, plates)
        data.setData(plate_clipboard.MIME_TYPE, QByteArray(text.encode()))
    openings = session.selection.names(ThingKind.OPENING)
    if openings:
        text = sketch_actions.openings_as_text(session, openings)
        data.setData(OPENINGS, QByteArray(text.encode()))
    QGuiApplication.clipboard().setMimeData(data)


def paste(session: Session) -> None:
    """Add the plates of the clipboard to a free structure, and pick them.

    Openings go into the plate that is drawn large.
    """
    # what owned the clipboard may be gone, and then Qt has none, whatever its types say
    data: QMimeData | None = QGuiApplication.clipboard().mimeData()
    if data is None:
        session.status.show("▲ The clipboard is empty.")
        return
    if data.hasFormat(OPENINGS):
        sketch_actions.paste_openings(session, _text(data, OPENINGS))
        return
    if not data.hasFormat(plate_clipboard.MIME_TYPE):
        session.status.show("▲ The clipboard holds no plates. Drawings come in as files.")
        return
    text = _text(data, plate_clipboard.MIME_TYPE)
    made: list[str] = []

    def put(project: Project) -> Project:
        free = free_structure_edits.make_free(project)
        project, names = plate_clipboard.paste_plates(free, text, session.selection.stock_id)
        made.extend(names)
        return project

    if session.attempt("Pasted", put):
        session.pick_made(*(Thing(ThingKind.PLATE, name) for name in made))


def _text(data: QMimeData, kind: str) -> str:
    return bytes(data.data(kind).data()).decode(errors="replace")
