"""Locks between processes, held by the system: whoever ends, however, lets go."""

import fcntl
from pathlib import Path
from typing import IO


def hold(path: Path) -> IO[bytes] | None:
    """Return an open file that holds the lock until it is closed, or None when another process
    holds it.
    """
    file = path.open("ab")
    try:
        fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except BlockingIOError:
        file.close()
        return None
    return file
