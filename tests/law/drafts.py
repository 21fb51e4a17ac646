"""Parts of a cardholder's file at random."""

from datetime import datetime, timedelta
from random import Random
from typing import Any

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import AccessGroup
from cadrin.core.credentials.card.life import HELD_STATUSES, CardStatus
from cadrin.core.schedules import Hours
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.models import CardFormat
from cadrin.credentials.pin_draft import PinDraft
from tests.house import House

ZONES = ("Europe/London", "Pacific/Chatham", "America/St_Johns")
PINS = [f"{n}{m}0{k}" for n in (48, 85, 93) for m in (1, 7) for k in (5, 6, 7, 8)]


class Drafts:
    """What operators of a house might enter; ``now`` is everybody's clock."""

    random: Random
    now: datetime
    house: House
    longer: CardFormat
    departments: list[int]

    def instant(self) -> datetime:
        return self.now + timedelta(seconds=self.random.randrange(-9 * 86400, 9 * 86400))

    def maybe(self, chance: float = 0.3) -> datetime | None:
        return self.instant() if self.random.random() < chance else None

    def details(self, number: str) -> dict[str, Any]:
        standing = self.random.choices([*Standing], [12, 2, 1, 1])[0]
        until = self.maybe(0.5) if standing is Standing.SUSPENDED else None
        start, end = self.maybe(0.2), self.maybe(0.2)
        return {
            "number": number,
            "department_id": self.random.choice([None, *self.departments]),
            "standing": standing,
            "suspended_until": until,
            "activation_at": start,
            "expiry_at": end,
        }

    def card(self) -> CardDraft:
        format_id = self.random.choice([self.house.format.pk, self.longer.pk])
        status = self.random.choices(
            sorted(HELD_STATUSES),
            [12 if s is CardStatus.ISSUED else 1 for s in sorted(HELD_STATUSES)],
        )[0]
        hours = (Hours(self.random.randrange(7), 0, 1440),) if self.random.random() < 0.15 else ()
        return CardDraft(
            format_id,
            12,
            self.random.randrange(1, 40),
            status,
            self.maybe(0.15),
            self.maybe(0.15),
            self.maybe(0.5) if status is CardStatus.SUSPENDED else None,
            hours=hours,
            zone=self.random.choice(ZONES),
        )

    def memberships(self) -> tuple[MembershipDraft, ...]:
        ids = list(AccessGroup.objects.values_list("id", flat=True))
        chosen = self.random.sample(ids, min(len(ids), self.random.randrange(3)))
        return tuple(MembershipDraft(id_, self.maybe(0.2), self.maybe(0.2)) for id_ in chosen)

    def pin(self) -> tuple[PinDraft, ...]:
        if self.random.random() < 0.5:
            return ()
        digits = self.random.choice(PINS)
        return (PinDraft(entry=digits, again=digits, opens_alone=self.random.random() < 0.5),)

    def plate(self) -> tuple[str, ...]:
        return (f"SK {self.random.randrange(30):02}",) if self.random.random() < 0.4 else ()
