"""Lines as an SVG file of their own, so that they are artwork like any other."""

from collections.abc import Iterator, Sequence
from html import escape

from anzel.core.asset import Asset
from anzel.geometry.open_path import OpenPath
from anzel.geometry.regions import Region
from anzel.geometry.segments import Arc, Cubic, Segment
from anzel.structure.artwork.drawn import artwork_file
from anzel.structure.artwork.places import middle_of
from anzel.structure.artwork.records import PlateArtwork
from anzel.structure.line_work import LineWish

_UNNAMED = "lines"


def lines_as_file(name: str, lines: Sequence[tuple[str, OpenPath]]) -> Asset:
    """Return lines, mm and y up, as a file that draws them to the last digit, by label."""
    boxes = [segment.bounds for _, path in lines for segment in path.segments]
    left, low = min(box[0] for box in boxes), min(box[1] for box in boxes)
    right, top = max(box[2] for box in boxes), max(box[3] for box in boxes)
    box = f"{left!r} {-top!r} {right - left!r} {top - low!r}"
    groups: dict[str, list[OpenPath]] = {}
    for label, path in lines:
        groups.setdefault(label, []).append(path)
    drawn = "".join(
        f'<g id="{escape(label.strip("/") or _UNNAMED)}">'
        + "".join(f'<path d="{" ".join(_steps(path))}"/>' for path in paths) + "</g>"
        for label, paths in groups.items()
    )  # fmt: skip
    text = (
        f'<svg xmlns="http://www.w3.org/2000/svg" width="{right - left!r}mm" '
        f'height="{top - low!r}mm" viewBox="{box}" fill="none">{drawn}</svg>'
    )
    return Asset.of(f"{name}.svg"[-120:], text.encode())


def lines_as_artwork(
    item_id: str, plate: str, region: Region, lines: Sequence[tuple[str, OpenPath, LineWish]]
) -> PlateArtwork:
    """Return lines on a plate, with their labels and wishes, as artwork where they lie."""
    file = lines_as_file(plate, [(label, path) for label, path, _ in lines])
    drawn = artwork_file(file)
    boxes = [segment.bounds for _, path, _ in lines for segment in path.segments]
    x = (min(box[0] for box in boxes) + max(box[2] for box in boxes)) / 2
    y = (min(box[1] for box in boxes) + max(box[3] for box in boxes)) / 2
    wanted = {label.strip("/") or _UNNAMED: wish for label, _, wish in lines}
    wishes = tuple((label, wanted[label.strip("/")]) for label in drawn.labels)
    middle = middle_of(region)
    return PlateArtwork.validated(
        id=item_id, plate=plate, file=file, width=drawn.width or drawn.height,
        x=x - middle[0], y=y - middle[1], wishes=wishes,
    )  # fmt: skip


def _steps(path: OpenPath) -> Iterator[str]:
    x, y = path.start
    yield f"M{x!r} {-y!r}"
    for segment in path.segments:
        yield _step(segment)


def _step(segment: Segment) -> str:
    x, y = segment.end
    if isinstance(segment, Arc):
        large = abs(segment.sweep) > 3.141592653589793
        radius = segment.radius
        return f"A{radius!r} {radius!r} 0 {int(large)} {int(segment.clockwise)} {x!r} {-y!r}"
    if isinstance(segment, Cubic):
        (ax, ay), (bx, by) = segment.control1, segment.control2
        return f"C{ax!r} {-ay!r} {bx!r} {-by!r} {x!r} {-y!r}"
    return f"L{x!r} {-y!r}"
