"""Living hinges: fields of parallel slits that let a sheet bend.

They are never for a mating sheet, however wide they are drawn.
"""

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from anzel.geometry.regions import Indices
from anzel.geometry.segments import Floats
from anzel.refit.local_shapes import LocalShapes

_FEWEST = 6
"""Slits in a field. Common practice, no source."""
_WEB = 2.0
"""The web between slits is narrower than this many of their widths, or than the next."""
_NARROW_WEB = 3.0
"""...mm. Common practice, no source: links of a hinge must twist."""
_SLENDER = 4.0
"""A slit is longer than this many of its widths."""


def hinge_holes(shapes: LocalShapes) -> set[int]:
    """Return the numbers of those rectangular holes that are slits of a living hinge."""
    holes, sides = shapes.holes, shapes.sides
    slender = np.flatnonzero(holes.long > _SLENDER * holes.wide)
    if len(slender) < _FEWEST:
        return set()
    side = holes.side[slender]
    opposite = sides.after[sides.after[side]]
    middle = (sides.start[side] + sides.start[opposite]) / 2
    along, wide, long = sides.along[side], holes.wide[slender], holes.long[slender]
    heading = np.round(np.degrees(np.arctan2(along[:, 1], along[:, 0])) % 180) % 180
    linked = [
        which[_beside(middle[which], along[which[0]], wide[which], long[which])]
        for angle in np.unique(heading)
        for which in [np.flatnonzero(heading == angle)]
    ]
    one, other = np.concatenate(linked).T
    size = len(slender)
    graph = coo_matrix((np.ones(len(one)), (one, other)), (size, size))
    _, group = connected_components(graph, directed=False)
    large = np.bincount(group)[group] >= _FEWEST
    return {int(i) for i in slender[large]}


def _beside(middle: Floats, along: Floats, wide: Floats, long: Floats) -> Indices:
    """Return (m, 2) pairs of parallel slits side by side with only a web between them."""
    web = np.minimum(_WEB * wide, _NARROW_WEB)
    reach = float((wide + web).max())
    ahead, across = middle @ along, middle @ np.array([-along[1], along[0]])
    # shrunk along the slits, so that a search round each finds only its neighbours
    squeezed = np.stack([ahead * reach / float(long.max()), across], axis=1)
    near = cKDTree(squeezed).query_pairs(1.5 * reach, output_type="ndarray").reshape(-1, 2)
    one, other = near[:, 0], near[:, 1]
    apart = np.abs(across[one] - across[other])
    beside = (apart > wide[one]) & (apart - wide[one] <= web[one])
    beside &= np.abs(ahead[one] - ahead[other]) < (long[one] + long[other]) / 2
    beside &= np.abs(wide[one] - wide[other]) < 0.05
    return np.asarray(near[beside])
