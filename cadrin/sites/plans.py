"""Read the plan of a site."""

from typing import Any

from cadrin.core.errors import NotFound
from cadrin.operators.actor import Actor
from cadrin.sites.models import AreaPlace, DoorPlace, SitePlan
from cadrin.sites.queries import sites


def plan_of_site(actor: Actor, site_id: int) -> dict[str, Any]:
    """Return the size of the plan, whether it has a picture, and where its doors and areas are.
    Raises NotFound.
    """
    plan = _plan(actor, site_id)
    places = DoorPlace.objects.filter(door__area__site=site_id)
    areas = AreaPlace.objects.filter(area__site=site_id)
    return {
        "width": plan.width,
        "height": plan.height,
        "has_picture": bool(plan.picture),
        "version": plan.version,
        "places": list(places.order_by("door_id").values("door_id", "x", "y")),
        "areas": list(areas.order_by("area_id").values("area_id", "x", "y", "width", "height")),
    }


def picture_of_plan(actor: Actor, site_id: int) -> bytes:
    """Return the picture, a JPEG. Raises NotFound where there is none."""
    picture = bytes(_plan(actor, site_id).picture)
    if not picture:
        raise NotFound.of("plan.no_picture")
    return picture


def _plan(actor: Actor, site_id: int) -> SitePlan:
    if site_id not in {row["id"] for row in sites(actor)}:
        raise NotFound.of("site.not_found")
    return SitePlan.objects.filter(site=site_id).first() or SitePlan(site_id=site_id)
