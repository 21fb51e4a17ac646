"""The type of what queries give to be shown."""

from collections.abc import Mapping, Sequence
from typing import Any

Rows = Sequence[Mapping[str, Any]]
