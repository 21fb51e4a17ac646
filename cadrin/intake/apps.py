from django.apps import AppConfig


class IntakeApp(AppConfig):
    name = "cadrin.intake"
    label = "intake"

    def ready(self) -> None:
        from cadrin.intake.models import Intake, IntakeBlock, IntakePiece
        from cadrin.journal.naming import by_column, name
        from cadrin.operators.sealing import keep_sealed

        name("intake", by_column(Intake))
        keep_sealed(IntakePiece, "sealed")
        keep_sealed(IntakeBlock, "sealed")
        keep_sealed(IntakeBlock, "before")
        keep_sealed(IntakeBlock, "pins")
