"""The description of the API for scripts (OpenAPI), and its viewer."""

import json
import re
from collections.abc import Mapping
from typing import Any

from drf_spectacular.utils import OpenApiParameter

from cadrin.config.openapi import REFUSALS, Schema
from cadrin.operators.rest.base import ProblemDetails

TAGS = {
    "Cardholders": "People, and all that opens doors for them.",
    "Cards": "Cards, in somebody's hands and in stock.",
    "Access": "Access groups and schedules.",
    "Departments and lists": "What is chosen for a cardholder.",
    "Lists": "Files of other systems that become cardholders.",
    "Doors and devices": "Sites, doors, readers and controllers.",
    "Events": "Reads at doors, and the journal.",
}
"""Headings, in the order of the work."""
WORDS = """
Signing in: `Authorization: Bearer …`, with a token from *Setup, Operators*.

Lists come in pages: `limit` items, and `next` is the `cursor` of the page after. Unknown names, in
a query or a body, are refused. A resource with a `version` tells it as `ETag` too; a change names
the version it is for, in the body or in `If-Match`, and is refused when somebody else was faster.
A POST with an `Idempotency-Key` is done once, however often it is sent within a day. Paths are the
same with and without a slash at their end. Every refusal is a problem document (RFC 9457), each
problem with a code and its field.
"""
VERBS = {
    "GET": "get",
    "POST": "create",
    "PUT": "replace",
    "PATCH": "change",
    "DELETE": "remove",
}
IF_MATCH = OpenApiParameter(
    "If-Match", str, OpenApiParameter.HEADER, description="The version that the change is for."
)
IDEMPOTENCY_KEY = OpenApiParameter(
    "Idempotency-Key", str, OpenApiParameter.HEADER, description="Any text that is used once."
)


class Description(Schema):
    """Summaries are the first lines of the methods; tags are the views'."""

    view: Any

    def get_operation_id(self) -> str:
        """Return a name such as ``list_cards`` or ``change_cards``, by which clients are made."""
        *_, noun = (part for part in self.path.split("/") if part and "{" not in part)
        verb = (
            "list" if self.method == "GET" and not self.path.endswith("}") else VERBS[self.method]
        )
        return f"{verb}_{noun}".replace("-", "_")

    def get_tags(self) -> list[str]:
        return [self.view.tag]

    def get_summary(self) -> str:
        return self._words()[0].rstrip(".")

    def get_description(self) -> str:  # type: ignore[override]
        needed = self.view.needs[self.method]
        return f"{self._words()[1]}\n\nNeeds the permission `{needed.value}`.".strip()

    def _words(self) -> tuple[str, str]:
        told = getattr(self.view, self.method.lower()).__doc__ or ""
        first, _, rest = told.strip().partition("\n")
        return first, " ".join(rest.split())

    def get_override_parameters(self) -> list[Any]:
        given: list[Any] = super().get_override_parameters()
        if self.method == "POST":
            return [*given, IDEMPOTENCY_KEY]
        return [*given, IF_MATCH] if self.method in ("PUT", "PATCH") else given

    def _map_serializer_field(
        self, field: Any, direction: Any, bypass_extensions: bool = False
    ) -> Any:
        mapped: Any = super()._map_serializer_field
        found = mapped(field, direction, bypass_extensions)
        example = field.style.get("example")
        return found if example is None or found is None else {**found, "example": example}


def with_words(result: dict[str, Any], generator: Any, request: Any, public: bool) -> Any:
    """Give the description its headings, plain names, and each refusal one place."""
    refusals = {str(code): _refusal(words) for code, words in REFUSALS.items()}
    for operations in result["paths"].values():
        for method, operation in operations.items():
            _refer(operation["responses"], refusals, method in ("put", "patch"))
            for parameter in operation.get("parameters", ()):
                # the viewer would ask for all of them at once
                parameter["schema"].pop("example", None)
    text = json.dumps(result, default=str)
    named: dict[str, Any] = json.loads(re.sub(r'Shape(?=Request|"|Page)', "", text))
    named["tags"] = [{"name": name, "description": words} for name, words in TAGS.items()]
    named["components"]["responses"] = refusals
    return named


def _refusal(words: str) -> dict[str, Any]:
    schema = {"$ref": f"#/components/schemas/{ProblemDetails.__name__}"}
    return {"description": words, "content": {"application/problem+json": {"schema": schema}}}


def _refer(answers: dict[str, Any], refusals: Mapping[str, Any], has_version: bool) -> None:
    if has_version:
        answers["412"] = None
    for code in answers.keys() & refusals.keys():
        answers[code] = {"$ref": f"#/components/responses/{code}"}


SETTINGS: Mapping[str, Any] = {
    "TITLE": "Cadrin",
    "VERSION": "1",
    "DESCRIPTION": WORDS.strip(),
    "SERVERS": [{"url": "/api/v1"}],
    "SCHEMA_PATH_PREFIX": "",
    "AUTHENTICATION_WHITELIST": ["cadrin.operators.rest.authentication.Token"],
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "cadrin.config.openapi.answers_are_whole",
        "cadrin.api.description.with_words",
    ],
    "PREPROCESSING_HOOKS": [],
}
