#!/usr/bin/env python
import os
import sys

from django.core.management import execute_from_command_line

from cadrin.config.keys import keep_private
from cadrin.config.threads import share_fairly

if __name__ == "__main__":
    keep_private()
    share_fairly()
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "cadrin.config.settings")
    execute_from_command_line(sys.argv)
