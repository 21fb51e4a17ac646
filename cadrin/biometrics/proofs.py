"""What proves a consent: a drawn signature, the scan of a paper, or the mail that came back. It is
sealed from the first.
"""

import secrets
from base64 import b64decode, b64encode
from datetime import datetime, timedelta
from email.parser import BytesHeaderParser
from typing import NamedTuple

from cadrin.biometrics.models import Consent, ConsentProof
from cadrin.core.errors import Invalid, NotFound
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import seal, unseal

MOST_BYTES = 2 * 2**20
KEPT = timedelta(hours=1)
KINDS = {
    b"\x89PNG\r\n\x1a\n": "image/png",
    b"\xff\xd8\xff": "image/jpeg",
    b"%PDF-": "application/pdf",
}
"""How files begin, and what they are."""
MAIL = "message/rfc822"
_OF_A_MAIL = ("from", "date")
"""Header fields that every mail has (RFC 5322, 3.6)."""
TOKEN_BYTES = 24
LONGEST_HEADER = 2**16


class Proof(NamedTuple):
    media_type: str
    content: bytes


def take_proof(actor: Actor, content: bytes, at: datetime) -> str:
    """Keep a signature or a scan until a consent is saved with it, and return its token. Raises
    Invalid when it is no PNG, JPEG, PDF or mail, or too large, NotPermitted, and NotFound for a script.
    """
    actor.require(Permission.BIOMETRICS)
    if actor.operator_id is None:
        raise NotFound.of("consent.not_found")
    if len(content) > MOST_BYTES:
        raise Invalid.of("consent.scan_too_large", "proof", most=MOST_BYTES // 2**20)
    if _media_type(content) is None:
        raise Invalid.of("consent.not_a_scan", "proof")
    ConsentProof.objects.filter(taken_at__lt=at - KEPT).delete()
    return ConsentProof.objects.create(
        token=secrets.token_urlsafe(TOKEN_BYTES),
        operator_id=actor.operator_id,
        sealed=seal(b64encode(content).decode()),
        taken_at=at,
    ).token


def has_proof(actor: Actor, token: str) -> bool:
    return ConsentProof.objects.filter(token=token, operator_id=actor.operator_id or 0).exists()


def use_proof(token: str) -> str:
    """Return a proof as it is sealed; from now on it is its consent's alone."""
    proof = ConsentProof.objects.filter(token=token).first()
    if proof is None:
        return ""
    proof.delete()
    return proof.sealed


def forget_proofs(at: datetime) -> int:
    """Forget what was never saved."""
    old = ConsentProof.objects.filter(taken_at__lt=at - KEPT)
    return old.delete()[0] if old.exists() else 0


def proof_of(actor: Actor, cardholder_id: int, consent_id: int) -> Proof:
    """Return what proves a consent. Raises NotFound or NotPermitted."""
    actor.require(Permission.BIOMETRICS)
    consent = Consent.objects.filter(pk=consent_id, holder_id=cardholder_id).first()
    if consent is None or not consent.sealed_proof:
        raise NotFound.of("consent.not_found")
    content = b64decode(unseal(consent.sealed_proof))
    return Proof(_media_type(content) or "application/octet-stream", content)


def _media_type(content: bytes) -> str | None:
    known = next((kind for start, kind in KINDS.items() if content.startswith(start)), None)
    if known is not None:
        return known
    fields = BytesHeaderParser().parsebytes(content[:LONGEST_HEADER])
    return MAIL if all(name in fields for name in _OF_A_MAIL) else None
