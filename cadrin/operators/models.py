from typing import ClassVar

from django.contrib.auth.models import AbstractUser, UserManager
from django.db import models
from django.db.models import QuerySet
from django.utils.crypto import salted_hmac


class Role(models.Model):
    """A set of plain permissions under a name."""

    name = models.CharField(max_length=40, unique=True)
    permissions = models.JSONField(default=list)
    version = models.PositiveIntegerField(default=1)

    def __str__(self) -> str:
        return self.name


class Operators(UserManager["Operator"]):
    def get_queryset(self) -> QuerySet["Operator"]:
        # what an operator may do is asked for with every request
        return super().get_queryset().select_related("role")


class Operator(AbstractUser):
    """Somebody who works with Cadrin. What they may do is their role's word; the framework's flags
    are not used.
    """

    role = models.ForeignKey(Role, null=True, on_delete=models.PROTECT, related_name="operators")
    limited_to = models.JSONField(default=dict)  # kind of scope -> ids; see operators.scope
    language = models.CharField(max_length=2, default="en")
    # how days and times are written: a country (ISO 3166-1), or that of the language
    region = models.CharField(max_length=2, blank=True, default="")
    # what needs somebody comes by mail as well
    notices_by_mail = models.BooleanField(default=False, db_default=False)
    sessions = models.PositiveIntegerField(default=0)  # moved to end every session of the operator
    version = models.PositiveIntegerField(default=1)

    objects: ClassVar[Operators] = Operators()

    def __str__(self) -> str:
        return self.get_full_name() or self.username

    def _get_session_auth_hash(self, secret: str | None = None) -> str:
        """Return what a session must know to go on: a new password ends it, and so does a new count
        of sessions.
        """
        key = f"cadrin.session.{self.sessions}"
        return salted_hmac(key, self.password, secret=secret, algorithm="sha256").hexdigest()


class ApiToken(models.Model):
    """A key for a script: known by its digest alone, with a role, a scope and an end."""

    is_authenticated = True
    is_active = True

    name = models.CharField(max_length=60)
    digest = models.CharField(max_length=64, unique=True)
    role = models.ForeignKey(Role, on_delete=models.PROTECT, related_name="tokens")
    limited_to = models.JSONField(default=dict)
    made_at = models.DateTimeField()
    expires_at = models.DateTimeField()
    withdrawn_at = models.DateTimeField(null=True)
    used_at = models.DateTimeField(null=True)

    def __str__(self) -> str:
        return f"{self.name} (API)"


class OneTimeSecret(models.Model):
    """The secret from which an operator's one-time codes are made, sealed; in use once it was
    confirmed.
    """

    operator = models.OneToOneField(
        Operator, on_delete=models.CASCADE, related_name="one_time_secret"
    )
    sealed = models.TextField()
    confirmed_at = models.DateTimeField(null=True)
    # of the last code that was taken: none is taken twice
    last_step = models.BigIntegerField(default=0)

    def __str__(self) -> str:
        return f"one-time codes of {self.operator_id}"


class RecoveryCode(models.Model):
    """A code for whoever lost the device that makes one-time codes; known by its digest, and taken
    once.
    """

    operator = models.ForeignKey(Operator, on_delete=models.CASCADE, related_name="recovery_codes")
    digest = models.CharField(max_length=64)
    used_at = models.DateTimeField(null=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["operator", "digest"], name="recovery_code_is_one_code")
        ]

    def __str__(self) -> str:
        return f"recovery code of {self.operator_id}"


class Tries(models.Model):
    """Tries in a row that did not succeed, of whatever is slowed: passwords by name and by address,
    PINs by operator.

    What they are counted for is kept as a digest: what is typed as a name is now and then a
    password.
    """

    subject_digest = models.CharField(max_length=64, unique=True)
    failures = models.PositiveIntegerField()
    last_at = models.DateTimeField()

    def __str__(self) -> str:
        return f"{self.failures} tries"
