"""What stands against fingers, a consent or being let in by card alone being as they are wanted."""

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime

from cadrin.biometrics.captures import find_capture, is_whole, missing_of, template_of
from cadrin.biometrics.drafts import BiometricDraft, ConsentDraft, FingerDraft
from cadrin.biometrics.face_problems import problems_with_faces
from cadrin.biometrics.models import Capture
from cadrin.biometrics.proofs import has_proof
from cadrin.biometrics.queries import has_consent_to, template_ids_of
from cadrin.biometrics.search import search_everybody
from cadrin.biometrics.settings import finger_rule
from cadrin.biometrics.wordings import shown_wording
from cadrin.core.credentials.biometric import (
    PROVEN_BY_A_FILE,
    problems_with_card_alone,
    problems_with_terms,
)
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.credentials.finger.enrolment import is_same_finger
from cadrin.core.credentials.finger.template import FingerTemplate
from cadrin.core.credentials.finger.together import (
    FingerWanted,
    problems_with_fingers_together,
)
from cadrin.core.errors import Param, Problem
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.parts import Part
from cadrin.people.queries import display_names


def problems_with_biometrics(
    actor: Actor, parts: Sequence[Part[BiometricDraft]], at: datetime
) -> list[tuple[Problem, ...]]:
    """Return everything against each cardholder having these, each beside its field."""
    with_templates = (
        part.holder_id
        for part in parts
        if any(wanted.fingers or wanted.faces for wanted in part.wanted)
    )
    known = template_ids_of(with_templates)
    return [
        tuple(
            problem.under("biometrics")
            for wanted in part.wanted
            for problem in _problems(actor, part.holder_id, wanted, known, at)
        )
        for part in parts
    ]


def _problems(
    actor: Actor,
    holder_id: int,
    wanted: BiometricDraft,
    known: Mapping[tuple[int, Factor], set[int]],
    at: datetime,
) -> Iterable[Problem]:
    if wanted.new_consent is not None:
        yield from _problems_with_consent(actor, wanted.new_consent)
    if wanted.card_alone is not None:
        yield from (
            problem.under("card_alone")
            for problem in problems_with_card_alone(wanted.card_alone.reason)
        )
    fingers, faces = (
        known.get((holder_id, factor), set()) for factor in (Factor.FINGER, Factor.FACE)
    )
    yield from _problems_with_fingers(actor, holder_id, wanted, fingers, at)
    yield from problems_with_faces(actor, holder_id, wanted, faces, at)


def _problems_with_consent(actor: Actor, wanted: ConsentDraft) -> Iterable[Problem]:
    if not set(wanted.factors) & BIOMETRIC:
        yield Problem("consent.for_nothing", "new_consent.factors")
    if wanted.language not in shown_wording():
        yield Problem("input.invalid_choice", "new_consent.language")
    if wanted.how in PROVEN_BY_A_FILE and not wanted.proof:
        yield Problem(f"consent.{wanted.how}_missing", "new_consent.proof")
    if wanted.proof and not has_proof(actor, wanted.proof):
        yield Problem("consent.proof_is_gone", "new_consent.proof")


def _problems_with_fingers(
    actor: Actor, holder_id: int, wanted: BiometricDraft, known: set[int], at: datetime
) -> Iterable[Problem]:
    if any(draft.capture for draft in wanted.fingers) and not (
        (wanted.new_consent is not None and Factor.FINGER in wanted.new_consent.factors)
        or has_consent_to(holder_id, Factor.FINGER, at)
    ):
        yield Problem("consent.missing", "fingers")
    yield from problems_with_fingers_together(
        [FingerWanted(draft.finger, draft.is_duress) for draft in wanted.fingers]
    )
    taken: list[FingerTemplate] = []
    for place, draft in enumerate(wanted.fingers):
        field = f"fingers.{place}"
        terms = problems_with_terms(draft.label, draft.span, at)
        yield from (problem.under(field) for problem in terms)
        if draft.id is not None and draft.id not in known:
            yield Problem("input.no_longer_there", field)
        elif draft.id is None and not draft.capture:
            yield Problem("finger.not_taken", field)
        elif draft.capture:
            problem = _problem_with_capture(actor, holder_id, draft, taken)
            if problem is not None:
                yield problem.under(field)


def _problem_with_capture(
    actor: Actor, holder_id: int, draft: FingerDraft, taken: list[FingerTemplate]
) -> Problem | None:
    """Return what stands against a finger that was just taken; ``taken`` are those before it."""
    capture = find_capture(actor, draft.capture)
    if capture is None:
        return Problem("finger.capture_is_over", "capture")
    if capture.holder_id not in (None, holder_id) or capture.finger != draft.finger:
        return Problem("finger.capture_of_another", "capture")
    if not is_whole(capture):
        return Problem("finger.presses_missing", "capture", {"missing": missing_of(capture)})
    template = template_of(capture)
    same = any(is_same_finger(template, [other], finger_rule()) for other in taken)
    taken.append(template)
    if same:
        return Problem("finger.same_as_another", "capture")
    if draft.despite_match and Permission.LOWER_QUALITY in actor.permissions:
        return None
    return _problem_with_match(capture, holder_id)


def _problem_with_match(capture: Capture, holder_id: int) -> Problem | None:
    found = next(iter(search_everybody(capture)), None)
    if found is None:
        return None
    finger = found.finger.name.lower()
    if found.holder_id == holder_id:
        return Problem("finger.same_as_known", "capture", {"finger": finger})
    name = display_names([found.holder_id])[found.holder_id]
    who: dict[str, Param] = {"holder": name, "holder_id": found.holder_id, "finger": finger}
    return Problem("finger.of_another", "capture", who)
