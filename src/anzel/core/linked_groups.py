"""Things that hang together by links between pairs of them."""

import numpy as np
from numpy.typing import NDArray


def linked_groups(links: NDArray[np.integer], count: int) -> NDArray[np.int64]:
    """Return the number of the group of each of `count` things.

    `links` is (m, 2): the pairs of things that are linked. Groups are numbered from nought.
    """
    from scipy.sparse import coo_array  # loading SciPy would delay the window
    from scipy.sparse.csgraph import connected_components

    graph = coo_array((np.ones(len(links)), (links[:, 0], links[:, 1])), (count, count))
    return np.asarray(connected_components(graph, directed=False)[1], np.int64)
