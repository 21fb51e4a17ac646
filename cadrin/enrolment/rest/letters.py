"""PINs on their way by mail, over HTTP."""

from typing import ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.credentials.letters import LETTER_FAILURES, LETTER_STATES, LETTERS_ABOUT
from cadrin.enrolment.commands.letters import cancel_letter, letters_seen
from cadrin.enrolment.rest.shapes import ShownPinShape
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape


class LetterRow(Shape):
    """A letter: how far it is, and why it has not been taken; ``label`` is that of the
    PIN.
    """

    id = serializers.IntegerField()
    label = serializers.CharField()  # type: ignore[assignment]
    about = serializers.ChoiceField(choices=LETTERS_ABOUT)
    state = serializers.ChoiceField(choices=LETTER_STATES)
    made_at = serializers.DateTimeField()
    ended_at = serializers.DateTimeField(allow_null=True)
    tries = serializers.IntegerField()
    failure = serializers.ChoiceField(choices=LETTER_FAILURES, allow_blank=True)
    can_be_cancelled = serializers.BooleanField()


class Letters(HouseView):
    """The letters of a cardholder, newest first."""

    needs: ClassVar = {"GET": Permission.SEE}

    @extend_schema(responses=LetterRow(many=True))
    def get(self, request: Request, id: int) -> Response:
        return Response(letters_seen(self.actor(), id))


class LetterCancelling(HouseView):
    """Cancel a letter that was not sent: its PIN is replaced by a new one, which this answer alone
    shows.
    """

    needs: ClassVar = {"POST": Permission.ISSUE}

    @extend_schema(request=None, responses=ShownPinShape)
    def post(self, request: Request, id: int, letter: int) -> Response:
        return Response(cancel_letter(self.actor(), id, letter, timezone.now())._asdict())
