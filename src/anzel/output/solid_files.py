"""The standing structure as solids for others: 3MF, STL, OBJ and GLB, a named body for each piece.

Bodies have the shape that comes from the cutter, in their place, in mm, in the colour of their
stock. GLB counts in metres with y up (glTF 2.0, 3.4): its root scales and turns the bodies, whose
own coordinates are mm as well.
"""

import io
import zipfile
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from xml.sax.saxutils import quoteattr

import numpy as np

from anzel.geometry.segments import Floats
from anzel.project.derive import fit_context_of, solved_structure_of
from anzel.project.model import Project
from anzel.structure.solids import produced_solid

ENDINGS = (".3mf", ".stl", ".obj", ".glb")
_CORE = "http://schemas.microsoft.com/3dmanufacturing/core/2015/02"
_TYPES = (
    '<?xml version="1.0" encoding="UTF-8"?>'
    '<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types">'
    '<Default Extension="rels" '
    'ContentType="application/vnd.openxmlformats-package.relationships+xml"/>'
    '<Default Extension="model" '
    'ContentType="application/vnd.ms-package.3dmanufacturing-3dmodel+xml"/></Types>'
)
_RELATIONS = (
    '<?xml version="1.0" encoding="UTF-8"?>'
    '<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">'
    '<Relationship Target="/3D/3dmodel.model" Id="rel0" '
    'Type="http://schemas.microsoft.com/3dmanufacturing/2013/01/3dmodel"/></Relationships>'
)


@dataclass(frozen=True, eq=False)
class SolidBody:
    """A named body: its corners (n, 3), mm, its triangles (m, 3), and its colour, #rrggbb."""

    name: str
    corners: Floats
    triangles: "np.ndarray[tuple[int, int], np.dtype[np.int64]]"
    colour: str

    @property
    def rgb(self) -> tuple[int, int, int]:
        """The colour's parts, 0 to 255."""
        red, green, blue = (int(self.colour[at : at + 2], 16) for at in (1, 3, 5))
        return red, green, blue


def solid_bodies(project: Project, names: frozenset[str] | None = None) -> list[SolidBody]:
    """Return the produced pieces in their places, of some names or all."""
    fit_context, tints, made = fit_context_of(project), project.tints, []
    for piece in solved_structure_of(project).pieces:
        if names is None or piece.name in names:
            mesh = produced_solid(piece, fit_context).to_mesh64()
            corners = np.asarray(mesh.vert_properties, dtype=float)[:, :3]
            triangles = np.asarray(mesh.tri_verts, dtype=np.int64)
            made.append(SolidBody(piece.name, corners, triangles, tints[piece.stock_id]))
    return made


def solids_bytes(project: Project, ending: str, names: frozenset[str] | None = None) -> bytes:
    """Return the standing structure as a file of one of the `ENDINGS`."""
    writers: dict[str, Callable[[Sequence[SolidBody]], bytes]] = {
        ".3mf": _as_3mf, ".stl": _as_stl, ".obj": _as_obj, ".glb": _as_glb,
    }  # fmt: skip
    return writers[ending](solid_bodies(project, names))


def _as_3mf(bodies: Sequence[SolidBody]) -> bytes:
    """Return a 3MF package (3MF Core Specification 1.3)."""
    parts = [
        f'<?xml version="1.0" encoding="UTF-8"?><model unit="millimeter" xmlns="{_CORE}">',
        '<metadata name="Application">Anzel</metadata><resources><basematerials id="1">',
        *(f'<base name={quoteattr(b.name)} displaycolor="{b.colour.upper()}FF"/>' for b in bodies),
        "</basematerials>",
    ]
    for at, body in enumerate(bodies):
        head = f'<object id="{at + 2}" type="model" pid="1" pindex="{at}" name='
        parts += [f"{head}{quoteattr(body.name)}><mesh><vertices>"]
        parts += [f'<vertex x="{x:.9g}" y="{y:.9g}" z="{z:.9g}"/>' for x, y, z in body.corners]
        parts += ["</vertices><triangles>"]
        parts += [f'<triangle v1="{a}" v2="{b}" v3="{c}"/>' for a, b, c in body.triangles]
        parts += ["</triangles></mesh></object>"]
    items = "".join(f'<item objectid="{at + 2}"/>' for at in range(len(bodies)))
    parts.append(f"</resources><build>{items}</build></model>")
    buffer = io.BytesIO()
    with zipfile.ZipFile(buffer, "w", zipfile.ZIP_DEFLATED) as package:
        package.writestr("[Content_Types].xml", _TYPES)
        package.writestr("_rels/.rels", _RELATIONS)
        package.writestr("3D/3dmodel.model", "".join(parts))
    return buffer.getvalue()


def _as_stl(bodies: Sequence[SolidBody]) -> bytes:
    """Return an STL file in its form as text, which alone can name its solids."""
    lines = []
    for body in bodies:
        name = body.name.replace("\n", " ")
        faces = body.corners[body.triangles]
        normals = np.cross(faces[:, 1] - faces[:, 0], faces[:, 2] - faces[:, 0])
        lengths = np.linalg.norm(normals, axis=1, keepdims=True)
        normals = normals / np.where(lengths > 0, lengths, 1.0)
        lines.append(f"solid {name}")
        for normal, face in zip(normals, faces, strict=True):
            lines.append("facet normal {:.6g} {:.6g} {:.6g}\nouter loop".format(*normal))
            lines += ["vertex {:.9g} {:.9g} {:.9g}".format(*corner) for corner in face]
            lines.append("endloop\nendfacet")
        lines.append(f"endsolid {name}")
    return "\n".join([*lines, ""]).encode()


def _as_obj(bodies: Sequence[SolidBody]) -> bytes:
    """Return an OBJ file; colours stand beside the corners, so that it is one file."""
    lines, first = ["# millimetres"], 1
    for body in bodies:
        lines.append(f"o {body.name.replace(' ', '_')}")
        colour = " ".join(f"{part / 255:.4f}" for part in body.rgb)
        lines += [f"v {x:.9g} {y:.9g} {z:.9g} {colour}" for x, y, z in body.corners]
        lines += [f"f {a + first} {b + first} {c + first}" for a, b, c in body.triangles]
        first += len(body.corners)
    return "\n".join([*lines, ""]).encode()


def _as_glb(bodies: Sequence[SolidBody]) -> bytes:
    import trimesh  # takes a second to load

    scene = trimesh.Scene()
    root = np.array([(1e-3, 0, 0, 0), (0, 0, 1e-3, 0), (0, -1e-3, 0, 0), (0, 0, 0, 1)])
    for body in bodies:
        material = trimesh.visual.material.PBRMaterial(  # type: ignore[no-untyped-call]
            name=body.colour, baseColorFactor=(*body.rgb, 255), metallicFactor=0.0,
            roughnessFactor=0.9,
        )  # fmt: skip
        mesh = trimesh.Trimesh(body.corners, body.triangles, process=False)
        mesh.visual = trimesh.visual.TextureVisuals(  # type: ignore[no-untyped-call]
            material=material
        )
        scene.add_geometry(mesh, node_name=body.name, geom_name=body.name, transform=root)
    content: bytes = scene.export(file_type="glb")  # type: ignore[no-untyped-call]
    return content
