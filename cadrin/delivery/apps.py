from django.apps import AppConfig


class Delivery(AppConfig):
    name = "cadrin.delivery"

    def ready(self) -> None:
        from cadrin.delivery.models import FoundPerson
        from cadrin.operators.sealing import keep_sealed

        keep_sealed(FoundPerson, "sealed")
