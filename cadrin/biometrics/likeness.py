"""Whether a portrait still looks like the faces of its cardholder."""

import io

from PIL import Image as Pillow

from cadrin.biometrics.face_search import faces_of
from cadrin.biometrics.models import Template
from cadrin.biometrics.settings import face_rule
from cadrin.core.credentials.face.enrolment import is_same_face, shot_of
from cadrin.core.credentials.factors import Factor
from cadrin.operators.actor import Actor
from cadrin.photos.commands import original_of


def is_like_portrait(actor: Actor, cardholder_id: int, image_token: str) -> bool | None:
    """Say whether an image is like any face of a cardholder; None without a face in it, or none to
    compare with. Raises NotFound.
    """
    ids = Template.objects.filter(holder_id=cardholder_id, factor=Factor.FACE).values_list("id")
    faces = faces_of(cardholder_id, (id_ for (id_,) in ids))
    if not faces:
        return None
    with Pillow.open(io.BytesIO(original_of(actor, image_token))) as picture:
        template = shot_of(picture.convert("RGB")).template
    return None if template is None else is_same_face(template, faces, face_rule())
