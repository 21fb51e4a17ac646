"""The logic that stays in the front end, called in Chromium without a screen."""

import subprocess
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from django.conf import settings
from playwright.sync_api import Page

from tests.browser.base import browser

TIMES = 300
CALL_ALL = "([name, calls]) => calls.map((given) => logic[name](...given) ?? null)"


@cache
def _page() -> Page:
    """Open a page with nothing but the logic in it."""
    with TemporaryDirectory() as folder:
        subprocess.run(
            ["npx", "--no-install", "vite", "build", "--config", "vite.logic.config.ts",
             "--outDir", folder, "--emptyOutDir", "--logLevel", "warn"],
            cwd=Path(settings.ROOT, "web"), check=True, capture_output=True,
        )  # fmt: skip
        script = Path(folder, "logic.js").read_text()
    page = browser().new_page()
    page.add_script_tag(content=script)
    return page


def called(name: str, calls: list[list[Any]]) -> list[Any]:
    """Return what the function answers to each call; what is undefined is None."""
    found: list[Any] = _page().evaluate(CALL_ALL, [name, calls])
    return found
