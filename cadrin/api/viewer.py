"""The description of the API and a page to read it, for whoever is signed in."""

from drf_spectacular.views import SpectacularJSONAPIView, SpectacularSwaggerSplitView
from rest_framework.permissions import IsAuthenticated

from cadrin.api.description import SETTINGS


class DescriptionView(SpectacularJSONAPIView):
    """The description, for whoever is signed in."""

    permission_classes = (IsAuthenticated,)
    urlconf = "cadrin.api.urls"
    custom_settings = dict(SETTINGS)


class Viewer(SpectacularSwaggerSplitView):
    """A page on which the description is read and tried, for whoever is signed in."""

    permission_classes = (IsAuthenticated,)
    url_name = "api-description"
    template_name = "api/viewer.html"
