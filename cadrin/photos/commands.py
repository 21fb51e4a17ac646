"""Take images, crop them, and give them to cardholders."""

from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import datetime, timedelta
from hashlib import sha256

from django.db import transaction
from PIL import Image as Pillow

from cadrin.config.database.reading import IDS, RowsByIds
from cadrin.core.credentials.face.measuring import faces_in, measures_of
from cadrin.core.credentials.face.portrait import Box, findings, proposed_crop
from cadrin.core.errors import Invalid, NotFound, Problem
from cadrin.journal.commands import Act
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.people.commands.parts import Part, holders_before
from cadrin.people.scoping import only_seen
from cadrin.photos.files import kept_tokens, new_token, path_of, remove_files, write_files
from cadrin.photos.models import Image
from cadrin.photos.reading import FEWEST_PIXELS_ACROSS, read_image

SLOTS = 3
Tokens = tuple[str | None, ...]
"""An image for each slot, the portrait first."""
NOT_SAVED_FOR = timedelta(days=2)
STRAY_AFTER = timedelta(minutes=10)


def take_image(actor: Actor, sent: bytes, at: datetime) -> Image:
    """Keep what was sent, cropped as its face proposes; it belongs to nobody yet. Raises Invalid or
    NotPermitted.
    """
    actor.require(Permission.EDIT)
    picture = read_image(sent)
    faces = faces_in(picture)
    crop = proposed_crop(picture.width, picture.height, faces)
    return _kept(picture, crop, at, digest_of(sent))


def crop_image(actor: Actor, token: str, crop: Box, at: datetime) -> Image:
    """Make another image of the same original with another crop. Raises Invalid, NotFound or
    NotPermitted.
    """
    actor.require(Permission.EDIT)
    image = get_image(actor, token)
    is_within = crop.x >= 0 and crop.y >= 0 and crop.x + crop.width <= image.width + 1
    if not is_within or crop.y + crop.height > image.height + 1:
        raise Invalid.of("photo.crop_outside", "crop")
    if min(crop.width, crop.height) < FEWEST_PIXELS_ACROSS:
        raise Invalid.of("photo.crop_too_small", "crop", least=FEWEST_PIXELS_ACROSS)
    with Pillow.open(path_of(token, "original")) as original:
        return _kept(original.convert("RGB"), crop, at)


def digest_of(sent: bytes) -> str:
    """Return that by which a file is known again."""
    return sha256(sent).hexdigest()


def _kept(picture: Pillow.Image, crop: Box, at: datetime, digest: str = "") -> Image:
    faces = faces_in(picture)
    largest = max(faces, key=lambda face: face.box.height, default=None)
    measures = measures_of(picture, largest) if largest else None
    token = new_token()
    write_files(token, picture, crop)
    return Image.objects.create(
        token=token,
        width=picture.width,
        height=picture.height,
        crop=list(crop),
        findings=[list(found) for found in findings(faces, crop, measures)],
        taken_at=at,
        digest=digest,
    )


def get_image(actor: Actor, token: str) -> Image:
    """Raises NotFound, for the image of somebody out of the actor's reach as well."""
    image = Image.objects.filter(token=token).first()
    if image is None or (image.cardholder_id and not only_seen(actor, [image.cardholder_id])):
        raise NotFound.of("photo.not_found")
    return image


def original_of(actor: Actor, token: str) -> bytes:
    """Return the picture that an image was cropped from, as a file. Raises NotFound."""
    get_image(actor, token)
    path = path_of(token, "original")
    if not path.exists():
        raise NotFound.of("photo.not_found")
    return bytes(path.read_bytes())


_images = RowsByIds(
    lambda: Image.objects.filter(cardholder_id__among=IDS, slot__isnull=False).values_list(
        "cardholder_id", "slot", "token"
    )
)


def images_of(cardholder_ids: Iterable[int]) -> dict[int, Tokens]:
    """Return the image in each slot of cardholders."""
    found: dict[int, dict[int, str]] = {id_: {} for id_ in cardholder_ids}
    for id_, slot, token in _images(found):
        found[id_ or 0][slot or 0] = token
    return {id_: tuple(map(in_slot.get, range(SLOTS))) for id_, in_slot in found.items()}


def problems_with_images(parts: Sequence[Part[str | None]]) -> list[tuple[Problem, ...]]:
    """Return everything against each cardholder having these images; one of somebody else is not
    theirs.
    """
    wanted = [token for part in parts for token in part.wanted if token]
    count = Counter(wanted)
    known = dict(Image.objects.filter(token__in=count).values_list("token", "cardholder"))
    found = []
    for part in parts:
        problems = [
            Problem("photo.not_found", f"images.{slot}")
            for slot, token in enumerate(part.wanted)
            if token and (token not in known or known[token] not in (None, part.holder_id))
        ]
        if any(token and count[token] > 1 for token in part.wanted):
            problems.append(Problem("photo.twice", "images"))
        found.append(tuple(problems))
    return found


def set_images(parts: Sequence[Part[str | None]]) -> list[Act]:
    """Put these images into the slots of each cardholder; what was there stays theirs as a former
    image. Gives the acts.

    The caller holds the transaction and has checked `problems_with_images`.
    """
    had = images_of(holders_before(parts))
    acts: list[Act] = []
    for part in parts:
        before = had.get(part.holder_id, (None,) * SLOTS)
        changed = [slot for slot, token in enumerate(part.wanted) if token != before[slot]]
        if any(before[slot] for slot in changed):
            Image.objects.filter(cardholder_id=part.holder_id, slot__in=changed).update(slot=None)
        for slot in changed:
            if part.wanted[slot]:
                Image.objects.filter(token=part.wanted[slot]).update(
                    cardholder_id=part.holder_id, slot=slot
                )
            acts.append(_act(part, slot, before[slot]))
    return acts


def _act(part: Part[str | None], slot: int, before: str | None) -> Act:
    after = part.wanted[slot]
    action = "photo.removed" if after is None else "photo.changed" if before else "photo.added"
    changes, raw = {"image": (None, slot + 1)}, {f"image.{slot}": (before, after)}
    return Act(action, (part.about,), changes, raw)


def hand_over_images(from_id: int, to_id: int) -> None:
    """Make somebody's images another cardholder's, in no place of theirs yet."""
    Image.objects.filter(cardholder_id=from_id).update(cardholder_id=to_id, slot=None)


def remove_images_of(cardholder_id: int) -> Sequence[str]:
    """Forget every image of a cardholder, former ones too; give their tokens, whose files go after
    the commit.
    """
    tokens = list(Image.objects.filter(cardholder_id=cardholder_id).values_list("token", flat=True))
    Image.objects.filter(token__in=tokens).delete()
    for token in tokens:
        transaction.on_commit(lambda token=token: remove_files(token))  # type: ignore[misc]
    return tokens


def forget_unsaved(at: datetime) -> int:
    """Remove images that were taken and never saved; give how many."""
    old = Image.objects.filter(cardholder=None, taken_at__lt=at - NOT_SAVED_FOR)
    tokens = list(old.values_list("token", flat=True)[:100])
    Image.objects.filter(token__in=tokens).delete()
    for token in tokens:
        remove_files(token)
    return len(tokens)


def remove_strays(at: datetime) -> int:
    """Remove files that belong to no image, and give how many images' they were.

    Somebody was erased, and the process ended between that and the removing of their pictures. What
    was written just now may be an image in a moment.
    """
    strays = 0
    for token, written_at in kept_tokens():
        if at - written_at > STRAY_AFTER and not Image.objects.filter(token=token).exists():
            remove_files(token)
            strays += 1
    return strays
