from unittest import TestCase

from cadrin.core.people.departments import depth_of, is_below, line_above

TREE = {1: None, 2: 1, 3: 2, 4: 1}


class Tree(TestCase):
    def test_each_lies_as_deep_as_there_are_departments_above_it(self) -> None:
        self.assertEqual([depth_of(id_, TREE) for id_ in (1, 2, 3, 4)], [0, 1, 2, 1])

    def test_below_is_itself_and_whatever_leads_up_to_it(self) -> None:
        self.assertEqual([id_ for id_ in TREE if is_below(id_, 2, TREE)], [2, 3])

    def test_a_ring_ends(self) -> None:
        self.assertEqual(list(line_above(1, {1: 2, 2: 1})), [1, 2])
