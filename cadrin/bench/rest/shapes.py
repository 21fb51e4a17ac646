"""What comes in and goes out about the test bench."""

from rest_framework import serializers

from cadrin.activity.rest.shapes import REASONS
from cadrin.biometrics.rest.shapes import FINGERS
from cadrin.core.doors.rules import Lock
from cadrin.core.made_up.laying import Laid
from cadrin.core.made_up.showing import FaceShown
from cadrin.operators.rest.base import Shape, WholeField

LOCKS = [lock.value for lock in Lock]
HOW_SHOWN = [shown.value for shown in FaceShown]
HOW_LAID = [laid.value for laid in Laid]


class BenchReader(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    has_keypad = serializers.BooleanField()
    has_camera = serializers.BooleanField()
    has_finger_scanner = serializers.BooleanField()
    has_face_reader = serializers.BooleanField()


class BenchDoor(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    lock = serializers.ChoiceField(choices=LOCKS)
    is_open = serializers.BooleanField()
    has_exit_button = serializers.BooleanField()


class DoorMove(Shape):
    """What somebody does to a door by hand."""

    move = serializers.ChoiceField(choices=["open", "shut", "button"])


class BenchController(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    is_desk = serializers.BooleanField()
    is_on = serializers.BooleanField()
    delay_seconds = serializers.FloatField()
    clock_off_seconds = serializers.IntegerField()
    held = serializers.IntegerField()
    capacity = serializers.IntegerField(allow_null=True)
    readers = BenchReader(many=True)
    doors = BenchDoor(many=True)


class BenchLetter(Shape):
    at = serializers.DateTimeField()
    to = serializers.CharField()
    subject = serializers.CharField()


class BenchMail(Shape):
    """The mail server among the stand-ins, and the newest letters it took."""

    is_on = serializers.BooleanField()
    letters = BenchLetter(many=True)


class MailSwitch(Shape):
    is_on = serializers.BooleanField()


class Box(Shape):
    """A controller that was taken out of its box and waits to be taken in."""

    number = serializers.IntegerField()


class Bench(Shape):
    controllers = BenchController(many=True)
    boxes = serializers.ListField(child=serializers.IntegerField(), allow_null=True)
    mail = BenchMail(allow_null=True)


class FingerToLay(Shape):
    """A made-up finger of a cardholder, or of nobody, and how it is laid."""

    cardholder = WholeField(default=None, allow_null=True)
    finger = serializers.ChoiceField(choices=FINGERS)
    how = serializers.ChoiceField(choices=HOW_LAID, default=Laid.WELL.value)


class FaceToShow(Shape):
    """A made-up face of a cardholder, or a stranger's, and how it is shown."""

    cardholder = WholeField(default=None, allow_null=True)
    how = serializers.ChoiceField(choices=HOW_SHOWN, default=FaceShown.AS_IT_IS.value)


class CardToShow(Shape):
    """A card shown to a reader: by its numbers, or by raw bits as they are written, ``26:2F764DD``.

    ``typed`` is what is typed at its keypad, ``plate`` what its camera sees, with the card or
    alone.
    """

    reader = WholeField()
    raw = serializers.CharField(default="", allow_blank=True, max_length=70)
    format = WholeField(default=None, allow_null=True)
    facility_code = WholeField(default=None, allow_null=True)
    card_number = WholeField(default=None, allow_null=True)
    issue_level = WholeField(default=None, allow_null=True)
    typed = serializers.CharField(default=None, allow_null=True, max_length=20)
    plate = serializers.CharField(default=None, allow_null=True, max_length=20)
    finger = FingerToLay(default=None, allow_null=True)
    face = FaceToShow(default=None, allow_null=True)


class Shown(Shape):
    """What happened at the door; ``is_on`` false means that the controller is off and nothing
    happened.
    """

    is_on = serializers.BooleanField()
    reason = serializers.ChoiceField(choices=REASONS, allow_null=True)
    name = serializers.CharField()
    open_seconds = serializers.IntegerField()


class Switch(Shape):
    is_on = serializers.BooleanField(required=False)
    delay_seconds = serializers.FloatField(required=False, min_value=0, max_value=60)
    clock_off_seconds = WholeField(required=False, min_value=-86400, max_value=86400)
