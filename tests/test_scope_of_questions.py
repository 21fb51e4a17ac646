"""Questions of operators who are kept to a part of the house name nobody and nothing outside of it."""

from django.test import Client

from cadrin.questions.models import SavedQuestion
from tests.house import NOON
from tests.test_scope import OUTSIDER, Kept


class QuestionsOfTheKept(Kept):
    def asked(self, client: Client, path: str) -> str:
        """Ask now, and of an instant of the past in which it was the same."""
        told = ""
        for at in ("", "&at=2026-06-01T13:30:00"):
            status, text = self.ask(client, "GET", f"/api/questions/{path}{at}")
            self.assertIn(status, (200, 404), text)
            told += text
        return told

    def test_of_doors_and_areas_leave_out_whoever_is_outside(self) -> None:
        gate = self.house.gate
        for kind in self.scopes:
            client = self.client_kept(kind)
            with self.subTest(kind):
                for path in (
                    f"door/?door={gate.pk}",
                    f"area/?area={gate.area_id}",
                    f"compare/?one={self.insider}&other={self.outsider}",
                    f"person/?cardholder={self.outsider}",
                    f"instants/?cardholder={self.outsider}&other_at=2026-06-02T09:00:00",
                    f"way/?cardholder={self.outsider}&area={gate.area_id}",
                    f"group/?group={self.house.day_group.pk}",
                ):
                    told = self.asked(client, path)
                    self.assertNotIn(OUTSIDER, told, path)
                    self.assertNotIn("X-1", told, path)

    def test_of_whoever_is_inside_are_answered(self) -> None:
        client = self.client_kept("departments")
        told = self.asked(client, f"door/?door={self.house.gate.pk}")
        self.assertIn("Tomas Reve", told)
        self.assertNotIn('"total":2', told)

    def test_of_one_who_is_kept_to_a_site_show_its_doors_and_groups_alone(self) -> None:
        client = self.client_kept("sites")
        told = self.asked(client, f"person/?cardholder={self.insider}")
        self.assertIn("Shed", told)
        for hidden in ("Gate", "Lab", "Day"):
            self.assertNotIn(f'"{hidden}"', told)
        status, _ = self.ask(client, "GET", f"/api/questions/door/?door={self.house.gate.pk}")
        self.assertEqual(status, 404)
        status, text = self.ask(client, "GET", "/api/questions/matrix/")
        self.assertEqual(status, 200)
        self.assertIn("Shed people", text)
        for hidden in ("Gate", "Lab", "Day", "Boats"):
            self.assertNotIn(f'"{hidden}"', text)

    def test_that_somebody_else_keeps_are_not_there(self) -> None:
        kept = SavedQuestion.objects.create(
            operator=self.house.operator, name="Theirs", question="alone"
        )
        client = self.client_kept("companies")
        self.assertEqual(self.ask(client, "GET", "/api/questions/saved/"), (200, "[]"))
        status, _ = self.ask(client, "DELETE", f"/api/questions/saved/{kept.pk}/")
        self.assertEqual(status, 404)
        self.assertTrue(SavedQuestion.objects.filter(pk=kept.pk).exists())

    def test_are_refused_in_words_where_they_make_no_sense(self) -> None:
        client = Client()
        client.force_login(self.house.operator)
        wrong = {
            "door/": "door",
            "door/?door=x": "door",
            f"door/?door={self.house.gate.pk}&at=soon": "at",
            "person/?cardholder=": "cardholder",
            "group/?door=3": "door",
            "instants/?cardholder=1&other_at=2026-13-01": "other_at",
            "matrix/?day=2026-02-30": "day",
            "unused/?doors=1&days=0": "days",
        }
        for path, field in wrong.items():
            status, text = self.ask(client, "GET", f"/api/questions/{path}")
            self.assertEqual(status, 422, path)
            self.assertIn(f'"{field}"', text, path)
        for gone in (
            "door/?door=999",
            "area/?area=999",
            "group/?group=999",
            "person/?cardholder=99",
        ):
            self.assertEqual(self.ask(client, "GET", f"/api/questions/{gone}")[0], 404, gone)

    def test_far_away_instants_are_answered(self) -> None:
        client = Client()
        client.force_login(self.house.operator)
        for year in (1990, 2400):
            path = f"/api/questions/door/?door={self.house.gate.pk}&at={year}-01-01T12:00:00"
            status, text = self.ask(client, "GET", path)
            self.assertEqual(status, 200)
            nobody = year < NOON.year  # as nobody was there yet
            self.assertEqual('"total":0' in text, nobody, text[:200])
