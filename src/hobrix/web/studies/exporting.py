"""Taking prepared data out: every variable as it stands in the codebook, in an open format."""

from hobrix.core.formats import Codebook, Noun, Table, Written, write_file
from hobrix.web.studies.frames import workspace_of
from hobrix.web.studies.linking import refuse_linked
from hobrix.web.studies.models import DataSet

MEDIA_TYPES: dict[Written, str] = {
    "csv": "text/csv; charset=utf-8",
    "xlsx": "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    "parquet": "application/vnd.apache.parquet",
    "zip": "application/zip",
    "xml": "application/xml",
}


def export(dataset: DataSet, kind: Written) -> bytes:
    """The data set in an open format; raises FormatError when the format cannot hold it,
    HobrixError where its rows are not here."""
    refuse_linked(dataset, "they are taken out there, not here.")
    workspace = workspace_of(dataset)
    variables = workspace.state.variables
    columns = {name: workspace.source(name) for name in variables}
    codebook = Codebook(
        noun=Noun(one=dataset.noun_one, many=dataset.noun_many),
        note=dataset.noted,
        variables=tuple(variables.values()),
    )
    return write_file(kind, Table(columns, dataset.rows), codebook, dataset.name)
