"""What operators typed and did not save: each their own, side by side, and never a digit of a PIN."""

from typing import Any

from cadrin.enrolment.commands.drafts import MOST_OF_NEW, drafts_of
from cadrin.enrolment.commands.erase import erase_cardholder
from cadrin.enrolment.models import KeptDraft
from cadrin.operators.permissions import Permission
from tests.asking import WithAHouse
from tests.house import NOON, an_operator

TAKEN = "481509"


class Drafts(WithAHouse):
    def body(self) -> dict[str, Any]:
        pin = {"id": None, "is_generated": False, "entry": TAKEN, "again": TAKEN, "typed": "token"}
        kept = {"id": 7, "entry": TAKEN, "again": TAKEN, "typed": None}
        draft = {"number": "S-1", "born_on": "1980-02-03", "pins": [pin, kept]}
        return {"name": "Tomas Reve", "base": {"number": "S-1"}, "draft": draft}

    def test_are_kept_for_their_operator_alone_and_without_a_digit(self) -> None:
        self.assertEqual(self.ask("PUT", "/api/drafts/new/one/", self.body())[0], 204)

        _, mine = self.ask("GET", "/api/drafts/new/one/")
        self.assertEqual(mine["kept"]["draft"]["born_on"], "1980-02-03")
        self.assertEqual(mine["kept"]["draft"]["pins"], [{"id": 7}])
        self.assertNotIn(TAKEN, str(list(KeptDraft.objects.values())))
        self.client.force_login(an_operator("tove", *Permission))
        self.assertIsNone(self.ask("GET", "/api/drafts/new/one/")[1]["kept"])
        self.assertEqual(self.ask("GET", "/api/drafts/")[1], [])

    def test_go_with_the_save_and_with_whoever_is_erased(self) -> None:
        id_ = self.house.enrol()
        self.ask("PUT", f"/api/drafts/{id_}/", self.body())
        self.assertEqual([draft.cardholder_id for draft in drafts_of(self.house.actor)], [id_])
        erase_cardholder(self.house.actor, id_, 1, "asked for it", NOON)
        self.assertFalse(KeptDraft.objects.exists())

        self.ask("PUT", "/api/drafts/new/one/", self.body())
        self.ask("PUT", "/api/drafts/new/other/", self.body())
        new = {"number": "S-5", "last_name": "Reve"}
        self.ask("POST", "/api/cardholders/new/?draft=one", new)
        self.assertEqual([one.key for one in drafts_of(self.house.actor)], ["other"])

    def test_of_somebody_out_of_reach_are_not_there(self) -> None:
        self.assertEqual(self.ask("PUT", "/api/drafts/999/", self.body())[0], 404)
        self.assertEqual(self.ask("PUT", f"/api/drafts/new/{'k' * 41}/", self.body())[0], 404)

    def test_of_somebody_new_are_kept_side_by_side_and_the_oldest_make_room(self) -> None:
        for place in range(MOST_OF_NEW + 1):
            self.ask("PUT", f"/api/drafts/new/n{place}/", self.body())

        kept = [one.key for one in drafts_of(self.house.actor)]

        self.assertEqual(len(kept), MOST_OF_NEW)
        self.assertEqual((kept[0], kept[-1]), (f"n{MOST_OF_NEW}", "n1"))
