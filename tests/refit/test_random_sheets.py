"""Random sheets in the hands of a refit: what is changed is certain, what is doubtful is asked.

The rates over 2 000 sheets are told by `tests/refit/rates.py`; here is a sample of them.
"""

from collections import Counter

from tests.refit.rates import Verdict, judged

SAMPLE = 160


def test_no_sheet_is_refitted_wrongly_and_hardly_any_is_asked_about():
    verdicts = Counter(judged(seed)[0] for seed in range(5000, 5000 + SAMPLE))
    assert verdicts[Verdict.SILENT] == verdicts[Verdict.TOLD] == 0
    assert verdicts[Verdict.ASKED] <= 0.05 * SAMPLE
