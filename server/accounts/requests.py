"""A request of somebody who is signed in: every endpoint's, since none is open to others."""

from __future__ import annotations

from typing import TYPE_CHECKING

from rest_framework.request import Request

from server.accounts.models import Person

if TYPE_CHECKING:

    class PersonRequest(Request):
        """Its user is a person."""

        user: Person

else:
    PersonRequest = Request
