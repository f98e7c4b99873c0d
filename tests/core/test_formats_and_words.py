"""Number formats (the same cases as the front end's), codebook files and the command line."""

import json
from pathlib import Path

import pytest
from click.testing import CliRunner

from hobrix.cli import main
from hobrix.core.errors import FormatError
from hobrix.core.formats import frame_of, read_codebook, read_delimited
from hobrix.core.questions import wording

CASES = json.loads((Path(__file__).parents[1] / "formats.json").read_text())


@pytest.mark.parametrize(("value", "text"), CASES["count"])
def test_counts(value: float, text: str) -> None:
    assert wording.count(value) == text


@pytest.mark.parametrize(("value", "text"), CASES["percent"])
def test_percentages(value: float, text: str) -> None:
    assert wording.percent(value) == text


@pytest.mark.parametrize(("value", "text"), CASES["points"])
def test_points(value: float, text: str) -> None:
    assert wording.points(value) == text


@pytest.mark.parametrize(("value", "text"), CASES["ratio"])
def test_ratios(value: float, text: str) -> None:
    assert wording.ratio(value) == text


@pytest.mark.parametrize(("value", "text"), CASES["p"])
def test_p(value: float, text: str) -> None:
    assert wording.p_value(value) == text
    assert wording.p_value(value) not in ("0.000", "0.00", "1.00")


def test_p_in_sentences() -> None:
    assert wording.p_equals(0.0004) == "p < 0.001"
    assert wording.p_equals(0.0423) == "p = 0.042"
    assert wording.p_in_print(0.0423) == "p = .042"
    assert wording.p_in_print(0.00001) == "p < .001"


def test_lists() -> None:
    assert wording.listed(["a"]) == "a"
    assert wording.listed(["a", "b", "c"]) == "a, b and c"
    assert wording.unit_in_print(-0.25) == "-.25"


def test_a_codebook_adds_values_of_the_file_that_it_does_not_list() -> None:
    table, _ = read_delimited(b"x,y\n1,a\n2,b\n9,a\n")
    codebook = read_codebook(
        b'{"noun": {"one": "home", "many": "homes"}, "variables": [{"name": "x", "kind": "ordinal",'
        b' "categories": [{"value": "2", "label": "two"}], "missing": [{"value": "9"}]}]}'
    )
    frame = frame_of(table, codebook)
    assert [c.label for c in frame.variables["x"].categories] == ["two", "1"]
    assert frame.noun.many == "homes"
    assert frame.variables["y"].kind == "nominal"


def test_a_codebook_that_is_wrong_says_where() -> None:
    with pytest.raises(FormatError, match="variables › 0 › kind"):
        read_codebook(b'{"variables": [{"name": "x", "kind": "colour"}]}')


def test_answer_command(tmp_path: Path) -> None:
    question, data = tmp_path / "question.json", tmp_path / "data.csv"
    question.write_text(
        '{"outcome": {"variable": "ill", "event": ["yes"]}, "vary_with": [{"variable": "source", '
        '"reference": "piped"}], "counted_by": {"kind": "counts", "variable": "n"}}'
    )
    data.write_text("source,ill,n\nriver,yes,28\nriver,no,72\npiped,yes,14\npiped,no,86\n")
    result = CliRunner().invoke(main, ["answer", str(question), str(data)])
    assert result.exit_code == 0, result.output
    given = json.loads(result.output)
    assert given["version"] == 2
    against = given["results"]["whole"]["groups"]["comparisons"][0]
    assert against["odds_ratio"]["estimate"] == pytest.approx(28 * 86 / (72 * 14))
    assert given["opened"]["two_groups"]["risk_exposed"] == 0.28
    sheet = CliRunner().invoke(main, ["answer", str(question), str(data), "--panels", "tests"])
    opened = json.loads(sheet.output)["opened"]
    assert [name for name, panel in opened.items() if panel] == ["lens", "tests"]
    assert given["question"]["vary_with"][0]["with"] is None


@pytest.mark.parametrize(
    ("question", "message"),
    [
        ('{"outcome": {"variable": "ill"}}', "vary_with: Choose what"),
        ('{"outcome": 3}', "outcome"),
        ("not json", "Invalid JSON"),
        ('{"outcom": {"variable": "ill"}}', "outcom: Extra inputs"),
    ],
)
def test_answer_command_explains_what_is_wrong(tmp_path: Path, question: str, message: str) -> None:
    (tmp_path / "q.json").write_text(question)
    (tmp_path / "d.csv").write_text("ill,source\nyes,a\nno,b\n")
    result = CliRunner().invoke(main, ["answer", str(tmp_path / "q.json"), str(tmp_path / "d.csv")])
    assert result.exit_code == 2
    assert message in result.output


def test_answer_command_with_a_codebook(tmp_path: Path) -> None:
    (tmp_path / "q.json").write_text(
        '{"outcome": {"variable": "ill"}, "vary_with": [{"variable": "x"}]}'
    )
    (tmp_path / "d.csv").write_text("ill,x\n" + "yes,1\nno,2\nno,3\nyes,3\nno,1\n" * 10)
    (tmp_path / "c.json").write_text('{"variables": [{"name": "x", "kind": "ordinal"}]}')
    files = [str(tmp_path / name) for name in ("q.json", "d.csv")]
    plain = json.loads(CliRunner().invoke(main, ["answer", *files]).output)
    ordered = CliRunner().invoke(main, ["answer", *files, "--codebook", str(tmp_path / "c.json")])
    assert plain["opened"]["tests"]["chi_square"]["linear_by_linear"] is None
    tests = json.loads(ordered.output)["opened"]["tests"]
    assert tests["chi_square"]["linear_by_linear"]["df"] == 1
