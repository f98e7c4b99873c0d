"""The command line: `hobrix answer | demo | serve | user`."""

import sys
from pathlib import Path

import click
from pydantic import ValidationError

from hobrix.core.errors import HobrixError
from hobrix.core.formats import Codebook, frame_of, read_codebook, read_delimited
from hobrix.core.questions import Question, answer


@click.group()
def main() -> None:
    """Hobrix answers questions about categorical and yes/no outcomes."""


@main.command("answer")
@click.argument("question", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.argument("data", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.option(
    "--codebook",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="Codebook as JSON; without it, kinds and categories are inferred.",
)
def answer_command(question: Path, data: Path, codebook: Path | None) -> None:
    """Print the answer to QUESTION (JSON) about DATA (CSV or TSV) as JSON."""
    try:
        asked = Question.model_validate_json(question.read_bytes())
        known = Codebook() if codebook is None else read_codebook(codebook.read_bytes())
        table, _ = read_delimited(data.read_bytes())
        click.echo(answer(asked, frame_of(table, known)).model_dump_json(indent=1, by_alias=True))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        _fail(f"{question}: {where}: {first['msg']}")
    except HobrixError as error:
        slot = getattr(error, "slot", None)
        _fail(f"{slot}: {error.message}" if slot else error.message)


def _fail(message: str) -> None:
    click.echo(message, err=True)
    sys.exit(2)
