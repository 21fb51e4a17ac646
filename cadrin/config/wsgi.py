import os
import sys

from django.core.wsgi import get_wsgi_application

from cadrin.config.keys import keep_private
from cadrin.config.memory import look_seldom
from cadrin.config.threads import share_fairly

keep_private()
share_fairly()
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cadrin.config.settings")
application = get_wsgi_application()

from cadrin.accounts.sealed import problem_with_keys  # noqa: E402 - the apps must be loaded before

if problem := problem_with_keys():
    sys.exit(problem)
look_seldom()
