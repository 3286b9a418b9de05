"""Mates by their length: what goes into a mortise is as long as the mortise."""

import numpy as np

from anzel.drawings.containment import Flags
from anzel.geometry.segments import Floats
from anzel.refit.local_shapes import LocalShapes, Openings

MATES = 0.8
"""A tab and the mortise it goes into are of one length to this, mm: kerf and clearance differ."""
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


def tab_lengths(shapes: LocalShapes) -> Floats:
    """Return the lengths of all that stands out of an edge like a tab, sorted."""
    posts = shapes.posts
    return np.sort(posts.wide[posts.long <= 1.5 * posts.wide])


def has_mate(shapes: LocalShapes, holes: Openings) -> Flags:
    """Return (n,) whether the drawing has a tab of each hole's length."""
    return could_mates(straight_lengths(holes), tab_lengths(shapes))


def is_preferred(shapes: LocalShapes, holes: Openings) -> Flags:
    """Return (n,) whether some tab goes into each hole at least as well as into any other."""
    posts = shapes.posts
    tabs = np.unique(
        np.round(np.stack([posts.wide, posts.long], axis=1)[posts.long <= 1.5 * posts.wide], 2),
        axis=0,
    )
    sizes, which = np.unique(
        np.round(np.stack([straight_lengths(holes), holes.wide], axis=1), 2),
        axis=0, return_inverse=True,
    )  # fmt: skip
    found = np.zeros(len(sizes), dtype=bool)
    if len(sizes) and len(tabs):
        for tab in tabs:
            off = np.abs(sizes - tab).sum(axis=1)
            found |= (off <= off.min() + _AS_WELL) & (np.abs(sizes[:, 0] - tab[0]) <= MATES)
    return np.asarray(found[which])
