from django.db import models


class Image(models.Model):
    """An image as it was taken and cropped. It never changes: another crop is another image.

    One without a slot is not in use: just taken and not saved yet, or the former image of its
    cardholder.
    """

    token = models.CharField(max_length=32, unique=True)
    cardholder = models.ForeignKey(
        "people.Cardholder", null=True, on_delete=models.CASCADE, related_name="images"
    )
    slot = models.PositiveSmallIntegerField(null=True)  # 0 is the portrait
    width = models.PositiveIntegerField()
    height = models.PositiveIntegerField()
    crop = models.JSONField()  # x, y, width, height in pixels of the original
    findings = models.JSONField(default=list)  # [finding, figure]
    taken_at = models.DateTimeField()
    # of the file it was taken from (SHA-256), by which the same file is known again
    digest = models.CharField(max_length=64, blank=True, default="")

    class Meta:
        constraints = [
            models.UniqueConstraint(fields=["cardholder", "slot"], name="one_image_in_a_slot")
        ]
        indexes = [models.Index(fields=["cardholder", "taken_at"], name="image_not_in_use")]

    def __str__(self) -> str:
        return self.token
