"""The project's JSON Schema.

`python -m anzel.storage.json_schema FILE` writes it to a file.
"""

import json
import sys
from pathlib import Path
from typing import Any

from anzel.project.model import Project
from anzel.structure.forms import FORMS


def project_schema() -> dict[str, Any]:
    """Return the schema of a project, with every form's schema in place of their common one."""
    schema = Project.model_json_schema()
    definitions = schema["$defs"]
    for name, kind in FORMS.items():
        own = kind.model_json_schema()
        definitions.update(own.pop("$defs", {}))
        definitions[f"form-{name}"] = own
    definitions["Form"] = {"oneOf": [{"$ref": f"#/$defs/form-{name}"} for name in FORMS]}
    return schema


def main() -> None:
    """Write the schema to the path given."""
    text = json.dumps(project_schema(), indent=1, ensure_ascii=False)
    Path(sys.argv[1]).write_text(text + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
