from django.conf import settings
from django.db import models


class SavedList(models.Model):
    """A list kept under a name: filters, columns and order. One without an operator is
    everybody's.
    """

    operator = models.ForeignKey(
        settings.AUTH_USER_MODEL, null=True, on_delete=models.CASCADE, related_name="+"
    )
    name = models.CharField(max_length=60)
    filters = models.JSONField(default=dict)
    columns = models.JSONField(default=list)
    sort = models.CharField(max_length=20, default="name")

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["operator", "name"], name="own_list_has_a_name_of_its_own"
            )
        ]

    def __str__(self) -> str:
        return self.name
