"""Presses of a finger while they are taken: at a scanner that gives pictures, at a reader that gives
templates alone, or from files.

A capture is one operator's and is kept only while they need it. What a scanner sends while nobody
waits for it is not kept at all.
"""

import secrets
from base64 import b64decode, b64encode
from collections.abc import Iterable
from datetime import datetime, timedelta
from typing import Any, NamedTuple

import orjson

from cadrin.biometrics.models import Capture
from cadrin.biometrics.settings import biometric_settings, finger_rule
from cadrin.core.credentials.factors import Factor
from cadrin.core.credentials.finger.enrolment import (
    FingerPress,
    FingerRule,
    press_kept,
    press_of,
    problem_with_press,
    template_from,
)
from cadrin.core.credentials.finger.iso_record import FingerView, decode_fingers, encode_fingers
from cadrin.core.credentials.finger.picture import read_picture
from cadrin.core.credentials.finger.positions import Finger
from cadrin.core.credentials.finger.template import FingerTemplate
from cadrin.core.errors import Invalid, NotFound, Problem
from cadrin.core.records.biometrics import finger_in, record_of_finger
from cadrin.operators.actor import Actor
from cadrin.operators.permissions import Permission
from cadrin.operators.sealing import seal, unseal

KEPT = timedelta(minutes=10)
TOKEN_BYTES = 24
PICTURE, RECORD = "picture", "record"
SHORTEST_REASON = 5
MOST_SHOWN = 20
"""Presses whose quality and advice are kept."""
MOST_BYTES = 4 * 2**20
FORMAT_OF_RECORDS = b"FMR\0"
"""How an open record begins (ISO/IEC 19794-2)."""


class CaptureWanted(NamedTuple):
    """Which finger is to be taken, of whom, and where; without a reader from files."""

    finger: Finger
    reader_id: int | None = None
    holder_id: int | None = None
    least_quality: int | None = None
    lowered_because: str = ""


def begin_capture(actor: Actor, wanted: CaptureWanted, at: datetime) -> str:
    """Wait for presses of a finger, and return the token by which they are asked for and used.

    Whoever waited at that reader before waits no more. Raises Invalid for a lower quality without a
    reason, NotPermitted, and NotFound for a script, which sits at no desk.
    """
    usual = finger_rule().least_quality
    least = usual if wanted.least_quality is None else wanted.least_quality
    if least < usual:
        actor.require(Permission.LOWER_QUALITY)
        if len(wanted.lowered_because.strip()) < SHORTEST_REASON:
            raise Invalid.of("finger.needs_reason", "lowered_because", least=SHORTEST_REASON)
    return begin(
        actor,
        wanted.reader_id,
        at,
        holder_id=wanted.holder_id,
        finger=wanted.finger,
        least_quality=least,
        lowered_because=wanted.lowered_because.strip() if least < usual else "",
    )


def begin(actor: Actor, reader_id: int | None, at: datetime, **what: Any) -> str:
    """Make a capture of a finger or a face, and return its token; whoever waited at that reader
    before waits no more. Raises NotPermitted, and NotFound for a script.
    """
    actor.require(Permission.BIOMETRICS)
    if actor.operator_id is None:
        raise NotFound.of("reader.not_found")
    forget_captures(at)
    if reader_id is not None:  # what was taken there may still be saved
        Capture.objects.filter(reader_id=reader_id).update(reader_id=None)
    token = secrets.token_urlsafe(TOKEN_BYTES)
    Capture.objects.create(
        token=token, operator_id=actor.operator_id, reader_id=reader_id, begun_at=at, **what
    )
    return token


def get_capture(actor: Actor, token: str, factor: Factor = Factor.FINGER) -> Capture:
    """Return an operator's own capture. Raises NotFound when it is over or another's."""
    actor.require(Permission.BIOMETRICS)
    capture = find_capture(actor, token, factor)
    if capture is None:
        raise NotFound.of("finger.capture_is_over")
    return capture


def find_capture(actor: Actor, token: str, factor: Factor = Factor.FINGER) -> Capture | None:
    """Return an operator's own capture, or None when it is over, another's, or not theirs to use."""
    if Permission.BIOMETRICS not in actor.permissions:
        return None
    mine = Capture.objects.filter(token=token, operator_id=actor.operator_id or 0)
    return mine.filter(factor=factor).first()


def forget_captures(at: datetime) -> int:
    """Forget what is too old to be used."""
    old = Capture.objects.filter(begun_at__lt=at - KEPT)
    return old.delete()[0] if old.exists() else 0


def drop_capture(actor: Actor, token: str) -> None:
    """Forget a capture of one's own; one that is over is no error."""
    Capture.objects.filter(token=token, operator_id=actor.operator_id or 0).delete()


def rule_of(capture: Capture) -> FingerRule:
    """Return the site's rule, with the quality that is asked of this one."""
    rule = finger_rule()
    return FingerRule(capture.least_quality, rule.presses, rule.agreement, rule.match)


def take_press(capture: Capture, kind: str, content: bytes, event: str = "") -> None:
    """Measure a press and keep it, or why it was not taken; nothing is raised for a bad one."""
    taken = list(templates_in(capture))
    rule = rule_of(capture)
    if len(taken) >= rule.presses:
        return
    problem: Problem | None
    press, picture = FingerPress(None, 0, None), b""
    try:
        press, picture = _measured(kind, content)
        problem = problem_with_press(press, taken, rule)
    except Invalid as refused:
        problem = refused.problems[0]
    note_press(capture, press, problem, picture, event)


def note_press(
    capture: Capture,
    press: FingerPress,
    problem: Problem | None,
    picture: bytes = b"",
    event: str = "",
) -> None:
    """Keep a press, or why it was not taken."""
    taken = list(templates_in(capture))
    if problem is None and press.template is not None:
        taken.append(press.template)
        if biometric_settings().kept_picture_days is not None:
            pictures = [*_pictures_in(capture), b64encode(picture).decode()]
            capture.sealed_pictures = seal(orjson.dumps(pictures).decode())
    shown: dict[str, Any] = {
        "quality": press.quality,
        "event": event,
        "advice": press.advice.value if press.advice else None,
        "problem": None if problem is None else {"code": problem.code, "params": problem.params},
    }
    capture.presses = [*capture.presses, shown][-MOST_SHOWN:]
    capture.sealed = _sealed_templates(taken)
    capture.sealed_picture = seal(b64encode(picture).decode()) if picture else ""
    capture.save()


def take_file(capture: Capture, content: bytes) -> None:
    """Take a picture at 500 ppi, or an open record, of which every view of this finger is a press.

    Raises Invalid for what is neither, or too large.
    """
    if len(content) > MOST_BYTES:
        raise Invalid.of("finger.file_too_large", "file", most=MOST_BYTES // 2**20)
    if not content.startswith(FORMAT_OF_RECORDS):
        take_press(capture, PICTURE, content)
        return
    try:
        views = decode_fingers(content)
    except Invalid as refused:
        note_press(capture, FingerPress(None, 0, None), refused.problems[0])
        return
    for view in views:
        if view.finger in (None, capture.finger):
            take_press(capture, RECORD, encode_fingers((view,)))


def _measured(kind: str, content: bytes) -> tuple[FingerPress, bytes]:
    if kind == PICTURE:
        return press_of(read_picture(content)), content
    (view,) = decode_fingers(content)[:1]
    return FingerPress(view.template, view.template.quality, None), b""


def _sealed_templates(templates: Iterable[FingerTemplate]) -> str:
    records = [record_of_finger(FingerView(None, template)) for template in templates]
    return seal(orjson.dumps(records).decode())


def templates_in(capture: Capture) -> tuple[FingerTemplate, ...]:
    """Return the presses that were taken so far."""
    if not capture.sealed:
        return ()
    return tuple(finger_in(record).template for record in orjson.loads(unseal(capture.sealed)))


def picture_in(capture: Capture) -> bytes:
    """Return the latest picture, as a PNG; nothing where a reader gives none."""
    return b64decode(unseal(capture.sealed_picture)) if capture.sealed_picture else b""


def _pictures_in(capture: Capture) -> list[str]:
    if not capture.sealed_pictures:
        return []
    pictures: list[str] = orjson.loads(unseal(capture.sealed_pictures))
    return pictures


def picture_of_kept_press(capture: Capture) -> str:
    """Return the picture of the press that is kept, as a PNG in base64; nothing where the site keeps
    none, or the reader gave none. Raises Invalid while any press is missing.
    """
    templates, pictures = templates_in(capture), _pictures_in(capture)
    place = press_kept(templates, rule_of(capture))
    # the site may have begun to keep them while presses were taken
    return pictures[place] if len(pictures) == len(templates) else ""


def missing_of(capture: Capture) -> int:
    """Return how many presses are still to come."""
    return rule_of(capture).presses - len(templates_in(capture))


def is_whole(capture: Capture) -> bool:
    """Say whether all presses are there."""
    return missing_of(capture) <= 0


def template_of(capture: Capture) -> FingerTemplate:
    """Return the template that the presses make. Raises Invalid while any is missing."""
    return template_from(templates_in(capture), rule_of(capture))
