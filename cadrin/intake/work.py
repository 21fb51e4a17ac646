"""What the worker does for intakes, in short steps; safe to stop at any point and to run twice."""

import logging
from collections.abc import Callable
from datetime import datetime
from functools import partial

from django.db import OperationalError, transaction
from django.db.models import F

from cadrin.core.errors import CadrinError, Problem
from cadrin.intake.actors import actor_of_intake
from cadrin.intake.applying import Applying, step_back, stop_because
from cadrin.intake.assessing import assess
from cadrin.intake.commands.deciding import apply_if_ready
from cadrin.intake.models import Intake
from cadrin.intake.states import AT_WORK, IntakeState

logger = logging.getLogger("cadrin.intake")
_TOLD_EVERY_BLOCKS = 10


class IntakeWork:
    """Works on one intake after the other; what is read once for an intake is kept between steps."""

    def __init__(self) -> None:
        self._applying: tuple[int, int, Applying] | None = None

    def step(self, clock: Callable[[], datetime], may_go_on: Callable[[], bool]) -> int:
        """Do one step for the oldest intake that waits, and return whether there was one.

        ``may_go_on`` is asked during a long walk.
        """
        intake = Intake.objects.filter(state__in=AT_WORK).order_by("id").first()
        if intake is not None:
            self._at_work(intake, clock)
            return 1
        self._applying = None
        waiting = Intake.objects.filter(state=IntakeState.OPEN).exclude(assessed=F("version"))
        intake = waiting.exclude(summary__has_key="failed").order_by("id").first()
        if intake is None:
            return 0
        try:
            actor = actor_of_intake(intake)
            assess(actor, intake, clock(), partial(_tell, intake, may_go_on))
            apply_if_ready(actor, intake.pk, clock())
        except OperationalError:  # the database was busy: that mends itself
            raise
        except Exception as error:
            problem = _problem(intake, error)
            with transaction.atomic():
                told = {"failed": problem.code}
                Intake.objects.filter(pk=intake.pk, version=intake.version).update(summary=told)
        return 1

    def _at_work(self, intake: Intake, clock: Callable[[], datetime]) -> None:
        if intake.state != IntakeState.APPLYING:
            step_back(intake.pk, clock())
            return
        try:
            self._applying_of(intake, clock()).step(intake.pk, clock())
        except OperationalError:
            raise
        except Exception as error:
            stop_because(intake.pk, _problem(intake, error), clock())

    def _applying_of(self, intake: Intake, at: datetime) -> Applying:
        kept = self._applying
        if kept is None or kept[:2] != (intake.pk, intake.version):
            kept = self._applying = (intake.pk, intake.version, Applying(intake, at))
        return kept[2]


def _problem(intake: Intake, error: Exception) -> Problem:
    """Return what is told of an error: one list that cannot go on holds up no other."""
    if isinstance(error, CadrinError):
        logger.warning("intake %s cannot go on: %s", intake.pk, error.code)
        return error.problems[0]
    logger.error("intake %s cannot go on", intake.pk, exc_info=error)
    return Problem("intake.failed")


def _tell(intake: Intake, may_go_on: Callable[[], bool], done: int) -> bool:
    """Say how far a walk has come, and whether it is still wanted."""
    if done % _TOLD_EVERY_BLOCKS:
        return may_go_on()
    with transaction.atomic():
        there = Intake.objects.filter(pk=intake.pk, version=intake.version, state=IntakeState.OPEN)
        return bool(there.update(done=done)) and may_go_on()
