"""Do by commands what is offered against a denial, as an operator would, and whoever stands at the door."""

from collections.abc import Sequence
from dataclasses import replace

from cadrin.access.commands.credentials import ReaderDraft, save_reader
from cadrin.access.commands.file import FileDraft, file_of, save_and_show
from cadrin.access.commands.memberships import MembershipDraft
from cadrin.access.models import Reader
from cadrin.activity.explaining import NamedMending
from cadrin.cards.commands import CardDraft
from cadrin.cards.models import Pin
from cadrin.cards.pins import PinDraft
from cadrin.core.access.plan import ReaderMode
from cadrin.core.cards.status import CardStatus
from cadrin.core.decision.remedies import Mend
from cadrin.core.details import Details
from cadrin.core.validity import Standing
from cadrin.operators.sealing import unseal
from cadrin.people.models import Cardholder
from cadrin.people.queries import rules
from tests.law.oracle import Oracle, Shown
from tests.law.world import World


class Operator:
    """Does one remedy for a read, and knows what is shown at the door afterwards."""

    def __init__(self, world: World, oracle: Oracle, reader: Reader, shown: Shown, holder_id: int | None) -> None:
        self.world, self.oracle, self.reader, self.shown, self.holder_id = world, oracle, reader, shown, holder_id

    def do(self, remedy: Sequence[NamedMending]) -> Shown:
        """Do every act, and return what is to be shown now. Raises what a command refuses."""
        for one in remedy:
            self._do(one)
        return self.shown

    def _do(self, one: NamedMending) -> None:
        mend = Mend(one.mend)
        if mend in (Mend.READER_TAKES, Mend.READER_FORMATS):
            self._change_reader(mend)
        elif mend is Mend.ISSUE_CARD:
            assert self.shown.card
            details = Details(f"N-{self.world.random.randrange(10**6)}", first_name="New", last_name="Holder")
            saved = save_and_show(
                self.world.actor, None, FileDraft(details, (CardDraft(*self.shown.card),)), self.world.now
            )
            self.holder_id = saved.id
        elif mend is Mend.SHOW_CARD:
            assert one.card
            typed = self.shown.typed if self.reader.mode == "card_and_pin" else None
            self.shown = Shown((one.card.format_id, one.card.facility_code, one.card.card_number), typed)
        elif mend is Mend.TYPE_PIN:
            alone = self.reader.mode == "pin" or self.shown.card is None
            fitting = [
                pin for pin in self.oracle.pins if pin.holder_id == self.holder_id and (pin.opens_alone or not alone)
            ]
            works = next(pin for pin in fitting if pin.expiry_at is None or self.world.now < pin.expiry_at)
            self.shown = Shown(None if alone else self.shown.card, self.oracle.digits[works.pk])
        else:
            assert self.holder_id
            holder = Cardholder.objects.get(pk=self.holder_id)
            self._save(self._changed(file_of(holder, rules()), mend, one))

    def _save(self, draft: FileDraft) -> None:
        assert self.holder_id
        save_and_show(self.world.actor, self.holder_id, draft, self.world.now)

    def _changed(self, file: FileDraft, mend: Mend, one: NamedMending) -> FileDraft:
        details = file.details
        match mend:
            case Mend.STANDING:
                return replace(file, details=replace(details, standing=Standing.ACTIVE, suspended_until=None))
            case Mend.DATES:
                return replace(file, details=replace(details, activation_at=None, expiry_at=None))
            case Mend.ADD_TO_GROUP:
                return replace(file, memberships=(*file.memberships, MembershipDraft(one.group_id or 0)))
            case Mend.GROUP_DATES:
                others = tuple(each for each in file.memberships if each.group_id != one.group_id)
                return replace(file, memberships=(*others, MembershipDraft(one.group_id or 0)))
            case Mend.RETURN_A_CARD:
                return replace(file, cards=tuple(each for each in file.cards if each.identity != one.card))
            case Mend.SET_PIN:
                return self._with_a_new_pin(file)
        change = {
            Mend.CARD_STATUS: {"status": CardStatus.ISSUED, "suspended_until": None},
            Mend.CARD_DATES: {"activation_at": None, "expiry_at": None},
            Mend.CARD_USES: {"use_limit": None},
            Mend.CARD_HOURS: {"hours": ()},
        }[mend]
        cards = (
            replace(each, **change) if each.identity == self.shown.card else each  # type: ignore[arg-type]
            for each in file.cards
        )
        return replace(file, cards=tuple(cards))

    def _with_a_new_pin(self, file: FileDraft) -> FileDraft:
        assert self.holder_id
        made_up = PinDraft(is_made_up=True, opens_alone=self.shown.card is None)
        self._save(replace(file, pins=(*file.pins[-2:], made_up)))
        newest = Pin.objects.filter(holder_id=self.holder_id).latest("id")
        self.shown = Shown(self.shown.card, unseal(newest.sealed))
        return file_of(Cardholder.objects.get(pk=self.holder_id), rules())

    def _change_reader(self, mend: Mend) -> None:
        reader = Reader.objects.get(pk=self.reader.pk)
        mode = ReaderMode.CARD_OR_PIN if mend is Mend.READER_TAKES else ReaderMode(reader.mode)
        formats = set() if mend is Mend.READER_FORMATS else set(reader.formats.values_list("id", flat=True))
        draft = ReaderDraft(mode, True, frozenset(formats), reader.version, reader.is_way_out)
        save_reader(self.world.actor, reader.pk, draft, self.world.now)
        self.reader = Reader.objects.get(pk=reader.pk)
