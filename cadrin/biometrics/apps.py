from django.apps import AppConfig


class Biometrics(AppConfig):
    name = "cadrin.biometrics"

    def ready(self) -> None:
        from cadrin.biometrics.models import Capture, Consent, ConsentProof, Template
        from cadrin.operators.sealing import keep_sealed

        keep_sealed(Template, "sealed")
        keep_sealed(Template, "sealed_picture")
        keep_sealed(Consent, "sealed_proof")
        keep_sealed(ConsentProof, "sealed")
        keep_sealed(Capture, "sealed")
        keep_sealed(Capture, "sealed_picture")
        keep_sealed(Capture, "sealed_pictures")
