"""A list that comes by itself, every night for example: taken in, decided as a mapping has it, and applied
where nothing is left to decide.
"""

from datetime import datetime
from typing import NamedTuple

from django.conf import settings
from django.core.mail import EmailMessage

from cadrin.core.errors import CadrinError, NotFound
from cadrin.intake.applying import Applying, step_back, stop_because
from cadrin.intake.assessing import assess
from cadrin.intake.commands.deciding import apply_if_ready, problems_with_applying, use_mapping
from cadrin.intake.commands.taking import take_file
from cadrin.intake.judging import RowState
from cadrin.intake.models import Intake, IntakeMapping
from cadrin.intake.states import IntakeState
from cadrin.operators.actor import Actor


class Report(NamedTuple):
    """What became of a list: ``why`` says what is left to decide, or what stood against it."""

    intake_id: int
    name: str
    state: str
    rows: dict[str, int]
    faults: list[tuple[str, int]]
    why: tuple[str, ...]

    @property
    def text(self) -> str:
        """Return it as the lines of a mail."""
        lines = [f"{self.name}: {self.state} (list {self.intake_id})", ""]
        lines += [
            f"{count:>7}  {state.replace('_', ' ')}" for state, count in self.rows.items() if count
        ]
        if self.faults:
            lines += ["", "To decide:"]
            lines += [f"{count:>7}  {code}" for code, count in self.faults]
        return "\n".join([*lines, *(f"\n{why}" for why in self.why), ""])


def submit(
    actor: Actor, name: str, data: bytes, mapping: str, at: datetime, *, applies: bool
) -> int:
    """Take a file in, decide as a mapping has it, and let it be applied where there is nothing to
    decide; return the intake's id.

    Where there is, it waits for a person. Raises CadrinError where the file cannot be taken in, or
    there is no such mapping.
    """
    kept = IntakeMapping.objects.filter(name=mapping).first() if mapping else None
    if mapping and kept is None:
        raise NotFound.of("intake.no_mapping")
    intake_id = take_file(actor, name, data, at)
    intake = Intake.objects.get(pk=intake_id)
    if kept:
        use_mapping(actor, intake_id, intake.version, kept.pk, at)
    if applies:
        Intake.objects.filter(pk=intake_id).update(applies_itself=True)
        apply_if_ready(actor, intake_id, at)
    return intake_id


def bring_in(
    actor: Actor, name: str, data: bytes, mapping: str, at: datetime, *, applies: bool
) -> Report:
    """Do all of `submit` here and now, and return what became of it. Raises as it does."""
    intake_id = submit(actor, name, data, mapping, at, applies=applies)
    intake = Intake.objects.get(pk=intake_id)
    if intake.state == IntakeState.OPEN and intake.assessed != intake.version:
        assess(actor, intake, at)
        if applies:
            apply_if_ready(actor, intake_id, at)
    _write(intake_id, at)
    intake.refresh_from_db()
    told = intake.result.get("why")
    if told:
        return report_of(intake, (told["code"],))
    is_open = intake.state == IntakeState.OPEN
    why = tuple(problem.code for problem in problems_with_applying(intake)) if is_open else ()
    return report_of(intake, tuple(code for code in why if code != "intake.changes_nothing"))


def report_of(intake: Intake, why: tuple[str, ...] = ()) -> Report:
    """Return what became of an intake so far."""
    rows = {state.value: intake.summary.get("rows", {}).get(state.value, 0) for state in RowState}
    faults = [(fault["code"], fault["count"]) for fault in intake.summary.get("faults", ())]
    return Report(intake.pk, intake.name, intake.state, rows, faults, why)


def _write(intake_id: int, at: datetime) -> None:
    """Write all of it, as the worker would; the worker may help."""
    if not Intake.objects.filter(pk=intake_id, state=IntakeState.APPLYING).exists():
        return
    applying = Applying(Intake.objects.get(pk=intake_id), at)
    try:
        while applying.step(intake_id, at):
            pass
    except CadrinError as error:
        stop_because(intake_id, error.problems[0], at)
    while Intake.objects.filter(pk=intake_id, state=IntakeState.STOPPING).exists():
        step_back(intake_id, at)


def mail_report(report: Report, address: str) -> None:
    """Send a report by the mail server of the site. Raises OSError where it does not take it."""
    subject = f"{report.name}: {report.state}"
    EmailMessage(subject, report.text, settings.DEFAULT_FROM_EMAIL, [address]).send()
