"""Mates by their length: what goes into a mortise is as long as the mortise."""

import numpy as np

from anzel.drawings.containment import Flags
from anzel.geometry.regions import Indices
from anzel.geometry.segments import Floats
from anzel.refit.local_shapes import LocalShapes, Openings

MATES = 0.8
"""A tab and the mortise it goes into are of one length to this, mm: kerf and clearance differ."""
_NOISE = 0.05
_AS_WELL = 0.1
"""Holes take a tab equally well where their misfits differ by no more than this, mm."""


def could_mate(width: float, widths: Floats) -> bool:
    """Return whether a width could mate with one of some sorted others."""
    return bool(could_mates(np.array([width]), widths)[0])


def could_mates(lengths: Floats, others: Floats) -> Flags:
    """Return (n,) whether each length could mate with one of some sorted others."""
    first = np.searchsorted(others, lengths - MATES)
    return np.asarray(first < np.searchsorted(others, lengths + MATES, side="right"))


def straight_lengths(holes: Openings) -> Floats:
    """Return (n,) the length of each hole that a tab can fill: without its round ends."""
    return np.asarray(np.where(holes.round, holes.long - holes.wide, holes.long))


def _tabs(shapes: LocalShapes) -> Openings:
    """Return all that stands out of an edge like a tab."""
    return shapes.posts.where(shapes.posts.long <= 1.5 * shapes.posts.wide)


def tab_lengths(shapes: LocalShapes) -> Floats:
    """Return the lengths of all that stands out of an edge like a tab, sorted."""
    return np.sort(_tabs(shapes).wide)


def alike(*sizes: Floats) -> Indices:
    """Return (n,) the number of the group that each is in: alike in all its sizes, but for noise.

    Sizes are alike that are less than 0.05 mm from the next one.
    """
    group = np.zeros(len(sizes[0]), dtype=np.int64)
    for size in sizes:
        order = np.argsort(size)
        run = np.cumsum(np.diff(size[order], prepend=size[order][:1]) > _NOISE)
        label = np.empty_like(run)
        label[order] = run
        _, group = np.unique(np.stack([group, label], axis=1), axis=0, return_inverse=True)
    return group


def has_mate(shapes: LocalShapes, holes: Openings) -> Flags:
    """Return (n,) whether the drawing has a tab of each hole's length."""
    return could_mates(straight_lengths(holes), tab_lengths(shapes))


def is_preferred(shapes: LocalShapes, holes: Openings) -> Flags:
    """Return (n,) whether some tab goes into each hole at least as well as into any other."""
    posts = _tabs(shapes)
    long, wide = straight_lengths(holes), holes.wide
    found = np.zeros(len(holes), dtype=bool)
    _, tabs = np.unique(alike(posts.wide, posts.long), return_index=True)
    for tab in tabs if len(holes) else ():
        length_off = np.abs(long - posts.wide[tab])
        off = length_off + np.abs(wide - posts.long[tab])
        found |= (off <= off.min() + _AS_WELL) & (length_off <= MATES)
    return found
