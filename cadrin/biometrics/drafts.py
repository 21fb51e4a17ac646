"""Fingers, consent and being let in by card alone, as an operator wants them."""

from dataclasses import dataclass
from datetime import datetime

from cadrin.core.credentials.biometric import HowGiven
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.positions import Finger


@dataclass(frozen=True, slots=True)
class FingerDraft:
    """A finger of a cardholder. ``id`` is None for a new one, which comes from a ``capture``, by its
    token; a finger that is there is taken anew where a capture is named.
    """

    id: int | None
    finger: Finger
    label: str = ""
    is_duress: bool = False
    capture: str = ""
    despite_match: bool = False
    """Taken although it is like a finger that is known already: somebody has looked."""


@dataclass(frozen=True, slots=True)
class FaceDraft:
    """A face of a cardholder, of which there may be several: with glasses and without. ``id`` is
    None for a new one, which comes from a ``capture``, by its token.
    """

    id: int | None
    label: str = ""
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
