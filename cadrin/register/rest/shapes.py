"""What comes in and goes out about the list of cardholders."""

from typing import Any

from rest_framework import serializers

from cadrin.core.access.readiness import Gap
from cadrin.core.validity import Standing, State
from cadrin.delivery.rest.shapes import GAPS, STATES
from cadrin.operators.rest.base import Shape, WholeField
from cadrin.register.filters import Filters
from cadrin.register.selection import Selection


class FiltersShape(Shape):
    """What is asked of the list; all that are given must hold."""

    text = serializers.CharField(
        default="",
        allow_blank=True,
        max_length=200,
        help_text="Words that begin a name, number, e-mail address, telephone or card number.",
    )
    department = WholeField(default=None, help_text="In this department or below it.")
    state = serializers.ChoiceField(choices=STATES, default=None, help_text="In this state now.")
    group = WholeField(default=None, help_text="In this access group.")
    gap = serializers.ChoiceField(
        choices=GAPS, default=None, help_text="Lacking this for getting in."
    )
    not_ready = serializers.BooleanField(
        default=False, help_text="Only those who should get in and lack something for it."
    )
    by_card_alone = serializers.BooleanField(
        default=False, help_text="Only those who are let in by card alone."
    )
    ending_within_days = WholeField(
        default=None, min_value=0, max_value=3650, help_text="Whose end comes within so many days."
    )
    starting_within_days = WholeField(
        default=None,
        min_value=0,
        max_value=3650,
        help_text="Whose start comes within so many days.",
    )
    company = WholeField(default=None, help_text="Of this company.")
    kind = WholeField(default=None, help_text="Of this kind.")
    custom_field = WholeField(default=None, help_text="Id of a custom field; with `custom_value`.")
    custom_value = serializers.CharField(
        default="",
        allow_blank=True,
        max_length=200,
        help_text="The beginning of its value; empty for whoever has none.",
    )


def filters_in(asked: dict[str, Any]) -> Filters:
    """Return the filters that were asked for."""
    return Filters(
        text=asked["text"],
        department_id=asked["department"],
        state=State(asked["state"]) if asked["state"] else None,
        group_id=asked["group"],
        gap=Gap(asked["gap"]) if asked["gap"] else None,
        is_not_ready=asked["not_ready"],
        is_by_card_alone=asked["by_card_alone"],
        ending_within_days=asked["ending_within_days"],
        starting_within_days=asked["starting_within_days"],
        company_id=asked["company"],
        kind_id=asked["kind"],
        custom_field_id=asked["custom_field"],
        custom_value=asked["custom_value"],
    )


class ListQuery(FiltersShape):
    """``sort`` is a column, with a minus before it for the other way round."""

    sort = serializers.CharField(default="name", max_length=20)
    after = serializers.CharField(default="", allow_blank=True, max_length=200)


class FindQuery(Shape):
    text = serializers.CharField(allow_blank=True, max_length=200)


class Row(Shape):
    """One cardholder in a list."""

    id = serializers.IntegerField()
    number = serializers.CharField()
    display_name = serializers.CharField()
    first_name = serializers.CharField()
    last_name = serializers.CharField()
    title = serializers.CharField()
    email = serializers.CharField()
    phones = serializers.ListField(child=serializers.CharField())
    language = serializers.CharField()
    remarks = serializers.CharField()
    standing = serializers.ChoiceField(choices=[s.value for s in Standing])
    own = serializers.DictField(child=serializers.CharField())
    portrait = serializers.CharField(allow_null=True)
    department_name = serializers.CharField(allow_null=True)
    company_name = serializers.CharField(allow_null=True)
    kind_name = serializers.CharField(allow_null=True)
    state = serializers.ChoiceField(choices=STATES)
    until = serializers.DateTimeField(allow_null=True)
    activation_at = serializers.DateTimeField(allow_null=True)
    expiry_at = serializers.DateTimeField(allow_null=True)
    is_by_card_alone = serializers.BooleanField()
    gaps = serializers.ListField(child=serializers.ChoiceField(choices=GAPS))
    cards = serializers.ListField(child=serializers.CharField())
    groups = serializers.ListField(child=serializers.CharField())


class PageShape(Shape):
    """``next`` is the key for the page after; ``total`` stops at 10,000 and is told on the first
    page only.
    """

    rows = Row(many=True)
    next = serializers.CharField(allow_null=True)
    total = serializers.IntegerField(allow_null=True)


class WhoMayOpen(Shape):
    people = Row(many=True)
    total = serializers.IntegerField()


class SelectionShape(Shape):
    """Whom it is about: ``ids``, or with ``filters`` all that match them without those in
    ``without``.
    """

    ids = serializers.ListField(child=WholeField(), default=list, max_length=5000)
    filters = FiltersShape(allow_null=True, default=None)
    without = serializers.ListField(child=WholeField(), default=list, max_length=5000)


def selection_in(given: dict[str, Any]) -> Selection:
    """Return the selection that was sent."""
    filters = filters_in(given["filters"]) if given["filters"] is not None else None
    return Selection(tuple(given["ids"]), filters, tuple(given["without"]))


class SavedListShape(Shape):
    name = serializers.CharField(allow_blank=True)
    is_shared = serializers.BooleanField(default=False)
    filters = serializers.DictField(child=serializers.JSONField())
    columns = serializers.ListField(child=serializers.CharField(max_length=30), max_length=100)
    sort = serializers.CharField(max_length=20, default="name")


class SavedListRow(SavedListShape):
    id = serializers.IntegerField()


class ExportShape(SelectionShape):
    kind = serializers.ChoiceField(choices=["csv", "xlsx", "json", "vcard"])
    columns = serializers.ListField(child=serializers.CharField(max_length=30), max_length=100)
    sort = serializers.CharField(max_length=20, default="name")


class TableShape(Shape):
    """A table as it stands on a screen: a cell is text, a row has one for each heading."""

    kind = serializers.ChoiceField(choices=["csv", "xlsx"])
    name = serializers.CharField(max_length=60)
    headings = serializers.ListField(
        child=serializers.CharField(max_length=200, allow_blank=True), min_length=1, max_length=60
    )
    rows = serializers.ListField(
        child=serializers.ListField(
            child=serializers.CharField(max_length=4000, allow_blank=True, trim_whitespace=False),
            max_length=60,
        ),
        max_length=10_000,
    )
