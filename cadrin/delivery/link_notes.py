"""What a line notes of its controller: that it answers or not, its clock, its room, and what it did
not listen to.
"""

from collections.abc import Mapping
from datetime import datetime, timedelta

from django.db import transaction

from cadrin.core.limits import narrower
from cadrin.delivery.incident_kinds import IncidentKind
from cadrin.delivery.incidents import note_incident
from cadrin.delivery.models import Link
from cadrin.delivery.wanted import OF_A_MEMORY
from cadrin.delivery.wire import Answer
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.sites.queries import limits_entered

LINK_IS_WRITTEN_EVERY = timedelta(seconds=3)


class LinkNotes:
    def __init__(self, controller_id: int) -> None:
        self.controller_id = controller_id
        self._entered: Mapping[str, int] = {}
        self._entered_at: datetime | None = None
        with transaction.atomic():
            self.link = Link.objects.get_or_create(controller_id=controller_id)[0]

    def answer(self, answer: Answer, at: datetime) -> None:
        """Note that the controller answered, and what it told of itself."""
        link = self.link
        clock_off = round((answer.at - at).total_seconds())
        if self._entered_at is None or at - self._entered_at > LINK_IS_WRITTEN_EVERY:
            self._entered, self._entered_at = limits_entered(self.controller_id), at
        held_by = ("capacity", *OF_A_MEMORY)
        told = {name: narrower(getattr(answer, name), self._entered.get(name)) for name in held_by}
        capacity = told.pop("capacity")
        writes_others = any(getattr(link, name) != value for name, value in told.items())
        self._refused(answer, at)
        is_news = link.failed_at or writes_others or capacity != link.capacity
        # a second or two is the way there, not the clock
        is_news = is_news or abs(clock_off - link.clock_off_seconds) > 2
        if is_news or link.answered_at is None or at - link.answered_at > LINK_IS_WRITTEN_EVERY:
            link.answered_at, link.failed_at, link.failure, link.turned_at = at, None, "", at
            link.clock_off_seconds = 0 if abs(clock_off) <= 2 else clock_off
            link.capacity = capacity
            for name, value in told.items():
                setattr(link, name, value)
            with transaction.atomic():
                self._save(
                    "answered_at",
                    "failed_at",
                    "failure",
                    "clock_off_seconds",
                    "capacity",
                    "turned_at",
                    *told,
                )
                if writes_others:  # its people's records are to be written otherwise
                    mark_for_delivery(Subject.CONTROLLER, [self.controller_id])

    def _refused(self, answer: Answer, at: datetime) -> None:
        """Tell of messages that the controller did not listen to: none of them were
        Cadrin's own.
        """
        link = self.link
        told = (
            (IncidentKind.FORGED, link.forged, answer.forged),
            (IncidentKind.REPLAYED, link.replayed, answer.replayed),
        )
        for kind, before, count in told:
            # it counts anew when it is started anew
            if new := count - before if count >= before else count:
                note_incident(self.controller_id, kind, "", at, new)
        if (link.forged, link.replayed) != (answer.forged, answer.replayed):
            link.forged, link.replayed = answer.forged, answer.replayed
            self._save("forged", "replayed")

    def silence(self, why: str, at: datetime) -> None:
        """Note that it did not answer, and why."""
        link = self.link
        is_old = link.turned_at is None or at - link.turned_at > LINK_IS_WRITTEN_EVERY
        if link.failed_at is None or link.failure != why or is_old:
            link.failed_at, link.failure, link.turned_at = link.failed_at or at, why, at
            self._save("failed_at", "failure", "turned_at")

    def _save(self, *fields: str) -> None:
        with transaction.atomic():
            self.link.save(update_fields=fields)
