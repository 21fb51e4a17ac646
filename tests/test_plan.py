"""The plan of a site: a picture, and where its doors are on it."""

import io
import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client, TestCase
from PIL import Image

from cadrin.core.errors import Invalid, Stale
from cadrin.sites.commands.plans import Drawn, Place, draw_plan
from cadrin.sites.models import DoorPlace, SitePlan
from tests.house import NOON, House


class Plan(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client = Client()
        self.client.force_login(self.house.operator)
        self.path = f"/api/sites/{self.house.site.pk}/plan/"

    def upload(self, sent: bytes) -> tuple[int, str]:
        file = SimpleUploadedFile("plan.png", sent)
        answer = self.client.post(f"{self.path}picture/", {"image": file})
        return answer.status_code, answer.content.decode()

    def place(self, *places: Place, version: int = 1) -> None:
        draw_plan(self.house.actor, self.house.site.pk, places, (), version, NOON)

    def test_keeps_where_doors_are_and_takes_those_off_that_are_not_named(self) -> None:
        gate, lab = self.house.gate.pk, self.house.lab.pk
        body = {
            "version": 1,
            "places": [{"door_id": gate, "x": 0, "y": 1000}, {"door_id": lab, "x": 500, "y": 10}],
        }
        answer = self.client.put(self.path, json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 204, answer.content)
        told = self.client.get(self.path).json()
        self.assertEqual((told["places"], told["version"]), (body["places"], 2))
        self.place(Place(lab, 500, 10), version=2)
        self.assertEqual(list(DoorPlace.objects.values_list("door_id", flat=True)), [lab])

    def test_refuses_what_lies_outside_is_unknown_or_was_changed_by_somebody_else(self) -> None:
        gate = self.house.gate.pk
        for place in (Place(gate, 1001, 0), Place(999, 1, 1)):
            with self.subTest(place), self.assertRaises(Invalid):
                self.place(place)
        self.place(Place(gate, 1, 1))
        with self.assertRaises(Stale):
            self.place(Place(gate, 2, 2), version=1)
        self.assertEqual(DoorPlace.objects.get().x, 1)

    def test_keeps_areas_as_they_are_drawn_and_refuses_those_that_lie_outside(self) -> None:
        area = self.house.gate.area_id
        drawn = {"area_id": area, "x": 100, "y": 0, "width": 900, "height": 10}
        body = {"version": 1, "places": [], "areas": [drawn]}
        answer = self.client.put(self.path, json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 204, answer.content)
        self.assertEqual(self.client.get(self.path).json()["areas"], [drawn])
        for wrong in (
            Drawn(area, 101, 0, 900, 10),
            Drawn(area, 0, 991, 10, 10),
            Drawn(area, 0, 0, 9, 50),
            Drawn(999, 0, 0, 50, 50),
        ):
            with self.subTest(wrong), self.assertRaises(Invalid) as refused:
                draw_plan(self.house.actor, self.house.site.pk, (), [wrong], 2, NOON)
            self.assertEqual(refused.exception.problems[0].field, f"areas.{wrong.area_id}")
        self.assertEqual(self.client.get(self.path).json()["areas"], [drawn])
        draw_plan(self.house.actor, self.house.site.pk, (), (), 2, NOON)
        self.assertEqual(self.client.get(self.path).json()["areas"], [])

    def test_takes_a_picture_writes_it_anew_and_lets_it_go(self) -> None:
        written = io.BytesIO()
        Image.new("RGB", (3000, 1500), "white").save(written, "PNG")
        self.assertEqual(self.upload(written.getvalue())[0], 204)
        picture = self.client.get(f"{self.path}picture/")
        with Image.open(io.BytesIO(picture.content)) as kept:
            self.assertEqual((kept.format, kept.size), ("JPEG", (2400, 1200)))
        self.assertEqual(self.client.get(self.path).json()["width"], 2400)
        self.assertEqual(self.client.delete(f"{self.path}picture/").status_code, 204)
        self.assertEqual(self.client.get(f"{self.path}picture/").status_code, 404)

    def test_a_picture_that_is_none_is_refused_beside_its_field_and_the_old_one_stays(self) -> None:
        status, told = self.upload(b"%PDF-1.7 no picture at all")
        self.assertEqual(status, 422)
        self.assertEqual(json.loads(told)["problems"][0]["field"], "image")
        self.assertFalse(SitePlan.objects.exclude(picture=b"").exists())
