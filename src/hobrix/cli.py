"""The command line: `hobrix answer | report | demo | serve | user | lender | place | backup | restore | check | purge`."""

import os
import sys
from pathlib import Path
from typing import NoReturn

import click

from hobrix.cli_keeping import COMMANDS as KEEPING
from hobrix.cli_people import COMMANDS as PEOPLE
from hobrix.cli_places import COMMANDS as PLACES
from hobrix.cli_report import report_command
from hobrix.web import serving


@click.group()
def main() -> None:
    """Hobrix answers questions about categorical and yes/no outcomes."""


for command in (report_command, *KEEPING, *PEOPLE, *PLACES):
    main.add_command(command)


@main.command("answer")
@click.argument("question", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@click.argument("data", type=click.Path(exists=True, path_type=Path))
@click.option(
    "--codebook",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="Codebook as JSON or DDI XML; without it, kinds and categories are inferred.",
)
@click.option(
    "--panels",
    help="Names of the panels to open, with commas between them; none: “”. All when left out.",
)
def answer_command(question: Path, data: Path, codebook: Path | None, panels: str | None) -> None:
    """Print the answer to QUESTION (JSON) about DATA as JSON.

    DATA is CSV, TSV, XLSX, ODS, Parquet or a Data Package (folder, descriptor or zip).
    """
    # Here, so that the other commands start without loading the statistics.
    from pydantic import ValidationError

    from hobrix.core.errors import HobrixError
    from hobrix.core.formats import Codebook, frame_of, read_any_codebook, read_path
    from hobrix.core.questions import Question, answer

    try:
        asked = Question.model_validate_json(question.read_bytes())
        read = read_path(data)
        known = read.codebook or Codebook()
        if codebook is not None:
            described = read_any_codebook(codebook.name, codebook.read_bytes())
            known = described.describing(read.table)
        opened = None if panels is None else [name for name in panels.split(",") if name]
        given = answer(asked, frame_of(read.table, known), panels=opened)
        click.echo(given.model_dump_json(indent=1, by_alias=True))
    except ValidationError as error:
        first = error.errors()[0]
        where = ".".join(str(part) for part in first["loc"])
        _fail(f"{question}: {where}: {first['msg']}")
    except HobrixError as error:
        slot = getattr(error, "slot", None)
        _fail(f"{slot}: {error.message}" if slot else error.message)


@main.command()
@click.option("--port", default=8000, show_default=True, help="Another one is taken if busy.")
def demo(port: int) -> None:
    """Start Hobrix with the demo study and print a link that signs the demo user in once."""
    serving.prepare()
    serving.take_home()
    from django.conf import settings

    from hobrix.web.demo.lending import start_lenders
    from hobrix.web.demo.load import USER, demo_user, load_demo
    from hobrix.web.sign_in_link import sign_in_link

    load_demo()
    lenders = start_lenders(settings.HOME / "lenders", serving.free_port)
    port = serving.free_port(port)
    link = f"http://127.0.0.1:{port}/enter/{USER}/{sign_in_link.make_token(demo_user())}"
    click.echo(f"\nHobrix with the demo study (this link signs you in once):\n\n  {link}\n")
    click.echo("Stop it with Ctrl-C. What you do is kept; make demo-reset starts afresh.")
    click.echo("To see a lender that is away, switch one off:")
    for name, process in lenders.items():
        click.echo(f"  kill {process}   # {name}")
    click.echo()
    serving.serve(port)


@main.command()
@click.option("--base", default="http://127.0.0.1:8000", show_default=True)
def link(base: str) -> None:
    """Print another link that signs the demo user in once, for a server that runs already."""
    serving.prepare()
    from hobrix.web.demo.load import USER, demo_user, load_demo
    from hobrix.web.sign_in_link import sign_in_link

    load_demo()
    click.echo(f"{base}/enter/{USER}/{sign_in_link.make_token(demo_user())}")


@main.command()
@click.option("--port", default=8000, show_default=True, help="Another one is taken if busy.")
@click.option(
    "--host",
    default="127.0.0.1",
    show_default=True,
    help="The address to listen on. Another than this machine's own only behind a proxy with TLS.",
)
def serve(port: int, host: str) -> None:
    """Start Hobrix. docs/serving.md tells how to run it for a group."""
    serving.prepare()
    serving.take_home()
    port = serving.free_port(port) if host == "127.0.0.1" else port
    click.echo(f"Hobrix: http://{host}:{port}/")
    serving.serve(port, host)


@main.command(hidden=True)
@click.option(
    "--of", type=int, help="The process it ends with; the one that starts it when left out."
)
def work(of: int | None) -> None:
    """Do background work; the server starts this itself."""
    serving.set_up()
    from hobrix.web.jobs import worker
    from hobrix.web.keeping.purging import purge

    worker.work(of or os.getppid(), daily=purge)


@main.group()
def lender() -> None:
    """Institutions whose data sets can be brought in. Only those named here are ever asked."""


@lender.command("add")
@click.argument("name")
@click.argument("url")
def add_lender(name: str, url: str) -> None:
    """Name a lender and the address of its service (http or https)."""
    serving.prepare()
    from urllib.parse import urlsplit

    from hobrix.web.studies.models import Lender

    parts = urlsplit(url)
    if parts.scheme not in ("http", "https") or not parts.hostname:
        _fail(f"“{url}” is no address of a service, such as http://lender.example:8100.")
    Lender.objects.update_or_create(name=name, defaults={"url": url})
    click.echo(f"{name} is a lender now.")


@lender.command("remove")
@click.argument("name")
def remove_lender(name: str) -> None:
    """Ask a lender no more; what was brought in from it stays."""
    serving.prepare()
    from hobrix.web.studies.models import Lender

    if not Lender.objects.filter(name=name).delete()[0]:
        _fail(f"There is no lender called {name}.")
    click.echo(f"{name} is no lender any more.")


@lender.command("list")
def list_lenders() -> None:
    """The lenders and their addresses."""
    serving.prepare()
    from hobrix.web.studies.models import Lender

    for each in Lender.objects.all():
        click.echo(f"{each.name}\t{each.url}")


@lender.command("serve")
@click.argument("folder", type=click.Path(exists=True, file_okay=False, path_type=Path))
@click.option("--title", default="A lender", show_default=True)
@click.option("--port", default=8100, show_default=True)
def serve_lender(folder: Path, title: str, port: int) -> None:
    """Lend the Data Packages of FOLDER on this machine (loopback only)."""
    from hobrix.web.lending.service import lender_server

    with lender_server(folder, title, port) as server:
        click.echo(f"{title}: http://127.0.0.1:{server.server_port}/")
        server.serve_forever()


def _fail(message: str) -> NoReturn:
    click.echo(message, err=True)
    sys.exit(2)


if __name__ == "__main__":
    main()
