"""A large house: 100,000 cardholders with a card and two memberships, 500 doors, 200 groups, 10
controllers.
"""

import json
from collections.abc import Callable, Iterable, Iterator
from datetime import timedelta
from functools import cache
from itertools import chain
from pathlib import Path
from random import Random

from django.db import transaction
from django.db.models import Model
from django.utils import timezone

from cadrin.access.models import AccessGroup, Grant, Membership
from cadrin.accounts.commands.roles import ready_made_roles
from cadrin.config.database.inserting import insert_rows
from cadrin.config.keys import STANDINS, kept_key, make_key
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.names import fold, number_key, terms_of
from cadrin.core.records.card_formats import encode_format
from cadrin.credentials.models import Card, CardFormat
from cadrin.demo.scenario import FIRST_NAMES, LAST_NAMES, SCHEDULES, ZONE
from cadrin.operators.models import Operator, Role
from cadrin.outbox.commands import move_plan_version
from cadrin.outbox.models import Mark
from cadrin.outbox.subjects import Subject
from cadrin.people.models import (
    Cardholder,
    Company,
    CustomField,
    CustomFieldKey,
    Department,
    Kind,
    Term,
)
from cadrin.photos.models import Image
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.models import Area, Controller, Door, Reader, Schedule, Site

CARDHOLDERS, DOORS, GROUPS, CONTROLLERS = 100_000, 500, 200, 10
DOORS_OF_A_GROUP = 10
OPERATORS = 32
NOW = timezone.now()
PASSWORD = "much-too-large"


@transaction.atomic
def make_world(people: int = CARDHOLDERS) -> None:
    """Fill an empty database; the same world every time."""
    random = Random(100)
    ready_made_roles()
    role = Role.objects.get(name="Administrator")
    Operator.objects.create_user("bench", password=PASSWORD, role=role)
    # hashing a password is slow, as it should be: all have the same
    same = Operator.objects.get(username="bench").password
    for place in range(OPERATORS):
        Operator.objects.create(username=f"operator-{place}", password=same, role=role)
    # one who is kept to a department, about a sixtieth of everybody
    Operator.objects.create(
        username="kept", password=same, role=role, limited_to={"departments": [1]}
    )
    card_format = CardFormat.objects.create(name="26-bit", layout=encode_format(STANDARD_26_BIT))
    schedules = [
        Schedule.objects.create(name=name, zone=ZONE, hours=hours)
        for name, hours in SCHEDULES.items()
    ]
    controllers = [
        Controller.objects.create(id=n, name=f"Controller {n}", address=f"standin:{n}")
        for n in range(1, CONTROLLERS + 1)
    ]
    area = Area.objects.create(
        site=Site.objects.create(name="Skerrow Point", zone=ZONE), name="Everything"
    )
    doors = Door.objects.bulk_create(
        Door(area=area, controller=controllers[n % CONTROLLERS], name=f"Door {n:03}")
        for n in range(DOORS)
    )
    Reader.objects.bulk_create(
        Reader(name=door.name, door=door, controller=door.controller) for door in doors
    )
    groups = AccessGroup.objects.bulk_create(
        AccessGroup(name=f"Group {n:03}") for n in range(GROUPS)
    )
    for n, group in enumerate(groups):
        here = [door for door in doors if door.controller_id == controllers[n % CONTROLLERS].pk]
        Grant.objects.bulk_create(
            Grant(group=group, door=door, schedule=random.choice(schedules))
            for door in random.sample(here, DOORS_OF_A_GROUP)
        )
    departments = Department.objects.bulk_create(
        Department(number=f"{n:03}", name=f"Department {n}") for n in range(60)
    )
    Company.objects.bulk_create(Company(name=f"Company {n}") for n in range(1, 6))
    Kind.objects.bulk_create(Kind(name=f"Kind {n}") for n in range(1, 5))
    _people(random, [d.pk for d in departments], [g.pk for g in groups], card_format.pk, people)
    move_plan_version()


def _people(
    random: Random, department_ids: list[int], group_ids: list[int], format_id: int, count: int
) -> None:
    """Make everybody, by rows and not by models: a tenth of the time."""
    everybody = range(1, count + 1)
    names = {n: (random.choice(FIRST_NAMES), random.choice(LAST_NAMES)) for n in everybody}
    own = {
        n: {"1": f"{'ABCDE'[n % 5]}{n:06}"}
        | ({"2": ("day", "tide", "night")[n % 3]} if n % 2 == 0 else {})
        for n in everybody
    }
    folded = cache(fold)
    _insert(
        Cardholder(),
        (
            {
                "id": n,
                "number": number_of(n),
                "number_key": number_key(number_of(n)),
                "first_name": first,
                "last_name": last,
                "display_name": f"{first} {last}",
                "sort_name": folded(f"{last} {first}"),
                "department_id": random.choice(department_ids),
                "company_id": 1 + n % 5,
                "kind_id": 1 + n % 4,
                "title": "Skipper" if n % 7 == 0 else "",
                "email": f"person.{n}@skerrow.example",
                "expiry_at": NOW + timedelta(days=n % 900) if n % 3 == 0 else None,
                "own": own[n],
            }
            for n, (first, last) in names.items()
        ),
    )
    CustomField.objects.create(id=1, labels={"en": "Locker"}, type=FieldType.TEXT)
    choices = [{"key": key, "labels": {"en": key}} for key in ("day", "tide", "night")]
    CustomField.objects.create(id=2, labels={"en": "Shift"}, type=FieldType.CHOICE, choices=choices)
    _insert(
        CustomFieldKey(),
        (
            {"cardholder_id": n, "field_id": int(id_), "key": fold(value)}
            for n in everybody
            for id_, value in own[n].items()
        ),
    )
    _insert(
        Image(slot=0, width=480, height=600, crop=[0, 0, 480, 600], taken_at=NOW),
        ({"token": f"{n:032x}", "cardholder_id": n} for n in everybody if n % 2 == 0),
    )
    _insert(Term(), (row for n in everybody for row in _terms(n, *names[n], folded)))
    _insert(
        Card(format_id=format_id, status=CardStatus.ISSUED),
        (
            {"facility_code": n // 65536, "card_number": n % 65536, "holder_id": n}
            for n in everybody
        ),
    )
    _insert(
        Membership(),
        (
            {"cardholder_id": n, "group_id": group_id}
            for n in everybody
            for group_id in random.sample(group_ids, 2)
        ),
    )


def number_of(n: int) -> str:
    return f"S-{n:06}"


def _terms(
    n: int, first: str, last: str, folded: Callable[[str], str]
) -> Iterator[dict[str, object]]:
    email = f"{folded(first)}.{folded(last)}.{n}@skerrow.example".replace(" ", "")
    for text in terms_of(first, last, number_of(n), email):
        yield {"cardholder_id": n, "source": "person", "text": text}
    yield {"cardholder_id": n, "source": "card", "text": str(n % 65536)}


def _insert(usual: Model, rows: Iterable[dict[str, object]]) -> None:
    """Write rows of a table at once; what a row does not say is as ``usual`` has it."""
    given = iter(rows)
    first = next(given)
    names = [
        one.attname
        for one in usual._meta.concrete_fields
        if not one.primary_key or one.attname in first
    ]
    beginning = {name: getattr(usual, name) for name in names}
    insert_rows(
        type(usual), names, (tuple((beginning | row).values()) for row in chain((first,), given))
    )


def write_setup(file: Path) -> None:
    """Write what stand-ins belong to this world."""
    setups = [
        {
            "id": one.pk,
            "name": one.name,
            "readers": dict(one.readers.values_list("id", "name")),
            "key": key_of_controller(one.pk).hex(),
        }
        for one in Controller.objects.order_by("id")
    ]
    make_key(file.parent, STANDINS)
    file.write_text(
        json.dumps({"bench_key": kept_key(file.parent, STANDINS), "controllers": setups})
    )


def mark_everything() -> None:
    """Let the worker bring everything to every controller."""
    Mark.objects.bulk_create(
        Mark(subject=Subject.CONTROLLER, subject_id=id_)
        for id_ in Controller.objects.values_list("id", flat=True)
    )
