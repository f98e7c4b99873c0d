"""The house keeps its shape: a lens is one folder and one line per registry, and nothing goes in
circles."""

import ast
import re
from collections.abc import Iterator
from graphlib import TopologicalSorter
from pathlib import Path

import grimp
import pytest

from hobrix.core.questions.lenses import LENSES

ROOT = Path(__file__).parents[2]
CORE, WEB = ROOT / "src/hobrix", ROOT / "frontend/src"
NAMES = {lens.name for lens in LENSES}
QUESTIONS = "hobrix.core.questions"
# Where a lens is registered, beside its folders: a line each.
REGISTRIES = {CORE / "core/questions/options.py", CORE / "core/questions/lenses.py"}
REGISTRIES |= {CORE / "figures/__init__.py", WEB / "screens/ask/lenses.ts"}
# Made from the server's own description.
MADE = {WEB / "api/schema.d.ts"}


def literals_in(path: Path) -> Iterator[str]:
    text = path.read_text()
    if path.suffix == ".py":
        for node in ast.walk(ast.parse(text)):
            if isinstance(node, ast.Constant) and node.value in NAMES:
                yield node.value
    else:
        yield from re.findall(rf"""['"`]({"|".join(sorted(NAMES))})['"`]""", text)


def strays(files: list[Path]) -> list[str]:
    """Files in which a lens is named that is not theirs."""
    return [
        f"{path}: {name}"
        for path in files
        if path not in REGISTRIES | MADE
        for name in literals_in(path)
        if name not in path.parts
    ]


def sources(root: Path, *suffixes: str) -> list[Path]:
    return sorted(path for path in root.rglob("*") if path.suffix in suffixes)


def test_a_lens_is_named_only_in_its_folders_and_the_registries() -> None:
    python, screens = sources(CORE, ".py"), sources(WEB, ".ts", ".vue")
    assert len(python) > 200
    assert len(screens) > 100
    assert strays([*python, *screens]) == []


@pytest.mark.parametrize(
    ("name", "text"),
    [("a.py", 'if lens == "odds":\n    pass\n'), ("a.vue", "<p v-if=\"lens === 'odds'\" />")],
)
def test_a_stray_name_is_found(tmp_path: Path, name: str, text: str) -> None:
    (tmp_path / name).write_text(text)
    assert strays([tmp_path / name]) == [f"{tmp_path / name}: odds"]


def test_no_lens_imports_another() -> None:
    graph = grimp.build_graph("hobrix", cache_dir=None)
    for one in NAMES:
        for other in NAMES - {one}:
            folders = (f"{QUESTIONS}.{one}", f"{QUESTIONS}.{other}")
            assert not graph.direct_import_exists(
                importer=folders[0], imported=folders[1], as_packages=True
            )


def test_python_imports_run_in_no_circle() -> None:
    graph = grimp.build_graph("hobrix", cache_dir=None, exclude_type_checking_imports=False)
    sorter = TopologicalSorter(
        {module: graph.find_modules_directly_imported_by(module) for module in graph.modules}
    )
    assert len(list(sorter.static_order())) == len(graph.modules)


def imported_by(path: Path) -> Iterator[Path]:
    for found in re.findall(r"^(?:import|export) .*?from '([^']+)'", path.read_text(), re.M | re.S):
        if found.startswith("@/"):
            base = WEB / found[2:]
        elif found.startswith("."):
            base = path.parent / found
        else:
            continue
        for suffix in ("", ".ts", ".vue"):
            candidate = base.with_name(base.name + suffix).resolve()
            if candidate.is_file():
                yield candidate


def test_imports_of_the_front_end_run_in_no_circle() -> None:
    files = sources(WEB, ".ts", ".vue")
    # Types alone are gone when the program runs.
    graph = {
        path: {found for found in imported_by(path) if found.suffix in (".ts", ".vue")}
        for path in files
    }
    assert sum(map(len, graph.values())) > 300
    assert len(list(TopologicalSorter(graph).static_order())) == len(files)
