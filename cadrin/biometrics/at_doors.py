"""Templates, consents and being let in by card alone, as doors have them or would have a draft's."""

from collections.abc import Iterable
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import NamedTuple

from cadrin.biometrics.drafts import BiometricDraft
from cadrin.biometrics.models import CardAlone, Consent, Template
from cadrin.biometrics.queries import factors_covered
from cadrin.biometrics.settings import biometric_settings
from cadrin.core.access.plan import Holder
from cadrin.core.credentials.biometric import Biometric
from cadrin.core.credentials.biometric import Consent as CoreConsent
from cadrin.core.credentials.factors import Factor
from cadrin.core.errors import Invalid
from cadrin.core.records.biometrics import WITHOUT_CONSENT
from cadrin.core.validity import Span
from cadrin.operators.sealing import unseal

_EPOCH = datetime.fromtimestamp(0, UTC)
_NEVER = Span(_EPOCH, _EPOCH)


class BiometricsAtDoors(NamedTuple):
    """What doors know of a cardholder's fingers; consents for the desk alone."""

    fingers: tuple[Biometric, ...] = ()
    card_alone: Span | None = None
    consents: tuple[CoreConsent, ...] = ()


NOTHING = BiometricsAtDoors()


def biometrics_at_doors(holder_ids: Iterable[int]) -> dict[int, BiometricsAtDoors]:
    """Return what doors know of these cardholders, without those who have nothing."""
    ids = list(holder_ids)
    consents = consents_at_doors(ids)
    fingers = fingers_at_doors(ids, consents)
    alone = card_alone_at_doors(ids)
    return {
        id_: BiometricsAtDoors(tuple(fingers.get(id_, ())), alone.get(id_), consents.get(id_, ()))
        for id_ in {*consents, *fingers, *alone}
    }


def consents_at_doors(holder_ids: Iterable[int]) -> dict[int, tuple[CoreConsent, ...]]:
    """Return the consents of cardholders, one for each factor and time."""
    found: dict[int, tuple[CoreConsent, ...]] = {}
    rows = Consent.objects.filter(holder_id__in=list(holder_ids)).order_by("id")
    for row in rows.defer("sealed_proof"):
        ends = [end for end in (row.expiry_at, row.withdrawn_at) if end is not None]
        span = Span(None, min(ends, default=None))
        found[row.holder_id] = (
            *found.get(row.holder_id, ()),
            *(CoreConsent(factor, span) for factor in factors_covered(row)),
        )
    return found


def time_of_consent(consents: Iterable[CoreConsent], factor: Factor) -> Span:
    """Return the time in which templates of a factor count: that of the consent that lasts longest;
    never without any.
    """
    ends = [consent.span.end for consent in consents if consent.factor is factor]
    if not ends:
        return _NEVER
    return Span(None, None if None in ends else max(end for end in ends if end is not None))


def fingers_at_doors(
    holder_ids: list[int], consents: dict[int, tuple[CoreConsent, ...]]
) -> dict[int, list[Biometric]]:
    """Return the fingers of cardholders as doors get them; one whose seal cannot be opened is left
    out.
    """
    found: dict[int, list[Biometric]] = {}
    rows = Template.objects.filter(holder_id__in=holder_ids, factor=Factor.FINGER).order_by("id")
    for holder_id, id_, sealed, is_duress in rows.values_list(
        "holder_id", "id", "sealed", "is_duress"
    ):
        span = time_of_consent(consents.get(holder_id, ()), Factor.FINGER)
        try:
            record = unseal(sealed)
        except Invalid:
            continue
        template = Biometric(id_, record, WITHOUT_CONSENT[Factor.FINGER], span, is_duress)
        found.setdefault(holder_id, []).append(template)
    return found


def card_alone_at_doors(holder_ids: list[int]) -> dict[int, Span]:
    """Return until when cardholders are let in by card alone."""
    rows = CardAlone.objects.filter(holder_id__in=holder_ids)
    return {
        holder_id: Span(None, end) for holder_id, end in rows.values_list("holder_id", "expiry_at")
    }


def as_saved(holder: Holder, before: Holder, draft: BiometricDraft | None, at: datetime) -> Holder:
    """Return a holder with the fingers that the draft would leave, of which those that are new have
    no template yet; without a draft, with those that are there.
    """
    consents, fingers, alone = before.consents, before.fingers, before.card_alone
    if draft is not None:
        if draft.new_consent:
            days = biometric_settings().consent_days
            end = at + timedelta(days=days) if days else None
            given = (CoreConsent(factor, Span(None, end)) for factor in draft.new_consent.factors)
            consents = (*consents, *given)
        span = time_of_consent(consents, Factor.FINGER)
        known = {finger.id: finger for finger in before.fingers}
        fingers = tuple(
            replace(
                known.get(wanted.id or 0) or Biometric(-place, "", WITHOUT_CONSENT[Factor.FINGER]),
                span=span,
                is_duress=wanted.is_duress,
            )
            for place, wanted in enumerate(draft.fingers, start=1)
        )
        alone = Span(None, draft.card_alone.expiry_at) if draft.card_alone else None
    return replace(holder, fingers=fingers, card_alone=alone, consents=consents)
