"""One is suspended while 100,000 records wait: when does the last controller that held them know?"""

import time
from dataclasses import replace
from datetime import timedelta
from random import Random

from django.utils import timezone

from benchmarks import world
from benchmarks.measuring import Table, milliseconds, percentile
from benchmarks.world import CARDHOLDERS
from cadrin.core.records.keys import RecordKind
from cadrin.core.records.states import RecordState
from cadrin.core.validity import Standing
from cadrin.delivery.models import Record
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.queries import stored_cardholder
from cadrin.operators.actor import system_actor
from cadrin.outbox.models import Mark
from cadrin.people.queries import get_cardholder, rules

TIMES, PATIENCE_SECONDS = 40, 60


def bench_withdrawal(table: Table) -> None:
    """Measure while the worker brings everything to empty controllers."""
    actor, random, took = system_actor("Benchmark"), Random(3), list[float]()
    waiting, saves, marks = [], list[float](), list[float]()
    world.mark_everything()
    while len(took) < TIMES:
        held = Record.objects.filter(kind=RecordKind.CARDHOLDER, state=RecordState.HELD)
        known = held.exclude(confirmed="").values_list("subject_id", flat=True)[:2000]
        people = list(known)
        if not people:
            time.sleep(0.5)
            continue
        waits = Record.objects.exclude(state=RecordState.HELD).count() or Mark.objects.count()
        if not waits:
            break  # everything has arrived: nothing is left to overtake
        waiting.append(waits)
        id_ = random.choice(people)
        person = get_cardholder(actor, id_)
        file = stored_cardholder(person, rules())
        if file.details.standing is not Standing.ACTIVE:
            continue
        suspended = replace(file, details=replace(file.details, standing=Standing.SUSPENDED))
        began = time.perf_counter()
        save_cardholder(actor, id_, suspended, timezone.now())
        saved = time.perf_counter() - began
        while Mark.objects.filter(subject_id=id_, is_withdrawal=True).exists():
            time.sleep(0.005)
        marked = time.perf_counter() - began
        mine = Record.objects.filter(kind=RecordKind.CARDHOLDER, subject_id=id_)
        while (
            Mark.objects.filter(subject_id=id_, is_withdrawal=True).exists()
            or mine.filter(is_withdrawal=True).exclude(confirmed="").exists()
        ):
            if time.perf_counter() - began > PATIENCE_SECONDS:
                break
            time.sleep(0.005)
        took.append(time.perf_counter() - began)
        saves.append(saved)
        marks.append(marked)
    if not took:
        table.say("a withdrawal while records wait", "nobody was held while others waited")
        return
    table.say(f"withdrawals tried while {CARDHOLDERS:,} people are brought", str(len(took)))
    table.say("  records or marks that waited meanwhile", f"{min(waiting):,} to {max(waiting):,}")
    for part in (0.5, 0.95, 0.99):
        table.say(
            f"  known at the last controller, p{part * 100:.0f}",
            milliseconds(percentile(took, part)),
        )
    table.say("  of it until it was saved, p50", milliseconds(percentile(saves, 0.5)))
    table.say("  and until its records were waiting, p50", milliseconds(percentile(marks, 0.5)))
    goal = timedelta(seconds=1).total_seconds()
    table.say("  the goal: 1 s, p99", "kept" if percentile(took, 0.99) <= goal else "missed")
