"""Read operators."""

from cadrin.operators.actor import Actor
from cadrin.operators.models import Operator
from cadrin.outbox.rows import Rows


def find_operator(operator_id: int) -> Operator | None:
    """Return an operator with their role, or None."""
    return Operator.objects.filter(pk=operator_id).first()


def operators_to_mail() -> list[Operator]:
    """Return the operators who may come in and wish to be told by mail of what needs somebody."""
    wishing = Operator.objects.filter(is_active=True, notices_by_mail=True)
    return list(wishing.exclude(email=""))


def operators(actor: Actor) -> Rows:
    """Return the operators whose acts can be asked for; whoever is kept to a part of the house
    finds none but itself.
    """
    found = Operator.objects.order_by("last_name", "first_name")
    if not actor.scope.is_whole:
        found = found.filter(pk=actor.operator_id or 0)
    return [{"id": item.pk, "name": str(item)} for item in found]
