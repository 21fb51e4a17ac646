from django.apps import AppConfig


class AccessConfig(AppConfig):
    name = "cadrin.access"

    def ready(self) -> None:
        from cadrin.access.models import AccessGroup
        from cadrin.access.scoping import people_at_sites
        from cadrin.journal.naming import by_column, name
        from cadrin.people.scoping import narrow_by

        narrow_by(people_at_sites)
        name("group", by_column(AccessGroup))
