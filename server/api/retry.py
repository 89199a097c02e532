"""Work of the queues that is done again where the database went away for a moment."""

from django.db import InterfaceError, OperationalError
from procrastinate import RetryStrategy

AGAIN = RetryStrategy(max_attempts=20, wait=3, retry_exceptions=[OperationalError, InterfaceError])
