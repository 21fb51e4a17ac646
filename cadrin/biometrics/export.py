"""Give a finger out as an open record, or its picture where the site keeps any: with a permission of
its own, a reason, and in the journal.
"""

from base64 import b64decode
from datetime import datetime

from django.db import transaction

from cadrin.biometrics.models import Template
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.errors import Invalid, NotFound
from cadrin.journal.commands import About, Act, record
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import unseal
from cadrin.people.commands.parts import CARDHOLDER

SHORTEST_REASON, LONGEST_REASON = 5, 200


@transaction.atomic
def export_finger(
    actor: Actor, cardholder_id: int, template_id: int, reason: str, at: datetime
) -> bytes:
    """Return a finger as an ISO/IEC 19794-2:2005 record. Raises Invalid without a reason, NotFound
    or NotPermitted.
    """
    row = _given_out(actor, cardholder_id, template_id, reason, at, "finger.exported")
    return b64decode(unseal(row.sealed))


@transaction.atomic
def see_picture(
    actor: Actor, cardholder_id: int, template_id: int, reason: str, at: datetime
) -> bytes:
    """Return the picture of a finger, as a PNG. Raises Invalid without a reason, NotFound where none
    is kept, or NotPermitted.
    """
    row = _given_out(actor, cardholder_id, template_id, reason, at, "finger.picture_seen")
    if not row.sealed_picture:
        raise NotFound.of("finger.no_picture")
    return b64decode(unseal(row.sealed_picture))


def _given_out(
    actor: Actor, cardholder_id: int, template_id: int, reason: str, at: datetime, action: str
) -> Template:
    actor.require(Permission.TEMPLATES)
    if not SHORTEST_REASON <= len(reason.strip()) <= LONGEST_REASON:
        limits = {"least": SHORTEST_REASON, "most": LONGEST_REASON}
        raise Invalid.of("finger.export_needs_reason", "reason", **limits)
    row = Template.objects.filter(
        pk=template_id, holder_id=cardholder_id, factor=Factor.FINGER
    ).first()
    if row is None:
        raise NotFound.of("finger.not_found")
    finger = Finger(row.position).name.lower()
    changes = {"finger": (finger, finger), "reason": (None, reason.strip())}
    record(actor, at, [Act(action, (About(CARDHOLDER, cardholder_id),), changes)])
    return row
