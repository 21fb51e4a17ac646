"""The manual: the texts that lie in the project's folder, as pages that a browser shows."""

from functools import cache
from pathlib import Path

import markdown
from django.conf import settings
from django.http import FileResponse, Http404, HttpRequest, HttpResponse, HttpResponseBase
from django.shortcuts import render
from django.utils.safestring import mark_safe
from django.views.decorators.http import require_safe

FIRST = "README.md"
PAGES = (FIRST, "CHANGELOG.md", "LICENSE", "openapi.json", "docs/*.md", "docs/screenshots/*.png")


@cache
def pages() -> dict[str, Path]:
    """Everything there is to read, by its address: nothing else is ever served."""
    root = Path(settings.ROOT)
    return {str(file.relative_to(root)): file for pattern in PAGES for file in root.glob(pattern)}


@require_safe
def manual(request: HttpRequest, name: str = FIRST) -> HttpResponseBase:
    """Show a page of the manual, or one of its pictures; links between pages are relative."""
    file = pages().get(name)
    if file is None:
        raise Http404
    if file.suffix != ".md":
        content_type = None if file.suffix else "text/plain; charset=utf-8"
        return FileResponse(file.open("rb"), content_type=content_type)
    return _page(request, file)


def _page(request: HttpRequest, file: Path) -> HttpResponse:
    text = file.read_text(encoding="utf-8")
    shown = markdown.markdown(text, extensions=["extra", "toc", "sane_lists"])
    title = text.partition("\n")[0].lstrip("# ")
    body = mark_safe(shown)  # noqa: S308, our own text, not an operator's
    return render(request, "manual.html", {"title": title, "body": body, "first": FIRST})
