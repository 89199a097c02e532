"""The worker in tests."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor

from django.core.management import call_command
from django.db import connection, connections


def work(queue: str = "reading") -> None:
    """Let the worker do what is queued, as ./run starts it, then stop."""

    def one_shot() -> None:
        try:
            call_command("procrastinate", "worker", "--one-shot", "--queues", queue)
        finally:
            connections.close_all()

    # On a thread of its own, since a journey's browser may keep an event loop on this one.
    with ThreadPoolExecutor(1) as pool:
        pool.submit(one_shot).result()
    with connection.cursor() as cursor:
        # The worker leaves its listening session to the end of its process.
        cursor.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity"
            " WHERE datname = current_database() AND pid <> pg_backend_pid() AND state = 'idle'"
            " AND (query ILIKE '%procrastinate%' OR query ILIKE 'listen%')"
        )
