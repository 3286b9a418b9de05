"""The strip packer in a process of its own, so that it can be stopped at any moment.

It reads one JSON record from standard input and writes a line of JSON for every better strip:
`{"width": mm, "placed": [[id, turn, x, y], ...]}`. The item is turned about its origin, then
shifted.
"""

import json
import os
import sys
import threading
from typing import Any


def main() -> None:
    """Solve what standard input asks for."""
    import spyrrow

    asked = json.load(sys.stdin)
    items = [
        spyrrow.Item(each["id"], [tuple(p) for p in each["shape"]], each["count"], each["turns"])
        for each in asked["items"]
    ]
    settings = spyrrow.StripPackingConfig(
        total_computation_time=max(round(asked["seconds"]), 1), seed=asked["seed"],
        min_items_separation=asked["spacing"] or None, early_termination=False,
        num_workers=asked["workers"],
    )  # fmt: skip
    instance = spyrrow.StripPackingInstance("strip", asked["height"], items)
    queue = spyrrow.ProgressQueue()
    over, asker = threading.Event(), os.getppid()

    def watch() -> None:
        while not over.wait(0.1):
            if os.getppid() != asker:
                os._exit(1)  # nobody is left to hear of it
            for kind, found in queue.drain():
                if kind in (spyrrow.ReportType.ExplFeas, spyrrow.ReportType.CmprFeas):
                    _tell(found)

    watcher = threading.Thread(target=watch, daemon=True)
    watcher.start()
    solution = instance.solve(settings, queue)
    over.set()
    watcher.join()
    _tell(solution)


def _tell(solution: Any) -> None:  # noqa: ANN401  (the packer's own class)
    placed = [[each.id, each.rotation, *each.translation] for each in solution.placed_items]
    print(json.dumps({"width": solution.width, "placed": placed}), flush=True)


if __name__ == "__main__":
    main()
