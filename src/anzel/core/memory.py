"""How much memory this process takes, and may take.

The C library can be told how to hold it where it is glibc; others keep their own ways.
"""

import ctypes
import resource
from pathlib import Path

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


def limit_memory(more: int) -> None:
    """Let this process take so many bytes more than it has; 0 sets no limit.

    What asks for more is refused: Python raises MemoryError.
    """
    if more:
        pages = int(Path("/proc/self/statm").read_text().split()[0])
        limit = pages * resource.getpagesize() + more
        resource.setrlimit(resource.RLIMIT_AS, (limit, limit))
