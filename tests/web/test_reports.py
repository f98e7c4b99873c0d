"""Reports over HTTP: written block by block, by several people, with numbers that follow the data."""

import io
import json
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client
from docx import Document

from hobrix.core.report.document import Report as Alone
from hobrix.web.reports.models import ReportBlock
from hobrix.web.studies.models import DataSet, SavedQuestion, Study
from web.conftest import CSV


def paragraph(*parts: str | tuple[str, str]) -> dict[str, Any]:
    content = [
        {"type": "text", "text": part}
        if isinstance(part, str)
        else {"type": "number", "question": part[0], "key": part[1]}
        for part in parts
    ]
    return {"type": "paragraph", "content": content}


class Reports:
    """The routes of one study's reports, for one person."""

    def __init__(self, client: Client, study: Study) -> None:
        self.client, self.url = client, f"/api/studies/{study.id}/reports"

    def send(self, method: str, path: str, body: Any = None) -> Any:
        data: dict[str, Any] = (
            {} if body is None else {"data": json.dumps(body), "content_type": "application/json"}
        )
        return self.client.generic(method, f"{self.url}{path}", **data)

    def make(self, title: str = "Water") -> str:
        made = self.send("POST", "", {"title": title})
        assert made.status_code == 201
        return str(made.json()["id"])

    def write(self, report: str, *changes: dict[str, Any]) -> Any:
        whole = [{"version": None, **change} for change in changes]
        found = self.send("POST", f"/{report}/changes", {"changes": whole})
        assert found.status_code == 200, found.content
        return found.json()

    def read(self, report: str) -> Any:
        return self.send("GET", f"/{report}").json()

    def page(self, report: str) -> Any:
        found = self.send("GET", f"/{report}/page")
        assert found.status_code == 200, found.content
        return found.json()

    def texts(self, report: str) -> list[str]:
        return [
            "".join(run["text"] for line in part["lines"] for run in line)
            for part in self.page(report)["parts"]
        ]


@pytest.fixture
def reports(owner: Client, study: Study) -> Reports:
    return Reports(owner, study)


def test_blocks_are_kept_in_their_order_and_as_they_are_written(reports: Reports) -> None:
    report = reports.make()
    reports.write(
        report, {"name": "a", "block": paragraph("one")}, {"name": "c", "block": paragraph("three")}
    )
    reports.write(report, {"name": "b", "block": paragraph("two"), "place": {"after": "a"}})
    reports.write(report, {"name": "top", "block": paragraph("first"), "place": {"after": None}})
    assert reports.texts(report) == ["first", "one", "two", "three"]
    moved = {"name": "c", "version": 1, "block": paragraph("three"), "place": {"after": "top"}}
    assert reports.write(report, moved)["versions"] == {"c": 2}
    assert reports.texts(report) == ["first", "three", "one", "two"]
    reports.write(
        report,
        {"name": "one", "version": 1, "block": None},
        {"name": "a", "version": 1, "block": None},
    )
    assert reports.texts(report) == ["first", "three", "two"]
    # Taken back: the same block again, where it was.
    reports.write(report, {"name": "a", "block": paragraph("one"), "place": {"after": "c"}})
    assert reports.texts(report) == ["first", "three", "one", "two"]
    assert ReportBlock.objects.filter(report_id=report).count() == 4


def test_many_blocks_between_the_same_two_keep_their_order(reports: Reports) -> None:
    report = reports.make()
    reports.write(
        report, {"name": "a", "block": paragraph("a")}, {"name": "z", "block": paragraph("z")}
    )
    for i in range(40):
        reports.write(
            report, {"name": f"m{i}", "block": paragraph(str(i)), "place": {"after": "a"}}
        )
    expected = ["a", *(str(i) for i in reversed(range(40))), "z"]
    assert reports.texts(report) == expected


def test_a_stale_change_changes_nothing_and_both_versions_are_told(
    reports: Reports, members: dict[str, Client], study: Study
) -> None:
    report = reports.make()
    other = Reports(members["analyst"], study)
    reports.write(
        report, {"name": "a", "block": paragraph("x")}, {"name": "b", "block": paragraph("y")}
    )
    reports.write(report, {"name": "a", "version": 1, "block": paragraph("mine")})
    found = other.write(
        report,
        {"name": "a", "version": 1, "block": paragraph("theirs")},
        {"name": "b", "version": 1, "block": paragraph("also theirs")},
    )
    assert found["versions"] == {"b": 2}
    (stale,) = found["stale"]
    assert stale["block"]["content"][0]["text"] == "mine"
    assert (stale["version"], stale["changed_by"]) == (2, "owner")
    assert reports.texts(report) == ["mine", "also theirs"]
    by = {block["name"]: block["changed_by"] for block in reports.read(report)["blocks"]}
    assert by == {"a": "owner", "b": "analyst"}
    # What was sent twice, because its reply was lost, is no conflict.
    again = other.write(report, {"name": "b", "version": 1, "block": paragraph("also theirs")})
    assert (again["versions"], again["stale"]) == ({"b": 2}, [])
    # Nor may somebody remove what has been changed since.
    gone = other.write(report, {"name": "a", "version": 1, "block": None})
    assert [each["name"] for each in gone["stale"]] == ["a"]


def test_a_number_follows_its_answer_and_is_marked_until_somebody_looks(
    reports: Reports, study: Study, dataset: DataSet, saved: SavedQuestion
) -> None:
    report, question = reports.make(), str(saved.id)
    reports.write(
        report,
        {"name": "a", "block": paragraph("Share ", (question, "event/river/share"), ".")},
        {"name": "t", "block": {"type": "table", "question": question}},
        {"name": "p", "block": paragraph("No number.")},
    )
    assert reports.texts(report)[0] == f"Share {100 * 18 / 38:.1f}%."
    assert reports.page(report)["moved"] == {}
    stamp = reports.page(report)["stamp"]
    newer = CSV.replace("river,no,20,1\n", "river,yes,20,1\n")
    replaced = reports.client.post(
        f"/api/studies/{study.id}/datasets/{dataset.id}/replace",
        {"file": SimpleUploadedFile("newer.csv", newer.encode())},
    )
    assert replaced.status_code in (200, 201), replaced.content
    page = reports.page(report)
    assert page["stamp"] != stamp
    assert reports.texts(report)[0] == f"Share {100 * 19 / 38:.1f}%."
    assert page["moved"]["a"] == {f"{question}/event/river/share": f"{100 * 18 / 38:.1f}%"}
    assert set(page["moved"]) == {"a", "t"}
    assert reports.send("POST", f"/{report}/looked-at", {"names": ["a"]}).status_code == 204
    assert set(reports.page(report)["moved"]) == {"t"}


def test_writing_on_does_not_look_for_one(
    reports: Reports, study: Study, dataset: DataSet, saved: SavedQuestion
) -> None:
    report, question = reports.make(), str(saved.id)
    number = (question, "event/river/share")
    reports.write(report, {"name": "a", "block": paragraph("Share ", number)})
    reports.page(report)
    saved.question = {**saved.question, "outcome": {"variable": "ill", "event": ["no"]}}
    saved.save()
    SavedQuestion.objects.filter(id=saved.id).update(version=2)
    assert "a" in reports.page(report)["moved"]
    added = paragraph("The share ", number, ", and n ", (question, "flow/counted"))
    reports.write(report, {"name": "a", "version": 1, "block": added})
    moved = reports.page(report)["moved"]["a"]
    assert list(moved) == [f"{question}/event/river/share"]
    # A table that is asked for anew has not moved.
    reports.write(report, {"name": "t", "block": {"type": "table", "question": question}})
    assert "t" not in reports.page(report)["moved"]


def test_what_is_gone_is_said_and_comes_back(reports: Reports, saved: SavedQuestion) -> None:
    report, question = reports.make(), str(saved.id)
    reports.write(
        report,
        {"name": "a", "block": paragraph((question, "event/river/share"))},
        {"name": "t", "block": {"type": "table", "question": question}},
        {"name": "never", "block": {"type": "table", "question": "nobody"}},
    )
    before = reports.texts(report)[0]
    url = reports.url.replace("/reports", f"/questions/{question}")
    assert reports.client.delete(url).status_code == 204
    page = reports.page(report)
    assert page["parts"][0]["lines"][0][0]["text"] == "[no number]"
    assert "not in the line of questions" in page["parts"][0]["lines"][0][0]["trouble"]
    assert "not in the line of questions" in page["parts"][1]["trouble"]
    assert "a" in page["moved"]
    assert reports.client.post(f"{url}/restore").status_code == 200
    assert reports.texts(report)[0] == before
    assert reports.page(report)["moved"] == {}


def test_terms_that_are_not_accepted_keep_numbers_from_a_reader(
    reports: Reports,
    members: dict[str, Client],
    study: Study,
    dataset: DataSet,
    saved: SavedQuestion,
) -> None:
    report, question = reports.make(), str(saved.id)
    reports.write(report, {"name": "a", "block": paragraph((question, "event/river/share"))})
    reports.page(report)
    DataSet.objects.filter(id=dataset.id).update(terms="Only for health.", is_bound=True)
    page = Reports(members["reader"], study).page(report)
    assert page["parts"][0]["lines"][0][0]["text"] == "[no number]"
    assert "accepted the terms" in page["parts"][0]["lines"][0][0]["trouble"]
    exported = Reports(members["reader"], study).send("GET", f"/{report}/export/html")
    assert b"47." not in exported.content


def test_a_style_changes_how_numbers_are_written_and_marks_nothing(
    reports: Reports, saved: SavedQuestion
) -> None:
    report, question = reports.make(), str(saved.id)
    reports.write(report, {"name": "a", "block": paragraph((question, "event/river/share"))})
    reports.page(report)
    style = {"decimal_comma": True, "percent_digits": 2}
    changed = reports.send("PATCH", f"/{report}", {"version": 1, "style": style})
    assert changed.status_code == 200, changed.content
    page = reports.page(report)
    assert page["parts"][0]["lines"][0][0]["text"] == f"{100 * 18 / 38:.2f}%".replace(".", ",")
    assert page["moved"] == {}
    stale = reports.send("PATCH", f"/{report}", {"version": 1, "title": "x"})
    assert stale.status_code == 409
    assert stale.json()["current"]["style"]["decimal_comma"] is True
    wrong = reports.send("PATCH", f"/{report}", {"version": 2, "style": {"p_digits": 9}})
    assert wrong.status_code == 422


def test_a_report_is_deleted_and_brought_back(reports: Reports) -> None:
    report = reports.make()
    reports.write(report, {"name": "a", "block": paragraph("kept")})
    assert reports.send("DELETE", f"/{report}").status_code == 204
    assert reports.send("GET", f"/{report}").status_code == 404
    assert reports.send("GET", "").json() == []
    assert reports.send("POST", f"/{report}/restore").status_code == 200
    assert reports.texts(report) == ["kept"]
    (head,) = reports.send("GET", "").json()
    assert (head["title"], head["tables"], head["pictures"]) == ("Water", 0, 0)


def test_an_answer_tells_what_it_gives(reports: Reports, saved: SavedQuestion) -> None:
    report = reports.make()
    found = reports.send("GET", f"/{report}/questions/{saved.id}").json()
    assert [table["name"] for table in found["tables"]][:2] == ["event", "table"]
    keys = {
        part["key"]
        for table in found["tables"]
        for row in table["rows"]
        for cell in row["cells"]
        for part in cell
        if isinstance(part, dict)
    }
    assert {"event/river/share", "event/river/odds_ratio/ci", "table/piped/no/n"} <= keys
    assert "mosaic" in found["pictures"]
    nobody = reports.send("GET", f"/{report}/questions/{report}")
    assert nobody.status_code == 404


def test_methods_are_of_the_questions_in_the_report(reports: Reports, saved: SavedQuestion) -> None:
    report = reports.make()
    assert reports.send("GET", f"/{report}/methods").json() == {"paragraphs": []}
    reports.write(report, {"name": "t", "block": {"type": "table", "question": str(saved.id)}})
    said = " ".join(reports.send("GET", f"/{report}/methods").json()["paragraphs"])
    assert "“survey” holds 88 rows" in said
    assert "chi-square test" in said


@pytest.mark.parametrize("kind", ["docx", "pdf", "html", "xlsx", "csv", "pictures", "json"])
def test_a_report_leaves_in_every_format(reports: Reports, saved: SavedQuestion, kind: str) -> None:
    report, question = reports.make("Ill / well “x”"), str(saved.id)
    reports.write(
        report,
        {"name": "a", "block": paragraph((question, "event/river/share"))},
        {"name": "t", "block": {"type": "table", "question": question}},
        {"name": "f", "block": {"type": "picture", "question": question}},
    )
    found = reports.send("GET", f"/{report}/export/{kind}")
    assert found.status_code == 200
    assert "attachment" in found["Content-Disposition"]
    share = f"{100 * 18 / 38:.1f}"
    if kind == "docx":
        document = Document(io.BytesIO(found.content))
        assert document.paragraphs[1].text == f"{share}%"
        assert share in [cell.text for cell in document.tables[0]._cells]
    elif kind == "html":
        assert f"{share}%" in found.content.decode()
    elif kind == "json":
        alone = Alone.model_validate_json(found.content)
        assert alone.questions[question].data == "survey"
        assert alone.questions[question].question.outcome is not None


def test_a_block_that_is_none_is_refused_and_nothing_is_kept(reports: Reports) -> None:
    report = reports.make()
    bad = {"name": "a", "version": None, "block": {"type": "script"}}
    assert reports.send("POST", f"/{report}/changes", {"changes": [bad]}).status_code == 422
    named = {"name": "a/../b", "version": None, "block": paragraph("x")}
    assert reports.send("POST", f"/{report}/changes", {"changes": [named]}).status_code == 422
    assert reports.read(report)["blocks"] == []
    assert reports.send("GET", f"/{report}/export/exe").status_code == 422


def test_forty_answers_in_one_report(reports: Reports, study: Study, dataset: DataSet) -> None:
    """All of them stand in it; how fast is for the benchmarks to say."""
    report = reports.make()
    changes = []
    for i in range(40):
        confidence = 0.8 + i / 250
        asked = {
            "version": 2,
            "lens": "odds" if i % 2 else "crosstab",
            "outcome": {"variable": "ill", "event": ["yes"]},
            "vary_with": [{"variable": "source"}],
            "confidence": confidence,
        }
        saved = SavedQuestion.objects.create(
            study=study, dataset=dataset, position=i, question=asked, title=f"Q{i}"
        )
        changes.append({"name": f"t{i}", "block": {"type": "table", "question": str(saved.id)}})
    reports.write(report, *changes)
    found = reports.send("GET", f"/{report}/export/docx")
    assert len(Document(io.BytesIO(found.content)).tables) == 40
