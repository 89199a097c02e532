"""What bodies are read with."""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import IO, Any, NoReturn

from django.conf import settings
from rest_framework.parsers import BaseParser

from server.api.faults import TooLarge
from server.api.storable import Unstorable, must_be_storable


class StorableJSON(BaseParser):
    """JSON of a bounded size whose every part can be kept."""

    media_type = "application/json"

    def parse(self, stream: IO[bytes], media_type: str | None = None, parser_context: Mapping[str, Any] | None = None) -> Any:
        """The body. Raises TooLarge, or Unstorable with the place of what is wrong."""
        limit = settings.DATA_UPLOAD_MAX_MEMORY_SIZE
        body = stream.read(limit + 1)
        if len(body) > limit:
            raise TooLarge(f"The request is larger than {limit / 1e6:g} MB", remedy="Send less at once.")
        try:
            data = json.loads(body, parse_constant=_refuse)
        except RecursionError:
            raise Unstorable("the request is nested too deeply", where="$", remedy="Nest it less.") from None
        except ValueError as error:
            raise Unstorable("the request is not JSON", where=f"$, {error}"[:120], remedy="Mend it there.") from None
        must_be_storable(data)
        return data


class AnyBytes(BaseParser):
    """Leaves the body to the view, which reads it piece by piece."""

    media_type = "*/*"

    def parse(self, stream: object, media_type: str | None = None, parser_context: object = None) -> object:  # type: ignore[override]
        """The stream itself."""
        return stream


def _refuse(word: str) -> NoReturn:
    raise ValueError(f"{word} is no number")
