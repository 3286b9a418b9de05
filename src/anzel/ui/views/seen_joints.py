"""Where the joints are seen in a picture of the structure."""

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

if TYPE_CHECKING:
    from anzel.scene.offscreen import RenderedPicture


class SeenJoints:
    """Works out the places once for each picture; a view asks at each move of the mouse."""

    def __init__(self) -> None:
        self._picture: RenderedPicture | None = None
        self._hidden: frozenset[str] = frozenset()
        self._size = (0, 0)
        self._seen: tuple[list[str], NDArray[np.float64]] = ([], np.empty((0, 2)))

    def of(
        self, picture: "RenderedPicture", hidden: frozenset[str], size: tuple[int, int]
    ) -> tuple[list[str], NDArray[np.float64]]:
        """Return the joints' names and their places, (n, 2) pixels of a view of a size.

        What is cut away and joints of hidden pieces only are left out.
        """
        if picture is not self._picture or (hidden, size) != (self._hidden, self._size):
            self._picture, self._hidden, self._size = picture, hidden, size
            self._seen = self._work_out(picture)
        return self._seen

    def _work_out(self, picture: "RenderedPicture") -> tuple[list[str], NDArray[np.float64]]:
        joints = picture.request.solved.joints
        if not joints:
            return [], np.empty((0, 2))
        shifts = [picture.offsets[joint.pieces[0]] for joint in joints]
        places = np.array([joint.at for joint in joints]) + np.array(shifts)
        is_seen = places @ picture.cut[:3] + picture.cut[3] >= 0
        is_seen &= [not self._hidden.issuperset(joint.pieces) for joint in joints]
        names = [joint.id for joint, seen in zip(joints, is_seen, strict=True) if seen]
        return names, picture.camera.all_to_pixels(places[is_seen], *self._size)
