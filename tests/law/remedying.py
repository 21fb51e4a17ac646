"""Do by commands what is offered against a denial, as an operator would, and whoever stands at the
door.
"""

from collections.abc import Sequence
from dataclasses import replace

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.core.credentials.card.life import CardStatus
from cadrin.core.credentials.factors import Factor
from cadrin.core.decision.reasons import Act
from cadrin.core.people.details import Details
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft
from cadrin.credentials.models import Pin
from cadrin.credentials.pin_draft import PinDraft
from cadrin.desk.explaining import NamedStep
from cadrin.enrolment.commands.cardholders import save_and_show
from cadrin.enrolment.draft import CardholderDraft
from cadrin.enrolment.queries import stored_cardholder
from cadrin.operators.sealing import unseal
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from cadrin.sites.commands.doors import save_door, stored_door
from cadrin.sites.commands.orders import end_order
from cadrin.sites.commands.readers import ReaderDraft, save_reader
from cadrin.sites.models import Reader
from cadrin.sites.queries import alternatives_of
from tests.law.oracle import Oracle, Shown
from tests.law.world import World


class Operator:
    """Does one remedy for a read, and knows what is shown at the door afterwards."""

    def __init__(
        self, world: World, oracle: Oracle, reader: Reader, shown: Shown, holder_id: int | None
    ) -> None:
        self.world, self.oracle, self.reader, self.shown, self.holder_id = (
            world,
            oracle,
            reader,
            shown,
            holder_id,
        )

    def do(self, remedy: Sequence[NamedStep]) -> Shown:
        """Do every act, and return what is to be shown now. Raises what a command refuses."""
        for one in remedy:
            self._do(one)
        return self.shown

    def _do(self, one: NamedStep) -> None:
        act = Act(one.act)
        if act in (Act.READER_POLICY, Act.READER_FORMATS):
            self._change_reader(act)
        elif act is Act.ISSUE_CARD:
            assert self.shown.card
            new = (CardDraft(*self.shown.card),)
            if self.holder_id:
                file = stored_cardholder(Cardholder.objects.get(pk=self.holder_id), rules())
                self._save(replace(file, cards=(*file.cards, *new)))
            else:
                self._enrol(cards=new)
        elif act is Act.SET_PLATE and not self.holder_id:
            assert self.shown.plate
            self._enrol(plates=(self.shown.plate,))
        elif act is Act.SHOW_CARD:
            assert one.card
            card = (one.card.format_id, one.card.facility_code, one.card.card_number)
            self._keep_beside("card", self.shown._replace(card=card), one.without)
        elif act is Act.SHOW_PLATE:
            plate = next(
                plate for plate, whose in self.oracle.plates.items() if whose == self.holder_id
            )
            self._keep_beside("plate", self.shown._replace(plate=plate), one.without)
        elif act is Act.TYPE_PIN:
            if one.without:  # the PIN by itself
                self.shown = Shown(None, self.shown.typed)
            alone = self.shown.factors <= {"pin"}
            fitting = [
                pin
                for pin in self.oracle.pins
                if pin.holder_id == self.holder_id and (pin.opens_alone or not alone)
            ]
            works = next(
                pin for pin in fitting if pin.expiry_at is None or self.world.now < pin.expiry_at
            )
            self.shown = self.shown._replace(typed=self.oracle.digits[works.pk])
        elif act in (Act.CLOSED_HOURS, Act.END_ORDER):
            self._open_door(act)
        else:
            assert self.holder_id
            holder = Cardholder.objects.get(pk=self.holder_id)
            self._save(self._changed(stored_cardholder(holder, rules()), act, one))

    def _asked_with(self, factor: str, without: str | None = None) -> set[str]:
        every = [
            together
            for together in self.reader.policy
            if factor in together and without not in together
        ]
        return {other for together in every for other in together}

    def _keep_beside(self, factor: str, shown: Shown, without: str | None = None) -> None:
        """Leave out what the reader asks for in no alternative together with a factor."""
        asked = self._asked_with(factor, without)
        kept = {"card": "card", "pin": "typed", "plate": "plate"}
        self.shown = shown._replace(
            **{field: None for name, field in kept.items() if name not in asked}
        )

    def _enrol(self, **what: object) -> None:
        details = Details(
            f"N-{self.world.random.randrange(10**6)}", first_name="New", last_name="Holder"
        )
        draft = CardholderDraft(details, **what)  # type: ignore[arg-type]
        self.holder_id = save_and_show(self.world.actor, None, draft, self.world.now).id

    def _save(self, draft: CardholderDraft) -> None:
        assert self.holder_id
        save_and_show(self.world.actor, self.holder_id, draft, self.world.now)

    def _changed(self, file: CardholderDraft, act: Act, one: NamedStep) -> CardholderDraft:
        details = file.details
        match act:
            case Act.STANDING:
                return replace(
                    file, details=replace(details, standing=Standing.ACTIVE, suspended_until=None)
                )
            case Act.DATES:
                return replace(file, details=replace(details, activation_at=None, expiry_at=None))
            case Act.ADD_TO_GROUP:
                return replace(
                    file, memberships=(*file.memberships, MembershipDraft(one.group_id or 0))
                )
            case Act.GROUP_DATES:
                others = tuple(each for each in file.memberships if each.group_id != one.group_id)
                return replace(file, memberships=(*others, MembershipDraft(one.group_id or 0)))
            case Act.RETURN_A_CARD:
                return replace(
                    file, cards=tuple(each for each in file.cards if each.identity != one.card)
                )
            case Act.SET_PLATE:
                plate = self.shown.plate or f"NEW{self.world.random.randrange(10**6)}"
                self.shown = self.shown._replace(plate=plate)
                return replace(file, plates=(*file.plates, plate))
            case Act.SET_PIN:
                return self._with_a_new_pin(file)
        change = {
            Act.CARD_STATUS: {"status": CardStatus.ISSUED, "suspended_until": None},
            Act.CARD_DATES: {"activation_at": None, "expiry_at": None},
            Act.CARD_USES: {"use_limit": None},
            Act.CARD_HOURS: {"hours": ()},
        }[act]
        cards = (
            replace(each, **change) if each.identity == self.shown.card else each  # type: ignore[arg-type]
            for each in file.cards
        )
        return replace(file, cards=tuple(cards))

    def _with_a_new_pin(self, file: CardholderDraft) -> CardholderDraft:
        assert self.holder_id
        with_generated = PinDraft(is_generated=True, opens_alone=self.shown.factors <= {"pin"})
        self._save(replace(file, pins=(*file.pins[-2:], with_generated)))
        newest = Pin.objects.filter(holder_id=self.holder_id).latest("id")
        self.shown = self.shown._replace(typed=unseal(newest.sealed))
        return stored_cardholder(Cardholder.objects.get(pk=self.holder_id), rules())

    def _open_door(self, act: Act) -> None:
        door_id = self.reader.door_id or 0
        if act is Act.END_ORDER:
            end_order(self.world.actor, door_id, self.world.now)
        else:
            draft = stored_door(door_id)._replace(closed_schedule_id=None)
            save_door(self.world.actor, door_id, draft, self.world.now)

    def _change_reader(self, act: Act) -> None:
        reader = Reader.objects.get(pk=self.reader.pk)
        policy = alternatives_of(reader.policy)
        if act is Act.READER_POLICY:  # what was shown, each by itself, beside what it asks for now
            policy = (*policy, *((Factor(name),) for name in self.shown.factors))
        formats = (
            set() if act is Act.READER_FORMATS else set(reader.formats.values_list("id", flat=True))
        )
        draft = ReaderDraft(
            policy, True, frozenset(formats), reader.version, reader.is_way_out, has_camera=True
        )
        save_reader(self.world.actor, reader.pk, draft, self.world.now)
        self.reader = Reader.objects.get(pk=reader.pk)
