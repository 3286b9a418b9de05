"""Drawings and meshes that ask for something elsewhere, given to their readers."""

import tempfile
from pathlib import Path

from mutations import READERS

from anzel.core.findings import MakerError

SECRET = str(Path(tempfile.gettempdir()) / "anzel-secret")


def ask():
    """Read drawings and meshes that ask for something elsewhere."""
    asks = f"""<?xml version="1.0"?>
<!DOCTYPE svg [<!ENTITY x SYSTEM "file://{SECRET}">]>
<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink" width="50mm"
 height="50mm" viewBox="0 0 50 50"><text>&x;</text></svg>"""
    links = f"""<svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"
 width="50mm" height="50mm" viewBox="0 0 50 50"><style>@import url(http://localhost:9/a.css);</style>
<script>fetch("http://localhost:9/")</script><image xlink:href="http://localhost:9/a.png"/>
<image xlink:href="file://{SECRET}"/><use xlink:href="http://localhost:9/b.svg#x"/>
<rect x="5" y="5" width="30" height="20" onload="alert(1)"/></svg>"""
    mesh = f"mtllib {SECRET}.mtl\nusemtl x\nv 0 0 0\nv 9 0 0\nv 0 9 0\nf 1 2 3\n"
    for reader, content in (
        *((reader, text) for text in (asks, links) for reader in ("svg", "svg cut", "svg lines")),
        ("obj", mesh),
    ):
        try:
            READERS[reader][1](content.encode())
        except MakerError:
            pass
