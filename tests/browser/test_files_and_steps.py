"""A messy file of every format on its way to an answer; files in the background; undoing steps."""

import io
import json
import zipfile
from collections.abc import Callable
from pathlib import Path
from typing import Any

import polars as pl
import pytest
from django.core.management import call_command
from playwright.sync_api import Page, expect

from browser.conftest import FILE, bring, sign_in
from made_files import open_document, workbook

# Sixty households: towns with white space, ages with a word among them, "." for no answer.
TOWNS = ["Vale", " Port ", "Vale", "Port", "."]
ILL = ["yes", "no", "no", "refused", "yes", "no"]
MESSY: list[list[Any]] = [
    [TOWNS[i % 5], "old" if i == 7 else 20 + i, ILL[i % 6], ["often", "never", "."][i % 3], ""]
    for i in range(60)
]
NAMES = ["Town", "Age", "Got ill?", "Boils water", "Notes"]
CSV = "".join(f"{','.join(map(str, row))}\n" for row in [NAMES, *MESSY])

DDI = """<?xml version="1.0"?>
<codeBook xmlns="ddi:codebook:2_5" version="2.5"><dataDscr>
 <var name="Got ill?"><labl>Stomach illness</labl>
  <catgry><catValu>no</catValu><labl>Well</labl></catgry>
  <catgry><catValu>yes</catValu><labl>Ill</labl></catgry>
  <catgry missing="Y"><catValu>refused</catValu><labl>Refused</labl></catgry></var>
</dataDscr></codeBook>"""

DICTIONARY = """Variable;Question;Code;Answer;Missing
got ill?;Stomach illness;no;Well;
;;yes;Ill;
;;refused;Refused;yes
"""

SCHEMA = {
    "name": "messy",
    "resources": [
        {
            "name": "answers",
            "path": "data/answers.csv",
            "schema": {
                "fields": [
                    {
                        "name": "Got ill?",
                        "type": "string",
                        "title": "Stomach illness",
                        "categories": [
                            {"value": "no", "label": "Well"},
                            {"value": "yes", "label": "Ill"},
                        ],
                        "categoriesOrdered": False,
                        "missingValues": ["", "refused"],
                    }
                ]
            },
        }
    ],
}


def in_workbook(folder: Path) -> Path:
    rows = [["Ostra Basin, household round"], [], NAMES, *MESSY]
    file = folder / "messy.xlsx"
    file.write_bytes(workbook({"Read me": [["notes"], ["of the field team"]], "Answers": rows}))
    return file


def in_open_document(folder: Path) -> Path:
    file = folder / "messy.ods"
    file.write_bytes(open_document([["Ostra Basin"], NAMES, *MESSY]))
    return file


def in_parquet(folder: Path) -> Path:
    texts = [[str(cell) for cell in column] for column in zip(*MESSY, strict=True)]
    file = folder / "messy.parquet"
    pl.DataFrame(dict(zip(NAMES, texts, strict=True))).write_parquet(file)
    return file


def in_package(folder: Path) -> Path:
    content = io.BytesIO()
    with zipfile.ZipFile(content, "w") as archive:
        archive.writestr("messy/datapackage.json", json.dumps(SCHEMA))
        archive.writestr("messy/data/answers.csv", CSV)
    file = folder / "messy.zip"
    file.write_bytes(content.getvalue())
    return file


def in_text(folder: Path) -> Path:
    file = folder / "messy.csv"
    file.write_text(CSV)
    return file


# Brought as a codebook beside the file.
DESCRIBED = {in_text: ("codebook.xml", DDI), in_parquet: ("dictionary.csv", DICTIONARY)}


@pytest.mark.parametrize(
    "made",
    [in_workbook, in_open_document, in_parquet, in_package, in_text],
    ids=lambda f: f.__name__,
)
def test_a_messy_file_of_every_format(
    page: Page, mira: Any, tmp_path: Path, made: Callable[[Path], Path]
) -> None:
    sign_in(page)
    bring(page, made(tmp_path))
    preview = page.get_by_label("How the file was understood")
    if made is in_workbook:
        preview.get_by_role("combobox", name="Sheet").press("ArrowDown")
        page.get_by_role("option", name="Answers").click()
    if made is in_open_document:
        preview.get_by_label("Names in row").fill("2")
        preview.get_by_label("Names in row").press("Enter")
    if made in DESCRIBED:
        name, text = DESCRIBED[made]
        (tmp_path / name).write_text(text)
        preview.get_by_label("Bring a codebook").set_input_files(tmp_path / name)
        expect(preview).to_contain_text(f"“{name}” describes 1 of 5 variables.")
        preview.get_by_role("button", name="Describe the data by it").click()
        expect(preview).to_contain_text("as the codebook says")
    expect(preview).to_contain_text("60 rows and 5 variables")
    expect(preview).to_contain_text("“.” was taken as no answer in 2 variables")
    page.get_by_role("button", name="Use this data").click()
    page.wait_for_url("**/codebook/**")

    page.get_by_role("link", name="Ask").click()
    page.get_by_title("Outcome and event").click()
    known = made is in_package or made in DESCRIBED
    page.get_by_role("option", name="Stomach illness" if known else "Got ill?").click()
    if known and made is not in_parquet:
        # These standards have no word for the event, so it is asked for; of what a data dictionary
        # leaves open, the values tell.
        page.get_by_role("checkbox", name="Ill").check()
        page.get_by_role("button", name="Done").click()
    page.get_by_title("Vary with, and its reference").click()
    page.get_by_role("option", name="Town").click()
    # 12 without a town, 10 refused, 2 of them both.
    expect(page.get_by_label("Who is counted")).to_contain_text("40 answered both")
    expect(page.get_by_label("Who is counted")).to_contain_text("20 set aside")
    expect(page.get_by_role("rowheader", name="Port")).to_have_count(1)


def test_a_data_package_that_is_a_folder(page: Page, mira: Any, tmp_path: Path) -> None:
    folder = tmp_path / "messy"
    (folder / "data").mkdir(parents=True)
    (folder / "data" / "answers.csv").write_text(CSV)
    sign_in(page)
    page.get_by_label("Name of a new study").fill("Flood and illness")
    page.get_by_role("button", name="Create").click()
    page.get_by_label("Folder of a Data Package").set_input_files(folder)
    expect(page.get_by_role("alert")).to_contain_text("holds no datapackage.json")
    (folder / "datapackage.json").write_text(json.dumps(SCHEMA))
    page.get_by_label("Folder of a Data Package").set_input_files(folder)
    expect(page.get_by_label("How the file was understood")).to_contain_text("60 rows")


def test_a_large_file_is_read_in_the_background(
    page: Page, mira: Any, tmp_path: Path, settings: Any
) -> None:
    settings.IMPORTED_AT_ONCE = 100
    sign_in(page)
    bring(page, in_text(tmp_path))
    jobs = page.get_by_label("Files being read")
    expect(jobs).to_contain_text("messy.csv")
    expect(jobs).to_contain_text("waiting for its turn")
    jobs.get_by_role("button", name="Stop").click()
    expect(jobs).to_have_count(0)

    page.set_input_files(FILE, in_text(tmp_path))
    expect(jobs).to_contain_text("waiting for its turn")
    page.reload()
    expect(jobs).to_contain_text("messy.csv")
    work()
    expect(page.get_by_label("How the file was understood")).to_contain_text("60 rows")
    expect(jobs).to_have_count(0)

    # What is wrong with a file is said until it is put away.
    page.get_by_role("button", name="Use this data").click()
    page.wait_for_url("**/codebook/**")
    page.get_by_role("link", name="Data", exact=True).click()
    page.get_by_role("button", name="Bring another file").click()
    ragged = tmp_path / "ragged.csv"
    ragged.write_text(CSV + "one,two\n")
    page.set_input_files(FILE, ragged)
    expect(jobs).to_contain_text("ragged.csv")
    work()
    expect(jobs.get_by_role("alert")).to_contain_text("“ragged.csv”: Line 62 has 2 cells")
    jobs.get_by_role("button", name="Put away").click()
    expect(jobs).to_have_count(0)


def work() -> None:
    call_command(
        "db_worker", batch=True, interval=0, startup_delay=False, reload=False, verbosity=0
    )


STEPS: list[dict[str, Any]] = [
    {"step": "describe", "variable": "source", "label": "Where the water comes from"},
    {"step": "declare_missing", "variables": ["source"], "codes": [{"value": "5"}]},
    {"step": "count_as_answer", "variables": ["source"], "values": ["5"]},
    {
        "step": "regroup",
        "variable": "source",
        "name": "tap",
        "groups": [
            {"label": "Tap", "values": ["1"]},
            {"label": "Other", "values": ["2", "3", "4"]},
        ],
    },
    {"step": "band", "variable": "age", "name": "age_band", "cuts": [40]},
    {"step": "yes_no", "variable": "source", "name": "river", "event": ["4"]},
    {"step": "calculate", "how": "mean", "variables": ["age", "size"], "name": "mean_of_two"},
]


def test_every_kind_of_step_can_be_undone(
    page: Page, enter_demo: Callable[..., Page], demo: Any
) -> None:
    enter_demo(page, "codebook")
    changes = page.get_by_label("Changes made")
    dataset = demo.datasets.order_by("imported_at").first()
    base = f"/api/studies/{demo.id}/datasets/{dataset.id}"

    def codebook() -> Any:
        return page.request.get(f"{base}/codebook").json()

    def comes_to(expected: Any) -> None:
        """The list of changes shows six at most, so its length does not tell when one is done."""
        for _ in range(50):
            if codebook() == expected:
                return
            page.wait_for_timeout(100)
        assert codebook() == expected

    token = next(c["value"] for c in page.context.cookies() if c["name"] == "csrftoken")
    before = [codebook()]
    for step in STEPS:
        response = page.request.post(
            f"{base}/steps", data={"step": step, "seen": {}}, headers={"X-CSRFToken": token}
        )
        assert response.status == 201, response.text()
        before.append(codebook())
        assert before[-1] != before[-2]
    page.reload()
    made = len(page.request.get(f"{base}/steps").json())
    undone = page.get_by_role("button", name="Make again", exact=False)
    for done in range(1, len(STEPS) + 1):
        changes.get_by_role("button", name="Undo").click()
        expect(page.get_by_text("make again")).to_have_count(min(done, 6))
        comes_to(before[len(STEPS) - done])
    assert undone.count() == 6
    for done in range(1, len(STEPS) + 1):
        changes.get_by_role("button", name="Redo").click()
        expect(page.get_by_text("make again")).to_have_count(min(len(STEPS) - done, 6))
        comes_to(before[done])
    assert len(page.request.get(f"{base}/steps").json()) == made
