"""Words that go with numbers."""


def counted(count: int, one: str, several: str = "") -> str:
    """Return a number with its noun, in the plural where it is not 1.

    >>> counted(1, "slot"), counted(3, "slot"), counted(2, "piece is", "pieces are")
    ('1 slot', '3 slots', '2 pieces are')
    """
    return f"{count} {one if count == 1 else several or f'{one}s'}"
