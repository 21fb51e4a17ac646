from dataclasses import replace
from datetime import timedelta
from unittest import TestCase

from hypothesis import given
from hypothesis import strategies as st

from cadrin.core.bulk import BulkAct, BulkOrder, LeftAlone, Subject, changed, undone
from cadrin.core.tests.builders import MONDAY_NOON
from cadrin.core.validity import Standing

IDS = st.integers(1, 4)
INSTANTS = st.integers(-3, 3).map(lambda days: MONDAY_NOON + timedelta(days=days))
EARLY = st.none() | st.integers(-9, -4).map(lambda days: MONDAY_NOON + timedelta(days=days))
SPANS = st.tuples(st.none(), st.none() | INSTANTS)
SUBJECTS = st.builds(
    Subject,
    department_id=st.none() | IDS,
    standing=st.sampled_from(Standing),
    standing_reason=st.sampled_from(["", "leave"]),
    activation_at=EARLY,
    expiry_at=st.none() | INSTANTS,
    groups=st.dictionaries(IDS, SPANS, max_size=3),
)
ORDERS = st.one_of(
    st.builds(
        BulkOrder,
        st.sampled_from([BulkAct.DEPARTMENT, BulkAct.COMPANY, BulkAct.KIND]),
        st.none() | IDS,
    ),
    st.builds(
        BulkOrder,
        st.just(BulkAct.STANDING),
        st.sampled_from(Standing),
        st.sampled_from(["", "closed"]),
    ),
    st.builds(BulkOrder, st.just(BulkAct.EXPIRY), st.none() | INSTANTS),
    st.builds(BulkOrder, st.sampled_from([BulkAct.ADD_GROUP, BulkAct.REMOVE_GROUP]), IDS),
)


class Laws(TestCase):
    @given(subject=SUBJECTS, order=ORDERS)
    def test_what_was_done_is_taken_back_whole(self, subject: Subject, order: BulkOrder) -> None:
        after = changed(subject, order)

        if isinstance(after, Subject):
            self.assertEqual(undone(after, subject, order), subject)

    @given(subject=SUBJECTS, order=ORDERS)
    def test_done_twice_is_done_once(self, subject: Subject, order: BulkOrder) -> None:
        after = changed(subject, order)

        if isinstance(after, Subject):
            self.assertEqual(changed(after, order), LeftAlone.SAME)

    @given(subject=SUBJECTS, order=ORDERS, title=st.none() | IDS)
    def test_what_others_changed_elsewhere_since_stays(
        self, subject: Subject, order: BulkOrder, title: int | None
    ) -> None:
        after = changed(subject, order)
        if isinstance(after, Subject) and order.act is not BulkAct.KIND:
            now = replace(after, kind_id=title)

            self.assertEqual(undone(now, subject, order), replace(subject, kind_id=title))


class Exceptions(TestCase):
    def test_an_expiry_before_the_activation_leaves_somebody_alone(self) -> None:
        later = Subject(activation_at=MONDAY_NOON + timedelta(days=2))

        self.assertEqual(
            changed(later, BulkOrder(BulkAct.EXPIRY, MONDAY_NOON)), LeftAlone.ENDS_BEFORE_IT_BEGINS
        )

    def test_a_change_that_somebody_made_since_is_not_undone(self) -> None:
        order = BulkOrder(BulkAct.DEPARTMENT, 7)
        now = Subject(department_id=9)

        self.assertEqual(undone(now, Subject(department_id=1), order), LeftAlone.CHANGED_SINCE)

    def test_who_was_erased_is_left_alone(self) -> None:
        self.assertEqual(
            changed(Subject(is_erased=True), BulkOrder(BulkAct.KIND, 1)), LeftAlone.ERASED
        )

    def test_an_order_that_does_not_fit_its_act_is_an_error(self) -> None:
        with self.assertRaises(ValueError):
            changed(Subject(), BulkOrder(BulkAct.ADD_GROUP, None))
