"""What all parts of an answer share."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Answer(BaseModel):
    """Base of the answer's parts."""

    model_config = ConfigDict(extra="forbid", json_schema_serialization_defaults_required=True)
