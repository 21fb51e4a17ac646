"""The description of the API and a page to read it, for whoever is signed in."""

from typing import ClassVar

from drf_spectacular.views import SpectacularJSONAPIView, SpectacularSwaggerSplitView
from rest_framework.response import Response

from cadrin.api.description import SETTINGS
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.permissions import NamesItsPermission
from cadrin.operators.rest.rendering import FastJSONRenderer


class DescriptionView(SpectacularJSONAPIView):
    """The description."""

    needs: ClassVar = {"GET": Permission.SEE}
    permission_classes = (NamesItsPermission,)
    urlconf = "cadrin.api.urls"
    custom_settings = dict(SETTINGS)


class Viewer(SpectacularSwaggerSplitView):
    """A page on which the description is read and tried."""

    needs: ClassVar = {"GET": Permission.SEE}
    permission_classes = (NamesItsPermission,)
    url_name = "api-description"
    template_name = "api/viewer.html"

    def handle_exception(self, exc: Exception) -> Response:
        answer: Response = super().handle_exception(exc)
        # a refusal is no page
        self.request.accepted_renderer = FastJSONRenderer()
        return answer
