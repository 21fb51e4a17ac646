"""People are found by a card as it is printed, and however an apostrophe or an umlaut is typed."""

from itertools import groupby
from operator import itemgetter

from django.db import migrations

from cadrin.core.people.names import terms_of, terms_of_cards

AT_ONCE = 2000


def find_anew(apps, schema_editor):
    Term = apps.get_model("people", "Term")
    Cardholder = apps.get_model("people", "Cardholder")
    Card = apps.get_model("credentials", "Card")

    cards = Card.objects.exclude(holder=None).order_by("holder_id")
    rows = cards.values_list("holder_id", "facility_code", "card_number").iterator(AT_ONCE)
    terms = (
        Term(cardholder_id=id_, source="card", text=text)
        for id_, held in groupby(rows, key=itemgetter(0))
        for text in terms_of_cards(card[1:] for card in held)
        if "-" in text
    )
    Term.objects.bulk_create(terms, batch_size=AT_ONCE)

    names = Cardholder.objects.values_list("id", "first_name", "last_name", "display_override")
    for id_, *texts in names.iterator(AT_ONCE):
        if all(text.isascii() and "'" not in text for text in texts):
            continue
        known = set(Term.objects.filter(cardholder=id_).values_list("text", flat=True))
        Term.objects.bulk_create(
            Term(cardholder_id=id_, source="person", text=text[:254])
            for text in terms_of(*texts) - known
        )


class Migration(migrations.Migration):
    dependencies = [
        ("enrolment", "0003_several_drafts_of_somebody_new"),
        ("people", "0003_external_id"),
        ("credentials", "0003_what_letters_are_about"),
    ]
    operations = [migrations.RunPython(find_anew, migrations.RunPython.noop)]
