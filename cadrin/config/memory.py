"""How a process looks for objects that refer to each other and that nobody needs any more."""

import gc

OBJECTS_BETWEEN_LOOKS = 50_000


def look_seldom() -> None:
    """Let a process that serves look through its objects seldom, and never at what it began with.

    An act on many makes hundreds of thousands of objects that all go with its end. By default they
    are looked through a hundred times meanwhile, with all that was loaded before: a sixth of the
    time such an act takes.
    """
    gc.collect()
    gc.freeze()
    gc.set_threshold(OBJECTS_BETWEEN_LOOKS, 20, 20)
