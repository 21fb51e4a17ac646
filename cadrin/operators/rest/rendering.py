from collections.abc import Mapping
from typing import Any

import orjson
from rest_framework.renderers import JSONRenderer


class FastJSONRenderer(JSONRenderer):
    """JSON by orjson: several times as fast where a list of cardholders is shown."""

    def render(
        self,
        data: Any,
        accepted_media_type: str | None = None,
        renderer_context: Mapping[str, Any] | None = None,
    ) -> bytes:
        return b"" if data is None else orjson.dumps(data, default=str)
