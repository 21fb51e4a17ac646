"""What every view of the house has in common."""

import threading
from collections.abc import Mapping
from typing import Any, ClassVar, Self, cast

from django.conf import settings
from django.http import Http404, HttpRequest
from rest_framework import serializers
from rest_framework.request import Request
from rest_framework.views import APIView

from cadrin.core.errors import Invalid, Problem
from cadrin.core.texts import fields_with_invisible
from cadrin.operators.actor import Actor, actor_of
from cadrin.operators.permissions import Permission

SECRETS = frozenset({"password", "present", "new", "code", "token"})
"""What is compared and never shown."""
LARGEST_WHOLE = 2**62
"""Larger than any number of the trade, and still one that the database can hold."""


class Shape(serializers.Serializer[Any]):
    """The shape of something that comes in or goes out.

    Texts with characters that nobody sees are refused here, unless the core judges them with all
    the rest.
    """

    core_judges_texts: ClassVar = False

    @classmethod
    def ready(cls) -> Self:
        """Return one that this thread has made before, to ask for its fields and to read by: to make
        its fields takes longer than to read by them, and it keeps nothing of what it read.
        """
        made: dict[type[Shape], Shape] = _MADE.__dict__.setdefault("shapes", {})
        if cls not in made:
            made[cls] = cls()
        return cast(Self, made[cls])

    @classmethod
    def taken_from(cls, sent: Any) -> dict[str, Any]:
        """Read what was sent. Raises ValidationError."""
        return cast(dict[str, Any], cls.ready().run_validation(sent))


_MADE = threading.local()


class WholeField(serializers.IntegerField):
    """A whole number that the database can hold."""

    def __init__(self, **more: Any) -> None:
        super().__init__(**{"min_value": -LARGEST_WHOLE, "max_value": LARGEST_WHOLE, **more})


def rows_of(shape: type[Shape], most: int, **more: Any) -> Any:
    """Take a list of at most so many: whoever sends more would keep the server from
    everybody else.
    """
    return shape(many=True, max_length=most, **more)  # type: ignore[call-arg]


def told(words: str, example: Any = None, **more: Any) -> dict[str, Any]:
    """Describe a field: what it is, and an example of it."""
    return {"help_text": words, "style": {"example": example}, **more}


class ProblemShape(Shape):
    """One thing that is wrong; the screen has words for its code."""

    code = serializers.CharField(help_text="What is wrong; stays the same in every version.")
    field = serializers.CharField(
        allow_null=True, help_text="The path of the field, such as `cards.0.card_number`."
    )
    params = serializers.DictField(help_text="What belongs to it, such as the most allowed.")


class ProblemDetails(Shape):
    """Every refusal (RFC 9457): each problem with its code, its field and parameters; words are the
    screen's.
    """

    ONLY_WHEN_STALE = ("current_version", "since")

    type = serializers.CharField(help_text="`about:blank`.")
    title = serializers.CharField(help_text="The code of the first problem.")
    status = serializers.IntegerField(help_text="The status of the answer.")
    problems = ProblemShape(many=True, help_text="Everything that is wrong, at once.")
    current_version = serializers.IntegerField(help_text="When somebody else saved in between.")
    since = serializers.ListField(
        child=serializers.JSONField(), help_text="What they changed, oldest first."
    )


def address_of(request: HttpRequest) -> str:
    """Return the address a request comes from: the last that a proxy in front names, if there is
    one.
    """
    told = request.META.get("HTTP_X_FORWARDED_FOR", "") if settings.BEHIND_A_PROXY else ""
    return (told.rpartition(",")[2].strip() or request.META.get("REMOTE_ADDR", ""))[:60]


class HouseView(APIView):
    """``needs`` names the permission for each method; one that is not named is for nobody."""

    needs: ClassVar[Mapping[str, Permission]] = {}

    def initial(self, request: Request, *args: Any, **kwargs: Any) -> None:
        super().initial(request, *args, **kwargs)
        # nothing has a number that the database cannot even ask for
        if any(isinstance(kwarg, int) and kwarg > LARGEST_WHOLE for kwarg in kwargs.values()):
            raise Http404

    def actor(self) -> Actor:
        return actor_of(self.request.user, address_of(self.request._request))

    def given(self, shape: type[Shape], request: Request) -> dict[str, Any]:
        """Read the body, or the query of a GET. Raises what the one error handler
        answers with 422.
        """
        if request.method == "GET":
            if unknown := request.query_params.keys() - shape.ready().fields.keys():
                raise Invalid(Problem("request.unknown_field", name) for name in sorted(unknown))
            return shape.taken_from(request.query_params)
        values = shape.taken_from(request.data)
        self.refuse_invisible(shape, values)
        return values

    @staticmethod
    def refuse_parts(shape: type[Shape], request: Request) -> None:
        """Refuse what is not the whole: what was left out would be emptied."""
        sent = request.data if isinstance(request.data, dict) else {}
        if missing := shape.ready().fields.keys() - sent.keys():
            raise Invalid(Problem("input.required", name) for name in sorted(missing))

    @staticmethod
    def refuse_invisible(shape: type[Shape], values: dict[str, Any]) -> None:
        """Refuse texts with characters that nobody sees, unless the core judges them."""
        if shape.core_judges_texts:
            return
        found = list(fields_with_invisible({n: v for n, v in values.items() if n not in SECRETS}))
        if found:
            raise Invalid(Problem("input.invisible_characters", field) for field in found)


class Saved(Shape):
    id = serializers.IntegerField()
