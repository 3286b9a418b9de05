"""What makers are told, with its numbers written in millimetres."""

import re
from collections.abc import Iterator
from contextlib import contextmanager

import pytest

from anzel.core.findings import MakerError
from anzel.core.number_format import MILLIMETRES

in_mm = MILLIMETRES.write


@contextmanager
def refused(error: type[MakerError], match: str = "") -> Iterator[pytest.ExceptionInfo[MakerError]]:
    """Expect an error whose words, in mm, match."""
    with pytest.raises(error) as caught:
        yield caught
    assert re.search(match, in_mm(str(caught.value))), in_mm(str(caught.value))
