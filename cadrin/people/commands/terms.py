"""The words under which a cardholder is found."""

from collections.abc import Iterable, Mapping

from cadrin.config.database.inserting import insert_rows
from cadrin.core.people.contacts import phone_key
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.details import Details, RegisterRules
from cadrin.core.people.names import terms_of
from cadrin.people.models import Term

PERSON, CARD = "person", "card"
"""Where words come from."""


def person_terms(details: Details, rules: RegisterRules) -> set[str]:
    """Return the words a cardholder is found under by their details, custom fields of text
    included.
    """
    texts = {FieldType.TEXT, FieldType.NUMBER}
    custom = [details.own.get(field.id, "") for field in rules.custom_fields if field.type in texts]
    words = terms_of(
        details.first_name,
        details.last_name,
        details.display_override,
        details.number,
        details.email,
        *custom,
    )
    return {*words, *(phone_key(phone) for phone in details.phones)}


def set_terms(source: str, texts: Mapping[int, Iterable[str]]) -> None:
    """Set the words under which one source finds cardholders, in place of those it set before."""
    Term.objects.filter(cardholder_id__in=texts, source=source).delete()
    insert_rows(
        Term,
        ("cardholder_id", "source", "text"),
        ((id_, source, text[:254]) for id_, words in texts.items() for text in sorted(set(words))),
    )
