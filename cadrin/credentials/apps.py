from django.apps import AppConfig


class Credentials(AppConfig):
    name = "cadrin.credentials"

    def ready(self) -> None:
        from cadrin.credentials.models import (
            Box,
            Card,
            CardFormat,
            CardSettings,
            Letter,
            Pin,
            PinList,
            TypedPin,
        )
        from cadrin.journal.naming import as_text, by_column, name
        from cadrin.operators.sealing import keep_sealed

        name("format", by_column(CardFormat))
        name("card", as_text(Card))
        name("box", as_text(Box))
        name("pin_list", as_text(PinList))
        keep_sealed(CardSettings, "sealed_key")
        for model in (Pin, PinList, TypedPin, Letter):
            keep_sealed(model, "sealed")
