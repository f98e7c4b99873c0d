"""A codebook file that describes a draft: looked at first, then used."""

from uuid import UUID

from django.http import HttpRequest
from ninja import File, Form, Path, Router, Schema
from ninja.files import UploadedFile
from pydantic import TypeAdapter, ValidationError

from hobrix.core.errors import FormatError
from hobrix.core.formats import Codebook, Dictionary, Part, read_any_codebook
from hobrix.web.api.dataset_out import DataSetOut
from hobrix.web.api.problems import Problem, Stale
from hobrix.web.studies.access import MAY_CHANGE, dataset_for
from hobrix.web.studies.importing import options_of, reread
from hobrix.web.studies.models import DataSet

router = Router(by_alias=True)


class DictionaryColumnIn(Schema):
    """What a column of a data dictionary is to be taken as; null: nothing."""

    sheet: str
    name: str
    part: Part | None


class DictionaryColumnOut(DictionaryColumnIn):
    example: str


class CodebookSeen(Schema):
    """What a codebook file would describe: how its columns are taken (none where it has no choice),
    why it cannot be used so, how many variables of the data it describes, those it names that are
    not in the data, and those of the data it does not describe."""

    columns: list[DictionaryColumnOut]
    problem: str | None
    described: int
    unknown: list[str]
    undescribed: list[str]


@router.post(
    "",
    response={200: DataSetOut, 404: Problem, 409: Problem, 422: Problem},
)
def bring_codebook(
    request: HttpRequest,
    study_id: Path[UUID],
    dataset_id: Path[UUID],
    file: File[UploadedFile],
    columns: Form[str] = "",
) -> DataSet:
    """Describe a draft by a codebook file (DDI-Codebook XML, JSON, or a data dictionary in a table,
    of which ``columns`` may say what they are: JSON of DictionaryColumnIn)."""
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    if not dataset.is_draft:
        raise Stale(DataSetOut.from_orm(dataset).model_dump(mode="json"))
    reread(dataset, options_of(dataset), _described_by(file, columns))
    return dataset


@router.post(
    "/look",
    response={200: CodebookSeen, 404: Problem, 409: Problem, 422: Problem},
)
def look_at_codebook(
    request: HttpRequest,
    study_id: Path[UUID],
    dataset_id: Path[UUID],
    file: File[UploadedFile],
    columns: Form[str] = "",
) -> CodebookSeen:
    """How a codebook file would be used, without using it."""
    dataset = dataset_for(request.user, study_id, dataset_id, *MAY_CHANGE)
    codebook = _described_by(file, columns)
    names = list(dataset.entries.values_list("name", flat=True))
    taken: list[DictionaryColumnOut] = []
    problem = None
    if isinstance(codebook, Dictionary):
        taken = [DictionaryColumnOut(**vars(column)) for column in codebook.columns]
        problem = codebook.problem
        found, unknown = codebook.by_column(names)
        described = set(found)
    else:
        told = [variable.name for variable in codebook.variables]
        described, unknown = set(told) & set(names), tuple(n for n in told if n not in names)
    return CodebookSeen(
        columns=taken,
        problem=problem,
        described=len(described),
        unknown=list(unknown),
        undescribed=[name for name in names if name not in described],
    )


_COLUMNS = TypeAdapter(list[DictionaryColumnIn])


def _described_by(file: UploadedFile, columns: str) -> Codebook | Dictionary:
    told = None
    if columns:
        try:
            given = _COLUMNS.validate_json(columns)
        except ValidationError:
            raise FormatError("What the columns are was not understood.") from None
        told = {(each.sheet, each.name): each.part for each in given}
    return read_any_codebook(file.name or "codebook.json", file.read(), told)
