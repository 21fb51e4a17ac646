"""The API as its two descriptions have it: for scripts, and for the screen."""

import json
from pathlib import Path
from typing import Any

from django.conf import settings

FOR_SCRIPTS = Path("openapi.json")
FOR_THE_SCREEN = Path("web", "src", "api", "screen.json")
PREFIX = "/api/v1"


def described(file: Path) -> dict[str, Any]:
    """Return one of the descriptions."""
    found: dict[str, Any] = json.loads(Path(settings.ROOT, file).read_text())
    return found


def every_path() -> dict[str, dict[str, Any]]:
    """Return the methods of every path there is."""
    found: dict[str, dict[str, Any]] = described(FOR_THE_SCREEN)["paths"]
    for path, methods in described(FOR_SCRIPTS)["paths"].items():
        found[f"{PREFIX}{path}"] = methods
    return found
