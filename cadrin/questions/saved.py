"""Questions that an operator keeps for asking again."""

from collections.abc import Mapping

from django.db import transaction

from cadrin.core.errors import Invalid, NotFound, NotPermitted
from cadrin.operators.actor import Actor
from cadrin.outbox.rows import Rows
from cadrin.questions.models import SavedQuestion

MOST_SAVED = 100


def saved_questions(actor: Actor) -> Rows:
    """Return the actor's own, by name."""
    own = SavedQuestion.objects.filter(operator=actor.operator_id).order_by("name")
    return list(own.values("id", "name", "question", "asked"))


@transaction.atomic
def save_question(actor: Actor, name: str, question: str, asked: Mapping[str, str]) -> int:
    """Keep a question under a name, in place of the actor's own of that name. Raises Invalid or
    NotPermitted.
    """
    if actor.operator_id is None:
        raise NotPermitted.of("operator.not_permitted")  # a script has nothing of its own
    if not name.strip():
        raise Invalid.of("input.blank", "name")
    own = SavedQuestion.objects.filter(operator=actor.operator_id)
    if own.exclude(name=name.strip()).count() >= MOST_SAVED:
        raise Invalid.of("question.too_many_saved", None, most=MOST_SAVED)
    kept, _ = SavedQuestion.objects.update_or_create(
        operator_id=actor.operator_id,
        name=name.strip(),
        defaults={"question": question, "asked": dict(asked)},
    )
    return kept.pk


@transaction.atomic
def forget_question(actor: Actor, question_id: int) -> None:
    """Raises NotFound, for a question of somebody else as well."""
    own = SavedQuestion.objects.filter(operator=actor.operator_id, pk=question_id)
    if not own.delete()[0]:
        raise NotFound.of("question.not_found")
