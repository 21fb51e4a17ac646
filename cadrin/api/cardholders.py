"""Cardholders and their access groups, for scripts."""

from dataclasses import replace
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.access.commands.memberships import MembershipDraft
from cadrin.api.base import ApiView, with_version
from cadrin.api.cardholder_resource import (
    cardholder_out,
    cardholders_out,
    draft_in,
    draft_now,
    field_out,
)
from cadrin.api.idempotency import once
from cadrin.api.pages import page_of
from cadrin.api.shapes import CardholderQuery, CardholderShape, MembershipShape
from cadrin.core.errors import NotFound
from cadrin.enrolment.commands.cardholders import ONE_ALONE, save_many
from cadrin.enrolment.draft import CardholderDraft, Wanted
from cadrin.operators.permissions import Permission
from cadrin.register.listing import page_of_ids
from cadrin.register.rest.shapes import filters_in

TAG = "Cardholders"


class CardholderView(ApiView):
    tag = TAG

    @staticmethod
    def field_named(field: str) -> str:
        return field_out(field)


class Cardholders(CardholderView):
    needs: ClassVar = {"GET": Permission.SEE, "POST": Permission.ENROL}

    @extend_schema(parameters=[CardholderQuery], responses=page_of(CardholderShape, counted=True))
    def get(self, request: Request) -> Response:
        """List cardholders.

        Filters are those of the list on the screen, and exact look-ups by number, external id,
        e-mail and card. `total` stands on the first page.
        """
        asked, actor = self.asked(CardholderQuery, request), self.actor()
        filters = filters_in(asked)._replace(
            number=asked["number"],
            external_id=asked["external_id"],
            email=asked["email"],
            card=asked["card"],
        )
        found = page_of_ids(
            actor,
            filters,
            timezone.now(),
            sort=asked["sort"],
            after=asked["cursor"],
            most=asked["limit"],
        )
        rows = cardholders_out(actor, found.ids)
        return Response({"items": rows, "next": found.next, "total": found.total})

    @extend_schema(request=CardholderShape, responses={201: CardholderShape})
    @once
    def post(self, request: Request) -> Response:
        """Enrol a cardholder.

        With all that is theirs, or nothing at all. What is left out is empty; without a `number`
        they get the next free one.
        """
        values, actor = self.new(CardholderShape, request), self.actor()
        wanted = Wanted(None, draft_in(values), gets_number="number" not in request.data)
        (saved,) = save_many(actor, [wanted], timezone.now(), ONE_ALONE)
        out = cardholder_out(actor, saved.id, saved.shown_pins)
        return with_version(out, status.HTTP_201_CREATED, f"cardholders/{saved.id}")


class OneCardholder(CardholderView):
    needs: ClassVar = {
        "GET": Permission.SEE,
        "PUT": Permission.EDIT,
        "PATCH": Permission.EDIT,
    }

    @extend_schema(responses=CardholderShape)
    def get(self, request: Request, id: int) -> Response:
        """Get a cardholder."""
        return with_version(cardholder_out(self.actor(), id))

    @extend_schema(request=CardholderShape, responses=CardholderShape)
    def put(self, request: Request, id: int) -> Response:
        """Save a whole cardholder.

        What is left out is refused, and not emptied. Names `version`, or `If-Match`.
        """
        now = draft_now(self.actor(), id)
        return self._saved(id, draft_in(self.whole(CardholderShape, request), now))

    @extend_schema(request=CardholderShape, responses=CardholderShape)
    def patch(self, request: Request, id: int) -> Response:
        """Change some of a cardholder.

        A JSON merge patch (RFC 7396): what is not named stays; lists are replaced as a whole.
        Without `version` and `If-Match` it changes what is there now.
        """
        now = cardholder_out(self.actor(), id)
        values = self.patched(CardholderShape, now, request)
        return self._saved(id, draft_in(values, draft_now(self.actor(), id)))

    def _saved(self, id_: int, draft: CardholderDraft) -> Response:
        actor = self.actor()
        (saved,) = save_many(actor, [Wanted(id_, draft)], timezone.now(), ONE_ALONE)
        return with_version(cardholder_out(actor, id_, saved.shown_pins))


class OneMembership(CardholderView):
    """One access group of one cardholder."""

    needs: ClassVar = {"PUT": Permission.ACCESS, "DELETE": Permission.ACCESS}

    @extend_schema(request=MembershipShape, responses=CardholderShape)
    def put(self, request: Request, id: int, group: int) -> Response:
        """Put a cardholder into an access group, or set from when and until when they are in it."""
        sent = {"group": group, **request.data} if isinstance(request.data, dict) else request.data
        values = self.checked(MembershipShape, sent)
        wanted = MembershipDraft(group, values["activation_at"], values["expiry_at"])
        return self._with(id, group, wanted)

    @extend_schema(request=None, responses=CardholderShape)
    def delete(self, request: Request, id: int, group: int) -> Response:
        """Take a cardholder out of an access group."""
        return self._with(id, group, None)

    def _with(self, id_: int, group_id: int, wanted: MembershipDraft | None) -> Response:
        actor = self.actor()
        now = draft_now(actor, id_)
        others = tuple(
            membership for membership in now.memberships if membership.group_id != group_id
        )
        if wanted is None and len(others) == len(now.memberships):
            raise NotFound.of("membership.not_found")
        more: tuple[Any, ...] = (wanted,) if wanted else ()
        draft = replace(now, memberships=(*others, *more))
        save_many(actor, [Wanted(id_, draft)], timezone.now(), ONE_ALONE)
        return with_version(cardholder_out(actor, id_))
