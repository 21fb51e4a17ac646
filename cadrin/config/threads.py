"""How the threads of one process share it."""

import sys

SWITCH_SECONDS = 0.0005


def share_fairly() -> None:
    """Let threads take turns ten times as often as by default.

    A save is some forty short statements. After each, its thread waits until the interpreter is
    free again: beside threads that compute, that is the whole interval, five milliseconds by
    default, forty times and more for one save and with the writer's turn held all the while. That,
    and not the database, was the limit of saves a second; and in the worker what is urgent at one
    controller waits so for the turns of all others.
    """
    sys.setswitchinterval(SWITCH_SECONDS)
