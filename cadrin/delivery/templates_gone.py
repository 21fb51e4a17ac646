"""Note when the last controller confirmed that it holds no template of a consent that is over."""

from datetime import datetime

from django.db import transaction

from cadrin.access.plan import holders
from cadrin.biometrics.commands import note_gone
from cadrin.biometrics.queries import consents_over
from cadrin.delivery.queries import not_held_counts
from cadrin.outbox.queries import marks_of_cardholder


@transaction.atomic
def note_templates_gone(at: datetime) -> int:
    """Note it for every cardholder whose records are all as they should be, and give for how many
    consents.
    """
    over = consents_over(at)
    if not over:
        return 0
    not_held = not_held_counts(holders(over))
    gone = [
        consent_id
        for holder_id, consent_ids in over.items()
        if not not_held.get(holder_id) and not marks_of_cardholder(holder_id)[0]
        for consent_id in consent_ids
    ]
    note_gone(gone, at)
    return len(gone)
