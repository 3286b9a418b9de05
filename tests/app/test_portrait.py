"""Pictures of the standing structure as files, and what the takes say of it."""

import io

import numpy as np
import pytest
from PIL import Image

from anzel.app.edits import project_edits, stock_edits
from anzel.app.still_image import still_image
from anzel.project import derive
from anzel.project.demos import seedpod_lamp
from anzel.project.takes import figures_of
from anzel.scene.camera import VIEWS

SIZE = (200, 150)


def pixels(project, view="corner", apart=0.0):
    """A portrait read back from its PNG bytes."""
    with Image.open(io.BytesIO(still_image(project, view, apart, SIZE))) as picture:
        assert (picture.format, picture.mode, picture.size) == ("PNG", "RGB", SIZE)
        return np.asarray(picture).astype(int)


def shown(picture):
    """Which pixels are not ground."""
    return (picture != picture[0, 0]).any(axis=2)


def test_every_view_is_another_picture(project):
    pictures = [pixels(project, view) for view in VIEWS]
    assert all(0.02 < shown(picture).mean() < 0.9 for picture in pictures)
    assert len({picture.tobytes() for picture in pictures}) == len(VIEWS)


def test_a_portrait_is_whole_and_in_the_middle(project):
    for apart in (0.0, 1.0):
        seen = shown(pixels(project, "front", apart))
        edge = np.concatenate([seen[0], seen[-1], seen[:, 0], seen[:, -1]])
        assert not edge.any()
        _, across = np.nonzero(seen)
        assert (across.min() + across.max()) / 2 == pytest.approx(SIZE[0] / 2, abs=SIZE[0] * 0.1)


@pytest.mark.slow
def test_how_much_of_the_bulb_is_seen_is_worked_out_once(monkeypatch):
    """It takes seconds for a lamp of many ribs; a look from elsewhere must not repeat it."""
    asked = []
    found = derive.share_seen
    monkeypatch.setattr(derive, "share_seen", lambda *of: (asked.append(of), found(*of))[1])
    lamp = project_edits.change_structure(seedpod_lamp(), ribs=11)
    seen = {figures_of(lamp.with_changes(name=name)).seen for name in ("A", "B")}
    assert (len(asked), len(seen)) == (1, 1)
    figures_of(stock_edits.change_stock(lamp, lamp.stocks_in_use[0].id, readings=(2.7,)))
    assert len(asked) == 2
