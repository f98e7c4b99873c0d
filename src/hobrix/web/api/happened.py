"""What is written down in the log of a study: a sentence for every route that changes or takes out
something."""

import json
import logging
from collections.abc import Callable
from typing import Any

from django.contrib.auth import get_user_model
from django.core.exceptions import ValidationError
from django.db import DatabaseError
from django.http import HttpRequest, HttpResponse
from django.urls import Resolver404, resolve

from hobrix.web.jobs.models import Job
from hobrix.web.people.happenings import write_down
from hobrix.web.reports.models import Report
from hobrix.web.studies.models import DataSet, SavedQuestion, Study

Answer = Callable[[HttpRequest], HttpResponse]

_STUDY = "api/studies/<study_id>"
_DATA = f"{_STUDY}/datasets/<dataset_id>"
_REPORT = f"{_STUDY}/reports/<report_id>"
_QUESTION = f"{_STUDY}/questions/<question_id>"

# By method and route; {what} is what the reply or the address names.
SENTENCES: dict[tuple[str, str], str] = {
    ("PATCH", _STUDY): "renamed the study {what}",
    ("DELETE", _STUDY): "deleted the study",
    ("POST", f"{_STUDY}/restore"): "brought the study back",
    ("POST", f"{_STUDY}/datasets"): "brought in {what}",
    ("POST", f"{_STUDY}/datasets/typed"): "typed in the table {what}",
    ("PATCH", _DATA): "changed what the data set {what} is",
    ("DELETE", _DATA): "deleted the data set {what}",
    ("POST", f"{_DATA}/restore"): "brought back the data set {what}",
    ("POST", f"{_DATA}/reread"): "had the file of {what} read in another way",
    ("POST", f"{_DATA}/replace"): "replaced the file of {what}",
    ("POST", f"{_DATA}/put-back"): "put back the older file of {what}",
    ("GET", f"{_DATA}/export/<kind>"): "took the data of {what} out ({kind})",
    ("POST", f"{_DATA}/steps"): "prepared: {what}",
    ("POST", f"{_DATA}/steps/undo"): "undid: {what}",
    ("POST", f"{_DATA}/steps/redo"): "did again: {what}",
    ("PATCH", f"{_DATA}/steps/<int:step_id>"): "turned a step on or off: {what}",
    ("POST", f"{_DATA}/codebook-file"): "read a codebook for {what}",
    ("PUT", f"{_DATA}/recipe"): "changed how {what} is made",
    ("POST", f"{_DATA}/recipe/undo"): "undid how {what} is made",
    ("POST", f"{_DATA}/recipe/redo"): "did again how {what} is made",
    ("POST", f"{_DATA}/terms"): "accepted the terms of {what}",
    ("POST", f"{_DATA}/newer"): "fetched the newer {what} from its lender",
    ("POST", f"{_STUDY}/lenders/<int:lender_id>/<offer>"): "brought in {what} from a lender",
    ("POST", f"{_STUDY}/places"): "linked {what}, whose rows stay where they are",
    ("POST", f"{_DATA}/read-again"): "had {what} read again where it is",
    ("POST", f"{_STUDY}/bring"): "brought data sets together as {what}",
    ("POST", f"{_STUDY}/questions"): "kept the question {what}",
    ("PATCH", _QUESTION): "changed the question {what}",
    ("DELETE", _QUESTION): "deleted the question {what}",
    ("POST", f"{_QUESTION}/move"): "moved the question {what}",
    ("POST", f"{_QUESTION}/restore"): "brought back the question {what}",
    ("POST", f"{_STUDY}/reports"): "began the report {what}",
    ("PATCH", _REPORT): "changed title or style of the report {what}",
    ("DELETE", _REPORT): "deleted the report {what}",
    ("POST", f"{_REPORT}/restore"): "brought back the report {what}",
    ("POST", f"{_REPORT}/changes"): "wrote in the report {what}",
    ("POST", f"{_REPORT}/looked-at"): "looked at what moved in the report {what}",
    ("GET", f"{_REPORT}/export/<kind>"): "took the report {what} out ({kind})",
    ("POST", f"{_STUDY}/subsets"): "named the subset {what}",
    ("DELETE", f"{_STUDY}/subsets/<subset_id>"): "deleted a named subset",
    ("DELETE", f"{_STUDY}/jobs/<job_id>"): "stopped the work on {what}",
    ("POST", f"{_STUDY}/people/invitations"): "invited somebody as {what}",
    ("DELETE", f"{_STUDY}/people/invitations/<invitation_id>"): "took an invitation back",
    ("PATCH", f"{_STUDY}/people/<user_id>"): "made {what}",
    ("DELETE", f"{_STUDY}/people/<user_id>"): "took out or left: {what}",
}
_NAMED = ("words", "title", "name", "file_name", "role")
_KINDS: tuple[tuple[str, Any], ...] = (
    ("user_id", get_user_model()),
    ("question_id", SavedQuestion),
    ("report_id", Report),
    ("job_id", Job),
    ("dataset_id", DataSet),
    ("study_id", Study),
)


def written_down(get_response: Answer) -> Answer:
    """Middleware: what succeeded stands in the log of its study."""

    def answer(request: HttpRequest) -> HttpResponse:
        if not request.path.startswith("/api/studies/"):
            return get_response(request)
        before = _before(request)
        response = get_response(request)
        if before is not None and 200 <= response.status_code < 300 and not _goes_on(response):
            sentence, keys, named = before
            what = _what(response) or named
            words = sentence.format(what=f"“{what}”" if what else "", kind=keys.get("kind", ""))
            try:
                write_down(keys["study_id"], request.user, words.strip())
            except DatabaseError as error:
                # What was done is done, and the reply says so.
                logging.getLogger("hobrix").error("the log", exc_info=error)
        return response

    return answer


def _before(request: HttpRequest) -> tuple[str, dict[str, Any], str] | None:
    """The sentence for a request, its keys, and what they name; before it may be gone."""
    try:
        match = resolve(request.path)
    except Resolver404:
        return None
    sentence = SENTENCES.get((request.method or "", match.route))
    if sentence is None:
        return None
    return sentence, match.kwargs, _named_by(match.kwargs)


def _named_by(keys: dict[str, Any]) -> str:
    for key, kind in _KINDS:
        if key in keys:
            return _shown_of(kind, keys[key])
    return ""


def _shown_of(kind: Any, key: Any) -> str:
    try:
        found = kind.objects.filter(id=key).first()
    except (ValueError, OverflowError, ValidationError):
        return ""  # no key at all, as the route will say
    return _shown(found) if found is not None else ""


def _shown(found: Any) -> str:
    return str(getattr(found, "title", "") or getattr(found, "headline", "") or _name(found))


def _name(found: Any) -> str:
    names = ("name", "file_name", "username")
    return next((str(getattr(found, name)) for name in names if getattr(found, name, "")), "")


def _what(response: HttpResponse) -> str:
    """What the reply names."""
    if response.streaming or not response.headers.get("Content-Type", "").startswith(
        "application/json"
    ):
        return ""
    try:
        told = json.loads(response.content)
    except ValueError:
        return ""
    if not isinstance(told, dict):
        return ""
    if told.get("user") and told.get("role"):
        return f"{told['user']}” “{told['role']}"
    return next((str(told[name]) for name in _NAMED if told.get(name)), "")


def _goes_on(response: HttpResponse) -> bool:
    """Whether it is still worked out, and asked for again."""
    return response.status_code == 202 and "Hobrix-Work" in response.headers
