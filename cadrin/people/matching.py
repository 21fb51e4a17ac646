"""Match cardholders by what they are: conditions for whoever lists cardholders."""

from django.db.models import OuterRef, Q, Subquery, Value
from django.db.models.functions import Coalesce

from cadrin.core.people.custom_fields import FieldType, read_value, sort_key
from cadrin.people.lists import custom_field
from cadrin.people.models import CustomField, CustomFieldKey
from cadrin.people.queries import AFTER_EVERY_LETTER


def having_custom_value(field_id: int, value: str) -> Q:
    """Match whoever's value of an own field begins with this; with an empty one, whoever has no
    value.
    """
    field = CustomField.objects.filter(pk=field_id).first()
    keys = CustomFieldKey.objects.filter(field_id=field_id)
    if field is None or not value.strip():
        return ~Q(pk__in=keys.values("cardholder_id"))
    read = read_value(custom_field(field), value)
    key = sort_key(custom_field(field), read if isinstance(read, str) else value)
    if FieldType(field.type) in (FieldType.TEXT, FieldType.LONG_TEXT):
        keys = keys.filter(key__gte=key, key__lt=key + AFTER_EVERY_LETTER)
    else:
        keys = keys.filter(key=key)
    return Q(pk__in=keys.values("cardholder_id"))


def custom_key(field_id: int) -> Coalesce:
    """Return what a cardholder is put in order by, of a custom field; empty where there is none."""
    keys = CustomFieldKey.objects.filter(cardholder_id=OuterRef("pk"), field_id=field_id)
    return Coalesce(Subquery(keys.values("key")[:1]), Value(""))
