from collections.abc import Iterable
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access import queries
from cadrin.access.commands.cards import suspend_card
from cadrin.access.commands.departments import save_department_with_groups
from cadrin.access.commands.drafts import drop_draft
from cadrin.access.commands.file import ShownPin, file_for, save_and_show
from cadrin.access.commands.groups import remove_group, save_group
from cadrin.access.commands.schedules import remove_schedule, save_schedule
from cadrin.access.rest import shapes
from cadrin.access.scoping import group_ids_hidden
from cadrin.cards.letters import can_mail
from cadrin.cards.queries import card_formats
from cadrin.cards.settings import card_settings, pin_rule
from cadrin.core.people.details import LANGUAGES
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView
from cadrin.people.commands.departments import DepartmentDraft, merge_departments
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
from cadrin.photos.commands import SLOTS

SEE, GROUPS = Permission.SEE, Permission.GROUPS


class HouseChoices(HouseView):
    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.House)
    def get(self, request: Request) -> Response:
        kept, actor = settings(), self.actor()
        return Response(
            {
                "site": queries.home_site(),
                "sites": queries.sites(actor),
                "departments": _departments(actor),
                "companies": companies(actor),
                "kinds": kinds(),
                "own_fields": own_fields(),
                "languages": [language for language in LANGUAGES if language],
                "required_fields": sorted(kept.required),
                "image_names": kept.image_names,
                "formats": card_formats(),
                "groups": queries.group_choices(actor),
                "doors": queries.doors(actor),
                "readers": queries.readers(actor),
                "most_cards": card_settings().most_cards,
                "pin_length": pin_rule().length,
                "can_mail": can_mail(),
            }
        )


class ComingInstants(HouseView):
    """When the site's day ends, and its next morning: what "only today" and "left at home" mean."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=shapes.ComingShape)
    def get(self, request: Request) -> Response:
        return Response(queries.coming(timezone.now())._asdict())


def _departments(actor: Actor) -> list[dict[str, Any]]:
    proposed, hidden = queries.default_groups(), group_ids_hidden(actor)
    return [
        dict(row) | {"default_groups": [id_ for id_ in proposed.get(row["id"], []) if id_ not in hidden]}
        for row in departments(actor)
    ]


def _department_draft(given: dict[str, Any]) -> DepartmentDraft:
    return DepartmentDraft(given["number"], given["name"], given["parent_id"], given["is_retired"], given["version"])


class Departments(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": Permission.SET_UP}

    @extend_schema(responses=shapes.DepartmentWithPeople(many=True))
    def get(self, request: Request) -> Response:
        actor = self.actor()
        people = queries.people_of_departments(actor)
        return Response([row | {"people": people.get(row["id"], 0)} for row in _departments(actor)])

    @extend_schema(request=shapes.DepartmentShape, responses={201: shapes.Saved})
    def post(self, request: Request) -> Response:
        given = self.given(shapes.DepartmentShape, request)
        id_ = save_department_with_groups(
            self.actor(), None, _department_draft(given), given["default_groups"], timezone.now()
        )
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneDepartment(HouseView):
    needs: ClassVar = {"PUT": Permission.SET_UP}

    @extend_schema(request=shapes.DepartmentShape, responses=shapes.Saved)
    def put(self, request: Request, id: int) -> Response:
        given = self.given(shapes.DepartmentShape, request)
        save_department_with_groups(self.actor(), id, _department_draft(given), given["default_groups"], timezone.now())
        return Response({"id": id})


class DepartmentMerge(HouseView):
    """Put everybody in one department into another, and remove it."""

    needs: ClassVar = {"POST": Permission.SET_UP}

    @extend_schema(request=shapes.MergeDepartment, responses=shapes.Moved)
    def post(self, request: Request, id: int) -> Response:
        into = self.given(shapes.MergeDepartment, request)["into"]
        return Response({"moved": merge_departments(self.actor(), id, into, timezone.now())})


def _file(cardholder_id: int, actor: Actor, shown_pins: Iterable[ShownPin] = ()) -> dict[str, Any]:
    cardholder = get_cardholder(actor, cardholder_id)
    file = shapes.shown_file(file_for(actor, cardholder, rules()))
    return file | {
        "id": cardholder.pk,
        "display_name": cardholder.display_name,
        "is_erased": cardholder.erased_at is not None,
        "shown_pins": [pin._asdict() for pin in shown_pins],
    }


class NewFile(HouseView):
    needs: ClassVar = {"GET": Permission.ENROL, "POST": Permission.ENROL}

    @extend_schema(responses=shapes.FileShape)
    def get(self, request: Request) -> Response:
        """Offer an empty file with the next free number."""
        nothing = {"images": [None] * SLOTS, "cards": [], "pins": [], "plates": [], "memberships": []}
        return Response(shapes.FileShape({"number": free_number(rules().numbers), **nothing}).data)

    @extend_schema(request=shapes.FileShape, responses={201: shapes.SavedFile})
    def post(self, request: Request) -> Response:
        draft = shapes.file_draft(self.given(shapes.FileShape, request), self.actor())
        saved = save_and_show(self.actor(), None, draft, timezone.now())
        drop_draft(self.actor(), None)
        return Response(_file(saved.id, self.actor(), saved.shown_pins), status=status.HTTP_201_CREATED)


class OneFile(HouseView):
    needs: ClassVar = {"GET": SEE, "PUT": Permission.EDIT}

    @extend_schema(responses=shapes.SavedFile)
    def get(self, request: Request, id: int) -> Response:
        return Response(_file(id, self.actor()))

    @extend_schema(request=shapes.FileShape, responses=shapes.SavedFile)
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.file_draft(self.given(shapes.FileShape, request), self.actor())
        saved = save_and_show(self.actor(), id, draft, timezone.now())
        drop_draft(self.actor(), id)
        return Response(_file(id, self.actor(), saved.shown_pins))


class CardSuspension(HouseView):
    """Suspend one card at once; nothing else of its holder changes."""

    needs: ClassVar = {"POST": Permission.SUSPEND}

    @extend_schema(request=shapes.CardIdentityShape, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        given = self.given(shapes.CardIdentityShape, request)
        identity = given["format"], given["facility_code"], given["card_number"]
        suspend_card(self.actor(), id, identity, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Groups(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": GROUPS}

    @extend_schema(responses=shapes.Group(many=True))
    def get(self, request: Request) -> Response:
        return Response(queries.groups(self.actor()))

    @extend_schema(request=shapes.GroupShape, responses={201: shapes.Saved})
    def post(self, request: Request) -> Response:
        draft = shapes.group_draft(self.given(shapes.GroupShape, request))
        return Response({"id": save_group(self.actor(), None, draft, timezone.now())}, status.HTTP_201_CREATED)


class OneGroup(HouseView):
    needs: ClassVar = {"PUT": GROUPS, "DELETE": GROUPS}

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
        queries.get_group(self.actor(), id)
        return Response(queries.members_of(self.actor(), id))


class Schedules(HouseView):
    needs: ClassVar = {"GET": SEE, "POST": GROUPS}

    @extend_schema(responses=shapes.Schedule(many=True))
    def get(self, request: Request) -> Response:
        return Response(queries.schedules())

    @extend_schema(request=shapes.ScheduleShape, responses={201: shapes.Saved})
    def post(self, request: Request) -> Response:
        draft = shapes.schedule_draft(self.given(shapes.ScheduleShape, request))
        return Response({"id": save_schedule(self.actor(), None, draft, timezone.now())}, status.HTTP_201_CREATED)


class OneSchedule(HouseView):
    needs: ClassVar = {"PUT": GROUPS, "DELETE": GROUPS}

    @extend_schema(request=shapes.ScheduleShape, responses=shapes.Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = shapes.schedule_draft(self.given(shapes.ScheduleShape, request))
        return Response({"id": save_schedule(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_schedule(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)
