"""What the site has decided about cards and PINs."""

import hmac
import logging
import secrets
from dataclasses import fields
from functools import lru_cache
from typing import NamedTuple

from cadrin.config.database.reading import IDS, ObjectsByIds
from cadrin.core.credentials.pin.duress import DuressRule
from cadrin.core.credentials.pin.hashing import PinAtDoors
from cadrin.core.credentials.pin.rule import PinRule
from cadrin.core.errors import Invalid
from cadrin.credentials.models import CardSettings
from cadrin.operators.sealing import seal, unseal
from cadrin.outbox.commands import tell_controllers

logger = logging.getLogger("cadrin.credentials")

_settings = ObjectsByIds(CardSettings, lambda: CardSettings.objects.filter(pk__among=IDS))


def card_settings() -> CardSettings:
    """Return the site's decisions; those of a new house where nothing was decided yet."""
    return next(iter(_settings([1])), None) or CardSettings(pk=1)


def pin_rule(kept: CardSettings | None = None) -> PinRule:
    """Return the rule for PINs as the core takes it."""
    stored = (kept or card_settings()).pin_rule
    known = {name.name for name in fields(PinRule)}
    values = {name: value for name, value in stored.items() if name in known}
    return PinRule(**values | {"duress": DuressRule(values.get("duress", DuressRule.NONE))})


class PinKeys(NamedTuple):
    """The keys of the two hashes: one that never leaves, and one that controllers have."""

    own: bytes
    doors: bytes


def has_pin_keys() -> bool:
    """Say whether any PIN was ever set here."""
    return bool(card_settings().sealed_key)


def pin_keys() -> PinKeys:
    """Return the keys of the hashes, made when they are first needed. Call it within a transaction
    that may write.
    """
    kept = card_settings()
    if not kept.sealed_key:
        kept.sealed_key = seal(secrets.token_hex(32))
        kept.save()
    return _keys(kept.sealed_key)


def pins_at_doors() -> PinAtDoors:
    """Return what controllers need to know PINs when they are typed. Nothing is written: without a
    PIN no key.
    """
    kept = card_settings()
    rule = pin_rule(kept)
    try:
        key, is_known = _keys(kept.sealed_key).doors.hex() if kept.sealed_key else "", True
    except Invalid:  # everything but PINs must go on reaching the doors
        logger.error(
            "the key by which doors know PINs cannot be unsealed: keypads are left as they are"
        )
        key, is_known = "", False
    return PinAtDoors(key, rule.max_attempts, rule.lockout_seconds, rule.duress, is_known)


@lru_cache(maxsize=2)
def _keys(sealed: str) -> PinKeys:
    master = bytes.fromhex(unseal(sealed))
    return PinKeys(hmac.digest(master, b"own", "sha256"), hmac.digest(master, b"doors", "sha256"))


def make_ready_for_pins() -> None:
    """Make the keys by which controllers know PINs, before the first is set."""
    if not has_pin_keys():
        pin_keys()
        tell_controllers()
