from django.db import models
from django.db.models import Q


class KeptDraft(models.Model):
    """What an operator has typed about a cardholder and not saved; ``cardholder`` is None for a new
    one, of whom ``key`` tells which: several may be begun.

    Kept here and not in a browser, where whoever uses the machine next would find it.
    """

    operator = models.ForeignKey("operators.Operator", on_delete=models.CASCADE, related_name="+")
    cardholder = models.ForeignKey(
        "people.Cardholder", null=True, on_delete=models.CASCADE, related_name="+"
    )
    key = models.SlugField(max_length=40, blank=True, db_index=False)
    name = models.CharField(max_length=310, blank=True)
    base = models.JSONField()
    draft = models.JSONField()
    typed_at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["operator", "cardholder"], name="one_draft_of_a_cardholder"
            ),
            models.UniqueConstraint(
                fields=["operator", "key"],
                condition=Q(cardholder=None),
                name="one_draft_of_each_somebody_new",
            ),
        ]

    def __str__(self) -> str:
        return f"draft of {self.operator_id}"
