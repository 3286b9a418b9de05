"""How the C library holds memory, where it can be told: glibc does, others keep their own ways."""

import ctypes

_LARGE = 256 * 1024
"""Bytes: a block of this size or more is given back to the system as soon as it is free."""
_MMAP_THRESHOLD = -3
"""The parameter's number in malloc.h, see mallopt(3)."""


def give_large_blocks_back() -> None:
    """Have large blocks given back at once.

    By itself glibc raises the limit to 32 MB, and pictures and arrays leave holes behind.
    """
    if adjust := getattr(ctypes.CDLL(None), "mallopt", None):
        adjust(_MMAP_THRESHOLD, _LARGE)


def give_back() -> None:
    """Give back what is not used at present."""
    if trim := getattr(ctypes.CDLL(None), "malloc_trim", None):
        trim(0)
