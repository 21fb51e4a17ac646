"""The plan of a site: its picture, and where its doors and areas are on it."""

import io
from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import NamedTuple

from django.db import transaction
from django.db.models import F

from cadrin.core.errors import Invalid, Problem, Stale
from cadrin.journal.commands import About, Act, record
from cadrin.journal.queries import history_of
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.photos.reading import read_image
from cadrin.sites.commands.places import SITE, get_site
from cadrin.sites.models import Area, AreaPlace, Door, DoorPlace, Site, SitePlan

MOST_PIXELS_ACROSS = 2400
MOST = 1000
"""Places are counted in thousandths of the plan."""


class Place(NamedTuple):
    """Where a door is, in thousandths from the left and from the top."""

    door_id: int
    x: int
    y: int


class Drawn(NamedTuple):
    """An area drawn as a rectangle: its upper left corner and its size, in thousandths."""

    area_id: int
    x: int
    y: int
    width: int
    height: int


LEAST = 10
"""An area is drawn at least so wide and so high, so that it can be seen."""


@transaction.atomic
def set_plan_picture(actor: Actor, site_id: int, sent: bytes, at: datetime) -> None:
    """Put a picture under the plan of a site; doors keep their places. Raises Invalid, NotFound or
    NotPermitted.
    """
    actor.require(Permission.SET_UP)
    site = get_site(site_id)
    picture = read_image(sent)
    picture.thumbnail((MOST_PIXELS_ACROSS, MOST_PIXELS_ACROSS))
    written = io.BytesIO()
    picture.save(written, "JPEG", quality=85)
    plan = _plan_of(site)
    plan.picture, plan.width, plan.height = written.getvalue(), picture.width, picture.height
    plan.version += 1
    plan.save()
    _tell(actor, site, {"picture": (None, f"{picture.width} x {picture.height}")}, at)


@transaction.atomic
def remove_plan_picture(actor: Actor, site_id: int, at: datetime) -> None:
    """Leave a plain sheet. Raises NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    site = get_site(site_id)
    if not SitePlan.objects.filter(site=site).exclude(picture=b"").exists():
        return
    SitePlan.objects.filter(site=site).update(picture=b"", version=F("version") + 1)
    _tell(actor, site, {"picture": ("", None)}, at)


@transaction.atomic
def draw_plan(
    actor: Actor,
    site_id: int,
    places: Iterable[Place],
    areas: Iterable[Drawn],
    version: int,
    at: datetime,
) -> None:
    """Say where the doors and areas of a site are on its plan; what is not named has no place.

    Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    site = get_site(site_id)
    plan = _plan_of(site)
    if plan.version != version:
        raise Stale(plan.version, history_of(SITE, site.pk, after_version=0))
    wanted = {place.door_id: place for place in places}
    drawn = {area.area_id: area for area in areas}
    doors = dict(Door.objects.filter(area__site=site).values_list("id", "name"))
    names = dict(Area.objects.filter(site=site).values_list("id", "name"))
    if problems := (*_problems_with_places(wanted, doors), *_problems_with_areas(drawn, names)):
        raise Invalid(problems)
    mine = DoorPlace.objects.filter(door__area__site=site)
    had = {row.door_id: Place(row.door_id, row.x, row.y) for row in mine}
    theirs = AreaPlace.objects.filter(area__site=site)
    was = {
        Drawn(*row).area_id: Drawn(*row) for row in theirs.values_list("area", *Drawn._fields[1:])
    }
    moved = sorted(
        [doors[id_] for id_ in had.keys() | wanted.keys() if had.get(id_) != wanted.get(id_)]
        + [names[id_] for id_ in was.keys() | drawn.keys() if was.get(id_) != drawn.get(id_)]
    )
    if not moved:
        return
    mine.delete()
    theirs.delete()
    DoorPlace.objects.bulk_create(DoorPlace(**one._asdict()) for one in wanted.values())
    AreaPlace.objects.bulk_create(AreaPlace(**one._asdict()) for one in drawn.values())
    SitePlan.objects.filter(pk=plan.pk).update(version=F("version") + 1)
    _tell(actor, site, {"placed": (None, moved)}, at)


def _problems_with_places(
    wanted: Mapping[int, Place], names: Mapping[int, str]
) -> Iterable[Problem]:
    for id_, one in wanted.items():
        if id_ not in names:
            yield Problem("input.no_longer_there", f"places.{id_}")
        if not (0 <= one.x <= MOST and 0 <= one.y <= MOST):
            yield Problem("input.out_of_range", f"places.{id_}", {"lowest": 0, "highest": MOST})


def _problems_with_areas(drawn: Mapping[int, Drawn], names: Mapping[int, str]) -> Iterable[Problem]:
    for id_, one in drawn.items():
        if id_ not in names:
            yield Problem("input.no_longer_there", f"areas.{id_}")
        is_within = 0 <= one.x <= MOST - one.width and 0 <= one.y <= MOST - one.height
        if not is_within or min(one.width, one.height) < LEAST:
            yield Problem("input.out_of_range", f"areas.{id_}", {"lowest": 0, "highest": MOST})


def _plan_of(site: Site) -> SitePlan:
    return SitePlan.objects.get_or_create(site=site)[0]


def _tell(
    actor: Actor, site: Site, changes: dict[str, tuple[object, object]], at: datetime
) -> None:
    told = {"name": (site.name, site.name), **changes}
    record(actor, at, [Act("site.plan_changed", (About(SITE, site.pk, site.version),), told)])
