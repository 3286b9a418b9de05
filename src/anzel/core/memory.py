"""How the C library holds memory, where it can be told: glibc does, others keep their own ways."""

import ctypes

_LARGE = 256 * 1024
"""Bytes: a block of this size or more is given back to the system as soon as it is free."""
_HEAPS = 1
"""As many heaps are used, by all threads: only one at a time has Python's interpreter."""
_MMAP_THRESHOLD, _ARENA_MAX = -3, -8
"""The parameters' numbers in malloc.h, see mallopt(3)."""


def hold_little() -> None:
    """Have large blocks given back at once, and small ones taken from one heap.

    By itself glibc raises the limit to 32 MB, and pictures and arrays leave holes behind; and each
    thread has a heap with holes of its own.
    """
    if adjust := getattr(ctypes.CDLL(None), "mallopt", None):
        adjust(_MMAP_THRESHOLD, _LARGE)
        adjust(_ARENA_MAX, _HEAPS)


def give_back() -> None:
    """Give back what is not used at present."""
    if trim := getattr(ctypes.CDLL(None), "malloc_trim", None):
        trim(0)
