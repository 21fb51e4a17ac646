"""How the operator behind a request is read."""

from django.contrib.auth.backends import ModelBackend

from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.operators.models import Operator, Role

_OPERATOR = [field.attname for field in Operator._meta.concrete_fields]
_ROLE = [field.attname for field in Role._meta.concrete_fields]
_with_their_roles = RowsByIds(
    lambda: Operator.objects.filter(pk__among=IDS).values_list(
        *_OPERATOR, *(f"role__{name}" for name in _ROLE)
    )
)


class OperatorBackend(ModelBackend):
    """The framework's, but that the operator is read by a statement that is written once: every
    request asks for one.
    """

    def get_user(self, user_id: int) -> Operator | None:
        rows = _with_their_roles([user_id])
        if not rows:
            return None
        own, of_role = rows[0][: len(_OPERATOR)], rows[0][len(_OPERATOR) :]
        operator = Operator.from_db(None, _OPERATOR, own)
        if operator.role_id is not None:
            operator.role = Role.from_db(None, _ROLE, of_role)
        return operator if self.user_can_authenticate(operator) else None
