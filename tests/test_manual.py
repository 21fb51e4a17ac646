"""The manual is served as it lies in the folder, and its links lead to what there is."""

import posixpath
import re

from django.test import SimpleTestCase

from cadrin.config.manual import pages

LINK = re.compile(r'(?:href|src)="(?!https?:|#|mailto:|/)([^"#]+)')


class Manual(SimpleTestCase):
    def test_every_page_is_shown_and_its_links_lead_somewhere(self) -> None:
        names = pages()
        self.assertIn("docs/running.md", names)
        for name in names:
            answer = self.client.get(f"/manual/{name}")
            with self.subTest(name):
                self.assertEqual(answer.status_code, 200)
                if not name.endswith(".md"):
                    continue
                self.assertContains(answer, "<h1")
                linked = LINK.findall(answer.content.decode())
                there = {
                    posixpath.normpath(posixpath.join(posixpath.dirname(name), one))
                    for one in linked
                }
                self.assertEqual(there - set(names), set())

    def test_nothing_else_is_served(self) -> None:
        for name in ("manage.py", "../manage.py", "docs/../manage.py", "docs", "%2e%2e/manage.py"):
            self.assertEqual(self.client.get(f"/manual/{name}").status_code, 404, name)
