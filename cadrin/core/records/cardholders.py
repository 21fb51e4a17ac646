"""The record of a cardholder: their cards, PINs, plates and memberships, as far as one controller
needs them.
"""

from enum import StrEnum

from cadrin.core.access.plan import Holder, Membership, Plan
from cadrin.core.credentials.biometric import Biometric
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.card.room import ANY_MEMORY, Memory, cards_kept
from cadrin.core.credentials.card.use_limit import UseLimit
from cadrin.core.credentials.factors import BIOMETRIC, Factor
from cadrin.core.credentials.pin.pin import Pin
from cadrin.core.credentials.plate.plate import Plate
from cadrin.core.records.biometrics import decode_biometric, encode_biometric
from cadrin.core.records.fields import (
    decode_schedule,
    decode_span,
    encode_schedule,
    encode_span,
    instant,
    only,
    seconds,
    until,
    without_defaults,
)
from cadrin.core.records.keys import Body
from cadrin.core.validity import Span, Standing

FIELDS = (
    "number", "name", "standing", "from", "to", "suspended_until", "cards", "pins", "plates",
    "memberships", "extended", "fingers", "faces", "card_alone",
)  # fmt: skip
CARD_FIELDS = (
    "format", "facility_code", "number", "status", "from", "to", "suspended_until", "hours",
    "limit", "watched",
    "level",
)  # fmt: skip


def belongs_at(holder: Holder, at_controller: Plan) -> bool:
    """Say whether a controller with this plan should hold a cardholder.

    It holds whoever has a credential that it may need and a group with a door here, in force or
    not: so it can say why it denies. Who has departed is taken away.
    """
    has_any = (
        bool(holder.cards)
        or (bool(holder.pins) and at_controller.takes(Factor.PIN))
        or (bool(holder.plates) and at_controller.takes(Factor.PLATE))
        or any(holder.biometrics(factor) and at_controller.takes(factor) for factor in BIOMETRIC)
    )
    return (
        has_any
        and holder.standing is not Standing.DEPARTED
        and any(membership.group_id in at_controller.groups for membership in holder.memberships)
    )


def encode_cardholder(
    holder: Holder, at_controller: Plan, memory: Memory = ANY_MEMORY
) -> Body | None:
    """Write a cardholder for a controller with this plan and memory; None when it should not hold
    them.

    PINs, plates and templates go only where a reader takes them, and no more cards than the memory has room
    for: what were refused as a whole would leave in force what was there before. What its calendar
    does not know is cut so that nothing opens sooner or for longer.
    """
    if not belongs_at(holder, at_controller):
        return None
    written = [
        {"group": member.group_id} | without_defaults(encode_span(member.span, memory))
        for member in memberships_kept(holder, at_controller, memory)
    ]
    pins = sorted(holder.pins, key=lambda pin: pin.id) if at_controller.takes(Factor.PIN) else []
    plates = (
        sorted(plate.number for plate in holder.plates) if at_controller.takes(Factor.PLATE) else []
    )
    body = {
        "number": holder.number,
        "name": holder.display_name[: memory.longest_name],
        "standing": holder.standing.value if holder.standing is not Standing.ACTIVE else None,
        **encode_span(holder.span, memory),
        "suspended_until": until(holder.suspended_until, memory),
        "cards": [_encode_card(card, memory) for card in cards_kept(holder.cards, memory)],
        # any order will do as long as it is always the same
        "memberships": sorted(written, key=str),
        "pins": [_encode_pin(pin, memory) for pin in pins],
        "plates": plates,
        "extended": holder.extended_time,
        "fingers": _encode_templates(holder, Factor.FINGER, at_controller, memory),
        "faces": _encode_templates(holder, Factor.FACE, at_controller, memory),
        "card_alone": _encode_card_alone(holder, at_controller, memory),
    }
    return without_defaults(body)


def memberships_kept(holder: Holder, at_controller: Plan, memory: Memory) -> list[Membership]:
    """Return the memberships that lead to doors of a controller and for which it has room: those stay
    that last longest, of these the oldest groups.
    """

    def importance(membership: Membership) -> tuple[bool, float, int]:
        end = membership.span.end
        return end is not None, -end.timestamp() if end else 0.0, membership.group_id

    here = [one for one in holder.memberships if one.group_id in at_controller.groups]
    return sorted(here, key=importance)[: memory.most_memberships]


def _encode_templates(
    holder: Holder, factor: Factor, at_controller: Plan, memory: Memory
) -> list[Body]:
    if not at_controller.takes(factor) or holder.id in memory.without_templates:
        return []
    templates: list[Biometric] = sorted(holder.biometrics(factor), key=lambda item: item.id)
    return [encode_biometric(template, memory) for template in templates]


def _encode_card_alone(holder: Holder, at_controller: Plan, memory: Memory) -> Body | None:
    is_asked = any(at_controller.takes(factor) for factor in BIOMETRIC)
    if holder.card_alone is None or not is_asked:
        return None
    return without_defaults(encode_span(holder.card_alone, memory))


def decode_cardholder(id_: int, body: Body) -> Holder:
    """Read a cardholder. Raises Invalid, KeyError, TypeError or ValueError."""
    only(body, FIELDS)
    return Holder(
        id_,
        body["number"],
        body["name"],
        Standing(body.get("standing", Standing.ACTIVE)),
        decode_span(body),
        instant(body.get("suspended_until")),
        tuple(_decode_card(card) for card in body.get("cards", ())),
        tuple(_decode_membership(member) for member in body.get("memberships", ())),
        tuple(_decode_pin(pin) for pin in body.get("pins", ())),
        tuple(Plate(str(number)) for number in body.get("plates", ())),
        bool(body.get("extended")),
        tuple(decode_biometric(Factor.FINGER, finger) for finger in body.get("fingers", ())),
        tuple(decode_biometric(Factor.FACE, face) for face in body.get("faces", ())),
        decode_span(only(body["card_alone"], ("from", "to"))) if "card_alone" in body else None,
    )


def _decode_membership(body: Body) -> Membership:
    only(body, ("group", "from", "to"))
    return Membership(int(body["group"]), decode_span(body))


def _encode_card(card: Card, memory: Memory) -> Body:
    limit = card.limit
    return {
        "format": card.key.format_id,
        "facility_code": card.key.facility_code,
        "number": card.key.card_number,
    } | (
        without_defaults(
            {
                "status": card.status.value if card.status is not CardStatus.ISSUED else None,
                **encode_span(card.span, memory),
                "suspended_until": until(card.suspended_until, memory),
                "hours": card.hours and encode_schedule(card.hours),
                "limit": limit
                and {
                    "most": limit.most,
                    "since": seconds(limit.since),
                    "elsewhere": limit.used_elsewhere(memory.name),
                },
                "watched": card.is_watched,
            }
        )
        | ({} if card.issue_level is None else {"level": card.issue_level})
    )


def _decode_card(body: Body) -> Card:
    only(body, CARD_FIELDS)
    return Card(
        CardKey(int(body["format"]), int(body["facility_code"]), int(body["number"])),
        CardStatus(body.get("status", CardStatus.ISSUED)),
        decode_span(body),
        instant(body.get("suspended_until")),
        decode_schedule(body["hours"]) if "hours" in body else None,
        _decode_limit(body["limit"]) if "limit" in body else None,
        bool(body.get("watched")),
        body.get("level"),
    )


def _decode_limit(body: Body) -> UseLimit:
    only(body, ("most", "since", "elsewhere"))
    since = instant(int(body["since"]))
    if since is None:
        raise ValueError("a limit counts from an instant on")
    return UseLimit(int(body["most"]), since, (("elsewhere", int(body["elsewhere"])),))


def _encode_pin(pin: Pin, memory: Memory) -> Body:
    more = {"alone": pin.opens_alone, **encode_span(pin.span, memory)}
    return {"id": pin.id, "hash": pin.hash} | without_defaults(more)


def _decode_pin(body: Body) -> Pin:
    only(body, ("id", "hash", "alone", "from", "to"))
    return Pin(int(body["id"]), str(body["hash"]), bool(body.get("alone")), decode_span(body))


class Cut(StrEnum):
    """What a controller cannot express of a cardholder."""

    NAME = "name"
    DATES = "dates"
    SPANS = "spans"
    MEMBERSHIPS = "memberships"


def what_is_cut(holder: Holder, at_controller: Plan, memory: Memory) -> tuple[Cut, ...]:
    """Return what of a cardholder a controller cannot express: it is written shorter there."""
    spans: list[Span] = [
        holder.span,
        *(card.span for card in holder.cards),
        *(pin.span for pin in holder.pins),
        *(span for one in (*holder.fingers, *holder.faces) for span in (one.span, one.agreed)),
        *([holder.card_alone] if holder.card_alone else []),
    ]
    spans += [membership.span for membership in holder.memberships]
    found = [edge for span in spans for edge in (span.start, span.end)]
    found += [holder.suspended_until, *(card.suspended_until for card in holder.cards)]
    edges = [seconds(edge) or 0 for edge in found]
    is_long = memory.longest_name is not None and len(holder.display_name) > memory.longest_name
    is_late = memory.latest is not None and max(edges) > memory.latest
    most = memory.longest_span
    is_wide = most is not None and any(
        (span.end - span.start).total_seconds() > most for span in spans if span.start and span.end
    )
    leading_here = sum(one.group_id in at_controller.groups for one in holder.memberships)
    are_many = leading_here > len(memberships_kept(holder, at_controller, memory))
    found_so = {
        Cut.NAME: is_long,
        Cut.DATES: is_late,
        Cut.SPANS: is_wide,
        Cut.MEMBERSHIPS: are_many,
    }
    return tuple(cut for cut, is_so in found_so.items() if is_so)


def latest_in(body: Body) -> int:
    """Return the last instant in a cardholder's record, in seconds; 0 without any."""
    lists = ("cards", "memberships", "pins", "fingers", "faces")
    parts = [
        body,
        body.get("card_alone"),
        *(part for name in lists for part in body.get(name, ())),
    ]
    ends = [
        part.get(name)
        for part in parts
        if isinstance(part, dict)
        for name in ("from", "to", "agreed_to", "suspended_until")
    ]
    return max((end for end in ends if isinstance(end, int)), default=0)


def widest_in(body: Body) -> int:
    """Return the length of the longest span in a cardholder's record, in seconds; 0 without any."""
    lists = ("cards", "memberships", "pins", "fingers", "faces")
    parts = [body, body.get("card_alone") or {}, *(p for name in lists for p in body.get(name, ()))]
    spans = [(part.get("from"), part.get("to")) for part in parts]
    return max(
        (to - start for start, to in spans if start is not None and to is not None), default=0
    )
