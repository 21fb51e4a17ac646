from typing import Any, ClassVar

from django.forms.models import model_to_dict
from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.errors import Invalid
from cadrin.core.people.details import NumberRule
from cadrin.core.people.names import NameRule
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people import lists as lists_read
from cadrin.people import queries
from cadrin.people.commands import custom_fields, lists
from cadrin.people.commands.settings import problems_with_settings, renamed_by, save_settings
from cadrin.people.rest import shapes
from cadrin.people.viewers import others_at

SEE, SET_UP = Permission.SEE, Permission.SET_UP


class _Lists(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": SET_UP}
    which = lists.COMPANIES

    @extend_schema(responses=shapes.Listed(many=True))
    def get(self, request: Request) -> Response:
        return Response(lists_read.listed(self.actor(), self.which.model))

    @extend_schema(request=shapes.ListedShape, responses={201: shapes.Listed(many=True)})
    def post(self, request: Request) -> Response:
        draft = shapes.listed_draft(self.given(shapes.ListedShape, request))
        lists.save_listed(self.actor(), self.which, None, draft, timezone.now())
        return Response(lists_read.listed(self.actor(), self.which.model), status.HTTP_201_CREATED)


class _OneListed(HouseView):
    needs: ClassVar = {"PUT": SET_UP}
    which = lists.COMPANIES

    @extend_schema(request=shapes.ListedShape, responses=shapes.Listed(many=True))
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.listed_draft(self.given(shapes.ListedShape, request))
        lists.save_listed(self.actor(), self.which, id, draft, timezone.now())
        return Response(lists_read.listed(self.actor(), self.which.model))


class Companies(_Lists):
    pass


class OneCompany(_OneListed):
    pass


class Kinds(_Lists):
    which = lists.KINDS


class OneKind(_OneListed):
    which = lists.KINDS


class OwnFields(HouseView):
    """The own fields as they are defined, those that were removed last."""

    needs: ClassVar = {"GET": SEE, "POST": SET_UP}

    @extend_schema(responses=shapes.OwnFieldAsDefined(many=True))
    def get(self, request: Request) -> Response:
        counts = custom_fields.value_counts(self.actor())
        return Response(
            [
                dict(row) | {"values": counts.get(row["id"], 0)}
                for row in lists_read.own_fields_as_defined()
            ]
        )

    @extend_schema(request=shapes.OwnFieldDraftShape, responses={201: None})
    def post(self, request: Request) -> Response:
        draft = shapes.own_field_draft(self.given(shapes.OwnFieldDraftShape, request))
        custom_fields.save_custom_field(self.actor(), None, draft, timezone.now())
        return Response(status=status.HTTP_201_CREATED)


class OneOwnField(HouseView):
    needs: ClassVar = {"PUT": SET_UP, "DELETE": SET_UP}

    @extend_schema(request=shapes.OwnFieldDraftShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.own_field_draft(self.given(shapes.OwnFieldDraftShape, request))
        custom_fields.save_custom_field(self.actor(), id, draft, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        custom_fields.remove_own_field(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class OwnFieldBack(HouseView):
    """Take back the removal of an own field."""

    needs: ClassVar = {"POST": SET_UP}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        custom_fields.take_back_own_field(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class OwnFieldOrder(HouseView):
    needs: ClassVar = {"PUT": SET_UP}

    @extend_schema(request=shapes.OrderShape, responses={204: None})
    def put(self, request: Request) -> Response:
        custom_fields.order_own_fields(
            self.actor(), self.given(shapes.OrderShape, request)["ids"], timezone.now()
        )
        return Response(status=status.HTTP_204_NO_CONTENT)


def _settings() -> dict[str, Any]:
    kept = model_to_dict(queries.settings())
    return kept | {"required_fields": kept["required"]}


class Settings(HouseView):
    """How the register numbers and names cardholders, and what it asks of them."""

    needs: ClassVar = {"GET": SEE, "PUT": SET_UP}

    @extend_schema(responses=shapes.SettingsShape)
    def get(self, request: Request) -> Response:
        return Response(_settings())

    @extend_schema(request=shapes.SettingsShape, responses=shapes.SettingsShape)
    def put(self, request: Request) -> Response:
        draft = shapes.settings_draft(self.given(shapes.SettingsShape, request))
        save_settings(self.actor(), draft, timezone.now())
        return Response(_settings())


class PreviewSettings(HouseView):
    """What other rules would rename. Nothing is saved."""

    needs: ClassVar = {"POST": SET_UP}

    @extend_schema(request=shapes.SettingsShape, responses=shapes.SettingsEffect)
    def post(self, request: Request) -> Response:
        draft = shapes.settings_draft(self.given(shapes.SettingsShape, request))
        if problems := problems_with_settings(draft):
            raise Invalid(problems)
        renamed = list(renamed_by(NameRule(draft.display_rule, draft.longest_name)))
        names = queries.display_names([id_ for _, id_ in renamed[:3]])
        number = NumberRule(draft.number_prefix, draft.number_width, draft.number_start)
        return Response(
            {
                "renamed": len(renamed),
                "examples": [[names[id_], shown] for shown, id_ in renamed[:3]],
                "next_number": queries.free_number(number),
            }
        )


class Presence(HouseView):
    """Say that a page is open at a cardholder, and learn who else is there."""

    needs: ClassVar = {"POST": SEE}

    @extend_schema(request=shapes.OpenPage, responses=shapes.Others)
    def post(self, request: Request, id: int) -> Response:
        actor, page = self.actor(), self.given(shapes.OpenPage, request)["page"]
        queries.get_cardholder(actor, id)
        return Response({"others": others_at(id, actor.operator_id, actor.name, page)})
