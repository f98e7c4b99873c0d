"""Every format through the API, typed tables, how rows count, and taking data out."""

import io
import json
from typing import Any

import pytest
import xlsxwriter
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from hobrix.core.formats import read_file
from hobrix.web.studies.models import DataSet, Study
from web.conftest import CSV, bring

JSON: dict[str, Any] = {"content_type": "application/json"}


def workbook(*sheets: list[list[Any]]) -> bytes:
    file = io.BytesIO()
    with xlsxwriter.Workbook(file) as book:
        for rows in sheets:
            sheet = book.add_worksheet()
            for i, row in enumerate(rows):
                sheet.write_row(i, 0, row)
    return file.getvalue()


def url(study: Study, dataset: Any) -> str:
    return f"/api/studies/{study.id}/datasets/{dataset['id']}"


def test_a_workbook_with_another_sheet_and_header(owner: Client, study: Study) -> None:
    rows = [["ill", "source"], ["yes", "river"], ["no", "piped"]]
    made = bring(
        owner, study, workbook([["note", "by"], ["x", "me"]], [["Title"], *rows]), "x.xlsx"
    ).json()
    assert (made["sheet"], made["sheets"], made["rows"]) == ("Sheet1", ["Sheet1", "Sheet2"], 1)
    again = owner.post(f"{url(study, made)}/reread", {"sheet": "Sheet2"}, **JSON).json()
    assert (again["sheet"], again["header_row"], again["rows"]) == ("Sheet2", 1, 3)
    again = owner.post(f"{url(study, made)}/reread", {"header_row": 2}, **JSON).json()
    assert again["rows"] == 2
    codebook = owner.get(f"{url(study, made)}/codebook").json()
    assert [each["variable"]["name"] for each in codebook] == ["ill", "source"]


@pytest.mark.parametrize("kind", ["csv", "xlsx", "parquet", "zip"])
def test_what_is_taken_out_can_be_brought_in(
    owner: Client, study: Study, dataset: DataSet, kind: str
) -> None:
    base = f"/api/studies/{study.id}/datasets/{dataset.id}"
    band = {"step": "band", "variable": "age", "name": "age_band", "cuts": [30, 40]}
    owner.post(f"{base}/steps", {"step": band, "seen": {}}, **JSON)
    response = owner.get(f"{base}/export/{kind}")
    assert response.status_code == 200
    assert f'filename="survey.{kind}"' in response["Content-Disposition"]
    made = bring(owner, study, response.content, f"again.{kind}").json()
    assert made["rows"] == 88
    before, after = (owner.get(f"{u}/codebook").json() for u in (base, url(study, made)))
    if kind != "csv":
        assert [e["variable"] for e in before] == [e["variable"] for e in after]
    assert [e["summary"]["n_missing"] for e in before] == [e["summary"]["n_missing"] for e in after]


def test_a_ddi_codebook_describes_a_csv(owner: Client, study: Study, dataset: DataSet) -> None:
    base = f"/api/studies/{study.id}/datasets/{dataset.id}"
    step = {"step": "describe", "variable": "ill", "label": "Stomach illness", "kind": "ordinal"}
    owner.post(f"{base}/steps", {"step": step, "seen": {}}, **JSON)
    ddi = owner.get(f"{base}/export/xml").content
    draft = bring(owner, study, CSV, "again.csv").json()
    file = SimpleUploadedFile("codebook.xml", ddi)
    assert owner.post(f"{url(study, draft)}/codebook-file", {"file": file}).status_code == 200
    codebook = owner.get(f"{url(study, draft)}/codebook").json()
    ill = next(e["variable"] for e in codebook if e["variable"]["name"] == "ill")
    assert (ill["label"], ill["kind"]) == ("Stomach illness", "ordinal")
    bad = SimpleUploadedFile("codebook.xml", b"<!DOCTYPE a [<!ENTITY b 'c'>]><codeBook/>")
    refused = owner.post(f"{url(study, draft)}/codebook-file", {"file": bad})
    assert refused.status_code == 422
    assert "entities" in refused.json()["detail"]


def test_a_data_dictionary_is_looked_at_before_it_is_used(owner: Client, study: Study) -> None:
    draft = bring(owner, study, CSV, "again.csv").json()
    before = owner.get(f"{url(study, draft)}/codebook").json()
    text = b"what,means\nill,Stomach illness\nweight,Household weight\n"
    columns = [{"sheet": "", "name": "what", "part": "variable"}]
    columns.append({"sheet": "", "name": "means", "part": "label"})

    def send(where: str, **form: str) -> Any:
        file = SimpleUploadedFile("dictionary.csv", text)
        return owner.post(f"{url(study, draft)}/codebook-file{where}", {"file": file, **form})

    unclear = send("/look").json()
    assert [(c["name"], c["part"]) for c in unclear["columns"]] == [("what", None), ("means", None)]
    assert "Say which one does" in unclear["problem"]
    assert send("").status_code == 422
    seen = send("/look", columns=json.dumps(columns)).json()
    assert [(c["name"], c["part"]) for c in seen["columns"]] == [
        ("what", "variable"),
        ("means", "label"),
    ]
    assert seen["problem"] is None
    assert (seen["described"], seen["unknown"], seen["undescribed"]) == (
        1,
        ["weight"],
        ["source", "age", "n"],
    )
    assert owner.get(f"{url(study, draft)}/codebook").json() == before
    assert send("", columns="nonsense").status_code == 422
    assert send("", columns=json.dumps(columns)).status_code == 200
    after = {e["variable"]["name"]: e for e in owner.get(f"{url(study, draft)}/codebook").json()}
    assert after["ill"]["variable"]["label"] == "Stomach illness"
    assert after["ill"]["reason"] == "as the codebook says"
    assert after["source"]["reason"] != "as the codebook says"


def test_answers_a_codebook_does_not_list_are_to_be_looked_at(owner: Client, study: Study) -> None:
    draft = bring(owner, study, CSV, "again.csv").json()
    file = SimpleUploadedFile("dictionary.csv", b"variable,code,meaning\nill,yes,Ill\n")
    owner.post(f"{url(study, draft)}/codebook-file", {"file": file})
    codebook = owner.get(f"{url(study, draft)}/codebook").json()
    ill = next(each for each in codebook if each["variable"]["name"] == "ill")
    (look,) = ill["to_look_at"]
    assert (look["text"], look["values"]) == ("Not listed in the codebook: no.", ["no"])


def test_a_row_of_totals_is_pointed_out(owner: Client, study: Study) -> None:
    draft = bring(owner, study, "source,n\nriver,10\npiped,20\nTotal,30\n", "table.csv").json()
    assert any("looks like a total" in remark for remark in draft["remarks"])


TYPED: dict[str, Any] = {
    "name": "Published table",
    "row_title": "Water source",
    "column_title": "Illness",
    "rows": ["River", "Piped"],
    "columns": ["Ill", "Well"],
    "counts": [[107, 234], [118, 849]],
}


def test_a_typed_table_can_be_asked_about_at_once(owner: Client, study: Study) -> None:
    made = owner.post(f"/api/studies/{study.id}/datasets/typed", TYPED, **JSON).json()
    assert not made["is_draft"]
    assert made["counted_by"] == {"kind": "counts", "variable": "n"}
    question = {
        "outcome": {"variable": "column", "event": ["Ill"]},
        "vary_with": [{"variable": "row", "reference": "Piped"}],
        "counted_by": made["counted_by"],
    }
    body = {"dataset": made["id"], "question": question}
    given = owner.post(f"/api/studies/{study.id}/answer", body, **JSON).json()["answer"]
    assert given["results"]["whole"]["counts"] == [[107, 234], [118, 849]]
    assert given["counted"]["noun_many"] == "answers"


def test_counts_of_one_variable(owner: Client, study: Study) -> None:
    body = {**TYPED, "column_title": None, "columns": ["n"], "counts": [[3], [4]]}
    made = owner.post(f"/api/studies/{study.id}/datasets/typed", body, **JSON).json()
    page = owner.get(f"{url(study, made)}/rows").json()
    assert page["rows"] == [["River", "3"], ["Piped", "4"]]


@pytest.mark.parametrize(
    ("changes", "message"),
    [
        ({"counts": [[1.5, 2], [3, 4]]}, "1.5 in row “River” is not a count"),
        ({"counts": [[-1, 2], [3, 4]]}, "-1 in row “River” is not a count"),
        ({"counts": [[0, 0], [0, 0]]}, "All counts are 0"),
        ({"rows": ["River", "River"]}, "Two rows are called “River”"),
        ({"columns": ["Ill", " "]}, "Every column needs a label"),
    ],
)
def test_typed_tables_that_are_not(owner: Client, study: Study, changes: Any, message: str) -> None:
    response = owner.post(f"/api/studies/{study.id}/datasets/typed", {**TYPED, **changes}, **JSON)
    assert response.status_code == 422
    assert message in response.json()["detail"]


def test_a_summary_is_recognised(owner: Client, study: Study) -> None:
    text = "source,ill,n\nriver,yes,107\nriver,no,234\npiped,yes,118\npiped,no,849\n"
    assert bring(owner, study, text).json()["counts_candidate"] == "n"
    assert bring(owner, study, CSV).json()["counts_candidate"] == ""


def test_what_tells_cases_from_controls_is_recorded(owner: Client, study: Study) -> None:
    made = bring(owner, study, "case,pump,age\nyes,yes,3\nyes,no,4\nno,no,5\nno,yes,50\n").json()
    question = {
        "outcome": {"variable": "pump", "event": ["yes"]},
        "vary_with": [{"variable": "case"}],
    }
    asked = {"dataset": made["id"], "question": {**question, "lens": "proportions"}}

    def shares_have_meaning() -> bool:
        answer = owner.post(f"/api/studies/{study.id}/answer", asked, **JSON).json()["answer"]
        return answer["results"]["whole"]["shares_have_meaning"]

    body = {"version": made["version"], "study_design": "case_control", "confirmed": True}
    made = owner.patch(url(study, made), body, **JSON).json()
    # Nobody has said what the cases are: any outcome may be it.
    assert not shares_have_meaning()
    for name, status in (("nothing", 422), ("age", 422), ("case", 200)):
        body = {"version": made["version"], "case_status": name}
        assert owner.patch(url(study, made), body, **JSON).status_code == status
    assert owner.get(url(study, made)).json()["case_status"] == "case"
    assert shares_have_meaning()


def test_a_survey_design_is_recorded_and_checked(owner: Client, study: Study) -> None:
    lines = ["ill,w,district,village"]
    lines += [f"{'yes' if i % 3 else 'no'},{1 + i % 2}.5,D{i // 30},V{i // 10}" for i in range(59)]
    made = bring(owner, study, "\n".join([*lines, "yes,0,D1,V5"]) + "\n").json()
    design = {"kind": "design", "weights": "w", "strata": "district", "clusters": "village"}
    body = {"version": 1, "counted_by": design, "study_design": "cross_sectional"}
    changed = owner.patch(url(study, made), body, **JSON)
    assert design.items() <= changed.json()["counted_by"].items()
    assert changed.json()["counted_by"]["errors"] == "linearised"
    assert changed.json()["study_design"] == "cross_sectional"
    findings = " ".join(owner.get(f"{url(study, made)}/counting").json()["findings"])
    assert "Left out: 1 row with weight 0." in findings
    assert "6 clusters in 2 strata: 4 degrees of freedom" in findings
    question = {"outcome": {"variable": "ill"}, "vary_with": [{"variable": "district"}]}
    body = {"dataset": made["id"], "question": {**question, "counted_by": design}}
    given = owner.post(f"/api/studies/{study.id}/answer", body, **JSON).json()["answer"]
    counting = next(check for check in given["checks"] if check["id"] == "counting")
    assert counting["status"] == "ok"
    assert "6 clusters in 2 strata, 4 degrees of freedom" in counting["text"]
    assert given["sample"]["psus"] == 6
    assert given["counted"]["counting"].startswith("weighted by")


@pytest.mark.parametrize("weights", ["ill", "nobody"])
def test_weights_that_are_not(owner: Client, study: Study, weights: str) -> None:
    made = bring(owner, study, CSV).json()
    body = {"version": 1, "counted_by": {"kind": "design", "weights": weights}}
    response = owner.patch(url(study, made), body, **JSON)
    assert response.status_code == 422
    assert response.json()["where"]["slot"] == "counted_by"


def test_the_csv_taken_out_is_what_was_brought(owner: Client, dataset: DataSet) -> None:
    base = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}"
    taken = read_file("x.csv", owner.get(f"{base}/export/csv").content).table
    assert taken.rows == 88
    assert list(taken.columns) == ["source", "ill", "age", "n"]
