"""Draws the pictures of the forms that the window ships: run after a form has changed its look."""

import io
from pathlib import Path

from PIL import Image

from anzel.app.still_image import still_image
from anzel.project.new_project import project_of
from anzel.structure.forms import FORMS

FOLDER = Path(__file__).parents[1] / "src/anzel/ui/resources/gallery"
SIZE = (352, 264)


def main() -> None:
    """One picture a form, with few colours, so that each is a few kilobytes."""
    FOLDER.mkdir(exist_ok=True)
    for name in FORMS:
        view = "above" if name == "found" else "corner"  # its pieces lie flat
        drawn = Image.open(io.BytesIO(still_image(project_of(name), view, 0.0, (1056, 792))))
        small = drawn.resize(SIZE, Image.Resampling.LANCZOS)
        small.quantize(48).save(FOLDER / f"{name}.png", optimize=True)


if __name__ == "__main__":
    main()
