"""Write the faces of a cardholder, as part of writing them."""

from collections.abc import Mapping, Sequence
from datetime import datetime

from cadrin.biometrics.drafts import BiometricDraft, FaceDraft, terms_of
from cadrin.biometrics.face_captures import face_taken
from cadrin.biometrics.models import Capture, Template
from cadrin.core.credentials.face.template import record_of_face
from cadrin.core.credentials.factors import Factor
from cadrin.journal.commands import Act, changes_between
from cadrin.operators.actor import Actor
from cadrin.operators.sealing import seal
from cadrin.people.commands.parts import Part


def set_faces(
    actor: Actor,
    part: Part[BiometricDraft],
    wanted: Sequence[FaceDraft],
    kept: Mapping[int, Template],
    at: datetime,
) -> list[Act]:
    """Make the faces of a cardholder these, and return the acts for the journal."""
    acts = []
    staying = {draft.id for draft in wanted if draft.id}
    for id_, row in kept.items():
        if id_ not in staying:
            told = {"label": row.label or None, "quality": row.quality}
            acts.append(Act("face.removed", (part.about,), changes_between(told, {})))
            row.delete()
    for draft in wanted:
        if draft.id is None:
            acts.append(_enrolled(actor, part, draft, at))
        elif changes := changes_between(terms_of(kept[draft.id]), terms_of(draft)):
            Template.objects.filter(pk=draft.id).update(**terms_of(draft))
            acts.append(Act("face.changed", (part.about,), changes))
    return acts


def _enrolled(actor: Actor, part: Part[BiometricDraft], draft: FaceDraft, at: datetime) -> Act:
    capture = Capture.objects.get(token=draft.capture)
    face = face_taken(capture)
    assert face is not None  # it was judged before
    theirs = Template.objects.filter(holder_id=part.holder_id, factor=Factor.FACE)
    taken = set(theirs.values_list("position", flat=True))
    Template.objects.create(
        holder_id=part.holder_id,
        factor=Factor.FACE,
        position=next(place for place in range(1, len(taken) + 2) if place not in taken),
        **terms_of(draft),
        sealed=seal(record_of_face(face)),
        quality=face.quality,
        taken_at=at,
        taken_by=actor.name,
    )
    capture.delete()
    told = {name: value for name, value in terms_of(draft).items() if value}
    told["quality"] = face.quality
    if draft.despite_match:
        told["despite_match"] = True
    return Act("face.enrolled", (part.about,), changes_between({}, told))
