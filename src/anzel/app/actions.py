"""Every command of the window as data: menus, shortcuts and the help page read this table."""

from collections.abc import Callable
from dataclasses import dataclass

from anzel.app.picked_actions import PICKED_ACTIONS, kind_in_sight
from anzel.app.selection import ThingKind
from anzel.app.session import Session

Enabled = Callable[[Session], bool]


@dataclass(frozen=True)
class Action:
    """One command: a stable id, its menu wording, its menu, its keys, and when it is enabled.

    `standard` names the key that the desktop has for it (Qt's `StandardKey`); `keys` are those
    where it has none.
    """

    id: str
    title: str
    menu: str
    keys: str = ""
    enabled: Enabled = lambda session: True
    standard: str = ""

    @property
    def words(self) -> str:
        """The title without the mark of its letter and without dots."""
        return self.title.replace("&", "").rstrip("…")


def _can_undo(session: Session) -> bool:
    return session.document.history.undoable is not None


def _can_redo(session: Session) -> bool:
    return session.document.history.redoable is not None


def _is_free(session: Session) -> bool:
    return session.project.structure.has_free_plates


def _is_found(session: Session) -> bool:
    return session.project.structure.has_drawings


def _has_form(session: Session) -> bool:
    return not _is_free(session)


def _has_plate(session: Session) -> bool:
    return kind_in_sight(session) is ThingKind.PLATE


def _is_drawing(session: Session) -> bool:
    return bool(session.navigation.drawn_plate)


def _has_pick(session: Session) -> bool:
    return kind_in_sight(session) is not None


MENUS = ("&Project", "&Edit", "P&icked", "&Rack", "&Look", "&Cut", "&Help")

ACTIONS = (
    Action("new-form", "&New from a form…", "&Project", "Ctrl+N", standard="New"),
    Action("new-window", "Another w&indow", "&Project", "Ctrl+Alt+W"),
    Action("new", "New from the &workshop…", "&Project", "Ctrl+Shift+O"),
    Action("other-form", "Another &form for these sheets…", "&Project", "Ctrl+Alt+N"),
    Action("bring-mesh", "Slice a &mesh…", "&Project", "Ctrl+Alt+M"),
    Action("bring-drawing", "Plates from a &drawing…", "&Project", "Ctrl+I"),
    Action("bring-found", "Fit a fo&und drawing…", "&Project", "Ctrl+Shift+I"),
    Action("open", "&Open…", "&Project", "Ctrl+O", standard="Open"),
    Action("save", "&Save", "&Project", "Ctrl+S", standard="Save"),
    Action("save-as", "Save &as…", "&Project", "Ctrl+Shift+S", standard="SaveAs"),
    Action("versions", "Earlier &versions…", "&Project", "Ctrl+Alt+Shift+V"),
    Action("settings", "Se&ttings…", "&Project", "Ctrl+,", standard="Preferences"),
    Action("close", "&Close the window", "&Project", "Ctrl+W", standard="Close"),
    Action("quit", "&Quit", "&Project", "Ctrl+Q", standard="Quit"),
    Action("undo", "&Undo", "&Edit", "Ctrl+Z", _can_undo, "Undo"),
    Action("redo", "&Redo", "&Edit", "Ctrl+Shift+Z", _can_redo, "Redo"),
    Action("history", "H&istory…", "&Edit", "Ctrl+Alt+Z"),
    Action("cut", "Cu&t", "&Edit", "Ctrl+X", _has_plate, "Cut"),
    Action("copy", "&Copy", "&Edit", "Ctrl+C", standard="Copy"),
    Action("paste", "&Paste", "&Edit", "Ctrl+V", standard="Paste"),
    Action("select-all", "Pick &all of its kind", "&Edit", "Ctrl+A", standard="SelectAll"),
    Action("find", "&Find…", "&Edit", "Ctrl+F", standard="Find"),
    Action("add-reading", "Type a readin&g", "&Edit", "Ctrl+R"),
    Action("strike-reading", "Strike the picked rea&ding out…", "&Edit", "Ctrl+Shift+R"),
    *(
        Action(each.id, each.title, "P&icked", each.keys, each.applies_to, each.standard)
        for each in PICKED_ACTIONS
        if each.in_menu
    ),
    Action("next-thing", "&Next of its kind", "P&icked", "Alt+Right"),
    Action("previous-thing", "P&revious of its kind", "P&icked", "Alt+Left"),
    Action("undraw", "&Back to all pieces", "P&icked", "Ctrl+Shift+A", _is_drawing),
    Action("rename", "Rena&me", "P&icked", "F2"),
    Action("show-all", "Show all pie&ces", "P&icked", "Ctrl+Alt+A"),
    Action("up", "One le&vel up", "P&icked", "Alt+Up", _has_pick),
    Action("add-stock", "&Another sheet", "&Rack", "Ctrl+Shift+N"),
    Action("add-cutter", "Another &cutter", "&Rack"),
    Action("keep-stock", "&Keep this sheet for other projects", "&Rack"),
    Action("bring-stock", "&Bring in a kept sheet…", "&Rack", "Ctrl+B"),
    Action("import-stocks", "Bring in sheets from a &file…", "&Rack"),
    Action("export-stocks", "&Hand the rack on as a file…", "&Rack"),
    Action("scale", "&Scale the whole…", "&Edit", "Ctrl+L"),
    Action("make-free", "Go on by &hand, without the form", "&Edit", "Ctrl+Shift+F", _has_form),
    Action("join-all", "&Join all that meets", "&Edit", "Ctrl+Shift+U", _is_free),
    Action("keep-take", "Keep as a tak&e", "&Edit", "Ctrl+T"),
    Action("takes", "Takes side b&y side…", "&Edit", "Ctrl+Shift+T"),
    Action("tighter", "&Make the fit tighter", "&Edit", "Ctrl+Left"),
    Action("looser", "Make the fit &looser", "&Edit", "Ctrl+Right"),
    Action("kerf-place", "Switch who minds the &kerf", "&Edit", "Ctrl+K"),
    Action("step-stock", "&Stock", "&Look", "Alt+1"),
    Action("step-cutter", "C&utter", "&Look", "Alt+2"),
    Action("step-test", "&Test piece", "&Look", "Alt+3"),
    Action("step-build", "&Build", "&Look", "Alt+4"),
    Action("step-forecast", "Fo&recast", "&Look", "Alt+5"),
    Action("step-assemble", "&Assemble", "&Look", "Alt+6"),
    Action("step-sheets", "S&heets", "&Look", "Alt+7"),
    Action("step-practice", "Practic&e bench", "&Look", "Alt+8"),
    Action("next-joint", "&Next joint", "&Look", "Ctrl+J"),
    Action("previous-joint", "Previous &joint", "&Look", "Ctrl+Shift+J"),
    Action("whole", "&Whole in view", "&Look", "Ctrl+0"),
    Action("apart", "&Pull apart or together", "&Look", "Ctrl+."),
    Action("from-corner", "From a &corner", "&Look", "Ctrl+1"),
    Action("from-front", "From the &front", "&Look", "Ctrl+2"),
    Action("from-side", "From the si&de", "&Look", "Ctrl+3"),
    Action("from-above", "From ab&ove", "&Look", "Ctrl+4"),
    Action("zoom-in", "&Zoom in", "&Look", "Ctrl++", standard="ZoomIn"),
    Action("zoom-out", "Zoom awa&y", "&Look", "Ctrl+-", standard="ZoomOut"),
    Action("flat-alone", "Flat p&ieces alone", "&Look", "Ctrl+Alt+1"),
    Action("standing-alone", "Standin&g structure alone", "&Look", "Ctrl+Alt+2"),
    Action("full-screen", "Fu&ll screen", "&Look", "F11", standard="FullScreen"),
    Action("text-larger", "Larger te&xt", "&Look", "Ctrl+Alt++"),
    Action("text-smaller", "S&maller text", "&Look", "Ctrl+Alt+-"),
    Action("write-sheets", "&Write cut file…", "&Cut", "Ctrl+E"),
    Action("print", "P&rint…", "&Cut", "Ctrl+P", standard="Print"),
    Action("write-booklet", "Boo&klet without words…", "&Cut", "Ctrl+Alt+B"),
    Action("write-solids", "Standing s&olids…", "&Cut", "Ctrl+Alt+E"),
    Action("print-paper", "&Paper templates…", "&Cut", "Ctrl+Shift+P"),
    Action("print-sheet", "&Job sheet…", "&Cut"),
    Action("print-list", "Cut &list…", "&Cut"),
    Action("put-together", "Put it together on the &bench", "&Cut"),
    Action("write-test-piece", "Write the &test piece…", "&Cut", "Ctrl+Shift+E"),
    Action("write-back", "Write the &drawing back…", "&Cut", "Ctrl+Shift+B", _is_found),
    Action("help", "&Help and shortcuts", "&Help", "F1", standard="HelpContents"),
    Action("first-start", "First &steps…", "&Help"),
    Action("about", "&About Anzel", "&Help"),
)
