from django.apps import AppConfig


class Api(AppConfig):
    name = "cadrin.api"

    def ready(self) -> None:
        from cadrin.api.models import Answer
        from cadrin.operators.sealing import keep_sealed

        keep_sealed(Answer, "sealed")
