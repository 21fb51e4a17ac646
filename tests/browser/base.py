"""The real interface in a real browser: Debian's Chromium, driven by Playwright, on the demo."""

import atexit
import json
import os
import shutil
import sqlite3
from collections.abc import Sequence
from functools import cache
from pathlib import Path
from tempfile import TemporaryDirectory
from typing import Any

from django.conf import settings
from django.db import connection
from django.test import Client, LiveServerTestCase, override_settings, tag
from playwright.sync_api import (
    Browser,
    BrowserContext,
    ConsoleMessage,
    Locator,
    Page,
    expect,
    sync_playwright,
)

from cadrin.core.records.keys import RecordKind
from cadrin.delivery.models import Record
from cadrin.demo.loading import PASSWORD
from cadrin.demo.places import write_standins
from cadrin.operators.models import Operator
from cadrin.sites.models import Reader
from tests.kept_demo import kept_demo
from tests.running import BENCH_KEY, PATIENCE_SECONDS, RunningWorker, StandIns, until

# Playwright's sync API keeps an event loop in the test's own thread, where Django then refuses the
# ORM
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

CHROMIUM = shutil.which(os.environ.get("CHROMIUM", "chromium"))
FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--no-proxy-server",
    # a camera that shows a pattern, and no question whether it may be used
    "--use-fake-device-for-media-stream",
    "--use-fake-ui-for-media-stream",
    # nothing outside of this machine is ever asked for
    "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost",
]
PATIENCE_MS = round(PATIENCE_SECONDS * 1000)
expect.set_options(timeout=PATIENCE_MS)
LATE_MS = float(os.environ.get("CADRIN_LATE_MS", 0))
"""How late every answer comes to the browser: what only a quick machine hides comes out."""
FAILURES = settings.ROOT / "var" / "failures"
MOST_SEEN = 2500
NOTHING_LOADED = "about:blank"
FOLLOW_A_LINK = """async path => {
    await document.querySelector('#app').__vue_app__.config.globalProperties.$router.push(path)
}"""
"""Many times as fast as loading the application anew, and what an operator does all day."""
AXE_RULES = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]


@cache
def _axe() -> str:
    return Path(settings.ROOT, "web/node_modules/axe-core/axe.min.js").read_text()


def first_option(page: Page) -> Locator:
    """Return the first thing that an open list offers; that it has nothing is written like one."""
    return page.locator("[role=option]:not([class*=empty-message])").first


def taken_by_enter(page: Page) -> Locator:
    """Return what Enter would take of an open list: until there is something, it takes nothing."""
    return page.locator("[role=option][data-p-focused=true]")


@cache
def browser() -> Browser:
    """Start the one browser that all tests of this process share; each has windows of its own."""
    playwright = sync_playwright().start()
    browser = playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
    atexit.register(playwright.stop)
    atexit.register(browser.close)
    return browser


@cache
def _empty() -> Path:
    """Keep the database as it is between tests that commit."""
    kept = settings.VAR / "empty.sqlite3"
    _copy(str(connection.settings_dict["NAME"]), str(kept))
    return Path(kept)


def _copy(source: str, target: str) -> None:
    with sqlite3.connect(source) as one, sqlite3.connect(target, timeout=PATIENCE_SECONDS) as other:
        one.backup(other)


@tag("browser")
class BrowserTest(LiveServerTestCase):
    """The demo, its stand-ins, the worker, and a page with an operator signed in."""

    page: Page

    @staticmethod
    def static_handler(application: Any) -> Any:  # type: ignore[override]
        return application  # which serves its files itself, as in production

    def _fixture_teardown(self) -> None:
        # many times as fast as emptying every table, and the demo's things keep their ids
        _copy(str(_empty()), str(connection.settings_dict["NAME"]))

    def make_house(self) -> list[dict[str, Any]]:
        """Put the demo into the database, and return its stand-ins."""
        _copy(str(kept_demo()), str(connection.settings_dict["NAME"]))
        with TemporaryDirectory() as folder:
            write_standins(Path(folder) / "setup.json")
            told = json.loads((Path(folder) / "setup.json").read_text())
            return list(told["controllers"])

    def setUp(self) -> None:
        _empty()
        self.standins = StandIns(self.make_house())
        self.addCleanup(self.standins.stop)
        found = override_settings(STANDINS_URL=self.standins.url, STANDINS_KEY=BENCH_KEY)
        found.enable()
        self.addCleanup(found.disable)
        self.worker = RunningWorker()
        self.addCleanup(self.worker.stop)
        self.complaints: list[str] = []
        self.page = self.a_page("ines")

    def a_page(self, username: str = "", **more: Any) -> Page:
        """Open a window of its own with nothing loaded, for an operator who has signed in before or
        for nobody.
        """
        context: BrowserContext = browser().new_context(
            viewport={"width": 1280, "height": 800},
            reduced_motion="reduce",
            locale="en-GB",
            timezone_id="Europe/Amsterdam",  # not the site's: its zone must be used all the same
            base_url=self.live_server_url,
            **more,
        )
        context.set_default_timeout(PATIENCE_MS)
        self.addCleanup(context.close)
        if username:
            client = Client()
            client.force_login(Operator.objects.get(username=username))
            key = client.cookies[settings.SESSION_COOKIE_NAME].value
            context.add_cookies(
                [{"name": settings.SESSION_COOKIE_NAME, "value": key, "url": self.live_server_url}]
            )
        page = context.new_page()
        if LATE_MS:
            late = {
                "offline": False,
                "latency": LATE_MS,
                "downloadThroughput": -1,
                "uploadThroughput": -1,
            }
            network = context.new_cdp_session(page)
            network.send("Network.enable")
            network.send("Network.emulateNetworkConditions", late)
        page.on("pageerror", lambda error: self.complaints.append(f"page error: {error}"))
        page.on("console", self._console)
        return page

    def sign_in(
        self, page: Page, username: str, sections: str = "Sections", password: str = PASSWORD
    ) -> None:
        """Sign in; ``sections`` is what the sections are called in the operator's language."""
        page.goto("/")
        page.get_by_label("Operator").fill(username)
        page.get_by_label("Password").fill(password)
        page.keyboard.press("Enter")
        expect(page.get_by_role("navigation", name=sections)).to_be_visible()

    def go(self, path: str, page: Page | None = None) -> None:
        """Go to a screen as a link of the application does; what a window opens first is loaded."""
        page = page or self.page
        if page.url == NOTHING_LOADED:
            page.goto(path)
            expect(page.locator("nav").first).to_be_visible()
        else:
            page.evaluate(FOLLOW_A_LINK, path)

    def _console(self, message: ConsoleMessage) -> None:
        # the browser itself calls each refused request an error; those are what some tests are
        # about
        if message.type in ("error", "warning") and "Failed to load resource" not in message.text:
            self.complaints.append(f"{message.type}: {message.text}")

    def tearDown(self) -> None:
        result = self._outcome.result  # type: ignore[attr-defined]
        if any(test is self for test, _ in (*result.errors, *result.failures)):
            self._tell_what_is_seen()
        super().tearDown()
        self.assertEqual(self.complaints, [])

    def _tell_what_is_seen(self) -> None:
        """Print what stands on the page, and keep a picture of it."""
        FAILURES.mkdir(parents=True, exist_ok=True)
        self.page.screenshot(path=FAILURES / f"{self.id()}.png")
        seen = self.page.locator("body").aria_snapshot()
        print(
            f"\n{self.id()} at {self.page.url}\n{seen[:MOST_SEEN]}",
            *self.complaints,
            sep="\n",
            flush=True,
        )

    # -- what every story needs ----------------------------------------------------------------

    def show_at(self, reader: str, card_number: int, facility_code: int = 87) -> None:
        """Show a card at a reader of the test bench, which must be shut, and shut it again; as soon as
        the controller knows the reader.
        """
        shown_at = Reader.objects.get(name=reader)
        record = Record.objects.filter(kind=RecordKind.READER, subject_id=shown_at.pk)
        until(
            lambda: shown_at.door_id is None or record.exclude(confirmed="").exists(),
            f"the controller knows {reader}",
        )
        self.page.get_by_role("button", name="Test bench").click()
        bench = self.page.get_by_role("region", name="Test bench")
        bench.get_by_label("Facility code").fill(str(facility_code))
        bench.get_by_label("Card number").fill(str(card_number))
        bench.get_by_role("button", name=reader, exact=True).click()
        expect(bench.get_by_role("status")).to_contain_text(reader)
        self.bench_said = bench.get_by_role("status").inner_text()
        self.page.get_by_role("button", name="Test bench").click()
        expect(bench).to_be_hidden()
        self.page.evaluate("document.activeElement.blur()")

    def until_asked(self, *held: Sequence[object]) -> None:
        """Wait until the page has asked for each thing that a route of a test holds back."""

        def are_there() -> bool:
            self.page.wait_for_timeout(20)  # routes are told while the page is waited for
            return all(held)

        until(are_there, "the page asks for what is held back")

    def strip(self) -> Locator:
        return self.page.get_by_role("list", name="Reads")

    def choose(self, box: str, typed: str) -> None:
        """Choose from a list by typing the beginning of what is meant; a space would choose already."""
        self.page.get_by_role("combobox", name=box).click()
        self.page.keyboard.type(typed.split()[0])
        option = self.page.get_by_role("option", name=typed).first
        expect(option).to_be_visible()
        option.click()

    def assert_accessible(self, page: Page | None = None, rules: Sequence[str] = ()) -> None:
        """Fail on every serious or critical finding of axe-core, by all rules of WCAG or by these
        alone.
        """
        page = page or self.page
        page.evaluate(_axe())
        # a colour on its way to another is none that anybody reads
        page.evaluate(
            """() => Promise.allSettled(document.getAnimations()
                .filter(one => one.effect.getComputedTiming().iterations !== Infinity)
                .map(one => one.finished))"""
        )
        found = page.evaluate(
            """async runOnly => (await axe.run(document, {
                runOnly, resultTypes: ['violations'], elementRef: false })).violations""",
            {"type": "rule", "values": list(rules)}
            if rules
            else {"type": "tag", "values": AXE_RULES},
        )
        serious = [
            f"{one['impact']}: {one['id']}: {node['target']} {node['html'][:120]}"
            for one in found
            if one["impact"] in ("serious", "critical")
            for node in one["nodes"]
        ]
        self.assertEqual(serious, [])
