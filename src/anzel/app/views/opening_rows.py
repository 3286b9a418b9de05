"""Rows of produced openings, gathered where there are too many to show."""

from anzel.app.practice_loop import OpeningOutcome
from anzel.test_pieces.trial import Feel


def gathered_rows(rows: tuple[OpeningOutcome, ...], most: int) -> tuple[OpeningOutcome, ...]:
    """Return the rows, gathered where they are more than `most`.

    Rows of one kind with one outcome are one row then, in the order of clearance. If those are
    still too many, the middle ones are left out.
    """
    if len(rows) <= most:
        return rows
    alike: dict[tuple[str, float, Feel], int] = {}
    for row in rows:
        kind = row.label.rpartition(", ")[2]
        key = (kind, round(row.clearance, 2), row.feel)
        alike[key] = alike.get(key, 0) + 1
    found = [
        OpeningOutcome(f"{count} × {kind}", clearance, feel)
        for (kind, clearance, feel), count in sorted(alike.items(), key=lambda each: each[0][1])
    ]
    half = max(most // 2, 1)
    return tuple(found) if len(found) <= most else (*found[:half], *found[-half:])
