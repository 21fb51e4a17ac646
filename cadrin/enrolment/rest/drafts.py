"""What an operator typed and did not save, over HTTP."""

import json
from typing import Any, ClassVar

from django.utils import timezone
from drf_spectacular.utils import extend_schema
from rest_framework import serializers, status
from rest_framework.request import Request
from rest_framework.response import Response

from cadrin.enrolment.commands.drafts import (
    TypedDraft,
    Whose,
    draft_for,
    drafts_of,
    drop_draft,
    keep_draft,
)
from cadrin.enrolment.models import KeptDraft
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import HouseView, Shape

LARGEST_BYTES = 100_000
SEE = Permission.SEE


class AnyObject(serializers.DictField):
    """An object as the page wrote it, of a bounded size: only the page reads it again."""

    def to_internal_value(self, data: Any) -> dict[Any, Any]:
        found: dict[Any, Any] = super().to_internal_value(data)
        if len(json.dumps(found)) > LARGEST_BYTES:
            self.fail("not_a_dict", input_type="text")
        return found


class TypedDraftShape(Shape):
    core_judges_texts: ClassVar = True  # when it is saved

    name = serializers.CharField(allow_blank=True, max_length=310)
    base = AnyObject()
    draft = AnyObject()


class KeptDraftShape(TypedDraftShape):
    typed_at = serializers.DateTimeField()


class FoundDraft(Shape):
    """The draft, if there is one."""

    kept = KeptDraftShape(allow_null=True)


class DraftRow(Shape):
    """A draft; ``cardholder`` is null for somebody new, of whom ``key`` tells which."""

    cardholder = serializers.IntegerField(allow_null=True)
    key = serializers.CharField()
    name = serializers.CharField()
    typed_at = serializers.DateTimeField()


def _shown(kept: KeptDraft) -> dict[str, Any]:
    return {"name": kept.name, "base": kept.base, "draft": kept.draft, "typed_at": kept.typed_at}


class Drafts(HouseView):
    """An operator's own drafts."""

    needs: ClassVar = {"GET": SEE}

    @extend_schema(responses=DraftRow(many=True))
    def get(self, request: Request) -> Response:
        rows = drafts_of(self.actor())
        return Response(
            [
                {
                    "cardholder": row.cardholder_id,
                    "key": row.key,
                    "name": row.name,
                    "typed_at": row.typed_at,
                }
                for row in rows
            ]
        )


class _Draft(HouseView):
    def kept(self, whose: Whose) -> Response:
        kept = draft_for(self.actor(), whose)
        return Response({"kept": _shown(kept) if kept else None})

    def keep(self, whose: Whose, request: Request) -> Response:
        typed = TypedDraft(**self.given(TypedDraftShape, request))
        keep_draft(self.actor(), whose, typed, timezone.now())
        return Response(status=status.HTTP_204_NO_CONTENT)

    def drop(self, whose: Whose) -> Response:
        drop_draft(self.actor(), whose)
        return Response(status=status.HTTP_204_NO_CONTENT)


class OneDraft(_Draft):
    """An operator's own draft of a cardholder."""

    needs: ClassVar = {"GET": SEE, "PUT": Permission.EDIT, "DELETE": Permission.EDIT}

    @extend_schema(responses=FoundDraft)
    def get(self, request: Request, id: int) -> Response:
        return self.kept(Whose(id))

    @extend_schema(request=TypedDraftShape, responses={204: None})
    def put(self, request: Request, id: int) -> Response:
        return self.keep(Whose(id), request)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, id: int) -> Response:
        return self.drop(Whose(id))


class NewDraft(_Draft):
    """An operator's own draft of somebody new."""

    needs: ClassVar = {"GET": Permission.ENROL, "PUT": Permission.ENROL, "DELETE": Permission.ENROL}

    @extend_schema(responses=FoundDraft)
    def get(self, request: Request, key: str) -> Response:
        return self.kept(Whose(None, key))

    @extend_schema(request=TypedDraftShape, responses={204: None})
    def put(self, request: Request, key: str) -> Response:
        return self.keep(Whose(None, key), request)

    @extend_schema(request=None, responses={204: None})
    def delete(self, request: Request, key: str) -> Response:
        return self.drop(Whose(None, key))
