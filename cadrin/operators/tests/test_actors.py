from django.contrib.auth.models import AnonymousUser
from django.test import TestCase

from cadrin.core.errors import NotPermitted
from cadrin.operators.actor import actor_of, system_actor
from cadrin.operators.permissions import Permission
from tests.house import an_operator


class Actors(TestCase):
    def test_may_do_what_was_granted_and_nothing_else(self) -> None:
        actor = actor_of(an_operator("guard", Permission.SEE))

        actor.require(Permission.SEE)
        for permission in set(Permission) - {Permission.SEE}:
            with self.subTest(permission), self.assertRaises(NotPermitted):
                actor.require(permission)

    def test_nobody_is_no_actor_and_the_house_may_do_everything(self) -> None:
        with self.assertRaises(NotPermitted):
            actor_of(AnonymousUser())

        self.assertEqual(system_actor("Upkeep").permissions, frozenset(Permission))
