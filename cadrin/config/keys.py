"""The keys that Cadrin keeps beside its database, and the folder they lie in: for nobody else's
eyes.
"""

import os
import secrets
from collections.abc import Callable
from pathlib import Path

from cryptography.fernet import Fernet

SECRET, SEALING, STANDINS = "secret.key", "sealing.key", "standins.key"
MAKERS: dict[str, Callable[[], str]] = {
    SECRET: lambda: secrets.token_urlsafe(50),
    SEALING: lambda: Fernet.generate_key().decode(),
    STANDINS: lambda: secrets.token_urlsafe(32),
}


def keep_private() -> None:
    """Let whatever this process writes be readable by nobody else."""
    os.umask(0o077)


def kept_key(folder: Path, name: str) -> str:
    """Return a key that was made before, or nothing. Reading never makes one."""
    file = folder / name
    return file.read_text().strip() if file.exists() else ""


def make_key(folder: Path, name: str) -> bool:
    """Make a key unless there is one, and say whether it was made.

    The file appears whole or not at all, and of two processes at once one makes it.
    """
    draft = folder / f".{name}.{secrets.token_hex(6)}"
    try:
        with os.fdopen(os.open(draft, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as file:
            file.write(MAKERS[name]())
            file.flush()
            os.fsync(file.fileno())
        os.link(draft, folder / name)
    except FileExistsError:
        return False
    finally:
        draft.unlink(missing_ok=True)
    return True


def close_to_others(folder: Path) -> None:
    """Make the folder if need be, and take every right of others from it and all that
    lies in it.
    """
    folder.mkdir(parents=True, exist_ok=True)
    folder.chmod(0o700)
    for path in folder.rglob("*"):
        if not path.is_symlink():
            path.chmod(0o700 if path.is_dir() else 0o600)
