"""Meshes from STL, OBJ, PLY and 3MF: read, repaired or refused, kept as binary STL.

No file that a mesh refers to is opened. Only what a closed body needs is repaired, and every repair
is told.
"""

import io
import zipfile
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING

import numpy as np

from anzel.core.asset import Asset
from anzel.core.linked_groups import linked_groups
from anzel.core.tolerances import MESH_CORNERS
from anzel.storage.atomic_file import FileError, read_whole
from anzel.storage.items_of_3mf import items_of_3mf
from anzel.structure.forms import mesh_sections
from anzel.structure.solids import triangles_of

if TYPE_CHECKING:
    from trimesh import Trimesh

KINDS = ("stl", "obj", "ply", "3mf")
LARGEST = 256 * 1024 * 1024
MOST_TRIANGLES = 3_000_000
MOST_BODIES = 2000
"""Each is made closed by itself, which takes some milliseconds."""
_LARGEST_3MF = 40 * 1024 * 1024
"""Bytes of a 3MF once unpacked: a tree of its markup takes twenty times as much."""
_FURTHEST = 1e9
"""No corner of a body is further off, mm; NaN is not nearer either."""


@dataclass(frozen=True)
class ImportedMesh:
    """A closed mesh, its height in mm as drawn, and the repairs."""

    mesh: Asset
    height: float
    repairs: tuple[str, ...]


class MeshError(FileError):
    """A file that holds no body to slice."""


def read_mesh(path: Path) -> ImportedMesh:
    """Return the body of a mesh file.

    Raises
    ------
    FileError
        Or MeshError.
    """
    kind = path.suffix.lower().removeprefix(".")
    if kind not in KINDS:
        known = ", ".join(each.upper() for each in KINDS)
        raise MeshError(f"{path.name} is no mesh Anzel knows.", hint=f"It reads {known}.")
    parts = _loaded(_content(path, kind), kind, path.name)
    count = sum(len(part.faces) for part in parts)
    if not count:
        raise MeshError(f"{path.name} holds no triangles.")
    if count > MOST_TRIANGLES:
        raise _too_many(path.name, "triangles", MOST_TRIANGLES)
    if not all((np.abs(part.vertices) < _FURTHEST).all() for part in parts if len(part.vertices)):
        raise MeshError(f"{path.name} has corners that are nowhere.", hint="Save it anew.")
    repairs: list[str] = []
    bodies = [body for part in parts for body in _bodies(part, path.name)]
    for body in bodies:
        _repair(body, repairs, path.name)
    stl, height = _kept(bodies, repairs, path.name)
    return ImportedMesh(Asset.of(path.name[-120:], stl), height, tuple(repairs))


def _content(path: Path, kind: str) -> bytes:
    too_large = MeshError(f"{path.name} is far too large.", hint="Make it coarser.")
    content = read_whole(path, LARGEST, too_large)
    if kind == "3mf":
        _need_few_items(content, path.name)
    return content


def _need_few_items(content: bytes, name: str) -> None:
    """Raise MeshError for a 3MF that would grow far beyond its size when it is unpacked."""
    try:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            members = archive.infolist()
            if sum(member.file_size for member in members) > _LARGEST_3MF:
                raise MeshError(f"{name} is far too large as 3MF.", hint="Save it as STL.")
            models = [archive.read(each) for each in members if each.filename.endswith(".model")]
            count = sum(items_of_3mf(model) for model in models)
    except MeshError:
        raise
    except Exception as error:  # archives and markup can be damaged in many ways
        raise _unreadable(name) from error
    if count > MOST_BODIES:
        raise _too_many(name, "bodies", MOST_BODIES)


def _loaded(content: bytes, kind: str, name: str) -> "list[Trimesh]":
    import trimesh  # takes a while to load, and only meshes need it

    try:
        scene = trimesh.load_scene(io.BytesIO(content), file_type=kind, process=False)
        if scene.units:
            scene = scene.convert_units("millimeters")
        parts = [part for part in scene.dump() if isinstance(part, trimesh.Trimesh)]
    except Exception as error:  # each format's reader fails in its own way
        raise _unreadable(name) from error
    if not all(map(_has_all_corners, parts)):
        raise _unreadable(name)
    return parts


def _has_all_corners(part: "Trimesh") -> bool:
    """Return whether every triangle has three corners, of three coordinates each."""
    faces, vertices = part.faces, part.vertices
    if faces.shape[1:] != (3,) or vertices.shape[1:] != (3,):
        return False
    return not len(faces) or bool(faces.min() >= 0 and faces.max() < len(vertices))


def _bodies(part: "Trimesh", name: str) -> "list[Trimesh]":
    """Return a part's closed bodies.

    They may touch, so their corners are not merged. Raises MeshError for far too many.
    """
    if not part.is_watertight:
        return [part]
    if part.body_count > MOST_BODIES:
        raise _too_many(name, "bodies", MOST_BODIES)
    return list(part.split(only_watertight=True, repair=False)) or [part]


def _repair(mesh: "Trimesh", repairs: list[str], name: str) -> None:
    """Close a body and turn it outside out; repairs are appended to the list.

    Raises MeshError if it stays open.
    """
    from trimesh import repair

    mesh.merge_vertices(merge_tex=True, merge_norm=True)
    before = len(mesh.faces)
    mesh.update_faces(mesh.nondegenerate_faces() & mesh.unique_faces())
    if dropped := before - len(mesh.faces):
        repairs.append(f"{dropped} flat or doubled triangles left out")
    if len(mesh.faces) and not mesh.is_watertight:
        _join_close(mesh, repairs)
    if len(mesh.faces) and not mesh.is_watertight:
        before = len(mesh.faces)
        repair.fill_holes(mesh)
        if len(mesh.faces) > before:
            repairs.append(f"small holes closed with {len(mesh.faces) - before} triangles")
    if not len(mesh.faces) or not mesh.is_watertight:
        raise MeshError(
            f"{name} is not closed: {_open_edges(mesh)}.",
            hint="Close its holes in a program that makes meshes.",
        )
    if not mesh.is_winding_consistent or mesh.volume < 0:
        repair.fix_normals(mesh, multibody=True)  # type: ignore[no-untyped-call]
        repairs.append("triangles turned to face outwards")


def _join_close(mesh: "Trimesh", repairs: list[str]) -> None:
    """Merge corners that are closer than they can have been meant to be."""
    from scipy.spatial import KDTree

    count = len(mesh.vertices)
    near = KDTree(mesh.vertices).query_pairs(
        MESH_CORNERS * float(mesh.scale), output_type="ndarray"
    )
    group = linked_groups(near, count)
    left = int(group.max()) + 1
    if left == count:
        return
    _, first = np.unique(group, return_index=True)
    faces = group[mesh.faces]
    mesh.vertices, mesh.faces = mesh.vertices[first], faces
    mesh.update_faces(mesh.nondegenerate_faces())
    repairs.append(f"{count - left} corners joined that were almost in one place")


def _open_edges(mesh: "Trimesh") -> str:
    edges, shared = np.unique(mesh.edges_sorted, axis=0, return_counts=True)
    odd = edges[shared != 2]
    if not len(odd):
        return "it has no body"
    x, y, z = mesh.vertices[odd[0][0]]
    return f"{len(odd)} edges do not join two triangles, one near {x:.4g}, {y:.4g}, {z:.4g}"


def _kept(bodies: "list[Trimesh]", repairs: list[str], name: str) -> tuple[bytes, float]:
    """Return the united bodies as binary STL about their middle, and the height.

    Single precision is finest about the middle. Raises MeshError for what is flat or no solid.
    """
    from manifold3d import Manifold, OpType

    ends = np.array([body.bounds for body in bodies])
    low, high = ends[:, 0].min(axis=0), ends[:, 1].max(axis=0)
    middle = (low + high) / 2
    solids = [mesh_sections.solid(body.triangles - middle) for body in bodies]
    broken = next((s.status().name for s in solids if s.status().name != "NoError"), "")
    if broken or min(high - low) < 1e-3 * max(high - low):
        raise MeshError(
            f"{name} is no solid body ({broken or 'flat'}).",
            hint="Make it one closed surface that does not touch itself.",
        )
    corners = bodies[0].triangles - middle
    if len(solids) > 1:
        corners = triangles_of(Manifold.batch_boolean(solids, OpType.Add))
        repairs.append(f"{len(solids)} bodies made one")
    return mesh_sections.stl_of(corners), float(high[2] - low[2])


def _too_many(name: str, what: str, most: int) -> MeshError:
    return MeshError(f"{name} has more than {most} {what}.", hint="Make it simpler.")


def _unreadable(name: str) -> MeshError:
    return MeshError(f"{name} could not be read as a mesh.", hint="Save it anew, or as STL.")
