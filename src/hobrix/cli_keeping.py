"""`hobrix backup | restore | check | purge`."""

import sys
from pathlib import Path

import click

from hobrix.core.errors import HobrixError
from hobrix.web import serving
from hobrix.web.home import hold


@click.command("backup")
@click.argument("to", type=click.Path(path_type=Path))
def backup_command(to: Path) -> None:
    """Write a backup into the new folder TO, also while Hobrix runs."""
    from hobrix.web.keeping.backup import back_up

    try:
        made = back_up(serving.home_wanted(), to)
    except (HobrixError, OSError) as error:
        raise click.ClickException(str(error)) from None
    for path in made.gone:
        click.echo(f"{path} was gone when it was its turn.")
    size = sum((to / path).stat().st_size for path in made.files)
    click.echo(
        f"{to}: {len(made.files)} files, {size / 1e6:,.1f} MB. It holds people's data; keep it safe."
    )


@click.command("restore")
@click.argument("backup", type=click.Path(exists=True, file_okay=False, path_type=Path))
@click.option("--yes", is_flag=True, help="Do not ask, also where what is there is newer.")
def restore_command(backup: Path, yes: bool) -> None:
    """Put BACKUP in the place of what is there, which is moved aside."""
    from hobrix.web.keeping.manifest import read_manifest
    from hobrix.web.keeping.restore import newer_than, put_back

    home = serving.home_wanted()
    home.mkdir(parents=True, exist_ok=True)
    held = hold(home)
    try:
        made = read_manifest(backup)
        newer = newer_than(home, backup)
        if newer and not yes:
            click.confirm(
                f"The backup is of {made.made_at}; what is in {home} was last changed {newer}. Put the older "
                "one in its place? (What is there is moved aside.)",
                abort=True,
            )
        aside = put_back(backup, home)
    except (HobrixError, OSError) as error:
        raise click.ClickException(str(error)) from None
    click.echo(f"{home} is as it was {made.made_at}.")
    if aside is not None:
        click.echo(f"What was there is in {aside}.")
    del held


@click.command("check")
def check_command() -> None:
    """Say whether everything that is kept is whole."""
    from hobrix.web.keeping.checking import check

    found = list(check(serving.home_wanted()))
    for trouble in found:
        click.echo(trouble.words)
    if any(not trouble.is_harmless for trouble in found):
        sys.exit(1)
    click.echo("Everything is whole." if not found else "Nothing is damaged or missing.")


@click.command("purge")
@click.option(
    "--days", type=click.IntRange(0), help="Deleted at least so long ago; 30 when left out."
)
def purge_command(days: int | None) -> None:
    """Delete for good what people deleted long ago."""
    serving.prepare()
    from hobrix.web.keeping.purging import purge

    for what, number in purge(days).items():
        click.echo(f"{number} {what}")


COMMANDS = (backup_command, restore_command, check_command, purge_command)
