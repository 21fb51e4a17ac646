"""Put people into groups, and take them out, as rules say: also when a department moved or a rule
changed.
"""

from datetime import datetime

from django.db import transaction

from cadrin.access.commands.memberships import memberships_of, set_kept_out
from cadrin.access.queries import (
    get_group,
    groups_with_rules,
    kept_out_of,
    membership_rules,
    not_as_ruled,
)
from cadrin.enrolment.writer import Writing, write
from cadrin.journal.queries import latest_digest
from cadrin.operators.actor import Actor, system_actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.departments import parents
from cadrin.people.queries import get_cardholder, get_cardholders

MOST_AT_ONCE = 500
"""In one transaction: others wait no longer than that takes."""


class _Looked:
    """The latest entry of the journal when everything was as the rules say: as long as nobody does
    anything, nothing is to be looked through.
    """

    digest: str | None = None


def keep_rules(at: datetime) -> int:
    """Bring people into the groups that rules put them in, and out of those that none does any more;
    give how many. What is left is done the next time.
    """
    digest = latest_digest()
    if digest == _Looked.digest:
        return 0
    actor, tree = system_actor("Rule"), parents()
    rules = membership_rules()
    done = 0
    for group_id in sorted(groups_with_rules()):
        theirs = [rule for rule in rules if rule.group_id == group_id]
        found = not_as_ruled(group_id, theirs, tree)
        ids = {id_ for rows in found for (id_,) in rows[:MOST_AT_ONCE]}
        done += _bring(actor, ids, at)
    _Looked.digest = None if done else digest
    return done


@transaction.atomic
def _bring(actor: Actor, ids: set[int], at: datetime) -> int:
    people = get_cardholders(actor, sorted(ids))
    had = memberships_of(ids)
    # the writer settles what rules say
    write(actor, [Writing(person, memberships=had[person.pk]) for person in people], at)
    return len(people)


@transaction.atomic
def no_longer_kept_out(actor: Actor, group_id: int, cardholder_id: int, at: datetime) -> None:
    """Let a group's rules count again for somebody who was kept out. Raises NotFound or
    NotPermitted.
    """
    actor.require(Permission.ACCESS)
    get_group(actor, group_id)
    get_cardholder(actor, cardholder_id)
    before = kept_out_of([cardholder_id]).get(cardholder_id, frozenset())
    set_kept_out(cardholder_id, before, before - {group_id})
    _bring(actor, {cardholder_id}, at)
