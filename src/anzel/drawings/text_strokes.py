"""The texts of a drawing as single strokes of our own letters: where they stand, as large.

A drawing names a typeface that need not be here, and a cutter follows lines; so letters are ours.
"""

from collections.abc import Iterator
from itertools import pairwise

from anzel.drawings.affine import Affine
from anzel.geometry.lettering import lettering
from anzel.geometry.segments import Line, Segment

CAPITAL = 0.7
"""A capital is so high, of the size of its type (common practice, no source)."""
TEXT = "text"
"""What the label of texts ends with."""
MOST_LETTERS = 2000


def text_strokes(
    text: str, capital: float, at: Affine, share: float = 0.0
) -> Iterator[tuple[Segment, ...]]:
    """Yield the strokes of a line of text whose capitals are so high in its own units, y up.

    Its base line begins at the origin of `at`; `share` of its width lies to the left of that.
    """
    strokes = lettering(" ".join(text.split())[:MOST_LETTERS], capital, (0.0, 0.0))
    if not strokes:
        return
    xs = [x for stroke in strokes for x, _ in stroke]
    shift = -min(xs) - share * (max(xs) - min(xs))
    for stroke in strokes:
        places = [at((x + shift, y + capital / 2)) for x, y in stroke]
        made = tuple(Line(a, b) for a, b in pairwise(places) if a != b)
        if made:
            yield made
