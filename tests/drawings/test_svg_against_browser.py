"""SVG reading against a browser's own geometry: what is drawn, where, and how long it is.

The browser is headless Chromium, from Debian's package `chromium`. It helps these tests only and is
no part of the application; where it is missing they are skipped.
"""

import json
import re
import shutil
import subprocess
from html import unescape

import numpy as np
import pytest
import shapely

from anzel.drawings.containment import chord_points
from anzel.drawings.svg.markup import Markup
from anzel.drawings.svg.reader import SvgContent

CHROMIUM = shutil.which("chromium")
PX = 25.4 / 96
OUTER = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
PAGE = f'{OUTER} width="120mm" height="90mm" viewBox="0 0 240 180"'
FILES = {
    "switch": f"""<svg {PAGE}><switch>
      <foreignObject id="no" requiredExtensions="http://ns.example/other" width="9" height="9"/>
      <g><rect id="plain" x="5" y="5" width="20" height="10"/></g>
      <rect id="second" x="50" y="5" width="20" height="10"/></switch>
     <switch><rect id="empty" requiredExtensions="" x="9" y="40" width="5" height="5"/>
      <rect id="feature" requiredFeatures="http://ns.example/unknown" x="9" y="60" width="5"
       height="5"/></switch>
     <switch><rect id="de" systemLanguage="de" width="8" height="9"/>
      <rect id="en" systemLanguage="fr, en" x="30" y="60" width="8" height="9"/></switch>
     <rect id="alone" requiredExtensions="http://ns.example/other" width="3" height="3"/></svg>""",
    "percent": f"""<svg {PAGE}><rect id="r" x="10%" y="10%" width="25%" height="50%" rx="2%"/>
     <circle id="c" cx="75%" cy="50%" r="10%"/><ellipse id="e" cx="50%" cy="80%" rx="5%" ry="10%"/>
     <line id="l" x1="0%" y1="100%" x2="100%" y2="0%"/>
     <svg x="50%" y="0" width="50%" height="50%" viewBox="0 0 40 20">
      <rect id="inner" x="25%" y="50%" width="50%" height="25%"/></svg>
     <svg width="25%" height="25%"><rect id="bare" width="100%" height="50%"/></svg>
     <g font-size="10"><rect id="em" x="2em" y="12em" width="3em" height="10%"/></g></svg>""",
    "css": f"""<svg {PAGE}><style>/* rect {{ display: none }} */
      .gone, #out > path {{ display:none /* why */ }} rect.b.c {{ visibility: hidden }}
      g g rect {{ r: 3; rx: 4px }} #round {{ r: 12px; cx: 40px }} circle {{ r: 50px !important }}
      @media print {{ .screen {{ display: none }} }} @media screen {{ .print {{ display: none }} }}
      .deep rect[data-x="1"]:first-child {{ width: 30px }} .deep rect {{ width: 60px }}
      .spun {{ transform: translate(30px, 4mm) rotate(0.25turn) }}
      path#p {{ d: path("M5 5H25V15Z") }}
     </style>
     <rect id="a" class="gone" width="5" height="5"/><rect id="b" class="c b" width="5" height="5"/>
     <g id="out"><path id="x" d="M0 0H9V9Z"/><g><path id="y" d="M0 90H9V99Z"/></g></g>
     <g><g><rect id="rounded" x="60" y="60" width="20" height="20"/></g></g>
     <circle id="round" cx="9" cy="60" r="2"/>
     <rect id="s" class="screen" x="100" y="10" width="7" height="8"/>
     <rect id="t" class="print" x="100" y="30" width="7" height="8"/>
     <g class="deep"><rect id="one" data-x="1" x="120" y="90" width="1" height="9"/>
      <rect id="two" x="120" y="110" width="1" height="9" style="width:12px"/></g>
     <rect id="spun" class="spun" transform="scale(9)" width="20" height="6"/>
     <path id="p" d="M0 0H1"/></svg>""",
    "hidden": f"""<svg {PAGE}><g visibility="hidden"><rect id="no" width="5" height="5"/>
      <rect id="yes" visibility="visible" x="20" width="5" height="5"/></g>
     <g display="none"><rect id="never" display="inline" width="5" height="5"/></g>
     <g style="visibility:collapse"><path id="nor" d="M0 0H5V5Z"/></g></svg>""",
    "viewports": f"""<svg {PAGE}><svg x="10" y="20" width="100" height="50" viewBox="0 0 10 10">
      <rect id="mid" width="10" height="10"/></svg>
     <svg x="120" y="20" width="60" height="50" viewBox="5 5 10 20"
      preserveAspectRatio="xMaxYMin slice"><rect id="slice" x="6" y="6" width="3" height="3"/></svg>
     <svg x="10" y="90" width="90" height="40" viewBox="0 0 30 30" preserveAspectRatio="none"
      ><g transform="rotate(10)"><circle id="flat" cx="15" cy="9" r="6"/></g>
      <svg x="3" y="3" width="50%" height="20" viewBox="0 0 4 4"><path id="two" d="M0 0L4 1V4Z"/>
      </svg>
     </svg></svg>""",
    "clips": f"""<svg {PAGE}><clipPath id="k"><rect id="cut" width="9" height="9"/></clipPath>
     <mask id="m"><circle id="masked" r="9"/></mask><marker><path id="mark" d="M0 0H9"/></marker>
     <g clip-path="url(#k)"><rect id="whole" x="3" y="3" width="20" height="20"/></g>
     <path id="veiled" mask="url(#m)" d="M30 30a9 6 20 1 0 9 9z"/></svg>""",
    "units": f"""<svg {OUTER} width="8in" height="6in">{
        "".join(
            f'<rect id="{unit}" x="1{unit}" y="{n}cm" width="2.5{unit}" height="40q"/>'
            for n, unit in enumerate(("mm", "cm", "in", "pt", "pc", "px", "Q", "em", "rem"))
        )
    }</svg>""",
    "foreign": f"""<svg {PAGE} xmlns:o="urn:other"><o:path id="other" d="M0 0H9V9Z"/>
     <blob><rect id="blob" width="4" height="4"/></blob>
     <a><rect id="linked" width="4" height="9"/></a>
     <o:g><path id="held" d="M0 0H9V9Z"/></o:g><path id="last" d="m60 60 20 0 0 20z"/></svg>""",
}
WITHOUT_BROWSER = pytest.mark.skipif(
    CHROMIUM is None, reason="Debian's package chromium is missing"
)
ASK = """<script>
addEventListener("load", () => { const found = {};
 for (const e of document.querySelectorAll("path,rect,circle,ellipse,line,polyline,polygon")) {
  if (e.namespaceURI !== "http://www.w3.org/2000/svg" || !e.getTotalLength) continue;
  const at = e.getScreenCTM(), within = e.closest("defs,clipPath,mask,marker,pattern,symbol");
  let drawn = at && !within && e.checkVisibility({visibilityProperty: true});
  for (let a = e; a; a = a.parentElement) drawn = drawn && getComputedStyle(a).display !== "none";
  if (!drawn) continue;
  const size = e.getTotalLength(), points = [];
  for (let i = 0; i <= 60; i++) {
   const p = e.getPointAtLength(size * i / 60).matrixTransform(at); points.push([p.x, p.y]); }
  found[e.id] = points; }
 parent.postMessage([document.documentElement.id, found], "*"); });
</script>"""
INDEX = """<!DOCTYPE html><meta charset="utf-8"><body><script>
const all = {}; addEventListener("message", e => { all[e.data[0]] = e.data[1];
 document.getElementById("out").textContent = JSON.stringify(all); });
</script><pre id="out"></pre>FRAMES</body>"""


@pytest.fixture(scope="module")
def browser(tmp_path_factory):
    """For each file, points on every shape that the browser shows, px of the page, by id."""
    folder = tmp_path_factory.mktemp("browser")
    for name, content in FILES.items():
        named = content.replace("<svg ", f'<svg id="{name}" ', 1)
        script = ASK.replace("<script>", "<script><![CDATA[").replace("</script>", "]]></script>")
        (folder / f"{name}.svg").write_text(named.removesuffix("</svg>") + script + "</svg>")
    frames = "".join(
        f'<iframe src="{name}.svg" width="1000" height="900"></iframe>' for name in FILES
    )
    (folder / "index.html").write_text(INDEX.replace("FRAMES", frames))
    done = subprocess.run(
        [CHROMIUM, "--headless", "--no-sandbox", "--disable-gpu", "--lang=en-US",
         f"--user-data-dir={folder / 'profile'}", "--virtual-time-budget=20000", "--dump-dom",
         (folder / "index.html").as_uri()],
        capture_output=True, text=True, timeout=120, check=True,
    )  # fmt: skip
    shown = re.search(r'<pre id="out">(.*?)</pre>', done.stdout, re.DOTALL)
    return json.loads(unescape(shown[1]))


@WITHOUT_BROWSER
@pytest.mark.parametrize("name", sorted(FILES))
def test_a_file_is_read_as_a_browser_draws_it(browser, name):
    content = SvgContent(Markup(FILES[name].encode(), "a.svg"), None, 1.0)
    own = {}
    for path in content.traces:
        node = content.instances[path.element].node
        own.setdefault(node.get("id"), []).extend(path.segments)
    assert sorted(own) == sorted(browser[name]), "the same shapes are drawn"
    for shape, points in browser[name].items():
        seen = np.array(points) * PX
        line = shapely.linestrings([*chord_points(own[shape]), own[shape][-1].end])
        off = shapely.distance(shapely.points(seen), line)
        assert off.max() < 0.02, shape
        assert shapely.linestrings(seen).length == pytest.approx(line.length, rel=0.05), shape
