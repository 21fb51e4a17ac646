"""What comes in and goes out about the lists, own fields and rules of the register."""

from typing import Any

from rest_framework import serializers

from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.details import MAY_BE_REQUIRED
from cadrin.core.people.names import DisplayRule
from cadrin.operators.rest.base import Shape, WholeField, rows_of
from cadrin.people.commands.custom_fields import ChoiceDraft, OwnFieldDraft
from cadrin.people.commands.lists import ListedDraft
from cadrin.people.commands.settings import SettingsDraft


def words(**more: Any) -> serializers.DictField:
    """Take a text in each language."""
    return serializers.DictField(
        child=serializers.CharField(allow_blank=True, max_length=1000), **more
    )


class ListedShape(Shape):
    """A company or a kind; only companies have a short name."""

    version = WholeField(min_value=0, default=0)
    name = serializers.CharField(allow_blank=True)
    short_name = serializers.CharField(allow_blank=True, default="")
    is_retired = serializers.BooleanField(default=False)


class Listed(ListedShape):
    id = serializers.IntegerField()
    people = serializers.IntegerField()


def listed_draft(values: dict[str, Any]) -> ListedDraft:
    """Return the draft that was sent."""
    return ListedDraft(
        values["name"], values["short_name"], values["is_retired"], values["version"]
    )


MOST_CHOICES = 500


class ChoiceShape(Shape):
    key = serializers.CharField()
    labels = words()


class OwnFieldDraftShape(Shape):
    version = WholeField(min_value=0, default=0)
    labels = words()
    help = words(default=dict)
    type = serializers.ChoiceField(choices=[t.value for t in FieldType])
    choices = rows_of(ChoiceShape, MOST_CHOICES, default=list)
    is_required = serializers.BooleanField(default=False)
    is_unique = serializers.BooleanField(default=False)


class OwnFieldAsDefined(OwnFieldDraftShape):
    id = serializers.IntegerField()
    values = serializers.IntegerField()
    removed_at = serializers.DateTimeField(allow_null=True)


def own_field_draft(given: dict[str, Any]) -> OwnFieldDraft:
    """Return the draft that was sent."""
    choices = tuple(ChoiceDraft(item["key"], item["labels"]) for item in given["choices"])
    return OwnFieldDraft(
        given["labels"],
        given["help"],
        FieldType(given["type"]),
        choices,
        given["is_required"],
        given["is_unique"],
        given["version"],
    )


class OrderShape(Shape):
    ids = serializers.ListField(child=WholeField(), max_length=200)


class SettingsShape(Shape):
    version = WholeField(min_value=0)
    number_prefix = serializers.CharField(allow_blank=True, trim_whitespace=False)
    number_width = WholeField()
    number_start = WholeField()
    display_rule = serializers.ChoiceField(choices=[r.value for r in DisplayRule])
    longest_name = WholeField()
    region = serializers.CharField(max_length=10)
    required_fields = serializers.ListField(
        child=serializers.ChoiceField(choices=MAY_BE_REQUIRED), max_length=100
    )
    image_names = serializers.ListField(
        child=serializers.CharField(allow_blank=True), max_length=10
    )


def settings_draft(given: dict[str, Any]) -> SettingsDraft:
    """Return the draft that was sent."""
    return SettingsDraft(
        number_prefix=given["number_prefix"],
        number_width=given["number_width"],
        number_start=given["number_start"],
        display_rule=DisplayRule(given["display_rule"]),
        longest_name=given["longest_name"],
        region=given["region"].upper(),
        required=tuple(given["required_fields"]),
        image_names=tuple(given["image_names"]),
        version=given["version"],
    )


class SettingsEffect(Shape):
    """What saving would rename: how many people, and a few of them, before and after."""

    renamed = serializers.IntegerField()
    examples = serializers.ListField(child=serializers.ListField(child=serializers.CharField()))
    next_number = serializers.CharField()


class OpenPage(Shape):
    """A page that is open: a name it made up for itself."""

    page = serializers.CharField(max_length=40)


class Others(Shape):
    others = serializers.ListField(child=serializers.CharField())
