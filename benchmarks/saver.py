"""Save somebody over and over until told to stop, and print the wait that one of a hundred is longer than.

A process of its own, as an operator's request is one beside the worker.
"""

import select
import sys
import time

import django


def main() -> None:
    django.setup()
    from django.db import transaction

    from benchmarks.measuring import percentile, seconds
    from cadrin.people.commands.cardholders import move_versions
    from cadrin.people.models import Cardholder

    someone = Cardholder.objects.values_list("id", flat=True).first() or 0

    @transaction.atomic
    def save() -> None:
        move_versions([someone])

    save()
    waits = []
    while not select.select([sys.stdin], [], [], 0)[0]:
        waits.append(seconds(save))
        time.sleep(0.02)
    print(percentile(waits, 0.99))


if __name__ == "__main__":
    main()
