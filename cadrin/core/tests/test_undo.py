"""Taking back one act, and all acts since an instant."""

from copy import deepcopy
from typing import Any
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.undo import Done, as_before, as_it_was

FIELDS = ("hours", "zone", "name")
THINGS = st.dictionaries(
    st.integers(1, 4),
    st.fixed_dictionaries({field: st.integers(0, 3) for field in FIELDS}),
    max_size=4,
)
ACTS = st.lists(
    st.tuples(
        st.integers(1, 5), st.sampled_from(["make", "change", "remove"]),
        st.sampled_from(FIELDS), st.integers(4, 9),
    ),
    max_size=12,
)  # fmt: skip


def do(things: dict[int, dict[str, Any]], act: tuple[int, str, str, int]) -> Done | None:
    """Do an act where it can be done, and tell it as the journal does."""
    id_, verb, field, value = act
    if verb == "make" and id_ not in things:
        things[id_] = dict.fromkeys(FIELDS, value)
        return Done(id_, "made", dict.fromkeys(FIELDS, (None, value)))
    if verb == "change" and id_ in things:
        before, things[id_][field] = things[id_][field], value
        return Done(id_, "changed", {field: (before, value)})
    if verb == "remove" and id_ in things:
        gone = things.pop(id_)
        return Done(id_, "removed", {name: (kept, None) for name, kept in gone.items()})
    return None


class TakingBack(TestCase):
    @given(THINGS, ACTS)
    def test_all_acts_leads_to_what_was_before_them(
        self, things: dict[int, dict[str, Any]], acts: list[tuple[int, str, str, int]]
    ) -> None:
        before = deepcopy(things)
        done = [one for act in acts if (one := do(things, act))]
        self.assertEqual(as_it_was(things, reversed(done)), before)

    @given(THINGS, ACTS)
    def test_nothing_leaves_everything_and_changes_nothing_that_it_was_given(
        self, things: dict[int, dict[str, Any]], acts: list[tuple[int, str, str, int]]
    ) -> None:
        done = [one for act in acts if (one := do(things, act))]
        now = deepcopy(things)
        as_it_was(things, reversed(done))
        self.assertEqual(things, now)
        self.assertEqual(as_it_was(things, []), now)

    def test_one_act_is_refused_where_its_field_was_changed_since(self) -> None:
        values, since = as_before({"title": "Diver", "email": "x"}, {"title": ("", "Diver")})
        self.assertEqual((values, since), ({"title": "", "email": "x"}, ()))
        _, since = as_before({"title": "Cook"}, {"title": ("", "Diver"), "email": ("", "y")})
        self.assertEqual(since, ("title", "email"))
