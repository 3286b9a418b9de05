"""The palettes: contrast by WCAG, and marks that tell apart for every kind of colour vision."""

from itertools import pairwise

import numpy as np
import pytest
from PySide6.QtGui import QColor
from PySide6.QtWidgets import QApplication, QFrame

from anzel.app.settings import Look
from anzel.cutjob.operations import Operation, Pens
from anzel.project.demos import DEMOS
from anzel.ui import theme

PALETTES = {Look.LIGHT: theme.LIGHT, Look.DARK: theme.DARK}
SEEN_BY = {  # Machado, Oliveira and Fernandes (2009), severity 1.0; values from memory
    "protan": [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216],
               [-0.003882, -0.048116, 1.051998]],
    "deutan": [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413],
               [-0.011820, 0.042940, 0.968881]],
    "tritan": [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602],
               [0.004733, 0.691367, 0.303900]],
    "all": np.eye(3),
}  # fmt: skip


@pytest.fixture(params=PALETTES)
def look(request, qapp):
    """One of the looks, in use."""
    before = qapp.property("anzelLook")
    theme.use_look(qapp, request.param, 1.0)
    yield request.param
    qapp.setProperty("anzelLook", before)
    theme.apply(qapp)


def linear(colour):
    """The linear light of a colour's channels (WCAG 2.2, relative luminance)."""
    channels = np.array(QColor(colour).getRgbF()[:3])
    return np.where(channels <= 0.04045, channels / 12.92, ((channels + 0.055) / 1.055) ** 2.4)


def contrast(one, other, vision="all"):
    """Contrast ratio of two colours as somebody sees them."""
    weights = np.array([0.2126, 0.7152, 0.0722])
    seen = (np.clip(np.array(SEEN_BY[vision]) @ linear(c), 0, 1) @ weights for c in (one, other))
    dark, light = sorted(seen)
    return (light + 0.05) / (dark + 0.05)


def pairs(palette, names, grounds):
    return [(n, g, getattr(palette, n), getattr(palette, g)) for n in names for g in grounds]


@pytest.mark.parametrize("vision", SEEN_BY)
@pytest.mark.parametrize("palette", PALETTES.values(), ids=PALETTES)
def test_text_and_marks_have_the_contrast_of_wcag_aa(palette, vision):
    grounds = ("paper", "sheet", "well", "accent_soft")
    for name, ground, one, other in pairs(palette, ("ink", "soft", "accent", "warn"), grounds):
        least = 4.5 if ground != "well" else 4.0  # on a well stand only large or passing words
        assert contrast(one, other, vision) >= least, (name, ground)
    for name, ground, one, other in pairs(palette, ("edge", "accent", "warn"), grounds[:2]):
        assert contrast(one, other, vision) >= 3, (name, ground)
    assert contrast(palette.on_accent, palette.accent, vision) >= 4.5
    assert contrast(palette.on_accent, palette.accent_strong, vision) >= 4.5
    assert contrast(palette.warn, palette.warn_soft, vision) >= 4.5
    assert contrast(palette.sheet, palette.ink, vision) >= 7


def test_the_window_wears_the_look_that_is_chosen(look, qapp):
    assert theme.colours() == PALETTES[look]
    assert qapp.palette().window().color() == QColor(PALETTES[look].paper)
    assert PALETTES[look].edge in qapp.styleSheet()


def test_lines_show_on_every_sheet_and_sheets_keep_their_hue(look):
    for stock in (stock for demo in DEMOS for stock in demo.make().stocks):
        sheet = theme.sheet_colour(stock.tint)
        assert contrast(theme.colour("ink"), sheet) >= 4.5, stock.name
        if QColor(stock.tint).hslSaturationF() > 0.1:
            assert abs(sheet.hslHueF() - QColor(stock.tint).hslHueF()) < 0.03
    assert QApplication.instance() is not None


@pytest.mark.parametrize("vision", SEEN_BY)
def test_the_usual_pens_are_told_apart_by_lightness_too(vision):
    pens = Pens()
    seen = [pens.colour(operation) for operation in Operation]
    steps = [contrast(one, other, vision) for one, other in pairwise(seen)]
    assert min(steps) > 1.15, steps
    assert min(contrast(each, "#ffffff", vision) for each in seen) > 2.5


def test_pictures_in_the_window_follow_the_look(window, qapp):
    for scheme in (Look.LIGHT, Look.DARK, Look.LIGHT):
        theme.use_look(qapp, scheme, 1.0)
        strip = window.findChild(QFrame, "Strip")
        icon = strip._fits.button(1).icon().pixmap(40, 40).toImage()
        colours = {icon.pixelColor(x, y).name() for x in range(40) for y in range(40)}
        assert PALETTES[scheme].accent in colours
