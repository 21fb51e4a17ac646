"""What comes in and goes out about operators, roles, tokens and one's own account."""

from typing import Any

from rest_framework import serializers

from cadrin.accounts.commands.operators import LANGUAGES, OperatorDraft
from cadrin.accounts.commands.roles import RoleDraft
from cadrin.accounts.commands.tokens import TokenDraft
from cadrin.operators.permissions import Permission
from cadrin.operators.rest.base import Shape, WholeField
from cadrin.operators.scope import KEPT_TO
from cadrin.sites.rest.fields import SiteInstantField

PERMISSIONS = [p.value for p in Permission]
LONGEST_PASSWORD = 128


class PasswordField(serializers.CharField):
    def __init__(self, **more: Any) -> None:
        super().__init__(
            **{"max_length": LONGEST_PASSWORD, "trim_whitespace": False, "write_only": True, **more}
        )


class SignIn(Shape):
    username = serializers.CharField(max_length=150)
    password = PasswordField()
    code = serializers.CharField(max_length=40, default="", allow_blank=True)


class SessionShape(Shape):
    is_signed_in = serializers.BooleanField()
    operator = serializers.IntegerField(allow_null=True)
    name = serializers.CharField()
    language = serializers.ChoiceField(choices=LANGUAGES, allow_null=True)
    region = serializers.CharField()
    permissions = serializers.ListField(child=serializers.ChoiceField(choices=PERMISSIONS))
    is_kept = serializers.BooleanField()
    version = serializers.CharField()
    idle_minutes = serializers.IntegerField()


class LinkToUse(Shape):
    who = serializers.CharField(max_length=40)
    token = serializers.CharField(max_length=80)
    new = PasswordField()


class LinkShape(Shape):
    """Where on this server the operator sets a password; shown once."""

    path = serializers.CharField()


class AccountShape(Shape):
    username = serializers.CharField()
    name = serializers.CharField()
    role = serializers.CharField()
    language = serializers.ChoiceField(choices=LANGUAGES)
    region = serializers.CharField()
    notices_by_mail = serializers.BooleanField()
    can_be_mailed = serializers.BooleanField()
    has_codes = serializers.BooleanField()
    recovery_codes_left = serializers.IntegerField()


class OwnWays(Shape):
    """The language, the region whose way of writing days and times is read, empty for the
    language's own, and whether what needs somebody comes by mail.
    """

    language = serializers.ChoiceField(choices=LANGUAGES)
    region = serializers.CharField(max_length=2, default="", allow_blank=True)
    notices_by_mail = serializers.BooleanField(default=False)


class NewPassword(Shape):
    present = PasswordField()
    new = PasswordField()


class CodesProposed(Shape):
    """A secret for an authenticator: as text, as an address, and as a picture of its QR code."""

    secret = serializers.CharField()
    uri = serializers.CharField()
    picture = serializers.CharField()


class CodeShape(Shape):
    code = serializers.CharField(max_length=10)


class RecoveryCodes(Shape):
    codes = serializers.ListField(child=serializers.CharField())


class PasswordShape(Shape):
    password = PasswordField()


class KeptToShape(Shape):
    """Ids of what is within reach, kind by kind; a kind that is not there is not kept."""

    sites = serializers.ListField(child=WholeField(), required=False, max_length=500)
    departments = serializers.ListField(child=WholeField(), required=False, max_length=500)
    companies = serializers.ListField(child=WholeField(), required=False, max_length=500)


class KeptTo(Shape):
    sites = serializers.ListField(child=serializers.IntegerField(), allow_null=True)
    departments = serializers.ListField(child=serializers.IntegerField(), allow_null=True)
    companies = serializers.ListField(child=serializers.IntegerField(), allow_null=True)

    def to_representation(self, instance: Any) -> dict[str, Any]:
        return {kind: instance.get(kind) for kind in KEPT_TO}


class OperatorShape(Shape):
    username = serializers.CharField(allow_blank=True)
    first_name = serializers.CharField(allow_blank=True, default="")
    last_name = serializers.CharField(allow_blank=True, default="")
    email = serializers.EmailField(allow_blank=True, default="")
    role = WholeField()
    limited_to = KeptToShape(default=dict)
    language = serializers.ChoiceField(choices=LANGUAGES, default="en")
    is_active = serializers.BooleanField(default=True)
    version = WholeField(default=0)


class OperatorRow(Shape):
    id = serializers.IntegerField()
    username = serializers.CharField()
    first_name = serializers.CharField()
    last_name = serializers.CharField()
    email = serializers.CharField()
    role = serializers.IntegerField(allow_null=True)
    limited_to = KeptTo()
    language = serializers.ChoiceField(choices=LANGUAGES)
    is_active = serializers.BooleanField()
    has_password = serializers.BooleanField()
    has_codes = serializers.BooleanField()
    last_login = serializers.DateTimeField(allow_null=True)
    version = serializers.IntegerField()


class RoleShape(Shape):
    name = serializers.CharField(allow_blank=True)
    permissions = serializers.ListField(
        child=serializers.ChoiceField(choices=PERMISSIONS), max_length=50
    )
    version = WholeField(default=0)


class RoleRow(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    permissions = serializers.ListField(child=serializers.ChoiceField(choices=PERMISSIONS))
    operators = serializers.IntegerField()
    tokens = serializers.IntegerField()
    version = serializers.IntegerField()


class PermissionShape(Shape):
    """A permission; one that is house-wide is never had by whoever is kept to a part of
    the house.
    """

    name = serializers.ChoiceField(choices=PERMISSIONS)
    is_house_wide = serializers.BooleanField()


class RolesShape(Shape):
    roles = RoleRow(many=True)
    permissions = PermissionShape(many=True)


class TokenShape(Shape):
    name = serializers.CharField(allow_blank=True)
    role = WholeField()
    expires_at = SiteInstantField()
    limited_to = KeptToShape(default=dict)


class TokenRow(Shape):
    id = serializers.IntegerField()
    name = serializers.CharField()
    role = serializers.IntegerField()
    limited_to = KeptTo()
    made_at = serializers.DateTimeField()
    expires_at = serializers.DateTimeField()
    withdrawn_at = serializers.DateTimeField(allow_null=True)
    used_at = serializers.DateTimeField(allow_null=True)
    is_in_force = serializers.BooleanField()


class NewToken(Shape):
    """The key of a new token; shown this once."""

    key = serializers.CharField()


def operator_draft(given: dict[str, Any]) -> OperatorDraft:
    return OperatorDraft(role_id=given.pop("role"), **given)


def role_draft(given: dict[str, Any]) -> RoleDraft:
    return RoleDraft(
        given["name"], frozenset(map(Permission, given["permissions"])), given["version"]
    )


def token_draft(given: dict[str, Any]) -> TokenDraft:
    return TokenDraft(role_id=given.pop("role"), **given)
