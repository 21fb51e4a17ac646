from django.apps import AppConfig


class Accounts(AppConfig):
    name = "cadrin.accounts"

    def ready(self) -> None:
        from cadrin.journal.naming import as_text, by_column, name
        from cadrin.operators.models import ApiToken, OneTimeSecret, Operator, Role
        from cadrin.operators.sealing import keep_sealed

        name("operator", as_text(Operator))
        name("role", by_column(Role))
        name("token", by_column(ApiToken))
        keep_sealed(OneTimeSecret, "sealed")
