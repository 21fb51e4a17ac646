import os

from hypothesis import settings

# Both cores may be busy: a slow moment is no failure. On CI the same cases run every time.
settings.register_profile("cadrin", deadline=None, derandomize="CI" in os.environ)
settings.load_profile("cadrin")
