"""Templates, consents and being let in by card alone, as doors have them or would have a draft's."""

import logging
from collections.abc import Iterable
from dataclasses import replace
from datetime import datetime, timedelta
from typing import NamedTuple

from cadrin.biometrics.drafts import BiometricDraft, FaceDraft, FingerDraft
from cadrin.biometrics.models import CardAlone, Consent, Template
from cadrin.biometrics.queries import factors_covered
from cadrin.biometrics.settings import biometric_settings
from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.access.plan import Holder
from cadrin.core.credentials.biometric import Biometric, time_covered
from cadrin.core.credentials.biometric import Consent as CoreConsent
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Invalid
from cadrin.core.records.biometrics import AGAINST
from cadrin.core.validity import Span
from cadrin.operators.sealing import unseal

logger = logging.getLogger("cadrin.biometrics")


class BiometricsAtDoors(NamedTuple):
    """What doors know of a cardholder's fingers and faces; consents for the desk alone."""

    fingers: tuple[Biometric, ...] = ()
    faces: tuple[Biometric, ...] = ()
    card_alone: Span | None = None
    consents: tuple[CoreConsent, ...] = ()


NOTHING = BiometricsAtDoors()
_consents = RowsByIds(
    lambda: (
        Consent.objects.filter(holder_id__among=IDS)
        .order_by("id")
        .values_list("holder_id", "covers_fingers", "covers_faces", "expiry_at", "withdrawn_at")
    )
)
_templates = RowsByIds(
    lambda: (
        Template.objects.filter(holder_id__among=IDS)
        .order_by("id")
        .values_list(
            "holder_id", "id", "factor", "sealed", "activation_at", "expiry_at", "is_suspended",
            "is_duress",
        )
    )
)  # fmt: skip
_cards_alone = RowsByIds(
    lambda: CardAlone.objects.filter(holder_id__among=IDS).values_list("holder_id", "expiry_at")
)


def biometrics_at_doors(holder_ids: Iterable[int]) -> dict[int, BiometricsAtDoors]:
    """Return what doors know of these cardholders, without those who have nothing."""
    ids = list(holder_ids)
    consents = consents_at_doors(ids)
    templates = templates_at_doors(ids, consents)
    alone = card_alone_at_doors(ids)
    return {
        id_: BiometricsAtDoors(
            tuple(templates.get((id_, Factor.FINGER), ())),
            tuple(templates.get((id_, Factor.FACE), ())),
            alone.get(id_),
            consents.get(id_, ()),
        )
        for id_ in {*consents, *alone, *(holder_id for holder_id, _ in templates)}
    }


def consents_at_doors(holder_ids: Iterable[int]) -> dict[int, tuple[CoreConsent, ...]]:
    """Return the consents of cardholders, one for each factor and time."""
    found: dict[int, tuple[CoreConsent, ...]] = {}
    for holder_id, fingers, faces, expiry_at, withdrawn_at in _consents(holder_ids):
        ends = [end for end in (expiry_at, withdrawn_at) if end is not None]
        span = Span(None, min(ends, default=None))
        found[holder_id] = (
            *found.get(holder_id, ()),
            *(CoreConsent(factor, span) for factor in factors_covered(fingers, faces)),
        )
    return found


def templates_at_doors(
    holder_ids: list[int], consents: dict[int, tuple[CoreConsent, ...]]
) -> dict[tuple[int, Factor], list[Biometric]]:
    """Return the templates of cardholders as doors get them, by cardholder and factor; one whose
    seal cannot be opened is left out.
    """
    found: dict[tuple[int, Factor], list[Biometric]] = {}
    for holder_id, id_, of, sealed, start, end, is_suspended, is_duress in _templates(holder_ids):
        factor = Factor(of)
        try:
            record = "" if is_suspended else unseal(sealed)
        except Invalid:  # everything else must go on reaching the doors
            logger.error("template %s cannot be unsealed: it is left out at doors", id_)
            continue
        template = Biometric(
            id_,
            record,
            AGAINST[factor],
            time_covered(consents.get(holder_id, ()), factor),
            Span(start, end),
            is_suspended,
            is_duress,
        )
        found.setdefault((holder_id, factor), []).append(template)
    return found


def card_alone_at_doors(holder_ids: list[int]) -> dict[int, Span]:
    """Return until when cardholders are let in by card alone."""
    return {holder_id: Span(None, end) for holder_id, end in _cards_alone(holder_ids)}


def as_saved(holder: Holder, before: Holder, draft: BiometricDraft | None, at: datetime) -> Holder:
    """Return a holder with the templates that the draft would leave, of which those that are new
    have no content yet; without a draft, with those that are there.
    """
    consents, fingers, faces = before.consents, before.fingers, before.faces
    alone = before.card_alone
    if draft is not None:
        if draft.new_consent:
            days = biometric_settings().consent_days
            end = at + timedelta(days=days) if days else None
            given = (CoreConsent(factor, Span(None, end)) for factor in draft.new_consent.factors)
            consents = (*consents, *given)
        fingers = _wanted(Factor.FINGER, draft.fingers, fingers, consents)
        faces = _wanted(Factor.FACE, draft.faces, faces, consents)
        alone = Span(None, draft.card_alone.expiry_at) if draft.card_alone else None
    return replace(holder, fingers=fingers, faces=faces, card_alone=alone, consents=consents)


def _wanted(
    factor: Factor,
    drafts: Iterable[FingerDraft | FaceDraft],
    before: Iterable[Biometric],
    consents: Iterable[CoreConsent],
) -> tuple[Biometric, ...]:
    known = {template.id: template for template in before}
    agreed = time_covered(consents, factor)
    return tuple(
        replace(
            known.get(draft.id or 0) or Biometric(-place, "", AGAINST[factor]),
            agreed=agreed,
            span=draft.span,
            is_suspended=draft.is_suspended,
            is_duress=isinstance(draft, FingerDraft) and draft.is_duress,
        )
        for place, draft in enumerate(drafts, start=1)
    )
