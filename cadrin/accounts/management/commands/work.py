import signal
import sys
import threading
from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandError

from cadrin.accounts.sealed import problem_with_keys
from cadrin.config.locks import hold
from cadrin.config.memory import look_seldom
from cadrin.worker.worker import Worker

THREADS_TAKE_TURNS_EVERY_SECONDS = 0.0005
"""What is urgent at one controller waits for the turns of all others, at each of its statements."""


class Command(BaseCommand):
    help = "Bring records to controllers and fetch their events, until stopped. One worker works on a database."

    def handle(self, *args: Any, **options: Any) -> None:
        if problem := problem_with_keys():
            raise CommandError(problem)
        database = settings.DATABASES["default"]["NAME"]
        lock = hold(Path(f"{database}.worker"))
        if lock is None:
            raise CommandError(f"A worker is at work on {database} already.")
        stop = threading.Event()
        for item in (signal.SIGTERM, signal.SIGINT):
            signal.signal(item, lambda *_: stop.set())
        look_seldom()
        sys.setswitchinterval(THREADS_TAKE_TURNS_EVERY_SECONDS)
        with lock:
            Worker(stop).run()
