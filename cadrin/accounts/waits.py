"""Who gave wrong passwords waits, longer each time; whether the name is an operator's makes no difference."""

from datetime import datetime

from django.utils.crypto import salted_hmac

from cadrin.core.errors import Invalid
from cadrin.core.sign_in import COUNTED_FOR, wait_after
from cadrin.operators.models import SignInTries


def require_no_wait(username: str, at: datetime) -> None:
    """Raise Invalid while nobody is let in under a name."""
    tries = SignInTries.objects.filter(name_digest=_digest(username), last_at__gt=at - COUNTED_FOR).first()
    if tries and at < (until := tries.last_at + wait_after(tries.failures)):
        raise Invalid.of("operator.must_wait", "password", seconds=int((until - at).total_seconds()) + 1)


def note_failure(username: str, at: datetime) -> None:
    SignInTries.objects.filter(last_at__lte=at - COUNTED_FOR).delete()
    tries = SignInTries.objects.filter(name_digest=_digest(username)).first()
    tries = tries or SignInTries(name_digest=_digest(username), failures=0)
    tries.failures, tries.last_at = tries.failures + 1, at
    tries.save()


def forget_failures(username: str) -> None:
    SignInTries.objects.filter(name_digest=_digest(username)).delete()


def _digest(username: str) -> str:
    # what is typed as a name is now and then a password
    return salted_hmac("cadrin.sign-in", username.casefold(), algorithm="sha256").hexdigest()
