"""Fingers, consent and being let in by card alone, as an operator wants them."""

from dataclasses import dataclass, fields
from datetime import datetime
from typing import Any

from cadrin.biometrics.models import Template
from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.validity import Span


@dataclass(frozen=True, slots=True, kw_only=True)
class TemplateTerms:
    """When a finger or a face counts: from its activation to its expiry, at which it goes, and while
    it is not suspended.
    """

    label: str = ""
    activation_at: datetime | None = None
    expiry_at: datetime | None = None
    is_suspended: bool = False

    @property
    def span(self) -> Span:
        return Span(self.activation_at, self.expiry_at)


TERMS = tuple(field.name for field in fields(TemplateTerms))


def terms_of(kept: TemplateTerms | Template) -> dict[str, Any]:
    """Return the terms that somebody wants, or that are kept."""
    return {name: getattr(kept, name) for name in TERMS} | {"label": kept.label.strip()}


@dataclass(frozen=True, slots=True)
class FingerDraft(TemplateTerms):
    """A finger of a cardholder. ``id`` is None for a new one, which comes from a ``capture``, by its
    token; a finger that is there is taken anew where a capture is named.
    """

    id: int | None
    finger: Finger
    is_duress: bool = False
    capture: str = ""
    despite_match: bool = False
    """Taken although it is like a finger that is known already: somebody has looked."""


@dataclass(frozen=True, slots=True)
class FaceDraft(TemplateTerms):
    """A face of a cardholder, of which there may be several: with glasses and without. ``id`` is
    None for a new one, which comes from a ``capture``, by its token.
    """

    id: int | None
    capture: str = ""
    despite_match: bool = False
    """Taken although it is like somebody else's, or unlike their others: somebody has looked."""


@dataclass(frozen=True, slots=True)
class ConsentDraft:
    """A consent that is given now. ``proof`` is the token of a drawn signature or a scan."""

    factors: tuple[Factor, ...]
    how: HowGiven
    language: str
    proof: str = ""


@dataclass(frozen=True, slots=True)
class CardAloneDraft:
    """Being let in by card alone, until an instant or without end, and why."""

    reason: str
    expiry_at: datetime | None = None


@dataclass(frozen=True, slots=True)
class BiometricDraft:
    """All of it for one cardholder; a new consent is added to those that are there."""

    fingers: tuple[FingerDraft, ...] = ()
    new_consent: ConsentDraft | None = None
    card_alone: CardAloneDraft | None = None
    faces: tuple[FaceDraft, ...] = ()
