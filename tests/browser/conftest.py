"""A real browser (Debian's Chromium) against a running server with the demo study."""

import os
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any, Literal

import pytest
from django.contrib.auth import get_user_model
from django.core.cache import cache
from django.test import Client
from playwright.sync_api import (
    Browser,
    ConsoleMessage,
    Page,
    Request,
    expect,
    sync_playwright,
)

from hobrix.web.demo.load import demo_user, load_demo

# Playwright's loop runs in this thread, which Django would take for asynchronous code.
os.environ["DJANGO_ALLOW_ASYNC_UNSAFE"] = "true"

# Other parts of the suite run beside: what is waited for comes, but may take its time.
expect.set_options(timeout=30_000)

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


@pytest.fixture(scope="session")
def first_page(browser: Browser, live_server: Any) -> Iterator[Page]:
    """One page for all tests, which so keeps the scripts it has read; tests leave it with no sign
    of them (``open_page``)."""
    page = _page(browser, live_server)
    yield page
    page.context.close()


def _page(browser: Browser, live_server: Any) -> Page:
    context = browser.new_context(base_url=live_server.url, reduced_motion="reduce")
    context.set_default_timeout(30_000)
    return context.new_page()


@pytest.fixture
def open_page(
    browser: Browser, first_page: Page, live_server: Any
) -> Iterator[Callable[..., Page]]:
    """Pages of separate people; fails when one of them saw an error or called elsewhere."""
    complaints: list[str] = []
    pages: list[Page] = []
    under_way: set[Request] = set()
    heard = _listeners(complaints, live_server.url)
    followed: dict[str, Callable[..., None]] = {
        "request": lambda request: under_way.add(request),
        "requestfinished": lambda request: under_way.discard(request),
        "requestfailed": lambda request: under_way.discard(request),
    }

    def make(
        width: int = 1280, height: int = 800, scheme: Literal["light", "dark"] = "light"
    ) -> Page:
        page = _page(browser, live_server) if pages else first_page
        pages.append(page)
        page.set_viewport_size({"width": width, "height": height})
        page.emulate_media(color_scheme=scheme)
        for event, listener in (*heard.items(), *followed.items()):
            page.on(event, listener)  # type: ignore[call-overload]
        return page

    yield make
    for page in pages:
        for event, listener in heard.items():
            page.remove_listener(event, listener)
    _settle(pages, under_way)
    for page in pages[1:]:
        page.context.close()
    if pages:
        for event, listener in followed.items():
            first_page.remove_listener(event, listener)
        _forget(first_page, live_server.url)
        first_page.unroute("**/pulse")
    assert complaints == []


def _settle(pages: list[Page], under_way: set[Request]) -> None:
    """Nothing is asked any more: between two tests there is no database, and what comes late would be
    taken for a mistake of the next one."""
    for page in pages:
        page.route("**/pulse", lambda route: route.abort())
    for _ in range(250):
        if not under_way:
            return
        pages[0].wait_for_timeout(20)


def _listeners(complaints: list[str], origin: str) -> dict[str, Callable[..., None]]:
    """What is wrong with a page is written down: errors, warnings, and calls to anywhere else."""

    def on_error(error: Any) -> None:
        complaints.append(f"error: {error}")

    def on_console(message: ConsoleMessage) -> None:
        if message.type in ("error", "warning") and EXPECTED_NOISE not in message.text:
            complaints.append(f"console: {message.text}")

    def on_request(request: Request) -> None:
        if not request.url.startswith((origin, "data:", "blob:", "about:")):
            complaints.append(f"outside: {request.url}")

    return {"pageerror": on_error, "console": on_console, "request": on_request}


def _forget(page: Page, origin: str) -> None:
    """Leave the application and delete what it stored in the browser."""
    page.goto("/static/mark.svg")
    page.context.clear_cookies()
    page.context.new_cdp_session(page).send(
        "Storage.clearDataForOrigin",
        {"origin": origin, "storageTypes": "local_storage,session_storage,indexeddb"},
    )


@pytest.fixture(autouse=True)
def _own_files(settings: Any, tmp_path: Path) -> None:
    cache.clear()
    settings.MEDIA_ROOT = tmp_path / "sources"


@pytest.fixture
def page(open_page: Callable[..., Page]) -> Page:
    return open_page()


@pytest.fixture
def demo(transactional_db: None) -> Any:
    return load_demo(whole=False)


@pytest.fixture
def each_household_once(demo: Any) -> None:
    """New questions about the demo survey count rows, without its design."""
    dataset = demo.datasets.get(name="Round one")
    dataset.counted_by = {"kind": "each"}
    dataset.save()


@pytest.fixture
def enter_demo(demo: Any, live_server: Any) -> Callable[[Page], Page]:
    """Sign the demo user in and open the demo study's Ask screen."""

    def enter(page: Page, screen: str = "ask") -> Page:
        client = Client()
        client.force_login(demo_user())
        session = client.cookies["sessionid"].value
        page.context.add_cookies([{"name": "sessionid", "value": session, "url": live_server.url}])
        page.goto(f"/studies/{demo.id}/{screen}")
        return page

    return enter


@pytest.fixture
def mira(transactional_db: None) -> Any:
    return get_user_model().objects.create_user("mira", password="a long password")


@pytest.fixture
def no_serious_findings() -> Callable[[Page], None]:
    """Run axe on the page as it is; in the dark theme, which differs in colours only, its rule about them."""

    def check(page: Page) -> None:
        page.wait_for_timeout(250)
        if not page.evaluate("() => 'axe' in window"):
            page.evaluate(AXE.read_text())
        result = page.evaluate(
            """() => axe.run(document, {
                resultTypes: ['violations'],
                ...(matchMedia('(prefers-color-scheme: dark)').matches && { runOnly: ['color-contrast'] }),
            })"""
        )
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
