"""What a row makes of its person: a draft of a newcomer, or of somebody who is there."""

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime
from typing import Any

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.core.intake.assembling import chosen_among, details_with
from cadrin.core.intake.choices import ForExisting
from cadrin.core.intake.dates import DateRule, Moment, instant_of, read_moment
from cadrin.core.intake.targets import Target
from cadrin.core.people.departments import proposed_groups
from cadrin.core.people.details import Details, RegisterRules
from cadrin.core.validity import Standing
from cadrin.credentials.card_draft import CardDraft, CardIdentity
from cadrin.credentials.pin_draft import PinDraft
from cadrin.enrolment.draft import CardholderDraft
from cadrin.intake.understanding import Fault, RowSaid, Understanding

_NAMED_SETS = {
    Target.DEPARTMENT: ("department_id", "intake.several_departments"),
    Target.COMPANY: ("company_id", "intake.several_companies"),
    Target.KIND: ("kind_id", "intake.several_kinds"),
}
_NEW = ForExisting.OVERWRITE


class Drafting:
    """Makes drafts of rows. ``parents`` and ``default_groups`` are the site's departments'."""

    def __init__(
        self,
        understanding: Understanding,
        rules: RegisterRules,
        parents: dict[int, int | None],
        default_groups: dict[int, list[int]],
        this_year: int,
    ) -> None:
        self.understanding, self.rules = understanding, rules
        self._parents, self._default_groups = parents, default_groups
        self._defaults = understanding.choices.defaults
        zone = understanding.known.zone
        self._activation = _instant(self._defaults.activation, this_year, zone, is_end=False)
        self._expiry = _instant(self._defaults.expiry, this_year, zone, is_end=True)
        self._standing = Standing(self._defaults.standing) if self._defaults.standing else None

    def draft(self, row: RowSaid, before: CardholderDraft | None) -> CardholderDraft:
        """Return what the row makes of its person; what it cannot say is added to its faults."""
        base = before or CardholderDraft(self._new_details())
        said = self._chosen(row, base.details)
        if self._standing and Target.STANDING not in said:
            said[Target.STANDING] = self._standing
        details = details_with(
            base.details, said, self.understanding.policies, self.rules, is_new=before is None
        )
        return replace(
            base,
            details=details,
            cards=self._cards(row, base, is_new=before is None),
            memberships=self._memberships(said, base, details.department_id, is_new=before is None),
            pins=self._pins(row, base, is_new=before is None),
            plates=self._plates(row, base),
        )

    def _new_details(self) -> Details:
        defaults = self._defaults
        return Details(
            "",
            department_id=defaults.department_id,
            company_id=defaults.company_id,
            kind_id=defaults.kind_id,
            activation_at=self._activation,
            expiry_at=self._expiry,
        )

    def _chosen(self, row: RowSaid, base: Details) -> dict[str, Any]:
        """Return what the row says, with one thing for each name of several."""
        said = dict(row.values)
        for target, (field, code) in _NAMED_SETS.items():
            if target not in said:
                continue
            id_ = chosen_among(said[target], getattr(base, field))
            if id_ is None:
                column = self.understanding.choices.column_for(target)
                cell = row.cells[column] if column is not None else ""
                row.faults.append(Fault(column or 0, code, {"text": cell[:60]}))
                del said[target]
            else:
                said[target] = id_
        return said

    def _cards(self, row: RowSaid, base: CardholderDraft, *, is_new: bool) -> tuple[CardDraft, ...]:
        wanted: Sequence[CardIdentity] = row.values.get(Target.CARD, ())
        label = row.values.get(Target.CARD_LABEL, "")
        if not wanted:
            return base.cards
        policy = _NEW if is_new else self.understanding.policy(self._card_target())
        if policy is ForExisting.LEAVE:
            return base.cards
        theirs = {card.identity: card for card in base.cards}
        given = tuple(
            theirs.get(identity) or CardDraft(*identity, label=label) for identity in wanted
        )
        if policy is ForExisting.OVERWRITE:
            return given
        return (*base.cards, *(card for card in given if card.identity not in theirs))

    def _card_target(self) -> str:
        taken = self.understanding.policies
        return Target.CARD if Target.CARD in taken else Target.CARD_NUMBER

    def _memberships(
        self,
        said: dict[str, Any],
        base: CardholderDraft,
        department_id: int | None,
        *,
        is_new: bool,
    ) -> tuple[MembershipDraft, ...]:
        wanted: list[int] = list(said.get(Target.GROUPS, ()))
        if is_new:
            wanted += self._defaults.group_ids
            if self._defaults.with_proposed_groups and department_id is not None:
                wanted += proposed_groups(department_id, self._parents, self._default_groups)
            return tuple(map(MembershipDraft, dict.fromkeys(wanted)))
        policy = self.understanding.policy(Target.GROUPS)
        if not wanted or policy is ForExisting.LEAVE:
            return base.memberships
        had = {membership.group_id: membership for membership in base.memberships}
        given = tuple(had.get(id_) or MembershipDraft(id_) for id_ in dict.fromkeys(wanted))
        if policy is ForExisting.OVERWRITE:
            # in the order in which they were given, as nothing else tells them apart
            kept = [m for m in base.memberships if m in given]
            return (*kept, *(m for m in given if m.group_id not in had))
        return (*base.memberships, *(m for m in given if m.group_id not in had))

    def _pins(self, row: RowSaid, base: CardholderDraft, *, is_new: bool) -> tuple[PinDraft, ...]:
        entry = row.values.get(Target.PIN, "")
        if not entry:
            if is_new and self._defaults.pins:
                return (PinDraft(is_generated=True, is_mailed=self._defaults.pins == "mailed"),)
            return base.pins
        policy = _NEW if is_new else self.understanding.policy(Target.PIN)
        if policy is ForExisting.LEAVE or (policy is ForExisting.FILL and base.pins):
            return base.pins
        return (PinDraft(entry=entry, again=entry),)

    def _plates(self, row: RowSaid, base: CardholderDraft) -> tuple[str, ...]:
        wanted = row.values.get(Target.PLATE, ())
        policy = self.understanding.policy(Target.PLATE)
        if not wanted or policy is ForExisting.LEAVE:
            return base.plates
        if policy is ForExisting.OVERWRITE:
            return tuple(dict.fromkeys(wanted))
        return tuple(dict.fromkeys((*base.plates, *wanted)))


def _instant(written: str, this_year: int, zone: Any, *, is_end: bool) -> datetime | None:
    """Return an instant that was chosen for all, as ISO 8601 writes it; None for none."""
    if not written:
        return None
    if "T" in written:
        return datetime.fromisoformat(written.replace("Z", "+00:00"))
    found = read_moment(written, DateRule(this_year))
    return instant_of(found, zone, is_end=is_end) if isinstance(found, Moment) else None
