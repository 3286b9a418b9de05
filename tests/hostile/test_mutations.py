"""A sample of the mutated inputs, and all that were ever found to end otherwise."""

import logging

import pytest

from .mutations import FOUND, READERS, mutated, outcome, sound

SAMPLE, PLAIN = 10, 30


@pytest.fixture(autouse=True)
def without_warnings():
    """Readers of fonts and DXF log each oddity."""
    logging.disable()
    yield
    logging.disable(logging.NOTSET)


@pytest.mark.slow
@pytest.mark.parametrize("reader", READERS)
def test_a_sample_ends_in_success_or_in_one_clear_line(reader):
    ended = {seed: outcome(reader, mutated(reader, seed)) for seed in range(SAMPLE)}
    ended |= {-seed: outcome(reader, mutated(reader, -seed, 1.0)) for seed in range(1, PLAIN + 1)}
    assert not {seed: said for seed, said in ended.items() if said.startswith("!")}
    assert outcome(reader, sound(READERS[reader][0])) == "read"


@pytest.mark.parametrize("name", sorted(file.name for file in FOUND.iterdir()))
def test_what_was_found_ends_so_too(name):
    reader = name.rpartition(".")[2].replace("-", " ")
    assert outcome(reader, (FOUND / name).read_bytes()) in ("read", "refused")
