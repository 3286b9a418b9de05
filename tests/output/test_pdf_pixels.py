"""Pages as pixels: several threads ask at once (printing, a booklet); PDFium allows one."""

from concurrent.futures import ThreadPoolExecutor

import numpy as np

from anzel.output.job_sheet import job_sheet_bytes
from anzel.output.pdf_pixels import page_pixels, page_sizes
from anzel.project.demos import herb_stand


def test_pages_are_the_same_for_threads_that_ask_at_once():
    sheet = job_sheet_bytes(herb_stand())
    alone, sizes = page_pixels(sheet, 0, 60), page_sizes(sheet)
    with ThreadPoolExecutor(4) as threads:
        drawn = [threads.submit(page_pixels, sheet, 0, 60) for _ in range(40)]
        told = [threads.submit(page_sizes, sheet) for _ in range(40)]
        assert all(np.array_equal(each.result(), alone) for each in drawn)
        assert all(each.result() == sizes for each in told)
    np.testing.assert_allclose(np.array(alone.shape[1::-1]) * 25.4 / 60, sizes[0], atol=0.5)
