"""What is got ready after the window stands, on another thread: modules, a typeface, helpers.

So the window opens without them, and the first visit of a step does not wait for them.
"""

from importlib import import_module

from anzel.app import proving
from anzel.app.navigation import Step
from anzel.app.worker import start_thread
from anzel.geometry.lettering import lettering
from anzel.nesting import solving

_MODULES = (
    *(f"anzel.ui.steps.{step.value}_step" for step in Step),
    "anzel.ui.steps.sketch_controller", "anzel.app.views.layout_editor", "anzel.nesting.validation",
    "anzel.output.export", "anzel.storage.recovery_store", "anzel.ui.dialogs",
)  # fmt: skip


def warm_up() -> None:
    """Get ready, one thing after the other."""
    start_thread(_all, "anzel-warm-up")


def _all() -> None:
    for helper in (proving.HELPER, solving.HELPER):
        helper.start()
    for module in _MODULES:
        import_module(module)
    lettering("Anzel", 3.0, (0.0, 0.0))
