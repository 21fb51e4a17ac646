"""Reviews of access groups and doors over HTTP."""

from typing import ClassVar

from django.http import StreamingHttpResponse
from django.utils import timezone
from drf_spectacular.types import OpenApiTypes
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.rest.shapes import Member
from cadrin.core.access.reviewing import ReviewState
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape, WholeField
from cadrin.operators.rest.sending import sending
from cadrin.reviews.commands import decide, end_review
from cadrin.reviews.export import as_csv
from cadrin.reviews.looked import Kind
from cadrin.reviews.queries import MOST_PEOPLE, people_to_review, reviews


class ReviewDueShape(Shape):
    kind = serializers.ChoiceField(choices=[kind.value for kind in Kind])
    id = serializers.IntegerField()
    name = serializers.CharField()
    owner_id = serializers.IntegerField(allow_null=True)
    review_days = serializers.IntegerField(allow_null=True)
    state = serializers.ChoiceField(choices=[state.value for state in ReviewState])
    last_at = serializers.DateTimeField(allow_null=True)
    due_at = serializers.DateTimeField(allow_null=True)
    people = serializers.IntegerField()
    left = serializers.IntegerField()
    is_under_way = serializers.BooleanField()


class PersonToReview(Member):
    """Somebody who is looked through: by which groups, and how many other doors they would no longer
    open without these.
    """

    groups = serializers.ListField(child=serializers.CharField())
    loses = serializers.IntegerField()
    last_at = serializers.DateTimeField(allow_null=True)
    is_kept = serializers.BooleanField(allow_null=True)
    reason = serializers.CharField(allow_blank=True)


class ReviewDecision(Shape):
    """Who is kept or taken out, and why."""

    cardholders = serializers.ListField(child=WholeField(), max_length=MOST_PEOPLE)
    is_kept = serializers.BooleanField()
    reason = serializers.CharField(allow_blank=True, max_length=1000)


class Decided(Shape):
    decided = serializers.IntegerField()


class Reviews(HouseView):
    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=ReviewDueShape(many=True))
    def get(self, request: Request) -> Response:
        return Response([one._asdict() for one in reviews(self.actor(), timezone.now())])


class Reviewing(HouseView):
    """The people of a group or a door, and what is decided of them."""

    kind: ClassVar = Kind.GROUP
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.ACCESS}

    @extend_schema(responses=PersonToReview(many=True))
    def get(self, request: Request, id: int) -> Response:
        return Response(people_to_review(self.actor(), self.kind, id))

    @extend_schema(request=ReviewDecision, responses=Decided)
    def post(self, request: Request, id: int) -> Response:
        given = self.given(ReviewDecision, request)
        decided = decide(
            self.actor(),
            self.kind,
            id,
            given["cardholders"],
            is_kept=given["is_kept"],
            reason=given["reason"],
            at=timezone.now(),
        )
        return Response({"decided": decided})


class ReviewEnd(HouseView):
    kind: ClassVar = Kind.GROUP
    needs: ClassVar = {"POST": Permission.ACCESS}

    @extend_schema(request=None, responses={204: None})
    def post(self, request: Request, id: int) -> Response:
        end_review(self.actor(), self.kind, id, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)


class ReviewRecord(HouseView):
    """Everything that was decided in the reviews of a group or a door, for whoever audits them."""

    kind: ClassVar = Kind.GROUP
    needs: ClassVar = {"GET": Permission.EXPORT}

    @extend_schema(responses={(200, "text/csv"): OpenApiTypes.STR})
    def get(self, request: Request, id: int) -> StreamingHttpResponse:
        with sending(request) as on_its_way:
            chunks = as_csv(self.actor(), self.kind, id)
            file = on_its_way.answer(chunks, "text/csv; charset=utf-8")
        file["Content-Disposition"] = 'attachment; filename="review.csv"'
        return file


class DoorReviewing(Reviewing):
    kind: ClassVar = Kind.DOOR


class DoorReviewEnd(ReviewEnd):
    kind: ClassVar = Kind.DOOR


class DoorReviewRecord(ReviewRecord):
    kind: ClassVar = Kind.DOOR
