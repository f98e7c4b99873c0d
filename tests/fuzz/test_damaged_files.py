"""Whatever became of a file: it is read, or refused in words; nothing breaks, nothing takes long.

``HOBRIX_FUZZ`` says how many of each kind are tried (``make fuzz`` tries many).
"""

import os
import random
import time
from contextlib import suppress
from typing import Any

import pytest
from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import Client

from fuzz.damaged import CODEBOOKS, WHOLE, damaged
from hobrix.core.errors import HobrixError
from hobrix.core.formats import Codebook, frame_of, read_any_codebook, read_file
from hobrix.web.studies.models import Membership, Study

# A file is quicker tried than a request.
TIMES = 12 * int(os.environ.get("HOBRIX_FUZZ", "3"))
SECONDS = 10.0


@pytest.mark.parametrize("kind", WHOLE)
def test_a_damaged_file_is_read_or_refused(kind: str) -> None:
    refused = 0
    for number in range(TIMES):
        data = damaged(WHOLE[kind], kind, random.Random(f"{kind}{number}"))
        began = time.monotonic()
        try:
            read = read_file(f"survey.{kind}", data, None)
        except HobrixError:
            refused += 1
        else:
            frame = frame_of(read.table, read.codebook or Codebook())
            for name in frame.variables:
                assert len(frame.column(name).is_missing) == read.table.rows
        assert time.monotonic() - began < SECONDS
    # The damage is real, and not everything is thrown out for it.
    assert 0 < refused < TIMES


@pytest.mark.parametrize("kind", CODEBOOKS)
def test_a_damaged_codebook_is_read_or_refused(kind: str) -> None:
    for number in range(TIMES):
        data = damaged(CODEBOOKS[kind], kind, random.Random(f"codebook {kind}{number}"))
        with suppress(HobrixError):
            read_any_codebook(f"codebook.{kind}", data)


@pytest.fixture
def somebody(db: None, django_user_model: Any) -> tuple[Client, str]:
    user = django_user_model.objects.create_user("ann")
    study = Study.objects.create(name="Ostra Basin")
    Membership.objects.create(study=study, user=user, role="owner")
    client = Client()
    client.force_login(user)
    return client, f"/api/studies/{study.id}"


@pytest.mark.parametrize("kind", WHOLE)
def test_what_was_brought_in_damaged_can_be_looked_at(
    kind: str, somebody: tuple[Client, str], settings: Any, tmp_path: Any
) -> None:
    """Every later read of what was taken in: codebook, rows, answers, exports."""
    settings.MEDIA_ROOT = tmp_path
    client, study = somebody
    for number in range(max(4, TIMES // 5)):
        data = damaged(WHOLE[kind], kind, random.Random(f"{kind}{number}"))
        upload = {"file": SimpleUploadedFile(f"survey.{kind}", data)}
        response = client.post(f"{study}/datasets", upload)
        assert response.status_code in (201, 422), response.content
        if response.status_code == 201:
            _look_at(client, study, response.json()["id"])


def _look_at(client: Client, study: str, dataset: str) -> None:
    at = f"{study}/datasets/{dataset}"
    entries = client.get(f"{at}/codebook").json()
    paths = [
        f"{at}/rows?offset=0&limit=20",
        *(f"{at}/export/{kind}" for kind in ("csv", "zip", "xlsx")),
    ]
    for path in paths:
        assert client.get(path).status_code in (200, 422), path
    for entry in entries[:3]:
        question = {"outcome": {"variable": entry["variable"]["name"]}, "lens": "distribution"}
        body = {"dataset": dataset, "question": question}
        asked = client.post(f"{study}/answer", body, content_type="application/json")
        assert asked.status_code in (200, 422), asked.content
