"""What is sent of a data set, and what of it before its terms are accepted."""

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from ninja import Schema

from hobrix.core.data import Cases, Counting, Finding
from hobrix.web.studies.models import DataSet
from hobrix.web.studies.terms import pending

StudyDesignName = Literal["", "cross_sectional", "cohort", "case_control", "trial"]


class FailedStep(Schema):
    words: str
    why: str


class NewAnswers(Schema):
    variable: str
    values: list[str]


class ChangedCount(Schema):
    variable: str
    before: int
    after: int


class MovedQuestion(Schema):
    """A question's headline on the older and on the newer data."""

    id: UUID
    title: str
    before: str | None
    after: str | None


class ReplacementReport(Schema):
    """What changed when a newer file took the place of an older one."""

    rows_before: int
    rows_after: int
    failed: list[FailedStep]
    vanished: list[str]
    appeared: list[str]
    new_answers: list[NewAnswers]
    answered: list[ChangedCount]
    questions: list[MovedQuestion]


class Made(Schema):
    """How a data set was made of which others; ``behind`` are those that changed or were deleted
    since, ``trouble`` why it could not be made again."""

    recipe: Literal["stack", "match", "one_per_case", "groups"]
    sources: list[UUID]
    behind: list[str]
    trouble: str
    findings: list[Finding]


class TermsOut(Schema):
    """Terms of a data set; its ``id`` tells which where it is another that this one is made from."""

    id: UUID
    name: str
    terms: str


class DataSetOut(Schema):
    id: UUID
    name: str
    file_name: str
    size: int
    sha256: str
    delimiter: str
    encoding: str
    decimal_comma: bool
    sheet: str
    header_row: int
    sheets: list[str]
    counts_candidate: str
    study_design: StudyDesignName
    case_status: str
    matched_on: str
    remarks: list[str]
    rows: int
    noun_one: str
    noun_many: str
    counted_by: Counting
    cases: Cases
    pooled_by: str
    made: Made | None
    terms: str
    note: str
    # Terms that the person who asks has to accept before anything of the data is shown.
    terms_asked: list[TermsOut] = []
    lender: str
    offer: str
    # Where its rows stay: the name of a place and a table in it; blank where they are kept here.
    place: str
    table: str
    is_draft: bool
    report: ReplacementReport | None
    imported_at: datetime
    imported_by: str | None
    version: int

    @staticmethod
    def resolve_cases(dataset: DataSet) -> Cases:
        return Cases.model_validate(dataset.cases)

    @staticmethod
    def resolve_made(dataset: DataSet) -> Made | None:
        if not dataset.recipe:
            return None
        links = dataset.made_from.all()
        changed = [
            link.source.name
            for link in links
            if link.source.deleted_at or link.state != link.source.state
        ]
        made: dict[str, Any] = {
            "recipe": dataset.recipe,
            "sources": [link.source_id for link in links],
            "behind": changed,
            "trouble": dataset.trouble,
            "findings": dataset.findings,
        }
        return Made(**made)

    @staticmethod
    def resolve_terms_asked(dataset: DataSet) -> list[DataSet]:
        found: list[DataSet] = vars(dataset).get("terms_asked", [])
        return found

    @staticmethod
    def resolve_imported_by(dataset: DataSet) -> str | None:
        return dataset.imported_by.get_username() if dataset.imported_by else None


def seen_by(user: Any, dataset: DataSet, asked: list[DataSet] | None = None) -> DataSet:
    """The data set as it is sent: before its terms are accepted, without what its rows say. ``asked`` are
    those terms, where they are known."""
    asked = pending(user, dataset) if asked is None else asked
    vars(dataset)["terms_asked"] = asked
    if asked:
        dataset.report, dataset.remarks, dataset.findings, dataset.trouble = None, [], [], ""
    return dataset
