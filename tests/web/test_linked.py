"""Data that stay where they are: the same answers as the same data brought in, and words for all that can
go wrong with a place."""

import json
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
import polars as pl
import pytest
from click.testing import CliRunner
from django.core.management import call_command
from django.test import Client
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from core.test_counted_elsewhere import alike, without_single_rows
from hobrix.cli import main
from hobrix.linked.embedded import Embedded
from hobrix.linked.place import PlaceError
from hobrix.web.jobs.models import Job, JobState
from hobrix.web.studies.models import DataSet, KeptPatterns, Place, Study
from web.conftest import bring

pytestmark = pytest.mark.django_db(transaction=True)

ROWS = 1200


def people(seed: int = 5) -> pl.DataFrame:
    """What a register holds: words with blanks and quotes, whole numbers with codes, yes/no, weights."""
    random = np.random.default_rng(seed)
    village = random.integers(0, 24, ROWS)
    source = np.array(["piped", "river", " well ", 'o\'x "q"', "", None])[
        random.choice(6, ROWS, p=[0.4, 0.3, 0.15, 0.05, 0.05, 0.05])
    ]
    lean = 0.4 * (source == "river") + random.normal(0, 0.3, 24)[village]
    ill = random.random(ROWS) < 1 / (1 + np.exp(0.8 - lean))
    age = random.integers(18, 80, ROWS).astype(float)
    age[random.random(ROWS) < 0.05] = np.nan
    return pl.DataFrame(
        {
            "ill": np.where(ill, "yes", "no"),
            "source": source,
            "persons": np.where(random.random(ROWS) < 0.04, 99, random.integers(1, 8, ROWS)),
            "flooded": random.random(ROWS) < 0.3,
            "age": age,
            "trust": random.choice(["low", "middle", "high"], ROWS),
            "district": (village % 4).astype(str),
            "village": np.char.add("V", village.astype(str)),
            # No two alike: only their sums come from the engine.
            "w": np.where(random.random(ROWS) < 0.03, 0, random.uniform(0.5, 3, ROWS)),
            "income": random.lognormal(6, 1, ROWS),
        },
        strict=False,
    )


@pytest.fixture
def place(tmp_path: Path) -> Path:
    """A place with one table in three files."""
    folder = tmp_path / "registers"
    (folder / "flood").mkdir(parents=True)
    table = people()
    for i in range(3):
        table.slice(i * 400, 400).write_parquet(folder / "flood" / f"part-{i}.parquet")
    Place.objects.create(name="Registers", where=str(folder))
    return folder


def work() -> None:
    call_command(
        "db_worker", batch=True, interval=0, startup_delay=False, reload=False, verbosity=0
    )


def link(client: Client, study: Study, table: str = "flood", name: str = "Registers") -> Any:
    body = {"place": name, "table": table}
    return client.post(f"/api/studies/{study.id}/places", body, content_type="application/json")


@pytest.fixture
def linked(owner: Client, study: Study, place: Path) -> DataSet:
    response = link(owner, study)
    assert response.status_code == 202, response.content
    work()
    job = Job.objects.get(id=response.json()["id"])
    assert (job.state, job.message) == (JobState.DONE, "")
    return DataSet.objects.get(id=job.id)


@pytest.fixture
def brought(owner: Client, study: Study, tmp_path: Path) -> DataSet:
    file = tmp_path / "flood.parquet"
    people().write_parquet(file)
    made = bring(owner, study, file.read_bytes(), "flood.parquet")
    return DataSet.objects.get(id=made.json()["id"])


@pytest.fixture
def ask(owner: Client, study: Study) -> Callable[..., Any]:
    def asked(dataset: DataSet, question: dict[str, Any]) -> Any:
        body = {"dataset": str(dataset.id), "question": question}
        return owner.post(f"/api/studies/{study.id}/answer", body, content_type="application/json")

    return asked


def step(client: Client, dataset: DataSet, **fields: Any) -> Any:
    url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}/steps"
    return client.post(url, {"step": fields, "seen": {}}, content_type="application/json")


def described(variable: str, kind: str, *values: str) -> dict[str, Any]:
    """Answers in an order that somebody gave: that of a file is not known where it stays."""
    categories = [{"value": value, "label": value} for value in values]
    return {"step": "describe", "variable": variable, "kind": kind, "categories": categories}


STEPS: list[dict[str, Any]] = [
    described("ill", "nominal", "yes", "no"),
    described("source", "nominal", "piped", "river", "well", 'o\'x "q"'),
    described("trust", "ordinal", "low", "middle", "high"),
    described("flooded", "nominal", "true", "false"),
    described("district", "nominal", "0", "1", "2", "3"),
    {"step": "describe", "variable": "persons", "kind": "numeric"},
    {
        "step": "declare_missing",
        "codes": [{"value": "99", "label": "not said"}],
        "variables": ["persons"],
    },
    {"step": "band", "variable": "age", "name": "ages", "cuts": [30, 45, 60]},
    {"step": "yes_no", "variable": "trust", "name": "trusts", "event": ["high"]},
    {
        "step": "regroup",
        "variable": "source",
        "name": "water",
        "groups": [
            {"label": "safe", "values": ["piped"]},
            {"label": "unsafe", "values": ["river", "well"]},
        ],
    },
]
DESIGN: dict[str, Any] = {
    "kind": "design",
    "weights": "w",
    "strata": "district",
    "clusters": "village",
}
CATEGORICAL = ["source", "trust", "flooded", "district", "ages", "trusts", "water"]


@st.composite
def questions(draw: st.DrawFn) -> dict[str, Any]:
    lens = draw(st.sampled_from(["distribution", "crosstab", "proportions", "odds"]))
    others = list(draw(st.permutations(CATEGORICAL)))
    vary = [others.pop()] if lens != "distribution" else []
    allowing = [draw(st.sampled_from([others.pop(), "age", "persons"]))] if lens == "odds" else []
    outcome = draw(st.sampled_from(["ill", "age", "persons"])) if lens == "distribution" else "ill"
    return {
        "lens": lens,
        "outcome": {"variable": outcome, "event": ["yes"] if outcome == "ill" else []},
        "vary_with": [{"variable": name} for name in vary],
        "allowing_for": [{"variable": name} for name in allowing],
        "within": [others.pop()] if draw(st.integers(0, 3)) == 0 else [],
        "among": draw(
            st.sampled_from(
                [
                    None,
                    {"all": [{"variable": "trust", "is": ["low", "high"]}]},
                    {"all": [{"variable": "age", "from": 30, "to": 60}]},
                ]
            )
        ),
        "counted_by": draw(
            st.sampled_from([{"kind": "each"}, DESIGN, {"kind": "design", "weights": "w"}])
        ),
    }


def prepared_alike(client: Client, *datasets: DataSet) -> None:
    for dataset in datasets:
        for each in STEPS:
            response = step(client, dataset, **each)
            assert response.status_code == 201, response.content


def test_answers_are_those_of_the_same_data_brought_in(
    owner: Client, linked: DataSet, brought: DataSet, ask: Callable[..., Any]
) -> None:
    prepared_alike(owner, linked, brought)

    @settings(
        max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
    )
    @given(questions())
    def same(question: dict[str, Any]) -> None:
        here, there = (ask(dataset, question) for dataset in (brought, linked))
        assert here.status_code == there.status_code, there.content
        if here.status_code == 200:
            told = [without_single_rows(r.json()["answer"]) for r in (there, here)]
            alike(told[0], told[1])
        else:
            assert there.json()["where"] == here.json()["where"]

    same()


def answer_of(response: Any) -> dict[str, Any]:
    return without_single_rows(response.json()["answer"])


def never(*_args: Any, **_kwargs: Any) -> Any:
    raise PlaceError("The engine was asked.")


def checks_of(response: Any) -> str:
    return " ".join(check["text"] for check in response.json()["answer"]["checks"])


CROSSTAB: dict[str, Any] = {
    "lens": "crosstab",
    "outcome": {"variable": "ill", "event": ["yes"]},
    "vary_with": [{"variable": "trust"}],
    "within": ["district"],
}


def test_what_was_counted_answers_coarser_questions_without_the_engine(
    linked: DataSet, ask: Callable[..., Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    first = ask(linked, CROSSTAB)
    assert "Counted in “Registers”, where the rows of “flood” stay" in checks_of(first)
    monkeypatch.setattr(Embedded, "ask", never)
    coarser = ask(linked, {**CROSSTAB, "within": []})
    assert "Answered from what was kept" in checks_of(coarser)
    some = {"all": [{"variable": "district", "is": ["1", "2"]}]}
    assert ask(linked, {**CROSSTAB, "within": [], "among": some}).status_code == 200
    finer = ask(linked, {**CROSSTAB, "vary_with": [{"variable": "source"}]})
    answers_in_words(finer, "engine was asked")


def test_what_is_kept_is_bounded(linked: DataSet, ask: Callable[..., Any], settings: Any) -> None:
    codebook = KeptPatterns.objects.filter(is_codebook=True).count()
    assert codebook == 10
    ask(linked, CROSSTAB)
    kept = KeptPatterns.objects.get(is_codebook=False)
    settings.KEPT_PATTERNS = kept.size + 1000
    ask(linked, {**CROSSTAB, "vary_with": [{"variable": "source"}]})
    assert not KeptPatterns.objects.filter(pk=kept.pk).exists()
    assert KeptPatterns.objects.filter(is_codebook=True).count() == codebook


def test_a_number_with_too_many_values_is_asked_about_in_bands(
    owner: Client,
    linked: DataSet,
    ask: Callable[..., Any],
    monkeypatch: pytest.MonkeyPatch,
    settings: Any,
    brought: DataSet,
) -> None:
    monkeypatch.setattr("hobrix.web.studies.linked_codebook.MOST_VALUES", 500)
    url = f"/api/studies/{linked.study_id}/datasets/{linked.id}"
    assert owner.post(f"{url}/read-again").status_code == 202
    work()
    linked.refresh_from_db()
    entries = {e["variable"]["name"]: e for e in owner.get(f"{url}/codebook").json()}
    assert "rounded to 3 digits or fewer" in entries["income"]["to_look_at"][0]["text"]
    assert sum(entries["income"]["summary"]["counts"]) == ROWS
    # A value is looked for among the rows, not among what was rounded.
    income = people()["income"][7]
    seen = owner.get(f"{url}/values", {"value": repr(income)}).json()
    assert [(each["variable"], each["n"]) for each in seen] == [("income", 1)]
    assert owner.get(f"{url}/values", {"value": "river"}).json()[0]["variable"] == "source"
    prepared_alike(owner, linked, brought)
    bands = {"step": "band", "variable": "income", "name": "incomes", "cuts": [200, 400, 800]}
    for dataset in (linked, brought):
        assert step(owner, dataset, **bands).status_code == 201
    # What the codebook shows is rounded; what is asked never is.
    alone = {"lens": "distribution", "outcome": {"variable": "income"}}
    there, here = (ask(dataset, alone) for dataset in (linked, brought))
    alike(answer_of(there), answer_of(here))
    settings.MOST_PATTERNS = 1000
    raw = {**CROSSTAB, "lens": "odds", "within": [], "allowing_for": [{"variable": "income"}]}
    refused = ask(linked, raw)
    assert refused.status_code == 422
    told = refused.json()
    assert told["where"]["slot"] == "allowing_for"
    assert "Band income in the Codebook" in told["detail"]
    banded, rounded = told["remedies"]
    assert banded["label"] == "Ask about incomes"
    assert rounded["label"].startswith("Round income to ")
    assert rounded["question"]["options"]["rounded"].keys() == {"income"}
    for way in (banded, rounded):
        there, here = (ask(dataset, way["question"]) for dataset in (linked, brought))
        alike(answer_of(there), answer_of(here))
    assert "income was rounded to the nearest" in there.json()["answer"]["write_up"]


def test_rows_are_shown_as_they_stand_with_what_is_made_of_them(
    owner: Client, linked: DataSet, brought: DataSet
) -> None:
    prepared_alike(owner, linked, brought)
    urls = [f"/api/studies/{d.study_id}/datasets/{d.id}/rows" for d in (linked, brought)]
    there, here = (owner.get(url, {"offset": 395, "limit": 20}).json() for url in urls)
    assert there["rows"] == here["rows"]
    assert (there["total"], len(there["rows"])) == (ROWS, 20)


def test_the_codebook_counts_rows(owner: Client, linked: DataSet, brought: DataSet) -> None:
    prepared_alike(owner, linked, brought)

    def told(dataset: DataSet) -> dict[str, Any]:
        url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}"
        return {e["variable"]["name"]: e["summary"] for e in owner.get(f"{url}/codebook").json()}

    there, here = told(linked), told(brought)
    for name in ("ill", "source", "persons", "flooded", "ages", "trusts", "water", "age"):
        alike(there[name], here[name], name)
    for kind in ("equal_width", "equal_count"):
        cuts = [
            owner.get(
                f"/api/studies/{d.study_id}/datasets/{d.id}/codebook/age/cuts",
                {"how": kind, "bands": 4},
            ).json()
            for d in (linked, brought)
        ]
        assert cuts[0] == cuts[1]
    found = owner.get(
        f"/api/studies/{linked.study_id}/datasets/{linked.id}/values", {"value": "99"}
    ).json()
    assert [(f["variable"], f["n"]) for f in found] == [
        ("persons", int((people()["persons"] == 99).sum()))
    ]


def test_a_design_is_looked_at_by_sums_of_its_weights(
    owner: Client, linked: DataSet, brought: DataSet, settings: Any
) -> None:
    """Weights that all differ are not told apart for that, however many they are."""
    settings.MOST_PATTERNS = 200

    def looked_at(dataset: DataSet, design: dict[str, Any]) -> dict[str, Any]:
        url = f"/api/studies/{dataset.study_id}/datasets/{dataset.id}"
        body = {"version": owner.get(url).json()["version"], "counted_by": design}
        kept = owner.patch(url, body, content_type="application/json")
        assert kept.status_code == 200, kept.content
        found: dict[str, Any] = owner.get(f"{url}/counting").json()
        return found

    for design in (DESIGN, {"kind": "design", "weights": "w", "strata": "district"}):
        there, here = (looked_at(dataset, design) for dataset in (linked, brought))
        assert there["single"] == here["single"]
        for one, other in zip(there["findings"], here["findings"], strict=True):
            # The range of weights is not known from their sums.
            start, found, rest = other.partition(" and add up to ")
            assert one == (f"Weights add up to {rest}" if found else start)


def answers_in_words(response: Any, *words: str) -> None:
    assert response.status_code == 422, response.content
    for each in words:
        assert each in response.json()["detail"]


def test_a_file_that_changes_or_goes_away(
    owner: Client, linked: DataSet, ask: Callable[..., Any], place: Path
) -> None:
    part = place / "flood" / "part-1.parquet"
    whole = part.read_bytes()
    people(9).slice(0, 400).write_parquet(part)
    answers_in_words(ask(linked, CROSSTAB), "have changed since", "Read it again")
    part.unlink()
    answers_in_words(ask(linked, CROSSTAB), "have changed since")
    part.write_bytes(whole[: len(whole) // 2])
    url = f"/api/studies/{linked.study_id}/datasets/{linked.id}/read-again"
    job = Job.objects.get(id=owner.post(url).json()["id"])
    work()
    job.refresh_from_db()
    assert job.state == JobState.FAILED
    assert "cannot be read" in job.message
    part.unlink()
    job = Job.objects.get(id=owner.post(url).json()["id"])
    work()
    assert ask(linked, CROSSTAB).json()["answer"]["counted"]["surveyed"] == 800


def test_neither_what_was_kept_nor_what_was_answered_outlives_a_change_of_the_files(
    linked: DataSet, ask: Callable[..., Any], place: Path
) -> None:
    assert ask(linked, CROSSTAB).status_code == 200
    people(9).slice(0, 400).write_parquet(place / "flood" / "part-1.parquet")
    answers_in_words(ask(linked, CROSSTAB), "have changed since", "Read it again")
    answers_in_words(ask(linked, {**CROSSTAB, "within": []}), "have changed since")


def test_a_place_that_is_away_is_said_and_answers_again(
    linked: DataSet, ask: Callable[..., Any], place: Path
) -> None:
    away = place.rename(place.with_name("elsewhere"))
    answers_in_words(ask(linked, CROSSTAB), "cannot be reached now", "Nothing is lost")
    away.rename(place)
    assert ask(linked, CROSSTAB).status_code == 200
    Place.objects.all().delete()
    answers_in_words(
        ask(linked, {**CROSSTAB, "vary_with": [{"variable": "source"}]}), "no place called"
    )


def test_a_file_changed_while_it_was_counted(
    linked: DataSet, ask: Callable[..., Any], place: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    whole = Embedded.ask

    def meanwhile(*args: Any, **kwargs: Any) -> Any:
        found = whole(*args, **kwargs)
        people(9).slice(0, 400).write_parquet(place / "flood" / "part-2.parquet")
        return found

    monkeypatch.setattr(Embedded, "ask", meanwhile)
    answers_in_words(ask(linked, CROSSTAB), "have changed since")
    assert not KeptPatterns.objects.filter(is_codebook=False).exists()


def test_a_file_of_another_kind_among_the_files(owner: Client, study: Study, place: Path) -> None:
    pl.DataFrame({"ill": ["yes"], "source": [3]}).write_parquet(place / "flood" / "part-9.parquet")
    job = Job.objects.get(id=link(owner, study).json()["id"])
    work()
    job.refresh_from_db()
    assert job.state == JobState.FAILED
    assert "do not have the same columns: part-9.parquet" in job.message
    assert not DataSet.objects.exists()


@pytest.mark.parametrize(
    "table",
    ["../secret", "secret", "/etc/passwd", "flood'; DROP TABLE x; --", 'a"b', "flood/part-0"],
)
def test_nothing_outside_a_place_is_read(
    owner: Client, study: Study, place: Path, tmp_path: Path, table: str
) -> None:
    (tmp_path / "secret").mkdir()
    people().write_parquet(tmp_path / "secret" / "part.parquet")
    answers_in_words(link(owner, study, table), "There is no table")
    assert not Job.objects.exists()


def test_links_that_lead_out_of_a_place_are_not_followed(
    owner: Client, study: Study, place: Path, tmp_path: Path
) -> None:
    (tmp_path / "secret").mkdir()
    people().write_parquet(tmp_path / "secret" / "part.parquet")
    (place / "out").symlink_to(tmp_path / "secret")
    (place / "alone.parquet").symlink_to(tmp_path / "secret" / "part.parquet")
    listed = owner.get(f"/api/studies/{study.id}/places").json()
    assert [each["tables"] for each in listed] == [["flood"]]
    assert str(place) not in json.dumps(listed)


def test_names_with_quotes_and_columns_of_all_kinds(
    owner: Client, study: Study, place: Path, ask: Callable[..., Any]
) -> None:
    odd = pl.DataFrame(
        {
            'the "answer"': ["yes", "no", "yes", None] * 50,
            "o'group; --": ["a", "a", "b", "b"] * 50,
            "n": [1, 2, 3, 4] * 50,
            "c0": [float("nan"), 1.5, float("inf"), None] * 50,
            "rows_alike": [1, 1, 2, 2] * 50,
            "lists": [[1]] * 200,
        }
    )
    folder = place / 'it\'s a "table"'
    folder.mkdir()
    odd.write_parquet(folder / "x.parquet")
    job = Job.objects.get(id=link(owner, study, folder.name).json()["id"])
    work()
    job.refresh_from_db()
    assert job.message == ""
    dataset = DataSet.objects.get(id=job.id)
    assert dataset.remarks[0] == "lists holds lists, records or bytes, and is left out."
    question = {
        "lens": "crosstab",
        "outcome": {"variable": 'the "answer"', "event": ["yes"]},
        "vary_with": [{"variable": "o'group; --"}],
    }
    counted = ask(dataset, question).json()["answer"]["counted"]
    assert (counted["surveyed"], counted["counted"]) == (200, 150)
    number = {"lens": "distribution", "outcome": {"variable": "c0"}}
    table = ask(dataset, number).json()["answer"]["results"]["variables"][0]
    assert table["n_missing"] == 150


def test_a_database_file(
    owner: Client, study: Study, tmp_path: Path, ask: Callable[..., Any]
) -> None:
    import duckdb

    file = tmp_path / "register.duckdb"
    with duckdb.connect(str(file)) as opened:
        opened.execute('CREATE TABLE "the people" (ill VARCHAR, trust VARCHAR, district VARCHAR)')
        opened.executemany(
            'INSERT INTO "the people" VALUES (?, ?, ?)',
            people().select("ill", "trust", "district").rows(),
        )
    Place.objects.create(name="Database", where=str(file))
    listed = owner.get(f"/api/studies/{study.id}/places").json()
    assert listed == [{"name": "Database", "tables": ["the people"], "why_not": ""}]
    job = link(owner, study, "the people", "Database").json()
    work()
    answer = ask(DataSet.objects.get(id=job["id"]), CROSSTAB).json()["answer"]
    assert answer["counted"]["counted"] == ROWS


def test_what_needs_the_rows_here_says_so(owner: Client, linked: DataSet) -> None:
    url = f"/api/studies/{linked.study_id}/datasets/{linked.id}"
    answers_in_words(owner.get(f"{url}/export/csv"), "stay where they are")
    cases = {"version": linked.version, "cases": {"rows": "several", "case": "village"}}
    answers_in_words(owner.patch(url, cases, content_type="application/json"), "stay where")


@pytest.mark.parametrize("counted_by", [{"kind": "each"}, DESIGN])
def test_many_variables_are_looked_at_a_few_at_a_time(
    owner: Client, linked: DataSet, brought: DataSet, counted_by: dict[str, Any]
) -> None:
    prepared_alike(owner, linked, brought)
    among = {"all": [{"variable": "age", "from": 25, "to": None}]}
    names = ["source", "trust", "flooded", "ages", "water", "age", "persons"]
    listed = [{"variable": name} for name in names]
    question = {
        "outcome": {"variable": "ill", "event": ["yes"]},
        "vary_with": listed,
        "among": among,
        "counted_by": counted_by,
    }

    def told(dataset: DataSet, route: str, **more: Any) -> Any:
        body = {"dataset": str(dataset.id), "question": question, **more}
        url = f"/api/studies/{dataset.study_id}/answer/{route}"
        reply = owner.post(url, body, content_type="application/json")
        assert reply.status_code == 200, reply.content
        return reply.json()

    for route, more in (
        ("at-a-glance", {"variables": names}),
        ("screening", {"variables": names}),
        ("first-table", {"within": "outcome", "numbers": "median", "tests": False}),
        ("first-table", {"within": "characteristic", "numbers": "mean", "tests": False}),
    ):
        alike(told(linked, route, **more), told(brought, route, **more), route)


def test_work_in_the_engine_is_stopped(
    owner: Client, study: Study, place: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    job = Job.objects.get(id=link(owner, study).json()["id"])
    whole = Embedded.ask

    def stopped_first(*args: Any, **kwargs: Any) -> Any:
        Job.objects.filter(id=job.id).update(stop_requested=True)
        return whole(*args, **kwargs)

    monkeypatch.setattr(Embedded, "ask", stopped_first)
    work()
    job.refresh_from_db()
    assert job.state == JobState.STOPPED
    assert not DataSet.objects.exists()


def test_places_are_named_on_the_command_line(place: Path, tmp_path: Path) -> None:
    def said(*words: str) -> tuple[int, str]:
        done = CliRunner().invoke(main, ["place", *words])
        return done.exit_code, done.output

    assert said("list") == (0, f"Registers\t{place}\t1 tables\n")
    assert said("add", "Registers", str(place))[1].startswith("Error: There is a place called")
    code, words = said("add", "Nowhere", str(tmp_path / "nowhere"))
    assert (code, "is not there" in words) == (2, True)
    (tmp_path / "more").mkdir()
    assert "with 0 tables" in said("add", "More", str(tmp_path / "more"))[1]
    assert said("remove", "More") == (0, "More is no place any more.\n")
    assert said("remove", "More")[0] == 2
    assert list(Place.objects.values_list("name", flat=True)) == ["Registers"]
