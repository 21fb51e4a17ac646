"""What goes out about consequences, the list of cardholders, and deliveries."""

from rest_framework import serializers

from cadrin.access.rest.shapes import GroupShape
from cadrin.activity.rest.shapes import REASONS
from cadrin.core.access.readiness import Gap, Need
from cadrin.core.credentials.factors import Factor
from cadrin.core.people.duplicates import Sign
from cadrin.core.records.cardholders import Cut
from cadrin.core.records.states import RecordState
from cadrin.core.validity import State
from cadrin.credentials.rest.shapes import CardIdentityShape
from cadrin.delivery.incident_kinds import IncidentKind
from cadrin.enrolment.rest.shapes import CardholderShape
from cadrin.operators.rest.base import ProblemShape, Shape, WholeField
from cadrin.sites.rest.fields import SiteInstantField

STATES = [s.value for s in State]
GAPS = [g.value for g in Gap]
DELIVERY_STATES = [s.value for s in RecordState]


class DraftToPreview(CardholderShape):
    """A draft whose consequences are asked for. ``id`` is the cardholder's, null for a new one."""

    id = WholeField(allow_null=True, default=None)
    as_of = SiteInstantField(allow_null=True, default=None)


class ReadinessShape(Shape):
    need = serializers.ChoiceField(choices=[n.value for n in Need])
    gap = serializers.ChoiceField(choices=GAPS, allow_null=True)


class OpenSpan(Shape):
    start = serializers.DateTimeField()
    end = serializers.DateTimeField()


class DoorReachShape(Shape):
    door = serializers.IntegerField()
    is_open = serializers.BooleanField()
    reason = serializers.ChoiceField(choices=REASONS)
    group = serializers.IntegerField(allow_null=True)
    changes_at = serializers.DateTimeField(allow_null=True)
    open_spans = OpenSpan(many=True)
    reason_out = serializers.ChoiceField(choices=REASONS, allow_null=True)
    open_spans_out = OpenSpan(many=True)


class ToSendShape(Shape):
    """What saving would send: ``left_out`` are cards that would work and for which the controller
    has no room.
    """

    controller = serializers.IntegerField()
    act = serializers.ChoiceField(choices=["put", "remove"])
    is_silent = serializers.BooleanField()
    records = serializers.IntegerField()
    most_cards = serializers.IntegerField(allow_null=True)
    left_out = CardIdentityShape(many=True)
    cut = serializers.ListField(child=serializers.ChoiceField(choices=[c.value for c in Cut]))
    latest = serializers.DateTimeField(allow_null=True)
    longest_days = serializers.IntegerField(allow_null=True)
    most_memberships = serializers.IntegerField(allow_null=True)
    schedules_left_out = serializers.ListField(child=serializers.IntegerField())
    is_full = serializers.BooleanField()
    lets_somebody_go = serializers.BooleanField()
    in_place_of = serializers.CharField()
    is_without_templates = serializers.BooleanField()


class ChangesShape(Shape):
    """Doors by what happens to them."""

    problems = ProblemShape(many=True)
    gained = serializers.ListField(child=serializers.IntegerField())
    lost = serializers.ListField(child=serializers.IntegerField())
    other_hours = serializers.ListField(child=serializers.IntegerField())
    to_send = ToSendShape(many=True)


class DuplicateShape(Shape):
    """Somebody who may be the same human being, and what speaks for it."""

    id = serializers.IntegerField()
    number = serializers.CharField()
    display_name = serializers.CharField()
    department_name = serializers.CharField(allow_null=True)
    signs = serializers.ListField(child=serializers.ChoiceField(choices=[s.value for s in Sign]))


class WaysOutShape(Shape):
    """Ways out by what happens to them, where they ask for something else than the ways in."""

    gained = serializers.ListField(child=serializers.IntegerField())
    lost = serializers.ListField(child=serializers.IntegerField())
    other_hours = serializers.ListField(child=serializers.IntegerField())


class MeetingShape(Shape):
    """Two groups, and the doors to which both lead."""

    one = serializers.IntegerField()
    other = serializers.IntegerField()
    doors = serializers.ListField(child=serializers.IntegerField())


class CardholderPreviewShape(ChangesShape):
    meetings = MeetingShape(many=True)
    ways_out = WaysOutShape()
    possible_duplicates = DuplicateShape(many=True)
    state = serializers.ChoiceField(choices=[s.value for s in State])
    state_until = serializers.DateTimeField(allow_null=True)
    expired_at = serializers.DateTimeField(allow_null=True)
    readiness = ReadinessShape(many=True)
    as_of = serializers.DateTimeField()
    week = OpenSpan()
    reach = DoorReachShape(many=True)


class GroupToPreview(GroupShape):
    id = WholeField(allow_null=True, default=None)


class GroupPreviewShape(ChangesShape):
    """``same_as`` are the groups that give the same rights already."""

    people = serializers.IntegerField()
    joining = serializers.IntegerField()
    leaving = serializers.IntegerField()
    same_as = serializers.ListField(child=serializers.IntegerField())


class NotHeldShape(Shape):
    waiting = serializers.IntegerField()
    sent = serializers.IntegerField()
    refused = serializers.IntegerField()
    adrift = serializers.IntegerField()


class CountsShape(NotHeldShape):
    held = serializers.IntegerField()


class IncidentShape(Shape):
    """Something that happened with a controller; ``detail`` names records, an error, or what could
    not be read.
    """

    kind = serializers.ChoiceField(choices=IncidentKind.values)
    detail = serializers.CharField()
    count = serializers.IntegerField()
    first_at = serializers.DateTimeField()
    last_at = serializers.DateTimeField()


class LineShape(Shape):
    """The line to a controller: ``is_late`` when nothing was heard of it for long, ``incidents`` are
    those of the last day.

    ``still_works`` counts people of whom it holds an older record though something was taken from
    them, ``left_out`` those who have a card that would work and for which it has no room.
    """

    id = serializers.IntegerField()
    name = serializers.CharField()
    is_desk = serializers.BooleanField()
    counts = NotHeldShape()
    answered_at = serializers.DateTimeField(allow_null=True)
    failed_at = serializers.DateTimeField(allow_null=True)
    failure = serializers.CharField()
    clock_off_seconds = serializers.IntegerField()
    is_clock_kept = serializers.BooleanField()
    is_paused = serializers.BooleanField()
    sends_by = serializers.IntegerField(allow_null=True)
    is_held_back = serializers.BooleanField()
    capacity = serializers.IntegerField(allow_null=True)
    is_late = serializers.BooleanField()
    still_works = serializers.IntegerField()
    left_out = serializers.IntegerField()
    without_templates = serializers.IntegerField()
    schedules_left_out = serializers.ListField(child=serializers.CharField())
    incidents = IncidentShape(many=True)


class ControllerShape(LineShape):
    """A controller, its line, and what it holds."""

    doors = serializers.ListField(child=serializers.CharField())
    counts = CountsShape()
    found_people = serializers.IntegerField()


class RecordShape(Shape):
    id = serializers.IntegerField()
    kind = serializers.CharField()
    subject_id = serializers.IntegerField()
    name = serializers.CharField()
    is_to_be_removed = serializers.BooleanField()
    is_there = serializers.BooleanField()
    state = serializers.ChoiceField(choices=DELIVERY_STATES)
    refusal = serializers.CharField()
    changed_at = serializers.DateTimeField()
    still_works = serializers.BooleanField()


class CardholderDelivery(Shape):
    """A cardholder's record at one controller; ``keeps`` are the factors of which it keeps what
    somebody has.
    """

    controller_id = serializers.IntegerField()
    name = serializers.CharField()
    state = serializers.ChoiceField(choices=DELIVERY_STATES)
    refusal = serializers.CharField()
    changed_at = serializers.DateTimeField()
    failed_at = serializers.DateTimeField(allow_null=True)
    still_works = serializers.BooleanField()
    left_out = CardIdentityShape(many=True)
    is_without_templates = serializers.BooleanField()
    keeps = serializers.ListField(
        child=serializers.ChoiceField(choices=[factor.value for factor in Factor])
    )


class DeliveryOfCardholder(Shape):
    """``is_pending`` while an act was not yet turned into records; ``worker_stopped_at`` when
    nothing turns any.
    """

    is_pending = serializers.BooleanField()
    records = CardholderDelivery(many=True)
    not_held = serializers.IntegerField()
    worker_stopped_at = serializers.DateTimeField(allow_null=True)


class SendingShape(Shape):
    """When what people gain is sent to a controller: not while it is paused, and in the hours of a
    schedule; null for at once.
    """

    is_paused = serializers.BooleanField()
    schedule = WholeField(allow_null=True, default=None)


class ClockShape(Shape):
    """Whether a controller's clock is set right whenever it is off."""

    is_kept = serializers.BooleanField()
