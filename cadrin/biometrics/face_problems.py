"""What stands against the faces of a cardholder being as they are wanted."""

from collections.abc import Iterable
from datetime import datetime

from cadrin.biometrics.captures import find_capture
from cadrin.biometrics.drafts import BiometricDraft, FaceDraft
from cadrin.biometrics.face_captures import face_taken
from cadrin.biometrics.face_search import faces_of, search_all_faces
from cadrin.biometrics.queries import has_consent_to
from cadrin.biometrics.settings import face_rule
from cadrin.core.credentials.biometric import problems_with_terms
from cadrin.core.credentials.face.enrolment import MOST_TEMPLATES, is_same_face
from cadrin.core.credentials.face.template import FaceTemplate
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Param, Problem
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.queries import display_names


def problems_with_faces(
    actor: Actor, holder_id: int, wanted: BiometricDraft, known: set[int], at: datetime
) -> Iterable[Problem]:
    """Return everything against these faces, each beside its field."""
    if any(draft.capture for draft in wanted.faces) and not (
        (wanted.new_consent is not None and Factor.FACE in wanted.new_consent.factors)
        or has_consent_to(holder_id, Factor.FACE, at)
    ):
        yield Problem("consent.face_missing", "faces")
    if len(wanted.faces) > MOST_TEMPLATES:
        yield Problem("face.too_many", "faces", {"most": MOST_TEMPLATES})
    before = faces_of(holder_id, (draft.id for draft in wanted.faces if draft.id))
    for place, draft in enumerate(wanted.faces):
        field = f"faces.{place}"
        terms = problems_with_terms(draft.label, draft.span, at)
        yield from (problem.under(field) for problem in terms)
        if draft.id is not None and draft.id not in known:
            yield Problem("input.no_longer_there", field)
        elif draft.id is None:
            problem = _problem_with_new(actor, holder_id, draft, before)
            if problem is not None:
                yield problem.under(field)


def _problem_with_new(
    actor: Actor, holder_id: int, draft: FaceDraft, before: list[FaceTemplate]
) -> Problem | None:
    """Return what stands against a face that was just taken; ``before`` are their others."""
    if not draft.capture:
        return Problem("face.not_taken", None)
    capture = find_capture(actor, draft.capture, Factor.FACE)
    if capture is None or capture.holder_id not in (None, holder_id):
        return Problem("finger.capture_is_over", "capture")
    face = face_taken(capture)
    if face is None:
        return Problem("face.not_taken", "capture")
    others, rule = list(before), face_rule()
    before.append(face)
    if draft.despite_match and Permission.LOWER_QUALITY in actor.permissions:
        return None
    found = next(iter(search_all_faces(face, besides=holder_id)), None)
    if found is not None:
        name = display_names([found.holder_id])[found.holder_id]
        who: dict[str, Param] = {"holder": name, "holder_id": found.holder_id}
        return Problem("face.of_another", "capture", who)
    if others and not is_same_face(face, others, rule):
        return Problem("face.another_face", "capture")
    return None
