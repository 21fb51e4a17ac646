"""Read consents and templates; the templates themselves only as doors get them."""

from collections.abc import Collection, Iterable, Iterator
from datetime import datetime
from typing import Any

from django.db.models import Count, Exists, Max, OuterRef, Q, QuerySet

from cadrin.biometrics.drafts import (
    BiometricDraft,
    CardAloneDraft,
    FaceDraft,
    FingerDraft,
    terms_of,
)
from cadrin.biometrics.models import CardAlone, Consent, Template
from cadrin.config.database.instants import Turn, Window, turns
from cadrin.config.database.reading import IDS, ObjectsByIds
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.credentials.finger.positions import Finger
from cadrin.credentials.matching import has_begun, is_not_over
from cadrin.outbox.rows import Rows


def factors_covered(fingers: bool, faces: bool) -> tuple[Factor, ...]:
    """Return the factors that a consent is for."""
    covered = ((Factor.FINGER, fingers), (Factor.FACE, faces))
    return tuple(factor for factor, is_covered in covered if is_covered)


cards_alone_of = ObjectsByIds(CardAlone, lambda: CardAlone.objects.filter(holder_id__among=IDS))
_templates_of = ObjectsByIds(
    Template,
    lambda: Template.objects.filter(holder_id__among=IDS).order_by("position"),
    without={"sealed"},
)


def biometrics_of(holder_ids: Iterable[int]) -> dict[int, BiometricDraft]:
    """Return what cardholders have, as it is stored."""
    ids = list(holder_ids)
    fingers: dict[int, tuple[FingerDraft, ...]] = {}
    faces: dict[int, tuple[FaceDraft, ...]] = {}
    for template in _templates_of(ids):
        if template.factor == Factor.FACE:
            face = FaceDraft(template.pk, **terms_of(template))
            faces[template.holder_id] = (*faces.get(template.holder_id, ()), face)
            continue
        draft = FingerDraft(
            template.pk, Finger(template.position), template.is_duress, **terms_of(template)
        )
        fingers[template.holder_id] = (*fingers.get(template.holder_id, ()), draft)
    alone = {
        row.holder_id: CardAloneDraft(row.reason, row.expiry_at) for row in cards_alone_of(ids)
    }
    return {
        id_: BiometricDraft(fingers.get(id_, ()), None, alone.get(id_), faces.get(id_, ()))
        for id_ in ids
    }


def template_ids_of(holder_ids: Iterable[int]) -> dict[tuple[int, Factor], set[int]]:
    """Return the ids of the templates of cardholders, by cardholder and factor."""
    rows = Template.objects.filter(holder_id__in=set(holder_ids))
    found: dict[tuple[int, Factor], set[int]] = {}
    for holder_id, factor, id_ in rows.values_list("holder_id", "factor", "id"):
        found.setdefault((holder_id, Factor(factor)), set()).add(id_)
    return found


def templates_shown(holder_id: int) -> Rows:
    """Return what may be shown of a cardholder's templates: never what they look like."""
    rows = Template.objects.filter(holder_id=holder_id).order_by("factor", "position")
    columns = ("id", "factor", "position", "quality", "taken_at", "taken_by", "picture_until")
    return [
        row
        | {"finger": Finger(row["position"]).name.lower() if row["factor"] == "finger" else None}
        for row in rows.values(*columns)
    ]


def consents_shown(holder_id: int, at: datetime) -> Rows:
    """Return a cardholder's consents, newest first, without what proves them."""
    rows = Consent.objects.filter(holder_id=holder_id).order_by("-id").select_related("wording")
    return [
        {
            "id": row.pk,
            "factors": [
                factor.value for factor in factors_covered(row.covers_fingers, row.covers_faces)
            ],
            "how": row.how,
            "language": row.language,
            "wording_version": row.wording.version,
            "wording": row.wording.texts.get(row.language, ""),
            "given_at": row.given_at,
            "taken_by": row.taken_by,
            "has_proof": bool(row.sealed_proof),
            "is_in_force": row.withdrawn_at is None
            and (row.expiry_at is None or at < row.expiry_at),
            "expiry_at": row.expiry_at,
            "withdrawn_at": row.withdrawn_at,
            "gone_at": row.gone_at,
        }
        for row in rows
    ]


def has_template(factor: Factor) -> Q:
    """Match whoever has a template of a factor."""
    return Q(Exists(Template.objects.filter(holder_id=OuterRef("pk"), factor=factor)))


def has_template_in_force(factor: Factor, at: datetime) -> Q:
    """Match whoever has a template of a factor that counts at ``at``, or when they start if that is
    later, consent set apart.
    """
    theirs = Template.objects.filter(holder_id=OuterRef("pk"), factor=factor, is_suspended=False)
    return Q(Exists(theirs.filter(has_begun(at), is_not_over(at))))


def template_counts(factors: Collection[Factor], people: QuerySet[Any]) -> list[tuple[int, int]]:
    """Return how many templates of some factors that doors hold each of these people has; whoever
    has the newest comes last.
    """
    rows = Template.objects.filter(factor__in=factors, is_suspended=False, holder__in=people)
    counts = rows.values("holder_id").annotate(count=Count("id"), newest=Max("id"))
    return list(counts.order_by("newest").values_list("holder_id", "count"))


def with_template_or_excused(factor: Factor, at: datetime) -> set[int]:
    """Return the cardholders who have a template of a factor that is not suspended, or are let in by
    card alone.
    """
    rows = Template.objects.filter(factor=factor, is_suspended=False)
    has = set(rows.values_list("holder_id", flat=True))
    excused = CardAlone.objects.filter(_has_not_ended(at)).values_list("holder_id", flat=True)
    return has.union(excused)


def _has_not_ended(at: datetime) -> Q:
    return Q(expiry_at=None) | Q(expiry_at__gt=at)


def _covering(factor: Factor) -> Q:
    return Q(covers_fingers=True) if factor is Factor.FINGER else Q(covers_faces=True)


def has_consent(factor: Factor, at: datetime) -> Q:
    """Match whoever has a consent to a factor that is in force, when they start if that is later."""
    theirs = Consent.objects.filter(holder_id=OuterRef("pk"), withdrawn_at=None)
    return Q(Exists(theirs.filter(_covering(factor), is_not_over(at))))


def is_by_card_alone(at: datetime) -> Q:
    """Match whoever is let in by card alone, when they start if that is later."""
    return Q(Exists(CardAlone.objects.filter(is_not_over(at), holder_id=OuterRef("pk"))))


def not_to_be_kept(at: datetime) -> Q:
    """Match templates that may not be kept: without a consent in force, at their own end, or after
    their cardholder departed.
    """
    in_force = Consent.objects.filter(
        _has_not_ended(at), holder_id=OuterRef("holder_id"), withdrawn_at=None
    )
    is_over = Q(kept_until__lte=at) | Q(expiry_at__lte=at)
    for factor in BIOMETRIC:
        is_over |= Q(factor=factor) & ~Q(Exists(in_force.filter(_covering(factor))))
    return is_over


def holders_to_forget(at: datetime) -> list[int]:
    """Return cardholders who have a template that may not be kept."""
    rows = Template.objects.filter(not_to_be_kept(at)).values_list("holder_id", flat=True)
    return sorted(set(rows))


def consents_over(at: datetime) -> dict[int, list[int]]:
    """Return consents that are over, that no template here rests on or waits to go for, and that
    are not noted as gone from every controller, by cardholder.
    """
    theirs = Template.objects.filter(holder_id=OuterRef("holder_id"))
    over = Consent.objects.filter(
        Q(withdrawn_at__lte=at) | Q(withdrawn_at=None, expiry_at__lte=at), gone_at=None
    )
    for factor in BIOMETRIC:
        over = over.exclude(_covering(factor) & Q(Exists(theirs.filter(factor=factor))))
    found: dict[int, list[int]] = {}
    for id_, holder_id in over.values_list("id", "holder_id"):
        found.setdefault(holder_id, []).append(id_)
    return found


def consents_of(holder_id: int) -> dict[int, datetime | None]:
    """Return a cardholder's consents, and when each was withdrawn."""
    return dict(Consent.objects.filter(holder_id=holder_id).values_list("id", "withdrawn_at"))


def has_consent_to(holder_id: int, factor: Factor, at: datetime) -> bool:
    """Say whether a cardholder has agreed to a factor, and the consent is in force."""
    in_force = Consent.objects.filter(_covering(factor), _has_not_ended(at))
    return in_force.filter(holder_id=holder_id, withdrawn_at=None).exists()


def turns_of_biometrics(window: Window) -> Iterator[Turn]:
    """Yield when templates, consents and being let in by card alone begin or end, and whose they are."""
    yield from turns(Template.objects.all(), "holder_id", ("activation_at", "expiry_at"), window)
    yield from turns(Consent.objects.all(), "holder_id", ("expiry_at", "withdrawn_at"), window)
    yield from turns(CardAlone.objects.all(), "holder_id", ("expiry_at",), window)
