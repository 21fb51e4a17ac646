"""Whose card it is: by its numbers, and at once by its bits where they can be read in one way alone."""

from cadrin.core.access.plan import Holder
from cadrin.core.credentials.card.card import Card, CardKey
from cadrin.core.credentials.card.formats import CardFormat
from cadrin.core.credentials.card.raw_reads import CardNumbers
from cadrin.core.errors import Invalid

Known = tuple[Card, Holder]


class KnownCards:
    """The cards that a controller holds.

    While a card passes from one cardholder to another, both records may name it for a moment: then
    it is whose record came last.
    """

    def __init__(self) -> None:
        self.by_key: dict[CardKey, Known] = {}
        self.by_bits: dict[int, Known] = {}
        """Only cards against which nothing but their span can speak, each by the bits that no other
        card of these formats can have (`RawRead.as_one`).
        """
        self._formats: dict[int, CardFormat] = {}
        # whose the card also is, by records that came before; only for cards that stand in two
        self._superseded: dict[CardKey, list[Holder]] = {}

    def read_in(self, formats: dict[int, CardFormat]) -> None:
        """Take other formats: what a read may stand for changes with them."""
        lengths = [one.length_bits for one in formats.values()]
        self._formats = {
            id_: one for id_, one in formats.items() if lengths.count(one.length_bits) == 1
        }
        self.by_bits.clear()
        for known in self.by_key.values():
            self._know_bits(known)

    def put(self, holder: Holder) -> None:
        for card in holder.cards:
            known = self.by_key.get(card.key)
            if known and known[1].id != holder.id:
                self._superseded.setdefault(card.key, []).append(known[1])
            self._know((card, holder))

    def remove(self, holder: Holder) -> None:
        """Take their cards from somebody, and give each back to whoever had it in a record that is
        still here.
        """
        for key in {card.key for card in holder.cards}:
            others = [one for one in self._superseded.pop(key, []) if one.id != holder.id]
            if self.by_key[key][1].id == holder.id:
                self._forget(key)
                if others:
                    before = others.pop()
                    self._know((next(one for one in before.cards if one.key == key), before))
            if others:
                self._superseded[key] = others

    def _know(self, known: Known) -> None:
        key = known[0].key
        if key in self.by_key:
            self._forget(key)
        self.by_key[key] = known
        self._know_bits(known)

    def _know_bits(self, known: Known) -> None:
        if known[0].is_plain and (bits := self._bits_of(known[0].key)):
            self.by_bits[bits] = known

    def _forget(self, key: CardKey) -> None:
        card, _ = self.by_key.pop(key)
        if card.is_plain and (bits := self._bits_of(key)):
            self.by_bits.pop(bits, None)

    def _bits_of(self, key: CardKey) -> int | None:
        """Return what a card of these numbers sends; None where that could stand for another too."""
        layout = self._formats.get(key.format_id)
        if layout is None:
            return None
        try:
            return layout.encode(CardNumbers(key.facility_code, key.card_number)).as_one
        except Invalid:
            return None
