"""A real browser (Debian's Chromium) against a running server with the demo study."""

import os
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from django.contrib.auth import get_user_model
from django.core.cache import cache
from playwright.sync_api import Browser, Page, expect, sync_playwright

from hobrix.web.demo.load import demo_user, load_demo
from hobrix.web.sign_in_link import sign_in_link

# Playwright's loop runs in this thread, which Django would take for asynchronous code.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

AXE = Path(__file__).parents[2] / "frontend/node_modules/axe-core/axe.min.js"
# What the browser says of answers that are meant to be refused.
EXPECTED_NOISE = "Failed to load resource: the server responded with a status of 4"


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(
            executable_path="/usr/bin/chromium", headless=True, args=["--disable-dev-shm-usage"]
        )
        yield browser
        browser.close()


@pytest.fixture
def open_page(browser: Browser, live_server: Any) -> Iterator[Callable[..., Page]]:
    """Pages of separate people; fails when one of them saw an error or called elsewhere."""
    complaints: list[str] = []
    contexts = []

    def make(width: int = 1280, height: int = 800, **options: Any) -> Page:
        context = browser.new_context(
            base_url=live_server.url,
            viewport={"width": width, "height": height},
            reduced_motion="reduce",
            **options,
        )
        contexts.append(context)
        page = context.new_page()
        page.set_default_timeout(8000)
        page.on("pageerror", lambda error: complaints.append(f"error: {error}"))
        page.on(
            "console",
            lambda message: (
                complaints.append(f"console: {message.text}")
                if message.type in ("error", "warning") and EXPECTED_NOISE not in message.text
                else None
            ),
        )
        page.on(
            "request",
            lambda request: (
                None
                if request.url.startswith((live_server.url, "data:", "blob:"))
                else complaints.append(f"outside: {request.url}")
            ),
        )
        return page

    yield make
    for context in contexts:
        context.close()
    assert complaints == []


@pytest.fixture(autouse=True)
def _own_files(settings: Any, tmp_path: Path) -> None:
    cache.clear()
    settings.MEDIA_ROOT = tmp_path / "sources"


@pytest.fixture
def page(open_page: Callable[..., Page]) -> Page:
    return open_page()


@pytest.fixture
def demo(transactional_db: None) -> Any:
    return load_demo()


@pytest.fixture
def enter_demo(demo: Any) -> Callable[[Page], Page]:
    """Sign the demo user in and open the demo study's Ask screen."""

    def enter(page: Page, screen: str = "ask") -> Page:
        user = demo_user()
        page.goto(f"/enter/{user.username}/{sign_in_link.make_token(user)}")
        page.goto(f"/studies/{demo.id}/{screen}")
        return page

    return enter


@pytest.fixture
def mira(transactional_db: None) -> Any:
    return get_user_model().objects.create_user("mira", password="a long password")


@pytest.fixture
def no_serious_findings() -> Callable[[Page], None]:
    """Run axe on the page as it is."""

    def check(page: Page) -> None:
        page.wait_for_timeout(250)
        page.evaluate(AXE.read_text())
        result = page.evaluate("() => axe.run(document, {resultTypes: ['violations']})")
        serious = [
            f"{found['id']}: {node['target']} {node['html'][:160]} {node.get('failureSummary', '')[:200]}"
            for found in result["violations"]
            if found["impact"] in ("serious", "critical")
            for node in found["nodes"]
        ]
        assert serious == []

    return check


# Where a single file is chosen (beside it a folder can be).
FILE = "input[type=file]:not([webkitdirectory])"


def sign_in(page: Page) -> None:
    page.goto("/")
    expect(page.get_by_label("Name")).to_be_focused()
    page.get_by_label("Name").fill("mira")
    page.get_by_label("Password").fill("a long password")
    page.get_by_role("button", name="Sign in").click()


def bring(page: Page, file: Path) -> None:
    page.get_by_label("Name of a new study").fill("Flood and illness")
    page.get_by_role("button", name="Create").click()
    page.set_input_files(FILE, file)
