"""SVG as text: whatever is written round a shape stays, and what is not drawn is left out."""

import pytest
from tests.told import refused

from anzel.drawings.affine import Affine, rotation, scaling, translation
from anzel.drawings.model import DrawingError, IgnoredItems
from anzel.drawings.svg.markup import edited_tag, tag_end
from anzel.drawings.svg.source import read_svg
from anzel.drawings.svg.transforms import transform
from anzel.materials.fits import FitRule, KerfAt
from anzel.refit.load import load_drawing
from anzel.refit.refit import RefitOptions, refit_drawing

PLAIN = FitRule(0.0, 0.0, KerfAt.DRAWING)
HEAD = 'xmlns="http://www.w3.org/2000/svg" width="200mm" height="90mm" viewBox="0 0 200 90"'
PLATE = "M10 10H60V30H63V10H110V60H10Z M30 40h20v3h-20z"


def refit(content: str, **wishes) -> str:
    analysis = load_drawing(content.encode(), "a.svg")
    return (
        refit_drawing(analysis, RefitOptions(4.0, PLAIN, drawn=(3.0,), **wishes)).written().decode()
    )


@pytest.mark.parametrize(
    ("tag", "changes", "renamed", "after"),
    [
        ('<path d="M0 0" id="a"/>', {"d": "M1 1"}, None, '<path d="M1 1" id="a"/>'),
        ("<path id='a' d = 'M0 0'>", {"d": "M1 1"}, None, "<path id='a' d='M1 1'>"),
        ('<s:rect x="1"\n  y="2" />', {"x": None, "d": "M"}, "path",
         '<s:path \n  y="2" d="M"/>'),
        ('<line x1="0" data-x1="7"/>', {"x1": "5"}, None, '<line x1="5" data-x1="7"/>'),
    ],
)  # fmt: skip
def test_only_named_attributes_of_a_tag_change(tag, changes, renamed, after):
    assert edited_tag(tag, changes, renamed) == after


def test_a_tag_ends_outside_quotes():
    text = b"""<path d="a>b" e='c>"d'  ><x/>"""
    assert text[tag_end(text, 0) :] == b"<x/>"


def test_comments_sections_prefixes_and_entities_stay():
    content = (
        '<?xml version="1.0"?>\n<!DOCTYPE svg [<!ENTITY red "#f00">]>\n'
        f'<s:svg {HEAD.replace("xmlns", "xmlns:s")}>\n<!-- <path d="M0 0h9"/> -->'
        f'<s:style><![CDATA[ .a > .b {{ fill: none }} ]]></s:style><s:path stroke="&red;" '
        f'd="{PLATE}"\n\t/><s:g/></s:svg>\n<!-- end -->\n'
    )
    done = refit(content)
    assert '<!-- <path d="M0 0h9"/> -->' in done
    assert ".a > .b { fill: none }" in done
    assert 'stroke="&red;"' in done
    assert done.endswith("\n\t/><s:g/></s:svg>\n<!-- end -->\n")
    assert "M30 39.5 L50 39.5 L50 43.5 L30 43.5 z" in done


@pytest.mark.parametrize(
    "hidden",
    [
        f'<g display="none"><path d="{PLATE}"/></g>',
        f'<g style="display:none"><path d="{PLATE}"/></g>',
        f'<style>.no, #x {{display:none}}</style><path class="yes no" d="{PLATE}"/>',
        f'<style>.no {{display:none}} #x {{visibility: hidden}}</style><path id="x" d="{PLATE}"/>',
        f'<defs><path d="{PLATE}"/></defs>',
        f'<clipPath id="c"><path d="{PLATE}"/></clipPath>',
        f'<symbol id="s"><path d="{PLATE}"/></symbol>',
        f'<g transform="scale(0)"><path d="{PLATE}"/></g>',
        f'<path class="engrave" d="{PLATE}"/>',
    ],
)
def test_what_is_not_drawn_is_not_read(hidden):
    drawing = read_svg(f'<svg {HEAD}>{hidden}<path d="M0 0h9"/></svg>'.encode(), "a.svg")
    assert len(drawing.paths) == 1


def test_only_the_first_of_a_switch_is_drawn_and_pictures_are_counted():
    content = (
        f'<svg {HEAD}><switch><path d="M0 0h9"/><path d="M0 5h9"/></switch>'
        '<image href="a.png"/><text>a</text><text>b</text><use href="#gone"/></svg>'
    )
    drawing = read_svg(content.encode(), "a.svg")
    assert len(drawing.paths) == 1
    counts = {a.what: a.count for a in drawing.ignored}
    assert counts == {
        "picture": 1, "text": 2, "unresolved reference": 1, "alternative for other programs": 1,
    }  # fmt: skip


def test_a_symbol_opened_up_is_a_viewport_where_it_was_used():
    content = (
        f'<svg {HEAD}><symbol id="s" viewBox="0 0 120 70"><path id="p" d="{PLATE}"/></symbol>'
        '<use href="#s" width="120" height="70"/>'
        '<use href="#s" x="60" y="20" width="60" height="35" class="small"/></svg>'
    )
    done = refit(content, held=frozenset({"piece-2"}))
    assert done.count("<use") + done.count("<g ") == 2
    before, after = (read_svg(c.encode(), "a.svg").paths for c in (content, done))
    still = [t.segments for t in before[2:]]
    for segments in still:  # the smaller copy's openings are of half the thickness: none is found
        assert segments in [t.segments for t in after]
    assert {t.segments for t in before[:2]}.isdisjoint({t.segments for t in after})


def test_transforms_are_done_from_the_last_to_the_first():
    """SVG 2, 8.5."""
    both = transform("translate(10, 20) rotate(90) , scale(2 3)")
    assert both((1, 1)) == pytest.approx((7, 22))
    by_hand = translation(10, 20).compose(rotation(90)).compose(scaling(2, 3))
    assert both((5, -4)) == pytest.approx(by_hand((5, -4)))
    assert transform("matrix(1 2 3 4 5 6)")((1, 1)) == (9, 12)
    assert transform("rotate(180 5 5)")((0, 0)) == pytest.approx((10, 10))
    assert transform("skewX(45)")((0, 2)) == pytest.approx((2, 2))


def test_maps_and_their_inverses():
    slanted = Affine(2, 1, -1, 3, 5, 7)
    assert slanted.inverse()(slanted((4, -9))) == pytest.approx((4, -9))
    assert not slanted.is_similarity
    turned = rotation(30).compose(scaling(-2, 2))
    assert turned.is_similarity
    assert (turned.determinant < 0, turned.scale) == (True, pytest.approx(2))


@pytest.mark.parametrize("prefix", ["a", "layers", "x-1"])
def test_a_layers_label_is_found_in_whatever_namespace(prefix):
    content = (
        f'<svg xmlns="http://www.w3.org/2000/svg" xmlns:{prefix}="urn:any" width="9mm" '
        f'viewBox="0 0 9 9"><g {prefix}:label="Cuts"><path d="M0 0H4V4Z"/></g></svg>'
    )
    (drawn_path,) = read_svg(content.encode(), "d.svg").paths
    assert drawn_path.label.startswith("Cuts/")


def test_a_shape_without_size_is_told():
    content = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" viewBox="0 0 9 9">'
        '<circle r="nan"/><rect width="4" height="4"/></svg>'
    )
    drawing = read_svg(content.encode(), "d.svg")
    assert drawing.ignored == (
        IgnoredItems("length that is not understood (“nan”)", 1, "line 1"),
        IgnoredItems("shape without size", 1, "line 1"),
    )


@pytest.mark.parametrize(
    ("body", "words"),
    [
        (f'<path d="M0 0H9V9Z" style="fill:{"(" * 5000}"/>', "too deep"),
        (f'<style>{"@media all{" * 3000} p{{fill:red}}</style><path d="M0 0H9V9Z"/>', "too deep"),
        (f'<style>{"a " * 20000}{{fill:red}}</style><path d="M0 0H9V9Z"/>', "too deep"),
        ("<style>" + "".join(f".c{i} > g path {{fill:red}}" for i in range(4000)) + "</style>"
         + '<path d="M0 0H9V9Z"/>' * 1000, "too many style rules"),
        ("<style>x g g g g g{fill:red}</style>" + "<g>" * 100 + "</g>" * 100, "too many style"),
        (f'<style>{"g," * 40000} g{{fill:red}}</style>', "too many style rules"),
        ('<path style="transform:rotate(1e400deg)" d="M0 0H9V9Z"/>', "out of reason"),
        ('<path style="transform:perspective(3px)" d="M0 0H9V9Z"/>', "cannot be read"),
    ],
)  # fmt: skip
def test_styles_that_cannot_be_followed_are_refused_in_words(body, words):
    head = '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" viewBox="0 0 9 9">'
    with refused(DrawingError, match=words):
        read_svg(f"{head}{body}</svg>".encode(), "d.svg")


def test_what_is_not_understood_is_named_with_its_line():
    content = (
        '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" viewBox="0 0 9 9">'
        "<style>@import url(other.css); @media (min-width: 9px) { path { display: none } }\n"
        "::before { fill: red } a:unheard, *| { fill: red } !</style>\n"
        '<rect width="50vw" height="3"/><rect width="5" height="4"/>\n'
        '<g transform-origin="3 3" transform="scale(1)"><path d="M0 0H4V4Z"/></g></svg>'
    )
    drawing = read_svg(content.encode(), "d.svg")
    told = {each.what: each.place for each in drawing.ignored}
    assert told == {
        "style sheet in another file": "", "rules for some screens only": "",
        "rule of a style sheet that is not understood": "",
        "length that is not understood (“50vw”)": "line 3", "shape without size": "line 3",
        "origin of a transform that is not understood": "line 4",
    }  # fmt: skip
    assert len(drawing.paths) == 2
