"""The key by which a controller and Cadrin know each other."""

from base64 import urlsafe_b64encode

from cryptography.fernet import Fernet

from cadrin.operators.sealing import unseal
from cadrin.sites.models import Controller


def key_of_controller(controller_id: int) -> bytes:
    """Return a controller's key. Raises Invalid when it cannot be unsealed."""
    sealed = Controller.objects.values_list("sealed_key", flat=True).get(pk=controller_id)
    return bytes.fromhex(unseal(sealed))


def seal_between(key: bytes) -> Fernet:
    """Return what a controller seals with whatever only Cadrin may read, such as what is typed at a
    desk.
    """
    return Fernet(urlsafe_b64encode(key))
