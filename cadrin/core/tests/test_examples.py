"""The examples in the core's own words: each is true."""

import doctest
import pkgutil
from importlib import import_module
from unittest import TestCase, TestLoader, TestSuite

import cadrin.core

FEWEST = 40
"""So many there are at least: were they not found, nothing would fail."""


def load_tests(_loader: TestLoader, tests: TestSuite, _pattern: str | None) -> TestSuite:
    for module in pkgutil.walk_packages(cadrin.core.__path__, "cadrin.core."):
        if ".tests" not in module.name:
            tests.addTests(doctest.DocTestSuite(import_module(module.name)))
    return tests


class Examples(TestCase):
    def test_are_found(self) -> None:
        modules = [
            module.name for module in pkgutil.walk_packages(cadrin.core.__path__, "cadrin.core.")
        ]
        found = [
            test for name in modules for test in doctest.DocTestFinder().find(import_module(name))
        ]
        self.assertGreater(sum(len(test.examples) for test in found), FEWEST)
