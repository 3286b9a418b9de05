"""Publishes the project's JSON Schema: `python -m anzel.files.schema docs/project.schema.json`."""

import json
import sys
from pathlib import Path

from anzel.project.model import Project


def main() -> None:
    """Write the schema to the path given."""
    text = json.dumps(Project.model_json_schema(), indent=1, ensure_ascii=False)
    Path(sys.argv[1]).write_text(text + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
