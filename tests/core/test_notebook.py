"""Hobrix in a notebook: the page that documents it runs, and shows what the data say."""

import io
import re
from pathlib import Path
from typing import Any

import polars as pl
import pytest
from docx import Document

import hobrix
from hobrix.core.errors import FormatError, QuestionError

ROOT = Path(__file__).parents[2]
DEMO = ROOT / "src/hobrix/web/demo"
PAGE = ROOT / "docs/notebook.md"


def test_the_page_runs_and_prints_what_the_data_say(
    monkeypatch: pytest.MonkeyPatch, capsys: pytest.CaptureFixture[str]
) -> None:
    monkeypatch.chdir(DEMO)
    lines = re.findall(r"```python\n(.*?)```", PAGE.read_text(), re.DOTALL)
    assert len(lines) == 4
    names: dict[str, Any] = {}
    for block in lines[:3]:
        exec(block, names)
    said = capsys.readouterr().out
    exec(lines[3], names)
    assert "All terms" in capsys.readouterr().out
    document = Document(io.BytesIO(names["document"]))
    assert "28.1 " in " ".join(f"{cell.text} " for cell in document.tables[0]._cells)
    assert "was associated with water source" in document.paragraphs[-1].text
    assert "28.1% of households with River" in said
    table = pl.read_csv(DEMO / "ostra-round-1.csv", infer_schema=False)
    n = {
        (source, ill): table.filter((table["source"] == source) & (table["ill"] == ill)).height
        for source in "14"
        for ill in "01"
    }
    ratio = n["4", "1"] * n["1", "0"] / (n["4", "0"] * n["1", "1"])
    printed = float(said.splitlines()[-2].split()[0])
    assert printed == pytest.approx(ratio, rel=1e-12)
    assert "weighted" in said.splitlines()[-1]


def test_labels_are_escaped_where_they_are_shown(tmp_path: Path) -> None:
    file = tmp_path / "x.csv"
    rows = ["<b>a</b>,yes", "<b>a</b>,no", "c,yes", "c,no"] * 10
    file.write_text("group,ill\n" + "\n".join(rows) + "\n")
    shown = hobrix.read(file).ask("ill", vary_with="group", event="yes")._repr_html_()
    assert "<b>a</b>" not in shown
    assert "&lt;b&gt;a&lt;/b&gt;" in shown
    assert "<table>" in shown


def test_what_cannot_be_read_or_asked_says_why(tmp_path: Path) -> None:
    empty = tmp_path / "empty.csv"
    empty.write_text("")
    with pytest.raises(FormatError):
        hobrix.read(empty)
    file = tmp_path / "x.csv"
    file.write_text("group,ill\na,yes\nb,no\n" * 10)
    with pytest.raises(QuestionError, match="no variable called “nobody”"):
        hobrix.read(file).ask("nobody")
    with pytest.raises(AttributeError):
        _ = hobrix.nothing
