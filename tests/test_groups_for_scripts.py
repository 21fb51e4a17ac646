"""Access groups as scripts have them: whole areas, rules, owners, and what is wrong beside its field."""

from cadrin.access.models import AccessGroup, Membership
from cadrin.people.models import Company, Kind
from cadrin.sites.models import Area
from tests.with_a_token import WithAToken


class GroupsForScripts(WithAToken):
    def setUp(self) -> None:
        super().setUp()
        self.area = Area.objects.get(name="Gatehouse").pk
        self.kind = Kind.objects.create(name="Contractor").pk
        self.company = Company.objects.create(name="Tidewright").pk

    def body(self, **more: object) -> dict[str, object]:
        return {
            "name": "Contractors",
            "remarks": "In the yard",
            "overrides": True,
            "owner_id": self.house.operator.pk,
            "review_days": 90,
            "rules": [{"department": None, "kind": self.kind, "company": self.company}],
            "grants": [
                {"door": self.house.slip.pk, "area": None, "schedule": self.house.always.pk}
                | {"way": "out"},
                {"door": None, "area": self.area, "schedule": self.house.office.pk, "way": "both"},
            ],
        } | more

    def test_are_given_back_as_they_were_sent_with_every_door_that_they_open(self) -> None:
        made = self.ask("POST", "/groups", self.body(), status=201)
        here = f"/groups/{made['id']}"
        got = self.ask("GET", here)
        self.assertEqual(got, made)
        self.assertEqual({name: got[name] for name in self.body()}, self.body())
        opened = {(row["door"], row["schedule"]) for row in got["opens"]}
        office, always = self.house.office.pk, self.house.always.pk
        into_the_area = {self.house.gate.pk, self.house.lab.pk, self.house.slip.pk}
        self.assertEqual(
            opened, {(id_, office) for id_ in into_the_area} | {(self.house.slip.pk, always)}
        )
        self.assertEqual(self.ask("PUT", here, got), got)
        less = self.ask("PATCH", here, {"rules": [], "review_days": None, "grants": []})
        self.assertEqual((less["opens"], less["version"]), ([], got["version"] + 1))

    def test_fill_with_whoever_comes_to_fit_them(self) -> None:
        made = self.ask("POST", "/groups", self.body(), status=201)
        people = [
            self.ask(
                "POST", "/cardholders",
                self.person(
                    external_id=f"hr-{n}", email=f"p{n}@skerrow.example", cards=[],
                    kind=kind, company=self.company,
                ),
                status=201,
            )["id"]
            for n, kind in enumerate((self.kind, None))
        ]  # fmt: skip
        ruled = Membership.objects.filter(group=made["id"]).values_list("cardholder_id", flat=True)
        self.assertEqual(list(ruled), people[:1])
        self.assertEqual(self.ask("GET", f"/groups/{made['id']}")["member_count"], 1)
        (member,) = self.ask("GET", f"/groups/{made['id']}/members")["items"]
        self.assertEqual(member["cardholder"], people[0])

    def test_that_are_wrong_are_refused_beside_each_field_and_nothing_is_made(self) -> None:
        always, slip = self.house.always.pk, self.house.slip.pk
        wrong = self.body(
            owner_id=None,
            review_days=0,
            rules=[{"department": 999, "kind": None, "company": None}, {}],
            grants=[
                {"door": None, "area": None, "schedule": always},
                {"door": slip, "area": self.area, "schedule": always},
                {"door": 999, "area": None, "schedule": 999},
            ],
        )
        before = AccessGroup.objects.count()
        self.assertEqual(
            self.problems("POST", "/groups", wrong),
            {
                "grants.0.door": "grant.of_door_or_area",
                "grants.1.door": "grant.of_door_or_area",
                "grants.2.door": "input.no_longer_there",
                "grants.2.schedule": "input.no_longer_there",
                "rules.0.department": "input.no_longer_there",
                "rules.1.department": "rule.about_nothing",
                "review_days": "input.out_of_range",
            },
        )
        needs_owner = self.body(owner_id=None)
        self.assertEqual(
            self.problems("POST", "/groups", needs_owner), {"owner_id": "group.review_needs_owner"}
        )
        self.assertEqual(AccessGroup.objects.count(), before)
