"""What comes in and goes out about bulk changes."""

from typing import Any

from rest_framework import serializers

from cadrin.bulk.drafts import BulkDraft
from cadrin.bulk.models import BulkState
from cadrin.core.bulk import BulkAct, LeftAlone
from cadrin.core.validity import Span, Standing
from cadrin.operators.rest.base import ProblemShape, Shape, WholeField
from cadrin.register.rest.shapes import SelectionShape
from cadrin.sites.rest.fields import SiteEndField, SiteInstantField


class BulkChangeShape(SelectionShape):
    """One act on many: ``id`` for a department, company, kind or group; ``standing`` or ``instant``
    for those acts. People are put into a group from ``activation_at`` until ``expiry_at``.
    """

    act = serializers.ChoiceField(choices=[a.value for a in BulkAct if a is not BulkAct.UNDO])
    id = WholeField(allow_null=True, default=None)
    standing = serializers.ChoiceField(
        choices=[s.value for s in Standing], default=Standing.ACTIVE.value
    )
    instant = SiteEndField(allow_null=True, default=None)
    reason = serializers.CharField(allow_blank=True, default="")
    activation_at = SiteInstantField(allow_null=True, default=None)
    expiry_at = SiteEndField(allow_null=True, default=None)


def bulk_draft(given: dict[str, Any]) -> BulkDraft:
    """Return the draft that was sent."""
    act = BulkAct(given["act"])
    if act is BulkAct.STANDING:
        return BulkDraft(act, given["standing"], given["reason"])
    if act is BulkAct.EXPIRY:
        return BulkDraft(act, given["instant"].isoformat() if given["instant"] else None)
    if act is BulkAct.ADD_GROUP:
        span = Span(given["activation_at"], given["expiry_at"])
        return BulkDraft(act, given["id"], span=span)
    return BulkDraft(act, given["id"])


class LeftAloneShape(Shape):
    why = serializers.ChoiceField(choices=[w.value for w in LeftAlone])
    count = serializers.IntegerField()
    examples = serializers.ListField(child=serializers.CharField())


class BulkPreviewShape(Shape):
    problems = ProblemShape(many=True)
    total = serializers.IntegerField()
    changed = serializers.IntegerField()
    left_alone = LeftAloneShape(many=True)
    records = serializers.IntegerField()
    doors = serializers.ListField(child=serializers.IntegerField())


class BegunBulkChange(Shape):
    id = serializers.IntegerField()


class BulkProgress(Shape):
    """A batch as far as it has come."""

    id = serializers.IntegerField()
    operator_name = serializers.CharField()
    at = serializers.DateTimeField()
    act = serializers.ChoiceField(choices=[a.value for a in BulkAct])
    undone_act = serializers.CharField(allow_null=True)
    value = serializers.CharField(allow_null=True)
    value_name = serializers.CharField()
    total = serializers.IntegerField()
    done = serializers.IntegerField()
    changed = serializers.IntegerField()
    state = serializers.ChoiceField(choices=BulkState.values)
    can_be_undone = serializers.BooleanField()
    left_alone = LeftAloneShape(many=True)
