from django.apps import AppConfig


class People(AppConfig):
    name = "cadrin.people"

    def ready(self) -> None:
        from cadrin.journal.naming import as_text, by_column, name
        from cadrin.people.models import Cardholder, Company, CustomField, Department, Kind

        name("cardholder", by_column(Cardholder, "display_name"))
        name("department", by_column(Department))
        name("company", by_column(Company))
        name("kind", by_column(Kind))
        name("own_field", as_text(CustomField))
