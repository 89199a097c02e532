"""The base of what requests send."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict

# Letters of a password that is tried; longer ones would cost time and nothing else.
MOST_PASSWORD = 4_096
# Letters of what people note of something.
MOST_NOTES = 20_000


class RequestBody(BaseModel):
    """Unknown keys are refused; what has a default may be left out, in the generated types too."""

    model_config = ConfigDict(extra="forbid", allow_inf_nan=False)
