"""Large files in the background: done, stopped, failed, killed; and nothing left behind."""

from datetime import timedelta
from pathlib import Path
from typing import Any
from uuid import uuid4

import pytest
from django.core.files.base import ContentFile
from django.core.management import call_command
from django.test import Client
from django.utils import timezone

from hobrix.web.jobs.abandoned import remove_orphans, take_up_abandoned
from hobrix.web.jobs.models import Job, JobState
from hobrix.web.studies import importing
from hobrix.web.studies.models import Blob, DataSet, SavedQuestion, Study
from web.conftest import CSV, bring

pytestmark = pytest.mark.django_db(transaction=True)


@pytest.fixture(autouse=True)
def _all_files_are_large(settings: Any, dataset: DataSet, tmp_path: Path) -> None:
    settings.IMPORTED_AT_ONCE = 10
    settings.FILE_UPLOAD_TEMP_DIR = str(tmp_path / "uploads")


def start(client: Client, study: Study, text: str = CSV, name: str = "large.csv") -> Job:
    response = bring(client, study, text, name)
    assert response.status_code == 202, response.content
    assert response.json()["state"] == "waiting"
    return Job.objects.get(id=response.json()["id"])


def work(job: Job) -> Job:
    call_command(
        "db_worker", batch=True, interval=0, startup_delay=False, reload=False, verbosity=0
    )
    job.refresh_from_db()
    return job


def files(settings: Any) -> set[str]:
    root = Path(settings.MEDIA_ROOT)
    return {str(file.relative_to(root)) for file in root.rglob("*") if file.is_file()}


def url(job: Job) -> str:
    return f"/api/studies/{job.study_id}/jobs/{job.id}"


def test_a_large_file_is_read_by_the_worker(owner: Client, study: Study, settings: Any) -> None:
    job = start(owner, study)
    assert [j["id"] for j in owner.get(f"/api/studies/{study.id}/jobs").json()] == [str(job.id)]
    assert not DataSet.objects.filter(id=job.id).exists()
    assert work(job).state == JobState.DONE
    assert owner.get(f"/api/studies/{study.id}/jobs").json() == []
    made = DataSet.objects.get(id=job.id)
    assert (made.rows, made.is_draft, made.name, made.file_name) == (88, True, "large", "large.csv")
    assert made.file.read().decode() == CSV
    assert files(settings) == set(DataSet.objects.values_list("file", flat=True))


def test_a_newer_file_replaces_an_older_in_the_background(
    owner: Client, dataset: DataSet, saved: SavedQuestion
) -> None:
    file = ContentFile((CSV + "river,yes,50,1\n").encode(), name="newer.csv")
    response = owner.post(
        f"/api/studies/{dataset.study_id}/datasets/{dataset.id}/replace", {"file": file}
    )
    job = work(Job.objects.get(id=response.json()["id"]))
    assert job.state == JobState.DONE
    saved.refresh_from_db()
    assert saved.dataset_id == job.id
    assert saved.dataset.report["rows_after"] == 89
    assert saved.dataset.file_name == "newer.csv"


def test_a_file_that_cannot_be_read_says_why_until_it_is_put_away(
    owner: Client, study: Study, settings: Any
) -> None:
    before = files(settings)
    job = work(start(owner, study, "a,b\n1,2\n1,2,3\n"))
    listed = owner.get(f"/api/studies/{study.id}/jobs").json()
    assert listed[0]["state"] == "failed"
    assert "Line 3 has 3 cells" in listed[0]["message"]
    assert files(settings) == before
    assert owner.delete(url(job)).status_code == 200
    assert owner.get(f"/api/studies/{study.id}/jobs").json() == []


def test_a_job_that_waits_is_stopped_at_once(owner: Client, study: Study, settings: Any) -> None:
    before = files(settings)
    job = start(owner, study)
    assert owner.delete(url(job)).json()["state"] == "stopped"
    assert work(job).state == JobState.STOPPED
    assert not DataSet.objects.filter(id=job.id).exists()
    assert files(settings) == before


def test_a_job_that_runs_is_stopped_and_leaves_nothing(
    owner: Client, study: Study, settings: Any, monkeypatch: Any
) -> None:
    before, blobs = files(settings), Blob.objects.count()
    job = start(owner, study)
    packed = []

    def pack_all(sources: Any, tell: Any) -> Any:
        def told(done: int) -> None:
            tell(done)
            packed.append(done)
            assert owner.delete(url(job)).json()["stop_requested"]

        return original(sources, told)

    original = importing.pack_all
    monkeypatch.setattr(importing, "pack_all", pack_all)
    assert work(job).state == JobState.STOPPED
    assert len(packed) == 1
    assert not DataSet.objects.filter(id=job.id).exists()
    assert Blob.objects.count() == blobs
    assert files(settings) == before


def test_progress_is_told_and_only_grows(owner: Client, study: Study, monkeypatch: Any) -> None:
    job = start(owner, study)
    seen = []

    def pack_all(sources: Any, tell: Any) -> Any:
        def told(done: int) -> None:
            tell(done)
            job_now = owner.get(url(job)).json()
            seen.append((job_now["progress"], job_now["doing"]))

        return original(sources, told)

    original = importing.pack_all
    monkeypatch.setattr(importing, "pack_all", pack_all)
    work(job)
    assert seen[0][1] == "Packing 1 of 4 variables"
    shares = [share for share, _ in seen]
    assert shares == sorted(shares)
    assert 0 < shares[0] < shares[-1] < 1


def killed(job: Job, attempts: int = 1) -> None:
    """As a killed worker leaves it."""
    from django_tasks_db.models import DBTaskResult

    DBTaskResult.objects.filter(id=job.task).update(status="RUNNING")
    Job.objects.filter(id=job.id).update(
        state=JobState.RUNNING,
        attempts=attempts,
        heartbeat_at=timezone.now() - timedelta(minutes=1),
    )


def test_a_killed_job_is_taken_up_again(owner: Client, study: Study) -> None:
    job = start(owner, study)
    killed(job)
    assert [taken.id for taken in take_up_abandoned()] == [job.id]
    assert work(job).state == JobState.DONE
    assert DataSet.objects.filter(id=job.id).count() == 1
    assert take_up_abandoned() == []


def test_a_job_killed_after_its_work_is_not_done_twice(owner: Client, study: Study) -> None:
    job = work(start(owner, study))
    count = DataSet.objects.count()
    killed(job)
    take_up_abandoned()
    assert work(job).state == JobState.DONE
    assert DataSet.objects.count() == count


def test_a_job_killed_twice_has_failed(owner: Client, study: Study, settings: Any) -> None:
    before = files(settings)
    job = start(owner, study)
    killed(job, attempts=2)
    take_up_abandoned()
    assert work(job).state == JobState.FAILED
    assert "interrupted twice" in job.message
    assert files(settings) == before


def test_a_beating_job_is_left_alone(owner: Client, study: Study) -> None:
    job = start(owner, study)
    killed(job)
    Job.objects.filter(id=job.id).update(heartbeat_at=timezone.now())
    assert take_up_abandoned() == []


def test_orphaned_files_are_removed_and_others_stay(
    owner: Client, study: Study, settings: Any
) -> None:
    start(owner, study)
    kept = files(settings)
    stray = Path(settings.MEDIA_ROOT) / "2026" / str(uuid4())
    stray.parent.mkdir(exist_ok=True)
    stray.write_text("half a file")
    upload = Path(settings.FILE_UPLOAD_TEMP_DIR) / "x.upload.csv"
    upload.parent.mkdir()
    upload.write_text("half an upload")
    assert set(remove_orphans()) == {stray, upload}
    assert files(settings) == kept
