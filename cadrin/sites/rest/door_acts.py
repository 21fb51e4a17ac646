"""What operators do at doors, over HTTP: unlock once, let in, keep open or shut, unlock in an
emergency.
"""

from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.core.doors.rules import Ordered
from cadrin.core.errors import NotFound
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Saved, Shape, WholeField
from cadrin.sites.commands.orders import act_at_door, end_order, order_door
from cadrin.sites.commands.releases import (
    ReleaseGroupDraft,
    begin_release,
    end_release,
    remove_release_group,
    save_release_group,
)
from cadrin.sites.door_states import outcome_of, release_groups
from cadrin.sites.models import DoorAct
from cadrin.sites.rest.fields import instant, text

MOST_DOORS = 2000
KINDS = [kind.value for kind in Ordered]
DOORS = Permission.DOORS


class ActShape(Shape):
    """``release`` unlocks a door once; ``consent`` lets in whoever asks there."""

    act = serializers.ChoiceField(choices=DoorAct.Kind.values)


class OutcomeShape(Shape):
    outcome = serializers.ChoiceField(choices=DoorAct.Outcome.values)


class DoorOrderShape(Shape):
    ordered = serializers.ChoiceField(choices=KINDS)
    until = instant()
    reason = text(max_length=400)


class WhyShape(Shape):
    reason = text(max_length=400)


class ReleaseGroupShape(Shape):
    version = WholeField(min_value=0, default=0)
    name = text()
    door_ids = serializers.ListField(child=WholeField(), max_length=MOST_DOORS)


class ReleaseOut(Shape):
    """An emergency in which doors were unlocked; it goes on while ``ended_at`` is null."""

    id = serializers.IntegerField()
    reason = serializers.CharField()
    begun_by = serializers.CharField()
    at = serializers.DateTimeField()
    ended_at = serializers.DateTimeField(allow_null=True)
    ended_by = serializers.CharField()
    ended_reason = serializers.CharField()


class ReleaseGroupOut(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    version = serializers.IntegerField()
    door_ids = serializers.ListField(child=serializers.IntegerField())
    releases = ReleaseOut(many=True)


class DoorActs(HouseView):
    needs: ClassVar = {"POST": DOORS}

    @extend_schema(request=ActShape, responses={201: Saved})
    def post(self, request: Request, id: int) -> Response:
        kind = DoorAct.Kind(self.given(ActShape, request)["act"])
        act_id = act_at_door(self.actor(), id, kind, timezone.now())
        return Response({"id": act_id}, status.HTTP_201_CREATED)


class DoorActOutcome(HouseView):
    needs: ClassVar = {"GET": DOORS}

    @extend_schema(responses=OutcomeShape)
    def get(self, request: Request, id: int) -> Response:
        outcome = outcome_of(self.actor(), id)
        if outcome is None:
            raise NotFound.of("door.not_found")
        return Response({"outcome": outcome})


class DoorOrder(HouseView):
    """What is ordered of a door: kept open or shut."""

    needs: ClassVar = {"PUT": DOORS, "DELETE": DOORS}

    @extend_schema(request=DoorOrderShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        given = self.given(DoorOrderShape, request)
        kind = Ordered(given["ordered"])
        order_door(self.actor(), id, kind, given["until"], given["reason"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        end_order(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


def _draft(given: dict[str, Any]) -> ReleaseGroupDraft:
    return ReleaseGroupDraft(given["name"], tuple(given["door_ids"]), given["version"])


class ReleaseGroups(HouseView):
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.SET_UP}

    @extend_schema(responses=ReleaseGroupOut(many=True))
    def get(self, request: Request) -> Response:
        return Response(release_groups(self.actor()))

    @extend_schema(request=ReleaseGroupShape, responses={201: Saved})
    def post(self, request: Request) -> Response:
        draft = _draft(self.given(ReleaseGroupShape, request))
        id_ = save_release_group(self.actor(), None, draft, timezone.now())
        return Response({"id": id_}, status.HTTP_201_CREATED)


class OneReleaseGroup(HouseView):
    needs: ClassVar = {"PUT": Permission.SET_UP, "DELETE": Permission.SET_UP}

    @extend_schema(request=ReleaseGroupShape, responses=Saved)
    def put(self, request: Request, id: int) -> Response:
        draft = _draft(self.given(ReleaseGroupShape, request))
        return Response({"id": save_release_group(self.actor(), id, draft, timezone.now())})

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        remove_release_group(self.actor(), id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class Releasing(HouseView):
    """Unlock all doors of a group."""

    needs: ClassVar = {"POST": DOORS}

    @extend_schema(request=WhyShape, responses={201: Saved})
    def post(self, request: Request, id: int) -> Response:
        reason = self.given(WhyShape, request)["reason"]
        release_id = begin_release(self.actor(), id, reason, timezone.now())
        return Response({"id": release_id}, status.HTTP_201_CREATED)


class EndingRelease(HouseView):
    needs: ClassVar = {"POST": DOORS}

    @extend_schema(request=WhyShape, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        end_release(self.actor(), id, self.given(WhyShape, request)["reason"], timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)
