"""Takes the pictures in docs/screenshots from the demo study (make screenshots)."""

import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Browser, FilePayload, Page, sync_playwright

OUT = Path(__file__).parents[2] / "docs/screenshots"
MESSY = "town;age;ill;boils;score\n" + "".join(
    f"{town};{age};{ill};{boils};{score}\n"
    for town, ill, boils in (
        ("Norrin Harbour", "yes", "often"),
        ("Upper Vale", "no", "never"),
        ("Upper Vale", "refused", "."),
        ("Estuary", "YES", "sometimes"),
    )
    for age, score in zip([*range(21, 60, 3), 99], ["1,5", "2,25", "3,0"] * 5, strict=False)
)


def wait_for_answer(page: Page) -> None:
    page.locator(".tiles_marks path").first.wait_for()
    page.wait_for_timeout(300)


def ask(page: Page) -> None:
    page.get_by_role("link", name="Ostra Basin household water survey").click()
    wait_for_answer(page)


def ask_marked(page: Page) -> None:
    ask(page)
    page.locator(".tiles_marks path").nth(6).click()


def made(page: Page, name: str) -> None:
    data(page)
    page.get_by_role("link", name=name).first.click()
    how = page.get_by_role("link", name="How it is made")
    if how.count():
        how.click()
    page.get_by_role("heading", name=name).wait_for()
    page.wait_for_timeout(800)


def harmonising(page: Page) -> None:
    made(page, "Both rounds")
    page.get_by_role("button", name="Water source").first.click()
    page.wait_for_timeout(500)


def groups(page: Page) -> None:
    made(page, "All visits")
    made_of = page.get_by_role("navigation", name="What is made from what")
    made_of.get_by_role("link", name="Affected and unaffected").click()
    page.get_by_text("cases are in a group").wait_for()
    page.wait_for_timeout(500)


def codebook(page: Page) -> None:
    ask(page)
    page.keyboard.press("2")
    page.get_by_role("button", name="Water source source").click()
    page.wait_for_timeout(300)


def data(page: Page) -> None:
    ask(page)
    page.keyboard.press("1")
    page.get_by_role("cell", name="H0001").wait_for()


def preview(page: Page) -> None:
    page.get_by_label("Name of a new study").fill("Harbour towns")
    page.get_by_role("button", name="Create").click()
    file = FilePayload(name="harbour.csv", mimeType="text/csv", buffer=MESSY.encode())
    page.set_input_files("input[type=file]:not([webkitdirectory])", files=[file])
    page.get_by_role("button", name="Use this data").wait_for()
    page.wait_for_timeout(500)


def compare(page: Page) -> None:
    ask(page)
    page.get_by_role("link", name="Compare", exact=True).click()
    for name in ("Does illness vary with water source", "weighted, villages as clusters"):
        page.get_by_label(name).check()
    page.get_by_role("row", name="River against Piped").wait_for()
    page.wait_for_timeout(800)


def report(page: Page) -> None:
    ask(page)
    page.get_by_role("link", name="Report", exact=True).click()
    page.locator(".live").first.wait_for()
    page.get_by_role("region", name="Put in").get_by_role(
        "button", name="Does illness vary with water source"
    ).click()
    page.wait_for_timeout(1500)


def distribution(page: Page) -> None:
    ask(page)
    page.get_by_role("link", name="How old are the heads").click()
    page.locator(".mark-rect path").first.wait_for()
    page.wait_for_timeout(400)


def glance(page: Page) -> None:
    ask(page)
    page.keyboard.press("g")
    page.get_by_role("button", name="Household size").wait_for()
    page.wait_for_timeout(300)


def strata(page: Page) -> None:
    ask(page)
    page.keyboard.press("w")
    page.get_by_role("combobox", name="Within each").fill("district")
    page.keyboard.press("Enter")
    within = page.get_by_label("Within each District")
    within.wait_for()
    page.wait_for_timeout(800)
    within.evaluate("element => window.scrollTo(0, element.offsetTop - 70)")


def people(page: Page) -> None:
    ask(page)
    page.get_by_role("link", name="People of this study").click()
    page.get_by_role("heading", name="What happened").wait_for()
    page.wait_for_timeout(800)


def proportions(page: Page) -> None:
    ask(page)
    page.get_by_role("tab", name="Proportions").click()
    page.get_by_text("percentage points more").wait_for()
    page.wait_for_timeout(600)


def characteristics(page: Page) -> None:
    # The question was left in the Proportions lens by the picture before.
    page.get_by_role("link", name="Ostra Basin household water survey").click()
    page.get_by_text("percentage points more").wait_for()
    for name in ("age of head", "flooded", "schooling"):
        page.get_by_title("And with another variable").click()
        page.get_by_role("combobox", name="And with").fill(name)
        page.keyboard.press("Enter")
        page.wait_for_timeout(600)
    page.get_by_label("with tests").check()
    page.wait_for_timeout(600)
    page.locator('[data-panel="first_table"]').evaluate(
        "element => window.scrollTo(0, element.getBoundingClientRect().top + scrollY - 90)"
    )


def odds(page: Page) -> None:
    page.get_by_role("link", name="Ostra Basin household water survey").click()
    page.get_by_role("link", name="Does schooling matter").click()
    page.get_by_role("group", name="Odds ratios with intervals").wait_for()
    page.wait_for_timeout(600)


def survey(page: Page) -> None:
    page.get_by_role("link", name="Ostra Basin household water survey").click()
    page.get_by_role("link", name="…with the design of the sample").first.click()
    page.get_by_role("columnheader", name="adjusted odds ratio").wait_for()
    page.wait_for_timeout(500)


def every_answer(page: Page) -> None:
    page.get_by_role("link", name="Ostra Basin household water survey").click()
    page.get_by_role("link", name="Who trusts the utility more").click()
    page.get_by_role("columnheader", name="adjusted odds ratio").wait_for()
    page.get_by_text("wherever the answers are cut").or_(
        page.get_by_text("differ between the places")
    ).first.wait_for()
    page.wait_for_timeout(600)


def matched_sets(page: Page) -> None:
    page.get_by_role("link", name="Ostra Basin household water survey").click()
    page.get_by_role("link", name="Fever: shellfish or swimming").click()
    page.get_by_role("columnheader", name="adjusted odds ratio").wait_for()
    page.wait_for_timeout(600)


VIEWS: list[tuple[str, str, Callable[[Page], None]]] = [
    ("ask", "light", ask),
    ("ask-dark", "dark", ask_marked),
    ("codebook", "light", codebook),
    ("data", "light", data),
    ("bring-together", "light", harmonising),
    ("groups", "light", groups),
    ("import-preview", "light", preview),
    ("compare", "light", compare),
    ("report", "light", report),
    ("distribution", "light", distribution),
    ("glance", "light", glance),
    ("strata", "light", strata),
    ("people", "light", people),
    ("proportions", "light", proportions),
    ("first-table", "light", characteristics),
    ("odds", "light", odds),
    ("survey", "light", survey),
    ("every-answer", "light", every_answer),
    ("matched", "light", matched_sets),
]


def take(browser: Browser, base: str, link: str) -> None:
    context = browser.new_context(base_url=base)
    context.new_page().goto(link)
    state = context.storage_state()
    for name, scheme, go in VIEWS:
        page = browser.new_context(
            base_url=base,
            viewport={"width": 1280, "height": 800},
            color_scheme=scheme,  # type: ignore[arg-type]
            reduced_motion="reduce",
            storage_state=state,
        ).new_page()
        page.goto("/")
        go(page)
        page.wait_for_timeout(300)
        page.screenshot(path=OUT / f"{name}.png")
        print(OUT / f"{name}.png")


def wait_until_it_answers(address: str) -> None:
    for _ in range(300):
        try:
            urllib.request.urlopen(address).read()
            return
        except OSError:
            time.sleep(0.2)
    raise TimeoutError(address)


def main() -> None:
    with tempfile.TemporaryDirectory(prefix="hobrix-shots-") as home:
        environment = {**os.environ, "HOBRIX_HOME": home, "PYTHONUNBUFFERED": "1"}
        command = [str(Path(sys.executable).with_name("hobrix")), "demo", "--port", "8090"]
        server = subprocess.Popen(command, env=environment, stdout=subprocess.PIPE, text=True)
        try:
            assert server.stdout is not None
            link = next(line.strip() for line in server.stdout if "/enter/" in line)
            base = link.split("/enter/")[0]
            wait_until_it_answers(f"{base}/health")
            with sync_playwright() as playwright:
                browser = playwright.chromium.launch(executable_path="/usr/bin/chromium")
                take(browser, base, link)
                browser.close()
        finally:
            server.terminate()
            server.wait()


if __name__ == "__main__":
    main()
