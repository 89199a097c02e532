"""Answers as JSON straight from pydantic models."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import orjson
from pydantic import BaseModel
from rest_framework.renderers import BaseRenderer


class ModelRenderer(BaseRenderer):
    """Writes a model, a list of models or plain data."""

    media_type = "application/json"
    format = "json"
    charset = None

    def render(
        self, data: Any, accepted_media_type: str | None = None, renderer_context: Mapping[str, Any] | None = None
    ) -> bytes:
        """The answer's bytes."""
        if data is None:
            return b""
        if isinstance(data, BaseModel):
            return data.model_dump_json(by_alias=True).encode()
        return orjson.dumps(data, default=lambda model: model.model_dump(mode="json", by_alias=True))
