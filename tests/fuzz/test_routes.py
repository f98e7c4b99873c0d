"""Every route with requests made up from its description: nothing breaks, whatever is asked.

Paths lead to a real study, and half of the data sets and variables that are named are there, so that requests
come past the front door. ``HOBRIX_FUZZ`` says how many requests each route gets.
"""

import json
import os
import time
from typing import Any
from urllib.parse import urlencode

import pytest
import schemathesis
from django.contrib.auth import get_user_model
from django.test import Client
from hypothesis import HealthCheck, Phase
from hypothesis import settings as configured
from schemathesis.core import NOT_SET

from hobrix.web.api import api
from hobrix.web.reports.models import Report, ReportBlock
from hobrix.web.studies.models import DataSet, Membership, NamedSubset, SavedQuestion, Study
from web.conftest import CSV, QUESTION, bring

TIMES = int(os.environ.get("HOBRIX_FUZZ", "3"))
SECONDS = 10.0

schema: Any = schemathesis.openapi.from_dict(dict(api.get_openapi_schema()))
# Made up at random only: thousands of examples of every rule of the description are another tool's job.
schema.config.phases.coverage.enabled = False
schema.config.phases.examples.enabled = False
if TIMES < 10:
    # In every run only what takes a body: the others are walked by the tests of access.
    schema = schema.include(method=["POST", "PUT", "PATCH"])
VARIABLES = ("ill", "source", "age", "n")


@pytest.fixture
def there(db: None, settings: Any, tmp_path: Any) -> Any:
    """A study with one of everything, what leads to it, and who may see it."""
    settings.MEDIA_ROOT = tmp_path
    user = get_user_model().objects.create_user("ann")
    study = Study.objects.create(name="Ostra Basin")
    Membership.objects.create(study=study, user=user, role="owner")
    client = Client()
    client.force_login(user)
    dataset = DataSet.objects.get(id=bring(client, study, CSV).json()["id"])
    DataSet.objects.update(is_draft=False)
    question = SavedQuestion.objects.create(
        study=study, dataset=dataset, position=1, question=QUESTION
    )
    rule = {"all": [{"variable": "ill", "missing": True}]}
    subset = NamedSubset.objects.create(study=study, name="kept", rule=rule)
    report = Report.objects.create(study=study, title="kept")
    block = {"type": "table", "question": str(question.id)}
    ReportBlock.objects.create(report=report, name="a", position=1, block=block)
    ids = {
        "study_id": str(study.id),
        "dataset_id": str(dataset.id),
        "question_id": str(question.id),
        "subset_id": str(subset.id),
        "report_id": str(report.id),
        "name": "ill",
    }
    return ids, client


def _with_what_is_there(value: Any, ids: dict[str, str]) -> Any:
    """Every second data set and variable named in a body is one of the study's."""
    if isinstance(value, list):
        return [_with_what_is_there(each, ids) for each in value]
    if not isinstance(value, dict):
        return value
    made = {}
    for at, (key, each) in enumerate(value.items()):
        if key == "dataset":
            made[key] = ids["dataset_id"]
        elif key in ("variable", "name", "case", "order", "weights") and isinstance(each, str):
            made[key] = VARIABLES[(len(each) + at) % 4] if len(each) % 2 == 0 else each
        else:
            made[key] = _with_what_is_there(each, ids)
    return made


@schema.parametrize()  # type: ignore[untyped-decorator]
@configured(
    max_examples=TIMES,
    deadline=None,
    derandomize=TIMES < 10,
    phases=[Phase.generate],
    suppress_health_check=list(HealthCheck),
)
def test_no_request_breaks_anything(case: Any, there: Any) -> None:
    ids, client = there
    case.path_parameters = {k: ids.get(k, v) for k, v in (case.path_parameters or {}).items()}
    if isinstance(case.body, dict | list):
        case.body = _with_what_is_there(case.body, ids)
    query = urlencode(case.query or {}, doseq=True)
    body = "" if case.body is NOT_SET else json.dumps(case.body, default=str)
    began = time.monotonic()
    response = client.generic(
        case.method, f"{case.formatted_path}?{query}", body, content_type=case.media_type or ""
    )
    said = f"{case.method} {case.formatted_path}?{query} {body}: {response.content[:500]!r}"
    assert response.status_code < 500, said
    assert time.monotonic() - began < SECONDS, said
    # Whatever was kept of it, the study can still be listed.
    listed = client.get(f"/api/studies/{ids['study_id']}/questions")
    assert listed.status_code in (200, 401, 404), said
