"""Make, rename, move and remove sites and areas."""

from collections.abc import Iterable
from datetime import datetime
from typing import NamedTuple

from django.db import transaction

from cadrin.core.doors.rules import Passback
from cadrin.core.errors import Invalid, NotFound, Problem
from cadrin.core.schedules import zone_named
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import tell_controllers
from cadrin.sites.commands.keeping import keep, problems_with_name, refuse_stale, removed
from cadrin.sites.door_rules import COUNTS
from cadrin.sites.models import Area, Site

SITE, AREA = "site", "area"
NUMBERS = {"forgiven_after_minutes": range(1, 10_081), "most": range(1, 100_001)}
"""After how many minutes somebody is forgiven, up to a week; how many may be inside."""


class SiteDraft(NamedTuple):
    """A site as an operator wants it. ``version`` is the one it was read at; 0 for a new one."""

    name: str
    zone: str
    version: int = 0


class AreaDraft(NamedTuple):
    """An area as an operator wants it. ``version`` is the one it was read at; 0 for a new one."""

    site_id: int
    name: str
    passback: Passback = Passback.NONE
    forgiven_after_minutes: int | None = None
    most: int | None = None
    version: int = 0


@transaction.atomic
def save_site(actor: Actor, site_id: int | None, draft: SiteDraft, at: datetime) -> int:
    """Make a site, or save one, and give its id. Raises Invalid, Stale, NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    site = Site(version=0) if site_id is None else get_site(site_id)
    refuse_stale(SITE, site, draft.version)
    problems = list(problems_with_name(SITE, draft.name, Site.objects.exclude(pk=site_id or 0)))
    try:
        zone_named(draft.zone)
    except Invalid as refused:
        problems += refused.problems
    if problems:
        raise Invalid(problems)
    keep(actor, SITE, site, {"name": draft.name.strip(), "zone": draft.zone}, at)
    return site.pk


@transaction.atomic
def save_area(actor: Actor, area_id: int | None, draft: AreaDraft, at: datetime) -> int:
    """Make an area, rename it, or move it to another site, and give its id.

    Raises Invalid, Stale, NotFound or NotPermitted.
    """
    actor.require(Permission.SET_UP)
    area = Area(version=0) if area_id is None else get_area(area_id)
    refuse_stale(AREA, area, draft.version)
    if problems := tuple(_problems_with_area(area_id, draft)):
        raise Invalid(problems)
    names = dict(Site.objects.values_list("id", "name"))
    after = {
        "name": draft.name.strip(),
        "site_id": draft.site_id,
        "passback": draft.passback.value,
        "forgiven_after_minutes": draft.forgiven_after_minutes,
        "most": draft.most,
    }
    counted = [getattr(area, name) for name in COUNTS]
    moved = (names.get(area.site_id), names[draft.site_id])
    keep(actor, AREA, area, after, at, {"site": moved})
    if counted != [after[name] for name in COUNTS]:
        tell_controllers()
    return area.pk


def _problems_with_area(area_id: int | None, draft: AreaDraft) -> Iterable[Problem]:
    if not Site.objects.filter(pk=draft.site_id).exists():
        yield Problem("input.no_longer_there", "site_id")
        return
    for field, allowed in NUMBERS.items():
        value = getattr(draft, field)
        if value is not None and value not in allowed:
            limits = {"lowest": allowed[0], "highest": allowed[-1]}
            yield Problem("input.out_of_range", field, limits)
    others = Area.objects.filter(site_id=draft.site_id).exclude(pk=area_id or 0)
    yield from problems_with_name(AREA, draft.name, others)


@transaction.atomic
def remove_site(actor: Actor, site_id: int, at: datetime) -> None:
    """Remove a site without areas. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    site = get_site(site_id)
    if count := site.areas.count():
        raise Invalid.of("site.in_use", None, count=count)
    if Site.objects.count() == 1:
        raise Invalid.of("site.last", None)
    removed(actor, SITE, site, at)


@transaction.atomic
def remove_area(actor: Actor, area_id: int, at: datetime) -> None:
    """Remove an area that no door leads into or out of. Raises Invalid, NotFound or NotPermitted."""
    actor.require(Permission.SET_UP)
    area = get_area(area_id)
    if count := area.doors.count() + area.doors_out_of_it.count():
        raise Invalid.of("area.in_use", None, count=count)
    if groups := area.grants.values("group").distinct().count():
        raise Invalid.of("area.is_granted", None, count=groups)
    removed(actor, AREA, area, at)


def get_site(site_id: int) -> Site:
    """Raises NotFound."""
    site = Site.objects.filter(pk=site_id).first()
    if site is None:
        raise NotFound.of("site.not_found")
    return site


def get_area(area_id: int) -> Area:
    """Raises NotFound."""
    area = Area.objects.filter(pk=area_id).first()
    if area is None:
        raise NotFound.of("area.not_found")
    return area
