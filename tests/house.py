"""A small house to test in: one site, two controllers and a desk, three doors, two groups, one
operator.
"""

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import AccessGroup, Grant
from cadrin.access.plan import holders
from cadrin.core.credentials.card.formats import STANDARD_26_BIT
from cadrin.core.credentials.card.room import ANY_MEMORY
from cadrin.core.people.details import Details
from cadrin.core.records.card_formats import encode_format
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.keys import RecordKey, RecordKind, digest
from cadrin.core.records.plan_records import plan_records
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.models import CardFormat
from cadrin.delivery.wanted import memories, plans_here
from cadrin.enrolment.commands.cardholders import save_cardholder, save_many
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.operators.actor import Actor, actor_of, system_actor
from cadrin.operators.models import Operator, Role
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import move_plan_version
from cadrin.outbox.models import Mark
from cadrin.outbox.subjects import Subject
from cadrin.people.models import Cardholder, Department
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.models import Area, Controller, Door, Reader, Schedule, Site

NOON = datetime(2026, 6, 1, 12, tzinfo=UTC)
"""A Monday: 13:00 on the wall of the site, in Europe/London."""
DAY = timedelta(days=1)
ZONE = "Europe/London"
PASSWORD = "wave-and-tide"
OFFICE = [[day, 480, 1080] for day in range(5)]


class House:
    """Everything there is, by short names."""

    def __init__(self) -> None:
        self.site = Site.objects.create(name="Skerrow Point", zone=ZONE)
        area = Area.objects.create(site=self.site, name="Gatehouse")
        self.north = Controller.objects.create(name="North", address="standin:1")
        self.south = Controller.objects.create(name="South", address="standin:2")
        self.desk = Controller.objects.create(name="Desks", address="standin:3", is_desk=True)
        self.gate = Door.objects.create(name="Gate", area=area, controller=self.north)
        self.lab = Door.objects.create(name="Lab", area=area, controller=self.north)
        self.slip = Door.objects.create(name="Slip", area=area, controller=self.south)
        self.gate_reader, self.lab_reader, self.slip_reader = (
            Reader.objects.create(name=door.name, door=door, controller=door.controller)
            for door in (self.gate, self.lab, self.slip)
        )
        self.desk_reader = Reader.objects.create(name="Front desk", controller=self.desk)
        self.format = CardFormat.objects.create(
            name="26-bit", layout=encode_format(STANDARD_26_BIT)
        )
        self.office = Schedule.objects.create(name="Office hours", zone=ZONE, hours=OFFICE)
        self.always = Schedule.objects.create(
            name="Always", zone=ZONE, hours=[[day, 0, 1440] for day in range(7)]
        )
        self.day_group = AccessGroup.objects.create(name="Day")
        self.boats = AccessGroup.objects.create(name="Boats")
        Grant.objects.create(group=self.day_group, door=self.gate, schedule=self.always)
        Grant.objects.create(group=self.day_group, door=self.lab, schedule=self.office)
        Grant.objects.create(group=self.boats, door=self.slip, schedule=self.always)
        self.department = Department.objects.create(number="10", name="Station Office")
        move_plan_version()
        self.operator = an_operator("mara", *Permission)

    @property
    def actor(self) -> Actor:
        return actor_of(self.operator)

    def card(self, number: int = 4751, **more: Any) -> CardDraft:
        return CardDraft(self.format.pk, 12, number, **more)

    def draft(self, number: str = "S-1", **details: Any) -> CardholderDraft:
        """Return a file that is in order: a name, a card, and the day group."""
        return CardholderDraft(
            Details(**{"number": number, "first_name": "Tomas", "last_name": "Reve", **details}),
            (self.card(),),
            (MembershipDraft(self.day_group.pk),),
        )

    def enrol(self, draft: CardholderDraft | None = None) -> int:
        return save_cardholder(self.actor, None, draft or self.draft(), NOON)

    def save(self, id_: int, draft: CardholderDraft) -> int:
        return save_cardholder(self.actor, id_, draft, NOON)

    def enrol_many(self, count: int, *group_ids: int) -> list[int]:
        groups = tuple(MembershipDraft(id_) for id_ in group_ids or (self.day_group.pk,))
        wanted = [
            Wanted(
                None,
                replace(
                    self.draft(f"M-{place}"), cards=(self.card(10_000 + place),), memberships=groups
                ),
            )
            for place in range(count)
        ]
        return [saved.id for saved in save_many(self.actor, wanted, NOON)]

    def setups(self) -> list[dict[str, Any]]:
        """Say what stand-ins belong to this house."""
        return [
            {
                "id": controller.pk,
                "name": controller.name,
                "is_desk": controller.is_desk,
                "key": key_of_controller(controller.pk).hex(),
                "readers": dict(controller.readers.values_list("id", "name")),
            }
            for controller in (self.north, self.south, self.desk)
        ]

    def use_standins(self) -> None:
        """Set the addresses to the controllers' own numbers."""
        for controller in (self.north, self.south, self.desk):
            controller.address = f"standin:{controller.pk}"
            controller.save()

    def mark_everything(self) -> None:
        for controller in (self.north, self.south):
            Mark.objects.create(subject=Subject.CONTROLLER, subject_id=controller.pk)


def an_operator(
    username: str, *permissions: Permission, limited_to: dict[str, list[int]] | None = None
) -> Operator:
    """Make an operator who may do this; ``limited_to`` is a kind of scope to ids."""
    role = Role.objects.create(name=f"Role of {username}"[:40], permissions=sorted(permissions))
    return Operator.objects.create_user(
        username,
        password=PASSWORD,
        first_name=username.title(),
        role=role,
        limited_to=limited_to or {},
    )


ANYBODY = system_actor("Test")
"""Who may see and do everything, where a test is not about that."""


def wanted_anew(controller_id: int) -> dict[str, str]:
    """Work out anew, from the register alone, what a controller should hold: each
    record's digest.
    """
    here, memory = plans_here()[controller_id], memories().get(controller_id, ANY_MEMORY)
    bodies = dict(plan_records(here, memory))
    for holder in holders(Cardholder.objects.values_list("id", flat=True)).values():
        if body := encode_cardholder(holder, here, memory):
            bodies[RecordKey(RecordKind.CARDHOLDER, holder.id)] = body
    return {str(key): digest(key, body) for key, body in bodies.items()}
