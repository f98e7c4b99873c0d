"""`hobrix report`: a report as a document, without the server."""

from pathlib import Path

import click


@click.command("report")
@click.argument("report", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.argument("data", nargs=-1, required=True)
@click.option(
    "--to",
    "out",
    required=True,
    type=click.Path(dir_okay=False, path_type=Path),
    help="What to write; its ending says what: .docx, .pdf, .html or .xlsx (the tables).",
)
@click.option(
    "--codebook",
    "codebooks",
    multiple=True,
    help="A codebook as JSON, DDI or a data dictionary; NAME=FILE where there are several data sets.",
)
def report_command(
    report: Path, data: tuple[str, ...], out: Path, codebooks: tuple[str, ...]
) -> None:
    """Write REPORT (JSON, as the screen gives it) about DATA.

    DATA are files as `hobrix answer` reads them, each under the name the report knows it by:
    NAME=FILE, or just FILE where that is its name or there is only one.
    """
    # Here, so that the other commands start without loading the statistics.
    from pydantic import ValidationError

    from hobrix.core.errors import HobrixError
    from hobrix.core.report.document import Report
    from hobrix.documents.alone import page_alone, read_frames
    from hobrix.documents.writing import by_ending

    try:
        how = by_ending(out.suffix)
        if how is None:
            raise click.ClickException(f"{out}: write to .docx, .pdf, .html or .xlsx.")
        value = Report.model_validate_json(report.read_bytes())
        page = page_alone(value, read_frames(data, codebooks))
        out.write_bytes(how.write(page))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        raise click.ClickException(f"{report}: {where}: {first['msg']}") from None
    except HobrixError as error:
        raise click.ClickException(error.message) from None
    troubles = [part.trouble for part in page.parts if part.trouble]
    troubles += [
        run.trouble for part in page.parts for line in part.lines for run in line if run.trouble
    ]
    for trouble in troubles:
        click.echo(f"Missing: {trouble}", err=True)
    click.echo(f"Wrote {out}.")
