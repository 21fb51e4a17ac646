"""What the camera at a door sees while somebody asks there to be let in."""

import io
from contextlib import closing

from cadrin.core.errors import Invalid, NotFound
from cadrin.delivery.wire import NoAnswer, Wire
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.photos.reading import read_image
from cadrin.sites.controller_keys import key_of_controller
from cadrin.sites.queries import doors_within

MOST_PIXELS_ACROSS = 640


def seen_at_door(actor: Actor, door_id: int) -> bytes:
    """Return the picture as a JPEG, written anew: nothing that a controller says goes further as it
    came. Raises NotFound where there is no door, no camera or nobody, or NotPermitted.
    """
    actor.require(Permission.DOORS)
    door = (
        doors_within(actor).filter(pk=door_id).values("controller", "controller__address").first()
    )
    if door is None:
        raise NotFound.of("door.not_found")
    try:
        with closing(
            Wire(door["controller__address"], key_of_controller(door["controller"]))
        ) as wire:
            picture = read_image(wire.picture(door_id))
    except (NoAnswer, Invalid) as error:
        raise NotFound.of("door.no_picture") from error
    picture.thumbnail((MOST_PIXELS_ACROSS, MOST_PIXELS_ACROSS))
    written = io.BytesIO()
    picture.save(written, "JPEG", quality=85)
    return written.getvalue()
