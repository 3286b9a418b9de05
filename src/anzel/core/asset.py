"""Files that a project carries along: a mesh to slice, a picture to trace, a drawing.

An asset is a value like any other decision: two assets with the same content are equal. The content
is kept out of the project's record. The project file stores it beside the record, named by its
digest.
"""

from hashlib import sha256
from typing import Any, Self

from pydantic import Field, ValidationInfo, model_validator
from pydantic.json_schema import SkipJsonSchema

from anzel.core.immutable import Immutable


class Asset(Immutable):
    """A named piece of content; `digest` is its SHA-256."""

    name: str = Field(min_length=1, max_length=120)
    digest: str = Field(pattern=r"^[0-9a-f]{64}$")
    content: SkipJsonSchema[bytes] = Field(exclude=True, repr=False)

    @classmethod
    def of(cls, name: str, content: bytes) -> Self:
        """Return an asset that holds the content."""
        return cls(name=name, digest=sha256(content).hexdigest(), content=content)

    def __hash__(self) -> int:
        return hash(self.digest)

    def __eq__(self, other: object) -> bool:
        return isinstance(other, Asset) and (self.digest, self.name) == (other.digest, other.name)

    @model_validator(mode="before")
    @classmethod
    def _with_content(cls, record: Any, info: ValidationInfo) -> Any:  # noqa: ANN401
        """Return the record with the content that lay beside it in the file."""
        if not isinstance(record, dict) or "content" in record:
            return record
        beside: dict[str, bytes] = info.context or {}
        if record.get("digest") not in beside:
            raise ValueError(f"“{record.get('name')}” is not in the file")
        return {**record, "content": beside[str(record["digest"])]}

    @model_validator(mode="after")
    def _is_whole(self) -> Self:
        if sha256(self.content).hexdigest() != self.digest:
            raise ValueError(f"“{self.name}” was changed by something else")
        return self
