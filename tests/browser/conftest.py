"""A real server with its own database, and Chromium. No ORM here: Playwright's loop would trip Django's guard."""

from __future__ import annotations

import os
import shutil
import socket
import subprocess
import sys
import time
import urllib.request
from pathlib import Path

import pytest
from playwright.sync_api import expect

from tests.demo import demo_snapshot

HANG_MS = 120_000  # ends a hang; nothing is expected to take any time
expect.set_options(timeout=HANG_MS)
ROOT = Path(__file__).resolve().parents[2]


class Server:
    """Barodex with the demo fleet, or with an empty book, served by gunicorn; can be stopped and started again half-way."""

    def __init__(self, folder: Path, empty: bool = False) -> None:
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        self.url = f"http://127.0.0.1:{self.port}"
        self.env = {**os.environ, "BARODEX_VAR": str(folder), "BARODEX_DEMO": "" if empty else "1", "PYTHONPATH": str(ROOT / "src")}
        self.env.pop("DJANGO_SETTINGS_MODULE", None)
        self.env["BARODEX_CLOCK"] = str(folder / "clock")
        self.ahead_s = 0.0
        if empty:
            subprocess.run([sys.executable, "-m", "barodex", "migrate", "-v0"], check=True, env=self.env, stdout=subprocess.DEVNULL)
        for part in () if empty else demo_snapshot().iterdir():
            copy = shutil.copytree if part.is_dir() else shutil.copy2
            copy(part, folder / part.name)
        self.process: subprocess.Popen | None = None
        self.start()

    def start(self) -> None:
        command = [
            sys.executable,
            "-m",
            "gunicorn",
            "--no-control-socket",
            "--log-level",
            "error",
            "--threads",
            "4",
            "-b",
            f"127.0.0.1:{self.port}",
            "barodex.config.wsgi",
        ]
        self.process = subprocess.Popen(command, env=self.env, cwd=ROOT, start_new_session=True)
        for _ in range(600):
            try:
                urllib.request.urlopen(f"{self.url}/api/session", timeout=20).close()
                return
            except OSError:
                time.sleep(0.1)
        raise RuntimeError("the server did not start")

    def forward(self, seconds: float) -> None:
        """Let the server's clock jump ahead: what it simulates runs on as if one had waited."""
        self.ahead_s += seconds
        written = Path(self.env["BARODEX_CLOCK"]).with_suffix(".new")
        written.write_text(str(self.ahead_s))
        written.replace(self.env["BARODEX_CLOCK"])

    def stop(self) -> None:
        if self.process:
            self.process.terminate()
            self.process.wait(120)
            self.process = None


@pytest.fixture(scope="module")
def server(tmp_path_factory):
    """Each file has its own: what one leaves behind is in no other's way, whichever worker takes which first."""
    made = Server(tmp_path_factory.mktemp("barodex"))
    yield made
    made.stop()


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args):
    return {
        **browser_type_launch_args,
        "executable_path": os.environ.get("CHROMIUM", "/usr/bin/chromium"),
        "chromium_sandbox": False,
        "args": ["--disable-background-networking", "--host-resolver-rules=MAP * ~NOTFOUND, EXCLUDE 127.0.0.1, EXCLUDE localhost"],
    }


@pytest.fixture(scope="module")
def browser_context_args(browser_context_args, server):
    return {
        **browser_context_args,
        "base_url": server.url,
        "viewport": {"width": 1280, "height": 800},
        "reduced_motion": "reduce",
        "locale": "en-GB",
    }


@pytest.fixture
def watched(page, server):
    """A page that fails its test on a script error, a policy violation, or a request to anywhere else."""
    faults: list[str] = []
    page.on("pageerror", lambda error: faults.append(f"script: {error}"))
    page.on("console", lambda message: faults.append(f"policy: {message.text}") if "Content Security Policy" in message.text else None)
    page.on(
        "request",
        lambda request: faults.append(f"elsewhere: {request.url}") if not request.url.startswith((server.url, "data:", "blob:")) else None,
    )
    page.set_default_timeout(HANG_MS)
    yield page
    assert faults == []


@pytest.fixture
def signed_in(watched):
    """The page, signed in by one click as the lead."""
    watched.goto("/")
    watched.get_by_role("button", name="Look round as the lead").click()
    watched.get_by_role("navigation", name="Places").wait_for()
    return watched
