from django.db import models
from django.db.models import Q


class Review(models.Model):
    """Somebody goes through the people of an access group, or of a door, from the first decision to
    the end.
    """

    # what was decided outlives the group, and the door
    group = models.ForeignKey(
        "access.AccessGroup", null=True, on_delete=models.SET_NULL, related_name="reviews"
    )
    door = models.ForeignKey(
        "sites.Door", null=True, on_delete=models.SET_NULL, related_name="reviews"
    )
    name = models.CharField(max_length=60)
    begun_at = models.DateTimeField()
    ended_at = models.DateTimeField(null=True)
    ended_by = models.CharField(max_length=150, blank=True)

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["group"], condition=Q(ended_at=None), name="one_review_of_a_group_at_a_time"
            ),
            models.UniqueConstraint(
                fields=["door"], condition=Q(ended_at=None), name="one_review_of_a_door_at_a_time"
            ),
        ]

    def __str__(self) -> str:
        return f"{self.name}, {self.begun_at:%Y-%m-%d}"


class Decision(models.Model):
    """One person is kept in the group or in those of the door, or taken out of them, and why."""

    review = models.ForeignKey(Review, on_delete=models.CASCADE, related_name="decisions")
    # whoever is erased is named no longer
    cardholder = models.ForeignKey(
        "people.Cardholder", null=True, on_delete=models.SET_NULL, related_name="+"
    )
    is_kept = models.BooleanField()
    reason = models.CharField(max_length=200)
    decided_by = models.CharField(max_length=150)
    at = models.DateTimeField()

    class Meta:
        constraints = [
            models.UniqueConstraint(
                fields=["review", "cardholder"], name="one_decision_in_a_review"
            )
        ]

    def __str__(self) -> str:
        return f"{self.cardholder_id} in {self.review}"
