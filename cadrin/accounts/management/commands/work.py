import signal
import threading
from contextlib import AbstractContextManager, nullcontext
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from cadrin.accounts.sealed import problem_with_keys
from cadrin.config.locks import hold
from cadrin.config.memory import look_seldom
from cadrin.config.threads import share_fairly
from cadrin.worker.worker import Worker


class Command(BaseCommand):
    help = (
        "Bring records to controllers and fetch their events, until stopped. One worker works on a file;"
        " several may share a PostgreSQL server."
    )

    def handle(self, *args: Any, **options: Any) -> None:
        if problem := problem_with_keys():
            raise CommandError(problem)
        lock: AbstractContextManager[object] | None = nullcontext()
        if not settings.IS_SHARED:
            lock = hold(Path(f"{settings.DATABASE}.worker"))
        if lock is None:
            raise CommandError(f"A worker is at work on {settings.DATABASE} already.")
        stop = threading.Event()
        for item in (signal.SIGTERM, signal.SIGINT):
            signal.signal(item, lambda *_: stop.set())
        look_seldom()
        share_fairly()
        with lock:
            Worker(stop).run()
