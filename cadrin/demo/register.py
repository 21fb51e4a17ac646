"""The demo's people."""

from collections.abc import Mapping
from dataclasses import replace
from datetime import date, datetime, timedelta
from random import Random
from typing import Any, NamedTuple

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import AccessGroup, DefaultGroup
from cadrin.core.credentials.pin.generation import generate
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.core.people.custom_fields import YES
from cadrin.core.people.details import Details, next_number
from cadrin.credentials.models import CardFormat
from cadrin.credentials.pin_draft import PinDraft
from cadrin.demo import scenario
from cadrin.demo.people import SEED, Person, people
from cadrin.demo.portraits import portrait
from cadrin.enrolment.commands.cardholders import save_many
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.operators.actor import Actor
from cadrin.people.commands.custom_fields import save_custom_field
from cadrin.people.models import Company, Department, Kind, RegisterSettings
from cadrin.photos.commands import take_image


class Chosen(NamedTuple):
    """What people are chosen from, by name."""

    companies: Mapping[str, int]
    kinds: Mapping[str, int]
    departments: Mapping[str, int]
    groups: Mapping[str, int]
    custom_fields: Mapping[str, int]


def register_people(actor: Actor, now: datetime) -> None:
    """Enrol everybody of the scenario, in one act."""
    chosen = _chosen(actor, now)
    format_id = CardFormat.objects.get(name="26-bit").pk
    number, random, taken = None, Random(SEED), set[str]()  # noqa: S311 - the demo must be the same every time
    wanted = []
    for place, person in enumerate(people(now)):
        number = next_number(number)
        details = _details(person, number, chosen, _more_about(person, place, now, chosen))
        portrait_token = take_image(actor, portrait(place), now).token if place % 3 == 0 else None
        draft = CardholderDraft(
            details,
            tuple(replace(card, format_id=format_id) for card in person.cards),
            tuple(
                MembershipDraft(chosen.groups[name], None, person.group_expiry_at)
                for name in person.groups
            ),
            images=(portrait_token, None, None),
            pins=_pin(person, random, taken),
            plates=_plates(person, place),
        )
        wanted.append(Wanted(None, draft))
    save_many(actor, wanted, now - timedelta(days=120))


def _details(person: Person, number: str, chosen: Chosen, more: dict[str, Any]) -> Details:
    return Details(
        **more,
        number=number,
        first_name=person.first_name,
        last_name=person.last_name,
        title=person.title,
        email=_email(person),
        remarks=person.remarks,
        department_id=chosen.departments[person.department],
        company_id=chosen.companies[person.company],
        kind_id=chosen.kinds[person.kind],
        standing=person.standing,
        standing_reason=person.standing_reason,
        activation_at=person.activation_at,
        expiry_at=person.expiry_at,
    )


def _chosen(actor: Actor, now: datetime) -> Chosen:
    """Make the lists that people are chosen from."""
    companies = {
        name: Company.objects.create(name=name, short_name=short).pk
        for name, short in zip(scenario.COMPANIES, scenario.SHORT_NAMES, strict=True)
    }
    custom_fields = {
        draft.labels["en"]: save_custom_field(actor, None, draft, now)
        for draft in scenario.CUSTOM_FIELDS
    }
    RegisterSettings.objects.create(pk=1, image_names=["Signature"])
    kinds = {name: Kind.objects.create(name=name).pk for name in scenario.KINDS}
    departments: dict[str, int] = {}
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
    return Chosen(companies, kinds, departments, groups, custom_fields)


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


def _more_about(person: Person, place: int, now: datetime, chosen: Chosen) -> dict[str, Any]:
    """Return what only some have: told by their place in the list, so that it is the same every
    time.
    """
    values = {}
    if person.kind == "Employee" and place % 3 == 0:
        values[chosen.custom_fields[scenario.LOCKER]] = f"{'ABCDE'[place % 5]}{place:03}"
    if person.department in ("Dive Team", "Vessel Operations"):
        values[chosen.custom_fields[scenario.SURVIVAL]] = (
            now.date() + timedelta(days=30 * (place % 24) - 60)
        ).isoformat()
        values[chosen.custom_fields[scenario.BOOTS]] = str(37 + place % 10)
    if person.department in ("Turbine Crew", "Control Watch"):
        values[chosen.custom_fields[scenario.SHIFT]] = ("day", "tide", "night")[place % 3]
    if place % 11 == 0:
        values[chosen.custom_fields[scenario.FIRST_AID]] = YES
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
