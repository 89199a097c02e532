"""The worker in tests."""

from __future__ import annotations

import time
from concurrent.futures import ThreadPoolExecutor

from django.core.management import call_command
from django.db import connection, connections

# The worker leaves sessions to the end of its process: those that began with it and rest. A request between two of its
# queries does not rest so long.
_LEFT = """
    SELECT pg_terminate_backend(pid) FROM pg_stat_activity
    WHERE datname = current_database() AND pid <> pg_backend_pid() AND backend_start >= %s
    AND state = 'idle' AND state_change < clock_timestamp() - interval '300 milliseconds'
"""


def work(queue: str = "reading") -> None:
    """Let the worker do what is queued, as ./run starts it, then stop."""

    def one_shot() -> None:
        try:
            call_command("procrastinate", "worker", "--one-shot", "--queues", queue)
        finally:
            connections.close_all()

    with connection.cursor() as cursor:
        cursor.execute("SELECT clock_timestamp()")
        began = cursor.fetchone()
        # On a thread of its own, since a journey's browser may keep an event loop on this one.
        with ThreadPoolExecutor(1) as pool:
            pool.submit(one_shot).result()
        time.sleep(0.4)
        cursor.execute(_LEFT, began)
