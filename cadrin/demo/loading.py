"""Load the demo through the same commands that operators use."""

import json
from dataclasses import replace
from datetime import date, datetime, timedelta
from pathlib import Path
from random import Random
from typing import Any

from django.db import transaction

from cadrin.access.commands.groups import GrantDraft, GroupDraft, save_group
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import AccessGroup, DefaultGroup
from cadrin.access.plan import access_plan, holders
from cadrin.accounts.commands.operators import OperatorDraft, save_operator
from cadrin.accounts.commands.roles import RoleDraft, ready_made_roles, save_role
from cadrin.activity.commands.handing_over import keep_reads
from cadrin.activity.commands.reads import reads_in
from cadrin.config.keys import STANDINS, kept_key, make_key
from cadrin.core.access.plan import Holder, Plan
from cadrin.core.credentials.card.card import CardKey
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.credentials.card.stock import CardRange
from cadrin.core.credentials.factors import ANY_CARD, Evidence, Factor, ReaderPolicy
from cadrin.core.credentials.pin.generation import generate
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.core.decision.decide import decide, opens_next
from cadrin.core.decision.events import Event, read_events, to_event
from cadrin.core.people.custom_fields import YES
from cadrin.core.people.details import Details, next_number
from cadrin.core.records.card_formats import encode_format
from cadrin.core.records.cardholders import encode_cardholder
from cadrin.core.records.held import HeldRecords
from cadrin.core.records.keys import RecordKey, RecordKind
from cadrin.core.records.plan_records import plan_records
from cadrin.core.schedules import Hours
from cadrin.core.validity import Standing
from cadrin.credentials.models import CardFormat
from cadrin.credentials.pins import PinDraft
from cadrin.credentials.queries import raw_of
from cadrin.credentials.stock import BoxDraft, enter_box
from cadrin.demo import scenario
from cadrin.demo.people import FACILITY_CODE, SEED, Person, people
from cadrin.demo.portraits import portrait
from cadrin.enrolment.commands.cardholders import save_cardholder
from cadrin.enrolment.draft import CardholderDraft
from cadrin.operators.actor import Actor, system_actor
from cadrin.operators.models import Operator, Role
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery, move_plan_version
from cadrin.outbox.subjects import Subject
from cadrin.people.commands.custom_fields import save_custom_field
from cadrin.people.models import Cardholder, Company, Department, Kind, RegisterSettings
from cadrin.photos.commands import take_image
from cadrin.sites.commands.readers import stored_policy
from cadrin.sites.commands.schedules import ScheduleDraft, save_schedule
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.models import Area, Controller, Door, Reader, Schedule, Site

PASSWORD = "skerrow-point"  # noqa: S105 - the demo's, printed by `make demo`
OPERATORS = {
    "ines": ("Ines", "Carnmore", "Administrator", "en", ""),
    "tomas": ("Tomas", "Reve", "Administrator", "en", ""),
    "jorun": ("Jorun", "Falk", "Badging desk", "de", "Tidal Array"),
    "kester": ("Kester", "Norquay", "Reception", "en", scenario.ARDLE),
    "maren": ("Maren", "Ulvik", "Auditor", "en", ""),
    "guard": ("Una", "Brae", "Look only", "en", ""),
}
"""First and last name, role, language, and the department or site they are kept to."""
LOOK_ONLY = frozenset({Permission.SEE, Permission.BENCH})
READS_BEFORE = 260
NUMBER_OF_AN_UNKNOWN_CARD = 9917


@transaction.atomic
def load_demo(now: datetime) -> None:
    """Load the whole scenario into an empty database, or nothing."""
    actor = system_actor("Demo")
    _places()
    _hours_and_groups(actor, now - timedelta(days=200))
    _register(actor, now)
    _boxes(actor, now - timedelta(days=150))
    _operators(actor, now)
    mark_for_delivery(Subject.CONTROLLER, Controller.objects.values_list("id", flat=True))
    _reads_before(now)


def is_loaded() -> bool:
    return Cardholder.objects.exists()


def _boxes(actor: Actor, at: datetime) -> None:
    """Enter the boxes that the cards came in; those that were issued stay as they are."""
    ids = dict(CardFormat.objects.values_list("name", "id"))
    for name, numbers, kept_where, remarks in scenario.BOXES:
        enter_box(
            actor,
            BoxDraft(ids[name], CardRange(*numbers), kept_where, remarks, leaves_out=True),
            at,
        )


def _operators(actor: Actor, now: datetime) -> None:
    ready_made_roles()
    save_role(actor, None, RoleDraft("Look only", LOOK_ONLY), now)
    roles = dict(Role.objects.values_list("name", "id"))
    for username, (first, last, role, language, limited_to) in OPERATORS.items():
        departments = list(Department.objects.filter(name=limited_to).values_list("id", flat=True))
        sites = list(Site.objects.filter(name=limited_to).values_list("id", flat=True))
        scope = {"departments": departments} if departments else {"sites": sites} if sites else {}
        draft = OperatorDraft(username, first, last, roles[role], scope, language=language)
        operator = Operator.objects.get(pk=save_operator(actor, None, draft, now))
        operator.set_password(PASSWORD)
        operator.save()


def _places() -> None:
    for one in READY_MADE:
        if one.name in scenario.FORMATS:
            CardFormat.objects.create(
                name=one.name, source=one.source, layout=encode_format(one.layout)
            )
    sites = {
        name: Site.objects.create(name=name, zone=scenario.ZONE)
        for name in (scenario.SKERROW, scenario.ARDLE)
    }
    for number, place in enumerate(scenario.CONTROLLERS, start=1):
        is_desk = bool(place.desk_readers)
        controller = Controller.objects.create(
            id=number, name=place.name, address=f"standin:{number}", is_desk=is_desk
        )
        for area_name in place.areas:
            site_name, doors = scenario.AREAS[area_name]
            area = Area.objects.create(site=sites[site_name], name=area_name)
            for door_name in doors:
                door = Door.objects.create(area=area, controller=controller, name=door_name)
                asked, format_names = scenario.READERS.get(door_name, (ANY_CARD.alternatives, ()))
                policy = ReaderPolicy(asked)
                reader = Reader.objects.create(
                    name=door_name,
                    controller=controller,
                    door=door,
                    policy=stored_policy(policy),
                    has_keypad=policy.takes(Factor.PIN),
                    has_camera=policy.takes(Factor.PLATE),
                )
                reader.formats.set(CardFormat.objects.filter(name__in=format_names))
                if door_name in scenario.WITH_A_READER_ON_THE_WAY_OUT:
                    Reader.objects.create(
                        name=f"{door_name}, way out",
                        controller=controller,
                        door=door,
                        is_way_out=True,
                    )
        for reader_name in place.desk_readers:
            has_keypad = reader_name in scenario.KEYPADS
            Reader.objects.create(name=reader_name, controller=controller, has_keypad=has_keypad)
    move_plan_version()


def write_standins(file: Path) -> None:
    """Write what stand-ins there are, for their own process to read."""
    setups = [
        {
            "id": controller.pk,
            "name": controller.name,
            "readers": dict(controller.readers.values_list("id", "name")),
            "keypads": list(
                controller.readers.filter(has_keypad=True).values_list("id", flat=True)
            ),
            "cameras": list(
                controller.readers.filter(has_camera=True).values_list("id", flat=True)
            ),
            "most_cards": place.most_cards,
            "longest_name": place.longest_name,
            "latest": place.latest,
            "capacity": place.capacity,
            "clock_off_seconds": place.clock_off_seconds,
            "is_on": place.is_on,
            "is_desk": controller.is_desk,
            "key": key_of_controller(controller.pk).hex(),
        }
        for controller, place in zip(
            Controller.objects.order_by("id"), scenario.CONTROLLERS, strict=True
        )
    ]
    make_key(file.parent, STANDINS)
    draft = file.with_suffix(".new")
    draft.write_text(
        json.dumps({"bench_key": kept_key(file.parent, STANDINS), "controllers": setups}, indent=1)
    )
    draft.rename(file)


def _hours_and_groups(actor: Actor, at: datetime) -> None:
    for name, hours in scenario.SCHEDULES.items():
        draft = ScheduleDraft(name, scenario.ZONE, tuple(Hours(*window) for window in hours))
        save_schedule(actor, None, draft, at)
    doors = dict(Door.objects.values_list("name", "id"))
    schedules = dict(Schedule.objects.values_list("name", "id"))
    for name, grants in scenario.GROUPS.items():
        drafts = tuple(
            GrantDraft(doors[door], schedules[schedule]) for door, schedule in grants.items()
        )
        save_group(actor, None, GroupDraft(name, "", drafts), at)


def _register(actor: Actor, now: datetime) -> None:
    companies = {
        name: Company.objects.create(name=name, short_name=short).pk
        for name, short in zip(scenario.COMPANIES, scenario.SHORT_NAMES, strict=True)
    }
    own = {
        draft.labels["en"]: save_custom_field(actor, None, draft, now)
        for draft in scenario.CUSTOM_FIELDS
    }
    RegisterSettings.objects.create(pk=1, image_names=["Signature"])
    kinds = {name: Kind.objects.create(name=name).pk for name in scenario.KINDS}
    departments: dict[str | None, int] = {}
    names = {place.number: place.name for place in scenario.DEPARTMENTS}
    for place in scenario.DEPARTMENTS:
        parent_id = departments[names[place.parent]] if place.parent else None
        department = Department.objects.create(
            number=place.number, name=place.name, parent_id=parent_id
        )
        departments[place.name] = department.pk
    groups = dict(AccessGroup.objects.values_list("name", "id"))
    DefaultGroup.objects.bulk_create(
        DefaultGroup(department_id=departments[place.name], group_id=groups[name])
        for place in scenario.DEPARTMENTS
        for name in place.groups
    )
    card_format = CardFormat.objects.get(name="26-bit")
    number, random, taken = None, Random(SEED), set[str]()  # noqa: S311 - the demo must be the same every time
    for place_in_list, person in enumerate(people(now)):
        number = next_number(number)
        more = _more_about(person, place_in_list, now, own)
        details = Details(
            **more,
            number=number,
            first_name=person.first_name,
            last_name=person.last_name,
            title=person.title,
            email=_email(person),
            remarks=person.remarks,
            department_id=departments[person.department],
            company_id=companies[person.company],
            kind_id=kinds[person.kind],
            standing=person.standing,
            standing_reason=person.standing_reason,
            activation_at=person.activation_at,
            expiry_at=person.expiry_at,
        )
        portraits = (
            [take_image(actor, portrait(place_in_list), now).token]
            if place_in_list % 3 == 0
            else [None]
        )
        draft = CardholderDraft(
            details,
            tuple(replace(card, format_id=card_format.pk) for card in person.cards),
            tuple(
                MembershipDraft(groups[name], None, person.group_expiry_at)
                for name in person.groups
            ),
            images=(*portraits, None, None),
            pins=_pin(person, random, taken),
            plates=_plates(person, place_in_list),
        )
        save_cardholder(actor, None, draft, now - timedelta(days=120))


def _pin(person: Person, random: Random, taken: set[str]) -> tuple[PinDraft, ...]:
    """Give a PIN to those of the departments that need one, but for whoever has none yet."""
    if person.department not in scenario.WITH_PINS or not person.cards:
        return ()
    digits = generate(PinRule(), taken.__contains__, below=random.randrange)
    taken.add(digits)
    return (PinDraft(entry=digits, again=digits, opens_alone=person.department == "Control Watch"),)


def _plates(person: Person, place: int) -> tuple[str, ...]:
    """Give a vehicle to some of those who bring things to the slip."""
    if person.kind not in ("Employee", "Contractor") or place % 9:
        return ()
    return (f"SK{place // 9 + 10} {'ABDEF'[place % 5]}OR",)


def _more_about(person: Person, place: int, now: datetime, own: dict[str, int]) -> dict[str, Any]:
    """Return what only some have: told by their place in the list, so that it is the same every
    time.
    """
    values = {}
    if person.kind == "Employee" and place % 3 == 0:
        values[own[scenario.LOCKER]] = f"{'ABCDE'[place % 5]}{place:03}"
    if person.department in ("Dive Team", "Vessel Operations"):
        values[own[scenario.SURVIVAL]] = (
            now.date() + timedelta(days=30 * (place % 24) - 60)
        ).isoformat()
        values[own[scenario.BOOTS]] = str(37 + place % 10)
    if person.department in ("Turbine Crew", "Control Watch"):
        values[own[scenario.SHIFT]] = ("day", "tide", "night")[place % 3]
    if place % 11 == 0:
        values[own[scenario.FIRST_AID]] = YES
    return {
        # numbers that are set aside for drama
        "phones": (f"+44 1632 960{place:03}",) if person.kind in ("Employee", "Contractor") else (),
        "language": "nb" if place % 29 == 0 else "",
        "born_on": date(1962 + place * 7 % 44, 1 + place % 12, 1 + place * 5 % 28)
        if place % 2 == 0
        else None,
        "extended_time": place % 47 == 5,
        "own": values,
    }


def _email(person: Person) -> str:
    if person.kind not in ("Employee", "Contractor"):
        return ""
    plain = (
        f"{person.first_name}.{person.last_name}".lower()
        .replace(" ", "-")
        .replace("ë", "e")
        .replace("å", "a")
    )
    return f"{plain}@skerrow.example"


def _reads_before(now: datetime) -> None:
    """Let people have come and gone for two days, each read decided by the core, with cards nobody
    knows among them.
    """
    random = Random(SEED)  # noqa: S311 - the demo must be the same every time
    plan = access_plan()
    everybody = holders(
        Cardholder.objects.exclude(standing=Standing.DEPARTED).values_list("id", flat=True)
    )
    records = HeldRecords()
    for key, body in plan_records(plan).items():
        records.put(key, body)
    for holder in everybody.values():
        if record_body := encode_cardholder(holder, plan):
            records.put(RecordKey(RecordKind.CARDHOLDER, holder.id), record_body)
    carriers = [holder for holder in everybody.values() if holder.cards]
    format_id = min(plan.formats)  # the first that was made: the 26-bit one
    unknown = CardKey(format_id, FACILITY_CODE, NUMBER_OF_AN_UNKNOWN_CARD)
    readers = {
        reader.pk: reader
        for reader in Reader.objects.filter(door__isnull=False).exclude(controller_id=3)
    }
    instants = sorted(
        now - timedelta(seconds=random.randrange(600, 2 * 86400)) for _ in range(READS_BEFORE)
    )
    events: dict[int, list[dict[str, object]]] = {}
    for number, at in enumerate(instants, start=1):
        holder = random.choice(carriers)
        is_unknown = number % 65 == 0
        reader = _reader_for(holder, readers, plan, random)
        raw = raw_of(unknown if is_unknown else holder.cards[0].key)
        verdict = decide(Evidence(raw), reader.pk, at, records)
        event: dict[str, object] = {
            "number": number,
            "at": at.isoformat(),
            "reader": reader.pk,
            "raw": str(raw),
        }
        event |= to_event(verdict, opens_next(verdict, reader.pk, at, records))
        events.setdefault(reader.controller_id, []).append(event)
    reads = [
        read for id_, those in events.items() for read in reads_in(id_, "before", _as_told(those))
    ]
    keep_reads(reads)


def _as_told(events: list[dict[str, object]]) -> list[Event]:
    return [event for event in read_events(events, 0) if isinstance(event, Event)]


def _reader_for(holder: Holder, readers: dict[int, Reader], plan: Plan, random: Random) -> Reader:
    """Choose a reader: mostly one of a door that is theirs."""
    theirs = [one for one in readers.values() if one.door_id in plan.doors_of(holder.memberships)]
    return random.choice(theirs if theirs and random.random() < 0.9 else list(readers.values()))
