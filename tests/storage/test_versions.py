"""The versions of a project that are kept: how many, which, and what they hold."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from anzel.core.memo import latest, memo
from anzel.project.demos import herb_stand
from anzel.storage import project_file
from anzel.storage.version_store import MOST, VersionStore, thinned


def test_each_save_is_kept_once_and_ten_in_all(tmp_path):
    path, store = tmp_path / "mine.anzel", VersionStore(tmp_path / "versions")
    for number in range(MOST + 5):
        project_file.save(herb_stand().with_changes(name=f"Stand {number}"), path)
        store.keep(path)
        store.keep(path)
    kept = [each.project().name for each in store.of(path)]
    assert len(kept) == MOST
    assert (kept[0], kept[-1]) == (f"Stand {MOST + 4}", "Stand 0")
    assert len(set(kept)) == MOST
    assert store.of(tmp_path / "other.anzel") == ()


@given(st.lists(st.floats(1.0, 1e8), min_size=1, max_size=200, unique=True))
def test_the_older_the_further_apart(ages):
    """Saved one after the other, each time thinned: the newest, the oldest and a spread stay."""
    kept = []
    times = sorted(-age for age in ages)
    for time in times:
        kept = thinned([*kept, time], time)
    assert kept == sorted(kept)
    assert (kept[0], kept[-1]) == (times[0], times[-1])
    assert len(kept) == min(len(times), MOST)


@pytest.mark.parametrize(("each", "stay"), [(10, 5), (40, 2), (500, 2)])
def test_results_are_kept_by_their_bytes(each, stay):
    made = []

    @memo(lambda result: each, 50)
    def doubled(number):
        made.append(number)
        return 2 * number

    assert [doubled(number) for number in range(8)] == list(range(0, 16, 2))
    known = [number for number in range(8) if doubled.knows(number)]
    assert known == list(range(8 - stay, 8))
    assert doubled.kept_bytes == stay * each
    assert doubled(7) == 14
    assert made == list(range(8)), "what is known is not made again"


def test_the_last_result_is_kept_for_that_very_object():
    made = []

    @latest
    def size(sheet):
        made.append(sheet)
        return len(sheet)

    one, other = [1, 2], [1, 2]
    assert [size(each) for each in (one, one, other, other, one)] == [2] * 5
    assert made == [one, other, one]
