"""What every screen chooses from."""

from typing import ClassVar

from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.queries import group_choices
from cadrin.access.rest.departments import departments_with_groups
from cadrin.access.rest.shapes import DepartmentChoice, RetirableChoice
from cadrin.core.people.custom_fields import FieldType
from cadrin.core.people.details import LANGUAGES
from cadrin.credentials.letters import can_mail
from cadrin.credentials.queries import card_formats
from cadrin.credentials.settings import card_settings, pin_rule
from cadrin.operators.permissions import Permission
from cadrin.operators.queries import operators
from cadrin.operators.rest.base import HouseView, Shape
from cadrin.people.lists import companies, custom_fields, kinds
from cadrin.people.queries import settings
from cadrin.sites.queries import doors as doors_in_reach
from cadrin.sites.queries import home_site
from cadrin.sites.queries import readers as readers_in_reach
from cadrin.sites.queries import sites as sites_in_reach
from cadrin.sites.rest.shapes import Choice, Door, Reader, Site


class CompanyChoice(RetirableChoice):
    short_name = serializers.CharField()


class CustomChoice(Shape):
    key = serializers.CharField()
    labels = serializers.DictField(child=serializers.CharField())


class CustomFieldShape(Shape):
    """A field the site defined; labels, helps and the labels of choices by language."""

    id = serializers.IntegerField()
    labels = serializers.DictField(child=serializers.CharField())
    help = serializers.DictField(child=serializers.CharField(allow_blank=True))
    type = serializers.ChoiceField(choices=[t.value for t in FieldType])
    choices = CustomChoice(many=True)
    is_required = serializers.BooleanField()
    is_unique = serializers.BooleanField()


class FormatChoice(Choice):
    about = serializers.CharField()
    highest_issue_level = serializers.IntegerField(allow_null=True)


class House(Shape):
    """What every screen chooses from."""

    site = Site()
    sites = Site(many=True)
    operators = Choice(many=True)
    departments = DepartmentChoice(many=True)
    companies = CompanyChoice(many=True)
    kinds = RetirableChoice(many=True)
    custom_fields = CustomFieldShape(many=True)
    languages = serializers.ListField(child=serializers.CharField())
    required_fields = serializers.ListField(child=serializers.CharField())
    image_names = serializers.ListField(child=serializers.CharField())
    formats = FormatChoice(many=True)
    groups = Choice(many=True)
    doors = Door(many=True)
    readers = Reader(many=True)
    most_cards = serializers.IntegerField(allow_null=True)
    pin_length = serializers.IntegerField()
    can_mail = serializers.BooleanField()


class HouseChoices(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=House)
    def get(self, request: Request) -> Response:
        kept, actor = settings(), self.actor()
        return Response(
            {
                "site": home_site(),
                "sites": sites_in_reach(actor),
                "operators": operators(actor),
                "departments": departments_with_groups(actor),
                "companies": companies(actor),
                "kinds": kinds(),
                "custom_fields": custom_fields(),
                "languages": [language for language in LANGUAGES if language],
                "required_fields": sorted(kept.required),
                "image_names": kept.image_names,
                "formats": card_formats(),
                "groups": group_choices(actor),
                "doors": doors_in_reach(actor),
                "readers": readers_in_reach(actor),
                "most_cards": card_settings().most_cards,
                "pin_length": pin_rule().length,
                "can_mail": can_mail(),
            }
        )
