import os
import sys

import django

from cadrin.config.keys import keep_private
from cadrin.config.memory import look_seldom
from cadrin.config.threads import share_fairly
from cadrin.config.whole import InOnePiece

keep_private()
share_fairly()
os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cadrin.config.settings")
django.setup(set_prefix=False)
application = InOnePiece()

from cadrin.accounts.sealed import problem_with_keys  # noqa: E402 - the apps must be loaded before

if problem := problem_with_keys():
    sys.exit(problem)
look_seldom()
