"""Whose evidence was presented, and whether each piece of it is theirs and works."""

from collections.abc import Mapping
from datetime import datetime
from typing import NamedTuple, Protocol

from cadrin.core.access.plan import Holder, Plan
from cadrin.core.credentials.biometric import Biometric, Sample
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.raw_reads import DecodeFault, RawRead
from cadrin.core.credentials.card.reading import level_in, read_card
from cadrin.core.credentials.factors import (
    JUST_A_CARD,
    Evidence,
    Factor,
    Factors,
    ReaderPolicy,
)
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.decision.reasons import Reason
from cadrin.core.decision.verdict import Verdict


class Records(Protocol):
    """What a decision is made from."""

    @property
    def plan(self) -> Plan: ...
    @property
    def holder_of_card(self) -> Mapping[CardKey, tuple[Card, Holder]]: ...
    @property
    def holder_of_bits(self) -> Mapping[int, tuple[Card, Holder]]:
        """Some of the cards by their bits, as `KnownCards` has them: found at once, never otherwise."""

    @property
    def holder_of_pin(self) -> Mapping[str, tuple[Pin, Holder]]: ...
    @property
    def holder_of_plate(self) -> Mapping[str, tuple[Plate, Holder]]: ...
    def uses_of(self, card: Card) -> int: ...
    def matching(
        self, factor: Factor, sample: Sample, policy: ReaderPolicy, holder: Holder | None
    ) -> tuple[Biometric, Holder] | None:
        """Return whose finger or face it is, among everybody's or one cardholder's, and the
        template that is most like it; None where none is like enough.
        """


def identify(
    evidence: Evidence, factors: Factors, policy: ReaderPolicy, at: datetime, records: Records
) -> Verdict:
    """Find whose evidence it is, and whether each piece of it is theirs and works: GRANTED so far,
    or why not.
    """
    found = Verdict(Reason.GRANTED, factors=factors)
    if evidence.read is not None:
        found = find_card(evidence.read, policy, at, records)
        if factors is not JUST_A_CARD:
            found = found._replace(factors=factors)
    if evidence.plate is not None and found.is_granted:
        found = _find_plate(evidence.plate, found, records)
    for factor, sample in ((Factor.FINGER, evidence.finger), (Factor.FACE, evidence.face)):
        if sample is not None and found.is_granted:
            found = _find_biometric(factor, sample, policy, found, at, records)
    if evidence.typed is not None and found.is_granted:
        found = _find_pin(evidence.typed, found, at, records)
    return found


def find_card(read: RawRead, policy: ReaderPolicy, at: datetime, records: Records) -> Verdict:
    formats = records.plan.formats
    if policy.formats is not None:
        formats = {id_: layout for id_, layout in formats.items() if policy.reads(id_)}
    keys = read_card(read, formats)
    if isinstance(keys, DecodeFault):
        if policy.formats is not None and isinstance(
            others := read_card(read, records.plan.formats), tuple
        ):
            return Verdict(Reason.FORMAT_NOT_READ, others[0])
        return Verdict(Reason(keys.value))
    for key in keys:
        if known := records.holder_of_card.get(key):
            break
    else:
        return Verdict(Reason.UNKNOWN_CARD, keys[0])
    card, holder = known
    against = card.reason_against(at, records.uses_of(card) if card.limit else 0)
    is_old = (
        card.issue_level is not None and level_in(read, formats[key.format_id]) != card.issue_level
    )
    # at no hour does an earlier issue open anything
    if is_old and against in (None, Reason.CARD_OUTSIDE_HOURS):
        against = Reason.CARD_SUPERSEDED
    reason = against or Reason.GRANTED
    return Verdict(reason, key, holder, None, JUST_A_CARD, False, card.is_watched)


def _find_plate(number: str, found: Verdict, records: Records) -> Verdict:
    known = records.holder_of_plate.get(number)
    if known is None:
        return found._replace(reason=Reason.UNKNOWN_PLATE)
    _, holder = known
    if found.holder is not None and found.holder.id != holder.id:
        return found._replace(reason=Reason.PLATE_OF_ANOTHER)
    return found._replace(holder=holder)


def _find_biometric(
    factor: Factor,
    sample: Sample,
    policy: ReaderPolicy,
    found: Verdict,
    at: datetime,
    records: Records,
) -> Verdict:
    """Compare a finger or a face with those of whoever was found, or find whose it is."""
    facts = _BIOMETRIC_REASONS[factor]
    theirs = found.holder.biometrics(factor) if found.holder else ()
    if found.holder is not None and not theirs:
        return found._replace(reason=facts.missing)
    known = records.matching(factor, sample, policy, found.holder)
    if known is None and found.holder is None:
        return found._replace(reason=facts.unknown)
    if known is None:
        # where none of theirs works, what it was like does not matter
        against = [item.reason_against(at) for item in sorted(theirs, key=lambda item: item.id)]
        none_works = None if None in against else against[0]
        return found._replace(reason=none_works or facts.of_another)
    template, holder = known
    return found._replace(
        reason=template.reason_against(at) or Reason.GRANTED,
        holder=holder,
        is_duress=found.is_duress or template.is_duress,
    )


class _BiometricReasons(NamedTuple):
    missing: Reason
    unknown: Reason
    of_another: Reason


_BIOMETRIC_REASONS: Mapping[Factor, _BiometricReasons] = {
    Factor.FINGER: _BiometricReasons(
        Reason.FINGER_MISSING, Reason.UNKNOWN_FINGER, Reason.FINGER_OF_ANOTHER
    ),
    Factor.FACE: _BiometricReasons(
        Reason.FACE_MISSING, Reason.UNKNOWN_FACE, Reason.FACE_OF_ANOTHER
    ),
}


def _find_pin(typed: str, found: Verdict, at: datetime, records: Records) -> Verdict:
    """Compare what was typed with the PINs of whoever was found, or find whose it is; plainly, then
    under duress.
    """
    hashes = records.plan.pins.hashes(typed)
    for hash_, is_duress in zip(hashes, (False, True), strict=True):
        pin, holder = _pin_with(hash_, found.holder, records)
        if pin is not None:
            reason = pin.reason_against(at) or Reason.GRANTED
            return found._replace(
                reason=reason,
                holder=holder,
                is_duress=found.is_duress or is_duress,
                pin_id=pin.id,
            )
    has_none = found.holder is not None and not found.holder.pins
    return found._replace(reason=Reason.PIN_MISSING if has_none else Reason.PIN_WRONG)


def _pin_with(
    hash_: str | None, holder: Holder | None, records: Records
) -> tuple[Pin | None, Holder | None]:
    if holder is not None:
        return next((pin for pin in holder.pins if pin.hash == hash_), None), holder
    return records.holder_of_pin.get(hash_ or "", (None, None))
