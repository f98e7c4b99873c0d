"""`hobrix place`: folders and database files whose tables may be linked."""

from pathlib import Path

import click

from hobrix.cli_people import Refused
from hobrix.web import serving


@click.group("place")
def place() -> None:
    """Places whose data may be linked; their rows stay there."""


@place.command("add")
@click.argument("name")
@click.argument("where")
def add_place(name: str, where: str) -> None:
    """Name a folder of Parquet files, a .duckdb file, or a Spark cluster with the folder it reads
    (spark://host:7077?folder=/data), whose tables may be linked.

    Everybody with a study can then link them, so name no folder that not everybody may see. Only the
    user that Hobrix runs as needs to read it, and nobody should let that user write there.
    """
    from hobrix.linked.engine import CLUSTERS
    from hobrix.linked.place import PlaceError

    serving.prepare()
    from hobrix.web.studies.linking import engine_at
    from hobrix.web.studies.models import Place

    if not 0 < len(name.strip()) <= 100:
        raise Refused("A place has a name of 1 to 100 characters.")
    if Place.objects.filter(name=name.strip()).exists():
        raise Refused(f"There is a place called “{name}” already.")
    is_cluster = where.startswith(CLUSTERS)
    full = where if is_cluster else str(Path(where).expanduser().resolve())
    try:
        made = Place.objects.create(name=name.strip(), where=full)
        tables = engine_at(made.name).tables()
    except PlaceError as error:
        Place.objects.filter(name=name.strip()).delete()
        raise Refused(error.message) from None
    told = f": {', '.join(tables[:5])}" if tables else ""
    click.echo(f"{made.name} is {full}, with {len(tables)} tables{told}.")


@place.command("list")
def list_places() -> None:
    """All places, and whether they can be reached."""
    serving.prepare()
    from hobrix.linked.place import PlaceError
    from hobrix.web.studies.linking import engine_at
    from hobrix.web.studies.models import Place

    for each in Place.objects.all():
        try:
            state = f"{len(engine_at(each.name).tables())} tables"
        except PlaceError as error:
            state = error.message
        click.echo(f"{each.name}\t{each.where}\t{state}")


@place.command("remove")
@click.argument("name")
def remove_place(name: str) -> None:
    """Take a place away. Data sets linked there stay in their studies, and answer again if it comes back."""
    serving.prepare()
    from hobrix.web.studies.models import Place

    if not Place.objects.filter(name=name).delete()[0]:
        raise Refused(f"There is no place called “{name}”.")
    click.echo(f"{name} is no place any more.")


COMMANDS = (place,)
