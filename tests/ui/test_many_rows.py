"""More openings than the bench has room for are told together."""

from anzel.app.practice_loop import OpeningOutcome
from anzel.app.views.opening_rows import gathered_rows
from anzel.test_pieces.trial import Feel


def test_few_rows_stay_as_they_are():
    rows = tuple(OpeningOutcome(f"J{i} A, slot width", 0.05, Feel.SNUG) for i in range(5))
    assert gathered_rows(rows, 5) == rows


def test_many_are_gathered_by_kind_and_by_what_came_out():
    rows = tuple(
        OpeningOutcome(f"J{i} A, slot width", 0.05 + i * 1e-5, Feel.SNUG) for i in range(60)
    )
    rows += (
        OpeningOutcome("J1 B, mortise length", 0.05, Feel.SNUG),
        OpeningOutcome("J9 A, slot width", 0.4, Feel.LOOSE),
    )
    found = gathered_rows(rows, 12)
    assert [(row.label, row.feel) for row in found] == [
        ("60 × slot width", Feel.SNUG), ("1 × mortise length", Feel.SNUG),
        ("1 × slot width", Feel.LOOSE),
    ]  # fmt: skip


def test_the_ends_are_kept_where_even_that_is_too_much():
    rows = tuple(OpeningOutcome(f"J{i} A, slot width", i * 0.02, Feel.LOOSE) for i in range(50))
    found = gathered_rows(rows, 10)
    assert len(found) == 10
    assert (found[0].clearance, found[-1].clearance) == (0.0, 0.98)
