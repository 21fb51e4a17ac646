from typing import Any

from django.core.management.base import BaseCommand, CommandError

from cadrin.photos.checking import check_photos

MOST_NAMED = 20


class Command(BaseCommand):
    help = "Check that every image has its files, and every file its image; name those that do not."

    def handle(self, *args: Any, **options: Any) -> None:
        found = check_photos()
        for line in found.without_files[:MOST_NAMED]:
            self.stdout.write(f"Without its files: {line}")
        for token in found.without_image[:MOST_NAMED]:
            self.stdout.write(f"Belongs to no image: {token}")
        if found.without_files:
            raise CommandError(
                f"{len(found.without_files)} of {found.images} images lack files: restore them from a copy, "
                "or take the photos anew."
            )
        self.stdout.write(
            f"{found.images} images, all with their files. "
            f"{len(found.without_image)} folders belong to no image; the worker removes them."
        )
