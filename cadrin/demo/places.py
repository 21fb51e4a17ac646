"""The demo's sites, doors, readers, hours and groups, and the stand-ins for its controllers."""

import json
from datetime import datetime
from pathlib import Path

from cadrin.access.commands.groups import save_group
from cadrin.access.drafts import GrantDraft, GroupDraft
from cadrin.config.keys import STANDINS, kept_key, make_key
from cadrin.core.credentials.card.ready_made import READY_MADE
from cadrin.core.credentials.factors import ANY_CARD, Factor, ReaderPolicy
from cadrin.core.records.card_formats import encode_format
from cadrin.core.schedules import Hours
from cadrin.credentials.models import CardFormat
from cadrin.demo import scenario
from cadrin.operators.actor import Actor
from cadrin.outbox.commands import move_plan_version
from cadrin.sites.commands.readers import stored_alternatives
from cadrin.sites.commands.schedules import ScheduleDraft, save_schedule
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.models import Area, Controller, Door, Reader, Schedule, Site


def places() -> None:
    for made in READY_MADE:
        if made.name in scenario.FORMATS:
            CardFormat.objects.create(
                name=made.name, source=made.source, layout=encode_format(made.layout)
            )
    sites = {
        name: Site.objects.create(name=name, zone=scenario.ZONE)
        for name in (scenario.SKERROW, scenario.ARDLE)
    }
    for number, place in enumerate(scenario.CONTROLLERS, start=1):
        controller = Controller.objects.create(
            id=number,
            name=place.name,
            address=f"standin:{number}",
            is_desk=bool(place.desk_readers),
        )
        for area_name in place.areas:
            site_name, doors = scenario.AREAS[area_name]
            area = Area.objects.create(site=sites[site_name], name=area_name)
            origin = Area.objects.filter(name=scenario.FROM.get(area_name)).first()
            for door_name in doors:
                _door(door_name, area, origin, controller)
        for reader_name in place.desk_readers:
            Reader.objects.create(
                name=reader_name,
                controller=controller,
                has_keypad=reader_name in scenario.KEYPADS,
                has_finger_scanner=reader_name in scenario.SCANNERS_AT_DESKS,
                has_face_reader=reader_name in scenario.FACE_READERS_AT_DESKS,
            )
    move_plan_version()


def _door(name: str, area: Area, origin: Area | None, controller: Controller) -> None:
    """Make a door with its reader, and a second one where there is one on the way out."""
    door = Door.objects.create(area=area, from_area=origin, controller=controller, name=name)
    asked, format_names = scenario.READERS.get(name, (ANY_CARD.alternatives, ()))
    policy = ReaderPolicy(asked)
    reader = Reader.objects.create(
        name=name,
        controller=controller,
        door=door,
        policy=stored_alternatives(policy.alternatives),
        has_keypad=policy.takes(Factor.PIN),
        has_camera=policy.takes(Factor.PLATE),
        has_finger_scanner=policy.takes(Factor.FINGER),
        has_face_reader=policy.takes(Factor.FACE),
    )
    reader.formats.set(CardFormat.objects.filter(name__in=format_names))
    if name in scenario.WITH_A_READER_ON_THE_WAY_OUT:
        Reader.objects.create(
            name=f"{name}, way out", controller=controller, door=door, is_way_out=True
        )


def write_standins(file: Path) -> None:
    """Write what stand-ins there are, for their own process to read."""
    without_pictures = [
        name for name, gives_pictures in scenario.SCANNERS_AT_DESKS.items() if not gives_pictures
    ]
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
            "scanners": list(
                controller.readers.filter(has_finger_scanner=True).values_list("id", flat=True)
            ),
            "face_readers": list(
                controller.readers.filter(has_face_reader=True).values_list("id", flat=True)
            ),
            "without_pictures": list(
                controller.readers.filter(name__in=without_pictures).values_list("id", flat=True)
            ),
            "most_templates": place.most_templates,
            "most_cards": place.most_cards,
            "longest_name": place.longest_name,
            "latest": place.latest,
            "longest_span": place.longest_span,
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


def hours_and_groups(actor: Actor, at: datetime) -> None:
    for name, hours in scenario.SCHEDULES.items():
        draft = ScheduleDraft(name, scenario.ZONE, tuple(Hours(*window) for window in hours))
        save_schedule(actor, None, draft, at)
    policies_by_hours()
    doors = dict(Door.objects.values_list("name", "id"))
    schedules = dict(Schedule.objects.values_list("name", "id"))
    for name, grants in scenario.GROUPS.items():
        drafts = tuple(
            GrantDraft(doors[door], schedules[schedule]) for door, schedule in grants.items()
        )
        save_group(actor, None, GroupDraft(name, "", drafts), at)


def policies_by_hours() -> None:
    for name, (schedule_name, alternatives) in scenario.BY_HOURS.items():
        reader = Reader.objects.get(name=name)
        schedule_id = Schedule.objects.get(name=schedule_name).pk
        reader.policy_by_hours = [[schedule_id, stored_alternatives(alternatives)]]
        reader.save()
    move_plan_version()
