import signal
import threading
from typing import Any

from django.core.management.base import BaseCommand

from cadrin.activity.worker import Worker


class Command(BaseCommand):
    help = "Bring records to controllers and fetch their events, until stopped."

    def handle(self, *args: Any, **options: Any) -> None:
        stop = threading.Event()
        for one in (signal.SIGTERM, signal.SIGINT):
            signal.signal(one, lambda *_: stop.set())
        Worker(stop).run()
