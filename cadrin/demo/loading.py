"""Load the demo through the same commands that operators use."""

from datetime import datetime, timedelta

from django.db import transaction

from cadrin.accounts.commands.operators import OperatorDraft, save_operator
from cadrin.accounts.commands.roles import RoleDraft, ready_made_roles, save_role
from cadrin.core.credentials.card.stock import CardRange
from cadrin.credentials.models import CardFormat
from cadrin.credentials.stock import BoxDraft, enter_box
from cadrin.demo import scenario
from cadrin.demo.biometrics import take_faces, take_fingers
from cadrin.demo.groups import groups_over_the_years
from cadrin.demo.house_rules import holidays, house_rules
from cadrin.demo.places import hours_and_groups, places
from cadrin.demo.plan import draw_plans
from cadrin.demo.reads import reads_before
from cadrin.demo.register import register_people
from cadrin.operators.actor import Actor, actor_of, system_actor
from cadrin.operators.models import Operator, Role
from cadrin.operators.permissions import Permission
from cadrin.outbox.commands import mark_for_delivery
from cadrin.outbox.subjects import Subject
from cadrin.people.models import Cardholder, Department
from cadrin.sites.models import Controller, Site

PASSWORD = "skerrow-point"  # noqa: S105 - the demo's, printed by `make demo`
OPERATORS = {
    "ines": ("Ines", "Carnmore", "Administrator", "en", ""),
    "tomas": ("Tomas", "Reve", "Administrator", "en", ""),
    "jorun": ("Jorun", "Falk", "Badging desk", "de", "Tidal Array"),
    "kester": ("Kester", "Norquay", "Reception", "en", scenario.ARDLE),
    "maren": ("Maren", "Ulvik", "Auditor", "en", ""),
    "guard": ("Una", "Brae", "Look only", "en", ""),
}
"""First and last name, role, language, and the department or site they are kept to."""
LOOK_ONLY = frozenset({Permission.SEE, Permission.BENCH})


@transaction.atomic
def load_demo(now: datetime) -> None:
    """Load the whole scenario into an empty database, or nothing."""
    actor = system_actor("Demo")
    places()
    hours_and_groups(actor, now - timedelta(days=200))
    house_rules(actor, now - timedelta(days=199))
    holidays(actor, now)
    register_people(actor, now)
    _boxes(actor, now - timedelta(days=150))
    _operators(actor, now)
    groups_over_the_years(actor, now)
    draw_plans(actor, now)
    tomas = actor_of(Operator.objects.get(username="tomas"), "")
    take_fingers(tomas, now)
    take_faces(tomas, now)
    mark_for_delivery(Subject.CONTROLLER, Controller.objects.values_list("id", flat=True))
    reads_before(now)


def is_loaded() -> bool:
    return Cardholder.objects.exists()


def _boxes(actor: Actor, at: datetime) -> None:
    """Enter the boxes that the cards came in; those that were issued stay as they are."""
    ids = dict(CardFormat.objects.values_list("name", "id"))
    for name, numbers, kept_where, remarks in scenario.BOXES:
        enter_box(
            actor,
            BoxDraft(ids[name], CardRange(*numbers), kept_where, remarks, leaves_out=True),
            at,
        )


def _operators(actor: Actor, now: datetime) -> None:
    ready_made_roles()
    save_role(actor, None, RoleDraft("Look only", LOOK_ONLY), now)
    roles = dict(Role.objects.values_list("name", "id"))
    for username, (first, last, role, language, limited_to) in OPERATORS.items():
        departments = list(Department.objects.filter(name=limited_to).values_list("id", flat=True))
        sites = list(Site.objects.filter(name=limited_to).values_list("id", flat=True))
        scope = {"departments": departments} if departments else {"sites": sites} if sites else {}
        draft = OperatorDraft(username, first, last, roles[role], scope, language=language)
        operator = Operator.objects.get(pk=save_operator(actor, None, draft, now))
        operator.set_password(PASSWORD)
        operator.save()
