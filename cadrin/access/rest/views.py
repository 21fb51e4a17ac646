from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access import queries
from cadrin.access.commands.file import save_file
from cadrin.access.commands.groups import remove_group, save_group
from cadrin.access.commands.schedules import remove_schedule, save_schedule
from cadrin.access.rest import shapes
from cadrin.cards.queries import card_formats, cards_of
from cadrin.core.details import LANGUAGES
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.commands import FIELDS
from cadrin.people.queries import (
    companies,
    departments,
    free_number,
    get_cardholder,
    kinds,
    own_fields,
    rules,
    settings,
)

SEE, ACCESS = Permission.SEE, Permission.ACCESS


class HouseChoices(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.House)
    def get(self, request: Request) -> Response:
        kept = settings()
        return Response(
            {
                "site": queries.home_site(),
                "departments": departments(),
                "companies": companies(),
                "kinds": kinds(),
                "own_fields": own_fields(),
                "languages": [language for language in LANGUAGES if language],
                "required_fields": sorted(kept.required),
                "image_names": kept.image_names,
                "formats": card_formats(),
                "groups": queries.group_choices(),
                "doors": queries.doors(),
                "readers": queries.readers(),
            }
        )


def _file(cardholder_id: int, actor: Actor) -> dict[str, Any]:
    cardholder = get_cardholder(cardholder_id)
    file = {name.removesuffix("_id"): getattr(cardholder, name) for name in FIELDS}
    if Permission.BIRTH_DATES not in actor.permissions:
        file["born_on"] = None
    return file | {
        "id": cardholder.pk,
        "version": cardholder.version,
        "display_name": cardholder.display_name,
        "cards": cards_of(cardholder_id),
        "memberships": [
            {"group": m["group_id"], "activation_at": m["activation_at"], "expiry_at": m["expiry_at"]}
            for m in queries.memberships_of(cardholder_id)
        ],
    }


class NewFile(HouseView):
    needs: ClassVar = {"GET": Permission.ENROL, "POST": Permission.ENROL}

    @extend_schema(responses=shapes.FileShape)
    def get(self, request: Request) -> Response:
        """Offer an empty file with the next free number."""
        return Response(shapes.FileShape({"number": free_number(rules().numbers), "cards": [], "memberships": []}).data)

    @extend_schema(request=shapes.FileShape, responses={201: shapes.SavedFile})
    def post(self, request: Request) -> Response:
        draft = shapes.file_draft(self.given(shapes.FileShape, request))
        id_ = save_file(self.actor(), None, draft, timezone.now())
        return Response(_file(id_, self.actor()), status=status.HTTP_201_CREATED)


class OneFile(HouseView):
    needs: ClassVar = {"GET": SEE, "PUT": Permission.EDIT}

    @extend_schema(responses=shapes.SavedFile)
    def get(self, request: Request, id: int) -> Response:
        return Response(_file(id, self.actor()))

    @extend_schema(request=shapes.FileShape, responses=shapes.SavedFile)
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.file_draft(self.given(shapes.FileShape, request))
        save_file(self.actor(), id, draft, timezone.now())
        return Response(_file(id, self.actor()))


class Groups(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": ACCESS}

    @extend_schema(responses=shapes.Group(many=True))
    def get(self, request: Request) -> Response:
        return Response(queries.groups())

    @extend_schema(request=shapes.GroupShape, responses={201: shapes.Saved})
    def post(self, request: Request) -> Response:
        draft = shapes.group_draft(self.given(shapes.GroupShape, request))
        return Response({"id": save_group(self.actor(), None, draft, timezone.now())}, status.HTTP_201_CREATED)


class OneGroup(HouseView):
    needs: ClassVar = {"PUT": ACCESS, "DELETE": ACCESS}

    @extend_schema(request=shapes.GroupShape, responses=shapes.Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.group_draft(self.given(shapes.GroupShape, request))
        return Response({"id": save_group(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_group(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class GroupPeople(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.Member(many=True))
    def get(self, request: Request, id: int) -> Response:
        queries.get_group(id)
        return Response(queries.members_of(id))


class Schedules(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": ACCESS}

    @extend_schema(responses=shapes.Schedule(many=True))
    def get(self, request: Request) -> Response:
        return Response(queries.schedules())

    @extend_schema(request=shapes.ScheduleShape, responses={201: shapes.Saved})
    def post(self, request: Request) -> Response:
        draft = shapes.schedule_draft(self.given(shapes.ScheduleShape, request))
        return Response({"id": save_schedule(self.actor(), None, draft, timezone.now())}, status.HTTP_201_CREATED)


class OneSchedule(HouseView):
    needs: ClassVar = {"PUT": ACCESS, "DELETE": ACCESS}

    @extend_schema(request=shapes.ScheduleShape, responses=shapes.Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.schedule_draft(self.given(shapes.ScheduleShape, request))
        return Response({"id": save_schedule(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_schedule(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)
