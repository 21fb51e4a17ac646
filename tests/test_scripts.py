"""The scripts by which Cadrin is installed, tried and tested, on a machine that has next to
nothing.
"""

import os
import re
import shutil
import signal
import subprocess
import time
from pathlib import Path
from tempfile import TemporaryDirectory

from django.conf import settings
from django.test import SimpleTestCase

from tests.running import until

SCRIPTS = Path(settings.ROOT, "scripts")
PRETENDED_PYTHON = """#!/usr/bin/env bash
# makes environments whose pip does nothing, and says what it was asked for
echo "$@" >>asked
if [ "$1 $2 $3" = "-m venv --clear" ]; then
  rm -rf "$4" && mkdir -p "$4/bin"
  printf '#!/usr/bin/env bash\\nexit 0\\n' >"$4/bin/pip" && cp "$4/bin/pip" "$4/bin/uv" && chmod +x "$4"/bin/*
fi
"""


class Scripts(SimpleTestCase):
    def setUp(self) -> None:
        folder = TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.root = Path(folder.name)
        shutil.copytree(SCRIPTS, self.root / "scripts")
        (self.root / "requirements").mkdir()
        for name in ("base.txt", "dev.txt"):
            (self.root / "requirements" / name).write_text(name)
        python = self.root / "python"
        python.write_text(PRETENDED_PYTHON)
        python.chmod(0o755)

    def run_in(self, script: str) -> "subprocess.CompletedProcess[str]":
        """Run lines of bash beside the scripts, with what they share."""
        return subprocess.run(
            ["bash", "-c", f". scripts/setting-up\n{script}"],
            cwd=self.root,
            env={**os.environ, "PYTHON": "./python"},
            capture_output=True,
            text=True,
            timeout=60,
        )

    def asked(self) -> list[str]:
        file = self.root / "asked"
        return file.read_text().splitlines() if file.exists() else []

    def test_name_no_function_like_a_command_they_look_for(self) -> None:
        for script in SCRIPTS.iterdir():
            text = script.read_text() + (SCRIPTS / "setting-up").read_text()
            functions = set(re.findall(r"^(\w+)\(\) *\{", text, re.MULTILINE))
            commands = set(re.findall(r"(?:command -v|type -P) \"?(\w+)", text))
            with self.subTest(script.name):
                self.assertEqual(functions & commands, set())
                self.assertEqual(
                    [name for name in functions if shutil.which(name)], [], "hides a command"
                )

    def test_begin_anew_where_installing_was_interrupted(self) -> None:
        # without pip, as an interrupted attempt leaves it
        (self.root / ".venv/bin").mkdir(parents=True)

        done = self.run_in(
            "python_packages requirements/base.txt; python_packages requirements/base.txt"
        )

        self.assertEqual((done.returncode, done.stderr), (0, ""))
        self.assertEqual(
            self.asked(), ["-m venv --clear .venv"], "once, and not where all is there"
        )

    def test_take_a_step_for_done_only_when_it_was(self) -> None:
        (self.root / "web").mkdir()
        (self.root / "web/package-lock.json").write_text("{}")
        npm = self.root / "npm"
        npm.write_text("#!/usr/bin/env bash\nmkdir -p node_modules; exit 1\n")
        npm.chmod(0o755)
        # as the demo does it: both in the background, and then awaited
        (both,) = re.findall(r"^web\(\) \{.*\}$", (SCRIPTS / "demo").read_text(), re.MULTILINE)

        done = self.run_in(
            f"PATH=$PWD:$PATH\n{both}\nstart web\nawait $! && echo all is there || echo it failed"
        )

        self.assertEqual(done.stdout.splitlines()[-1], "it failed")
        self.assertFalse((self.root / "web/node_modules/.stamp").exists())
        self.assertFalse((self.root / "web/dist").exists(), "and nothing is built on it")

    def test_end_what_they_started_however_they_end(self) -> None:
        for name, how in {
            "Ctrl+C": signal.SIGINT,
            "a stop": signal.SIGTERM,
            "a closed window": signal.SIGHUP,
        }.items():
            with self.subTest(name):
                lines = ". scripts/setting-up; start bash -c 'sleep 600 & echo $! >child; wait'; echo >begun; wait"
                script = subprocess.Popen(
                    ["bash", "-c", lines],
                    cwd=self.root,
                    start_new_session=True,
                    preexec_fn=listen_to_signals,
                )
                child = self.root / "child"
                until(lambda: child.exists() and child.read_text().strip(), "the child runs")  # noqa: B023
                pid = int(child.read_text())
                os.kill(script.pid, how)
                script.wait(timeout=30)
                until(
                    lambda: not Path(f"/proc/{pid}").exists() or is_dead(pid),  # noqa: B023
                    "the child is gone",
                )
                child.unlink()

    def test_hold_a_lock_against_a_second_one(self) -> None:
        (self.root / "python").unlink()
        (self.root / "python").symlink_to(shutil.which("python3") or "python3")
        first = subprocess.Popen(
            ["bash", "-c", ". scripts/setting-up; hold 9 lock && echo >held; sleep 600"],
            cwd=self.root,
            start_new_session=True,
        )
        until((self.root / "held").exists, "the first holds it")

        second = self.run_in("hold 9 lock && echo mine || echo taken")
        os.killpg(first.pid, signal.SIGKILL)
        first.wait(timeout=30)
        third = self.run_in("hold 9 lock && echo mine || echo taken")

        self.assertEqual((second.stdout, third.stdout), ("taken\n", "mine\n"))

    def test_look_at_the_port_before_anything_is_installed(self) -> None:
        demo = (SCRIPTS / "demo").read_text()

        self.assertLess(demo.index("is taken. Choose another"), demo.index("web_packages"))
        self.assertIn("ProxyHandler({})", demo, "the probe goes through no proxy")


def listen_to_signals() -> None:
    """Undo what whoever started the tests may have set: bash cannot trap what was ignored when it
    began.
    """
    for how in (signal.SIGINT, signal.SIGTERM, signal.SIGHUP):
        signal.signal(how, signal.SIG_DFL)


def is_dead(pid: int) -> bool:
    """Say whether a process has ended and only waits to be counted."""
    time.sleep(0.05)
    try:
        return Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()[0] == "Z"
    except OSError:
        return True
